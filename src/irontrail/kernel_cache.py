"""Where the compiled kernels are kept between runs: a folder of the user's cache, one for each state of the sources.

Numba's own cache does not see a change in a function or a constant that another file takes, and looks for its entries
by the place and the time stamp of each file; a folder named by a hash of all that is filled when its entries are found.
"""

import hashlib
import os
import re
import shutil
import sys
import tempfile
import time
from contextlib import suppress
from pathlib import Path

import platformdirs

UNUSED_AFTER_DAYS = 30
_ROOT = Path(__file__).parent.parent
_COMPILED = (b"@compiled", b"@inlined", b"@unfused", b"njit(")
_IMPORT = re.compile(r"^ *from (irontrail[\w.]*) import (\([^)]*\)|[^\n]*)|^ *import (irontrail[\w.]*)", re.MULTILINE)
_NAME = re.compile(r"\w+")


def locate() -> None:
    """Name the cache folder to Numba, unless the user has named one."""
    os.environ.setdefault("NUMBA_CACHE_DIR", str(_folder()))


def is_filled() -> bool:
    """The kernels of these sources have been compiled before, by this version of Python."""
    return _marker().exists()


def fill() -> None:
    """Compile every kernel and keep the results; leave out folders of sources long gone."""
    import numpy as np

    from irontrail.app import ink
    from irontrail.core import derive, many
    from irontrail.core.demos import demo_project
    from irontrail.core.mat.thin import thin_out

    # One sensor that sees grey, one that sees colours, and two.
    for demo in ("lighthouse", "quarry", "ropewalk"):
        derive.figures(demo_project(demo).setup)
        derive.curve(demo_project(demo).setup)
        derive.profile(demo_project(demo).setup)
        many.sweep((demo_project(demo).setup,))
    derive.powers_beside(demo_project("ropewalk").setup, 0.0)
    thin_out(np.zeros((3, 3), np.uint8))
    ink.compile_all()
    marker = _marker()
    with suppress(OSError):
        marker.parent.mkdir(parents=True, exist_ok=True)
        marker.touch()
    _drop_unused(marker.parent)


def _marker() -> Path:
    version = "".join(map(str, sys.version_info[:2]))
    return Path(os.environ["NUMBA_CACHE_DIR"]) / f"filled-{version}"


def _folder() -> Path:
    name = "kernels-" + _hash_of_sources()
    folder = Path(platformdirs.user_cache_dir("irontrail")) / name
    try:
        folder.mkdir(parents=True, exist_ok=True)
        if os.access(folder, os.W_OK):
            return folder
    except OSError:
        pass
    # Without any writable folder Numba fails when it is imported.
    return Path(tempfile.gettempdir()) / f"irontrail-{os.getuid()}" / name


def _hash_of_sources() -> str:
    digest = hashlib.sha256()
    for path in sorted(compiled_sources(_ROOT)):
        stamp = path.stat()
        digest.update(f"{path} {stamp.st_mtime_ns} {stamp.st_size}\n".encode())
    return digest.hexdigest()[:16]


def compiled_sources(root: Path) -> set[Path]:
    """The files under `root` that hold what is compiled, and all that these import: their constants are compiled in."""
    # At every start: text by text as it stands, and modules in a list of all, not one by one on the disk.
    ours = {_dotted(path, root): path for path in (root / "irontrail").rglob("*.py")}
    may_hold = [*(root / "irontrail" / "core").rglob("*.py"), *(root / "irontrail" / "app").glob("*.py")]
    waiting = [path for path in may_hold if _is_compiled(path.read_bytes())]
    found: set[Path] = set()
    while waiting:
        path = waiting.pop()
        if path not in found:
            found.add(path)
            waiting += [ours[dotted] for dotted in _imported(path.read_text(encoding="utf-8")) if dotted in ours]
    return found


def _is_compiled(text: bytes) -> bool:
    return any(mark in text for mark in _COMPILED)


def _dotted(path: Path, root: Path) -> str:
    names = path.relative_to(root).with_suffix("").parts
    return ".".join(names[:-1] if names[-1] == "__init__" else names)


def _imported(text: str) -> set[str]:
    """What a file imports of ours, wherever in it, and what may be a module among it."""
    found = set()
    for package, names, module in _IMPORT.findall(text):
        found |= {module or package, *(f"{package}.{name}" for name in _NAME.findall(names))}
    return found


def _drop_unused(folder: Path) -> None:
    limit = time.time() - UNUSED_AFTER_DAYS * 86_400
    for other in folder.parent.glob("kernels-*"):
        with suppress(OSError):
            if other != folder and other.stat().st_mtime < limit:
                shutil.rmtree(other, ignore_errors=True)
