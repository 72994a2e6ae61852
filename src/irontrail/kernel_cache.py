"""Where the compiled kernels are kept between runs: a folder of the user's cache.

In it those of each source file have a folder, named by what stands in that file and in all that it imports
(`core/compiled_sources.py`): changed sources find none there, and those that are not changed all of theirs.
"""

import os
import shutil
import sys
import tempfile
import time
from contextlib import suppress
from importlib.util import find_spec
from pathlib import Path

import platformdirs

from irontrail.core.compiled_sources import compiled_sources, key_of, module_of

UNUSED_AFTER_DAYS = 30


def locate() -> None:
    """Name the cache folder to Numba, unless the user has named one."""
    os.environ.setdefault("NUMBA_CACHE_DIR", str(_folder()))


def is_filled() -> bool:
    """The kernels of these sources have been compiled before, by these versions of Python and Numba."""
    return _marker().exists()


def fill() -> None:
    """Compile every kernel and keep the results; leave out folders of sources long gone."""
    import numpy as np

    from irontrail.app import ink
    from irontrail.core import derive, many
    from irontrail.core.demos import demo_project
    from irontrail.core.mat.resample import resample
    from irontrail.core.mat.thin import thin_out

    # One sensor that sees grey, one that sees colours, and two.
    for demo in ("lighthouse", "quarry", "ropewalk"):
        derive.figures(demo_project(demo).setup)
        derive.curve(demo_project(demo).setup)
        derive.profile(demo_project(demo).setup)
        many.sweep((demo_project(demo).setup,))
    derive.powers_beside(demo_project("ropewalk").setup, 0.0)
    thin_out(np.zeros((3, 3), np.uint8))
    resample(np.zeros((2, 2, 3), np.uint8), np.eye(3), 1.0, np.empty((2, 2, 3), np.float32))
    ink.compile_all()
    marker = _marker()
    with suppress(OSError):
        marker.parent.mkdir(parents=True, exist_ok=True)
        marker.touch()
    _drop_unused(marker.parent)


def _marker() -> Path:
    version = "".join(map(str, sys.version_info[:2]))
    return Path(os.environ["NUMBA_CACHE_DIR"]) / f"filled-{version}-{_numba()}-{key_of(compiled_sources())}"


def _numba() -> str:
    """Which version of Numba there is, found without importing it, or looking through all that is installed."""
    found = find_spec("numba")
    places = (found and found.submodule_search_locations) or ()
    names = [each.name for place in places for each in Path(place).parent.glob("numba-*.dist-info")]
    return names[0].removesuffix(".dist-info") if names else "numba"


def _folder() -> Path:
    folder = Path(platformdirs.user_cache_dir("irontrail")) / "kernels"
    try:
        folder.mkdir(parents=True, exist_ok=True)
        if os.access(folder, os.W_OK):
            return folder
    except OSError:
        pass
    # Without any writable folder Numba fails when it is imported.
    return Path(tempfile.gettempdir()) / f"irontrail-{os.getuid()}" / "kernels"


def _drop_unused(folder: Path) -> None:
    """Let go of what sources long gone have left here, and of where all of a state of them had a folder together."""
    used = {module_of(path) for path in compiled_sources()}
    limit = time.time() - UNUSED_AFTER_DAYS * 86_400
    for other in (*folder.glob("irontrail.*-*"), *folder.glob("filled-*"), *folder.parent.glob("kernels-*")):
        with suppress(OSError):
            if other.name in used:
                os.utime(other)
            elif other.stat().st_mtime < limit:
                shutil.rmtree(other) if other.is_dir() else other.unlink()
