"""Iron Trail: model a line-following robot, watch why it swings, tune it, carry the numbers to the real one."""

import os

from irontrail import kernel_cache

__version__ = "0.1.0"

# Numba reads its cache folder when it is first imported, so it is named before anything here can import it.
kernel_cache.locate()
# Matrices here are small: to share one out among cores costs more than it saves, and a hundred times as much where
# those are busy with runs. NumPy reads this too when it is first imported.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
# Pydantic looks through every installed package for plugins of its own when it first reads something: there are none.
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")
