"""A mat from a file that another program made: a drawing, which is laid, or a picture, to be traced."""

from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import Check, carry_on
from irontrail.files import picture

if TYPE_CHECKING:
    from irontrail.files.drawn_mat import DrawnMat

SVG, DXF = (".svg", ".svgz"), (".dxf",)
DRAWINGS = (*SVG, *DXF)
SUFFIXES = (*DRAWINGS, *picture.SUFFIXES)
PATTERNS = " ".join(f"*{suffix}" for suffix in SUFFIXES)


def read(path: Path, check: Check = carry_on) -> "DrawnMat | NDArray[np.uint8]":
    """The mat in a drawing, or the pixels of a picture; a drawing that holds nothing but a picture gives that.

    Parameters
    ----------
    check : callable
        Called every now and then with the share that is done; raises `CalledOff` to give up.

    Raises
    ------
    IronTrailError
        If the file cannot be read, or holds neither.
    """
    if path.suffix.lower() not in DRAWINGS:
        return picture.read_picture(path, check)
    from irontrail.files import dxf
    from irontrail.files.drawn_mat import NoLineError
    from irontrail.files.svg import read as svg_read

    try:
        return dxf.read(path, check) if path.suffix.lower() in DXF else svg_read.read(path, check)
    except NoLineError as error:
        if not error.pictures:
            raise
        return picture.from_bytes(error.pictures[0], str(path), check)
