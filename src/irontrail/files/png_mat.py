"""A mat as a picture: PNG at a chosen resolution, which the file tells."""

import io
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.reflectance import srgb
from irontrail.core.mat.tape import Mat
from irontrail.files import atomic

if TYPE_CHECKING:
    from _typeshed import ReadableBuffer

MM_PER_INCH = 25.4
MAX_PIXELS = 60_000_000
ROWS = 200
# Of writing a picture so much is done once it is painted; the rest is packing it.
PAINTED = 0.8
LEAST_DPI, MOST_DPI = 10.0, 1200.0


def size_px(mat: Mat, dpi: float) -> tuple[int, int]:
    """Width and height in pixels."""
    return round(mat.width_mm / MM_PER_INCH * dpi), round(mat.height_mm / MM_PER_INCH * dpi)


def largest_dpi(mat: Mat) -> int:
    """The finest resolution that is not too large."""
    square_inches = mat.width_mm * mat.height_mm / MM_PER_INCH**2
    return int(min(MOST_DPI, np.sqrt(MAX_PIXELS / square_inches)))


class _Watched(io.BytesIO):
    """Bytes on their way to a file that may not be wanted any more."""

    def __init__(self, check: Check) -> None:
        super().__init__()
        self._check = check

    def write(self, some: "ReadableBuffer", /) -> int:
        self._check()
        return super().write(some)


def write(path: Path, mat: Mat, dpi: float, check: Check = carry_on) -> tuple[int, int]:
    """Write a picture of a mat, and tell its size in pixels; called off, what stood there stays.

    Parameters
    ----------
    check : callable
        Called every now and then with the share that is done; raises `CalledOff` to give up.

    Raises
    ------
    IronTrailError
        If it would be too large, or cannot be written.
    """
    wide, high = size_px(mat, dpi)
    if wide * high > MAX_PIXELS or not LEAST_DPI <= dpi <= MOST_DPI:
        raise IronTrailError(
            f"{wide:,} × {high:,} pixels at {dpi:g} dpi cannot be made",
            str(path),
            f"Choose {LEAST_DPI:g} to {largest_dpi(mat)} dpi.",
        )
    from PIL import Image

    from irontrail.core.mat.raster import make_raster

    pixels: NDArray[np.uint8] | None = None
    # One colour after the other, and some rows at a time: a large picture of all would need four times the room.
    for channel, lamp in enumerate(((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))):
        seen = make_raster(mat, MM_PER_INCH / dpi, lamp)[::-1, :, 0]
        pixels = np.empty((*seen.shape, 3), np.uint8) if pixels is None else pixels
        for first in range(0, seen.shape[0], ROWS):
            part = slice(first, first + ROWS)
            check(PAINTED * (channel + first / seen.shape[0]) / 3.0)
            pixels[part, :, channel] = np.round(255.0 * srgb(seen[part]))
    assert pixels is not None
    picture = Image.fromarray(pixels)
    memory = _Watched(check)
    picture.save(memory, "PNG", dpi=(dpi, dpi))
    atomic.write_bytes(path, memory.getvalue())
    return picture.size
