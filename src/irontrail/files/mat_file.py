"""Mats by themselves, and the shelf of a team's own: a folder of them; docs/format/ describes the file."""

import re
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import Part
from irontrail.files import atomic, places

if TYPE_CHECKING:
    from pydantic import TypeAdapter

SUFFIX = ".mat.json"
MAX_BYTES = 4 * 1024 * 1024


@dataclass(frozen=True)
class MatFile(Part):
    """What stands in a file."""

    format: Literal[1]
    mat: Mat


@dataclass(frozen=True)
class Shelved:
    """A mat of the team's own, and the file it is in."""

    path: Path
    mat: Mat


@cache
def _adapter() -> "TypeAdapter[MatFile]":
    from pydantic import TypeAdapter

    return TypeAdapter(MatFile)


def read(path: Path) -> Mat:
    """The mat in a file; IronTrailError if it cannot be read or is not one."""
    from pydantic import ValidationError

    from irontrail.files.problems import describe

    try:
        if path.stat().st_size > MAX_BYTES:
            raise IronTrailError("too large for a mat", str(path))
        mat = _adapter().validate_json(path.read_bytes(), strict=True).mat
    except OSError as error:
        raise IronTrailError(f"cannot be read ({error.strerror or error})", str(path)) from error
    except ValidationError as error:
        raise IronTrailError("; ".join(describe(error)), str(path)) from error
    for stroke in mat.lines:
        stroke_route(stroke, mat.name)
    return mat


def write(path: Path, mat: Mat) -> None:
    """Write a mat to a file; IronTrailError if it cannot be written."""
    atomic.write_bytes(path, _adapter().dump_json(MatFile(1, mat), indent=1) + b"\n")


# --- the shelf


def shelf_folder() -> Path:
    """Where a team's own mats are kept, for all projects."""
    return places.data() / "mats"


def shelf() -> tuple[Shelved, ...]:
    """The team's own mats by name; files that cannot be read are passed over."""
    found = []
    for path in sorted(shelf_folder().glob(f"*{SUFFIX}")):
        try:
            found.append(Shelved(path, read(path)))
        except IronTrailError:
            continue
    return tuple(found)


def put_on_shelf(mat: Mat) -> Path:
    """Keep a mat on the shelf, in the place of one of the same name; IronTrailError if it cannot be written."""
    folder = shelf_folder()
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise IronTrailError(f"cannot be made ({error.strerror})", str(folder)) from error
    name = re.sub(r"[^\w-]+", "-", mat.name.lower()).strip("-") or "mat"
    path = folder / f"{name}{SUFFIX}"
    write(path, mat)
    return path


def take_off_shelf(path: Path) -> None:
    """Forget a mat of the shelf; IronTrailError if its file cannot be removed."""
    try:
        path.unlink(missing_ok=True)
    except OSError as error:
        raise IronTrailError(f"cannot be removed ({error.strerror})", str(path)) from error
