"""Mats by themselves, and the shelf of a team's own: a folder of them; docs/format/ describes the file."""

import os
import re
from dataclasses import dataclass
from functools import cache
from itertools import count
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import Part
from irontrail.files import atomic, places
from irontrail.files.reading import json_of, read_bytes, text_of

if TYPE_CHECKING:
    from pydantic import TypeAdapter

SUFFIX = ".mat.json"
WHAT = "a mat"
ALLOW = "Allow writing there, then try again."
# A file's name may have so many bytes; its ending and a number are added to that of a mat.
MOST_NAME_BYTES = 200
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

    from irontrail.files.problems import describe, refusal

    text = text_of(read_bytes(path, MAX_BYTES, WHAT), str(path), WHAT)
    json_of(text, str(path), WHAT)
    try:
        mat = _adapter().validate_json(text, strict=True).mat
    except ValidationError as error:
        raise refusal(str(path), describe(error)) from error
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
        raise IronTrailError(f"cannot be made ({error.strerror})", str(folder), ALLOW) from error
    path = _place_of(folder, mat.name)
    write(path, mat)
    return path


def _place_of(folder: Path, name: str) -> Path:
    """The file of a mat of that name, or one that is not there yet: names may differ in signs alone."""
    plain = re.sub(r"[^\w-]+", "-", name.lower()).strip("-") or "mat"
    plain = plain.encode()[:MOST_NAME_BYTES].decode(errors="ignore")
    for number in count(1):
        path = folder / f"{plain}{f'-{number}' if number > 1 else ''}{SUFFIX}"
        if not os.path.lexists(path) or _name_in(path) == name:
            return path
    raise AssertionError


def _name_in(path: Path) -> str | None:
    try:
        return read(path).name
    except IronTrailError:
        return None


def take_off_shelf(path: Path) -> None:
    """Forget a mat of the shelf; IronTrailError if its file cannot be removed."""
    try:
        path.unlink(missing_ok=True)
    except OSError as error:
        raise IronTrailError(f"cannot be removed ({error.strerror})", str(path), ALLOW) from error
