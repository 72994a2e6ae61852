"""What is compiled in: the files that hold what is compiled, all that each imports, and a key of what stands in them.

A kernel holds the functions and the constants of other files that it takes. So what was compiled of a file is known by
the text of that file and of all that it imports, wherever they lie and whenever they were written.
"""

import hashlib
import re
from collections.abc import Iterable
from functools import cache
from pathlib import Path

_ROOT = Path(__file__).parent.parent.parent
_COMPILED = (b"@compiled", b"@inlined", b"@unfused", b"njit(")
_IMPORT = re.compile(r"^ *from (irontrail[\w.]*) import (\([^)]*\)|[^\n]*)|^ *import (irontrail[\w.]*)", re.MULTILINE)
_NAME = re.compile(r"\w+")


@cache
def compiled_sources(root: Path = _ROOT) -> tuple[Path, ...]:
    """The files under `root` that hold what is compiled."""
    # Looked for at every start: as the texts stand, they are found twenty times as soon as by a pattern.
    may_hold = [*(root / "irontrail" / "core").rglob("*.py"), *(root / "irontrail" / "app").glob("*.py")]
    return tuple(path for path in may_hold if path.name != Path(__file__).name and _is_compiled(path.read_bytes()))


def _is_compiled(text: bytes) -> bool:
    return any(mark in text for mark in _COMPILED)


@cache
def key_of(paths: tuple[Path, ...], root: Path = _ROOT) -> str:
    """A key of what stands in files under `root` and in all that they import."""
    digest = hashlib.sha256()
    for path in sorted(_with_imported(paths, root)):
        digest.update(f"{_dotted(path, root)} {_digest(path)}\n".encode())
    return digest.hexdigest()[:16]


@cache
def module_of(path: Path, root: Path = _ROOT) -> str | None:
    """The name and the key of a file of ours, to keep by it what is compiled of it; None of another's."""
    if not path.is_relative_to(root / "irontrail"):
        return None
    return f"{_dotted(path, root)}-{key_of((path,), root)}"


def _with_imported(paths: Iterable[Path], root: Path) -> set[Path]:
    found: set[Path] = set()
    waiting = list(paths)
    while waiting:
        path = waiting.pop()
        if path not in found:
            found.add(path)
            waiting += _imported(path, root)
    return found


@cache
def _imported(path: Path, root: Path) -> list[Path]:
    """The files of ours that a file imports, wherever in it."""
    found = set()
    for package, names, module in _IMPORT.findall(path.read_text(encoding="utf-8")):
        found |= {module or package, *(f"{package}.{name}" for name in _NAME.findall(names))}
    ours = _ours(root)
    return [ours[dotted] for dotted in found if dotted in ours]


@cache
def _ours(root: Path) -> dict[str, Path]:
    """All modules: looked for in a list, and not one by one on the disk."""
    return {_dotted(path, root): path for path in (root / "irontrail").rglob("*.py")}


def _dotted(path: Path, root: Path) -> str:
    names = path.relative_to(root).with_suffix("").parts
    return ".".join(names[:-1] if names[-1] == "__init__" else names)


@cache
def _digest(path: Path) -> str:
    return hashlib.sha256(path.read_bytes()).hexdigest()
