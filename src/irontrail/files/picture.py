"""Pictures of mats, read with care, of a size that can be worked on."""

import io
import warnings
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.files.reading import read_bytes

if TYPE_CHECKING:
    from PIL import Image

FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP", "GIF")
SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp", ".gif", ".heic", ".heif")
SAYS_FORMATS = "Open a PNG, JPEG, WebP, TIFF, BMP, GIF or HEIC."
MAX_BYTES = 100 * 1024 * 1024
# A picture with a longer side, or more pixels, is refused before it is taken apart.
MAX_SIDE_PX = 20_000
MAX_PIXELS = 120_000_000
LEAST_SIDE_PX = 8
# Larger ones are made smaller: a line needs no more.
WORKING_SIDE_PX = 3000
AT_ONCE_PX, STRIP_ROWS = 16_000_000, 64
# The number of a photo's tag that tells how the camera was held.
ORIENTATION = 0x0112


def read_picture(path: Path, check: Check = carry_on) -> NDArray[np.uint8]:
    """A picture as sRGB, shape (rows, columns, 3), the right way up, at most 3000 pixels a side.

    Raises
    ------
    IronTrailError
        If it cannot be read, is not a whole picture, or is too large.
    """
    return from_bytes(read_bytes(path, MAX_BYTES, "a picture"), str(path), check)


def from_bytes(content: bytes, where: str, check: Check = carry_on) -> NDArray[np.uint8]:
    """The picture in what a file called `where` holds; see `read_picture`."""
    from PIL import Image, UnidentifiedImageError

    formats: tuple[str, ...] = FORMATS
    if content[4:8] == b"ftyp":
        # Phones give these; what reads them is large.
        import pillow_heif

        pillow_heif.register_heif_opener()
        formats = (*FORMATS, "HEIF")
    try:
        with warnings.catch_warnings():
            # What is odd in a file is told by what comes of it.
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(content), formats=formats) as picture:
                wide, high = picture.size
                if max(wide, high) > MAX_SIDE_PX or wide * high > MAX_PIXELS:
                    raise IronTrailError(
                        f"{wide:,} × {high:,} pixels are too many", where, "Save it with at most 10,000 a side."
                    )
                if min(wide, high) < LEAST_SIDE_PX:
                    raise IronTrailError(
                        f"{wide} × {high} pixels are too few to see a line", where, "Take a larger one."
                    )
                picture.draft("RGB", (WORKING_SIDE_PX, WORKING_SIDE_PX))
                check(0.1)
                picture.load()
                plain = _upright(_small_enough(picture, check), picture)
    except IronTrailError:
        raise
    except UnidentifiedImageError as error:
        raise IronTrailError("not a picture", where, SAYS_FORMATS) from error
    except Image.DecompressionBombError as error:
        raise IronTrailError("it has too many pixels", where, "Save it with at most 10,000 a side.") from error
    except (OSError, SyntaxError, ValueError, EOFError, MemoryError) as error:
        what = getattr(error, "strerror", None) or error
        raise IronTrailError(f"cannot be read as a picture ({what})", where, "Save it anew.") from error
    plain.thumbnail((WORKING_SIDE_PX, WORKING_SIDE_PX))
    return np.asarray(plain, np.uint8)


def _small_enough(picture: "Image.Image", check: Check) -> "Image.Image":
    """A picture as plain colours; a large one made smaller a strip at a time, as all of it would fill the memory."""
    from PIL import Image

    deep = picture.mode.startswith("I;16") or picture.mode in ("I", "F")
    top = float(np.max(picture.getextrema())) if deep else 255.0
    wide, high = picture.size
    times = max(wide, high) // WORKING_SIDE_PX
    if times < 2 or wide * high < AT_ONCE_PX:
        return _plain(picture, top)
    small = Image.new("RGB", (-(-wide // times), -(-high // times)))
    rows = STRIP_ROWS * times
    for first in range(0, high, rows):
        check(0.6 + 0.4 * first / high)
        strip = picture.crop((0, first, wide, min(first + rows, high)))
        small.paste(_plain(strip, top).reduce(times), (0, first // times))
    return small


def _upright(picture: "Image.Image", taken: "Image.Image") -> "Image.Image":
    """A picture turned as the camera says that it was held."""
    from PIL import Image

    turns = Image.Transpose
    turn = {
        2: turns.FLIP_LEFT_RIGHT, 3: turns.ROTATE_180, 4: turns.FLIP_TOP_BOTTOM, 5: turns.TRANSPOSE,
        6: turns.ROTATE_270, 7: turns.TRANSVERSE, 8: turns.ROTATE_90,
    }.get(taken.getexif().get(ORIENTATION, 1))  # fmt: skip
    return picture if turn is None else picture.transpose(turn)


def _plain(picture: "Image.Image", highest: float) -> "Image.Image":
    """A picture in eight-bit sRGB, what is see-through on white; `highest` is the greatest value of a deeper one."""
    from PIL import Image

    if picture.mode.startswith("I;16") or picture.mode in ("I", "F"):
        values = np.asarray(picture, np.float64)
        top = 65535.0 if highest > 255.0 else 255.0
        grey = Image.fromarray(np.clip(values / top * 255.0, 0, 255).astype(np.uint8))
        return grey.convert("RGB")
    if "A" in picture.mode or "transparency" in picture.info:
        with_alpha = picture.convert("RGBA")
        ground = Image.new("RGBA", with_alpha.size, "white")
        return Image.alpha_composite(ground, with_alpha).convert("RGB")
    return picture.convert("RGB")
