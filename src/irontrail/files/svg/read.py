"""SVG in: a drawing file as a mat."""

from pathlib import Path

from irontrail.core.errors import Check, carry_on
from irontrail.files.drawn_mat import DrawnMat, mat_of
from irontrail.files.reading import read_bytes
from irontrail.files.svg.sheet import sheet_of

MAX_BYTES = 16 * 1024 * 1024


def read(path: Path, check: Check = carry_on) -> DrawnMat:
    """The mat in an SVG file, compressed or not; IronTrailError if it cannot be read, or holds no line."""
    return from_bytes(read_bytes(path, MAX_BYTES, "a drawing"), path.stem, str(path), check)


def from_bytes(text: bytes, name: str, where: str, check: Check = carry_on) -> DrawnMat:
    """The mat in the text of an SVG file called `where`."""
    return mat_of(sheet_of(text, where), name, where, check)
