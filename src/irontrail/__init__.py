"""Iron Trail: model a line-following robot, watch why it swings, tune it, carry the numbers to the real one."""

from irontrail import kernel_cache

__version__ = "0.1.0"

# Numba reads its cache folder when it is first imported, so it is named before anything here can import it.
kernel_cache.locate()
