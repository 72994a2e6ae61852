"""A sensor that gives colours by name: the nearest of its palette to the red, green and blue that its patch holds.

Colours are compared by the square roots of their linear shares: steps that look alike to the eye are then about
alike in size, and dark colours can be told apart.
"""

from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import ArrayLike, NDArray

from irontrail.core.errors import OutOfRangeError
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.tape import Colour, check_colour
from irontrail.core.quantity import Part, Quantity

Floats = NDArray[np.float64]

MIN_NAMES, MAX_NAMES = 2, 12


@dataclass(frozen=True)
class NamedColour(Part):
    """One colour of a sensor's palette, and the number that the program takes its name for."""

    name: str
    colour: Colour
    reads_as: Annotated[
        float, Quantity("reads as", "", 0.0, 100.0, 10.0, says="The reading that this colour's name stands for.")
    ]

    def __post_init__(self) -> None:
        super().__post_init__()
        check_colour(self.colour, "NamedColour.colour")


Palette = tuple[NamedColour, ...]

# The line is taken to be black, and every other colour to be the mat; grey is what the edge between them looks like.
USUAL_PALETTE: Palette = (
    NamedColour("black", "#202124", 0.0),
    NamedColour("grey", "#8c8e90", 50.0),
    NamedColour("white", "#ffffff", 100.0),
    NamedColour("red", "#c8322b", 100.0),
    NamedColour("yellow", "#f2c51d", 100.0),
    NamedColour("green", "#2f8f4a", 100.0),
    NamedColour("blue", "#1f5fae", 100.0),
    NamedColour("brown", "#6a4226", 100.0),
)


def check_palette(palette: Palette, where: str) -> None:
    """OutOfRangeError if there are too few or too many names, or two are the same colour."""
    if not MIN_NAMES <= len(palette) <= MAX_NAMES:
        raise OutOfRangeError(f"{len(palette)} names; {MIN_NAMES} to {MAX_NAMES} are possible", where)
    if len({named.colour.lower() for named in palette}) < len(palette):
        raise OutOfRangeError("two names have the same colour", where, "Give each name a colour of its own.")


def palette_points(palette: Palette) -> Floats:
    """Where the names stand: square roots of linear red, green, blue; shape (names, 3)."""
    return np.asarray(np.sqrt([linear_light(named.colour) for named in palette]), np.float64)


def nearest_names(palette: Palette, seen: ArrayLike) -> tuple[NDArray[np.int64], Floats]:
    """The name nearest to each seen colour and its margin.

    Parameters
    ----------
    seen : array, shape (..., 3)
        Reflectance in red, green, blue.

    Returns
    -------
    index, margin : ndarray, shape (...)
        Which name, and how far the colour may move (the scale's whole length being 1) before another name is
        nearest: the distance to the plane midway between the two, least of all names.
    """
    points = palette_points(palette)
    place = np.sqrt(np.clip(np.asarray(seen, np.float64), 0.0, 1.0))[..., None, :]
    square = ((place - points) ** 2).sum(axis=-1)
    index = square.argmin(axis=-1)
    least = np.take_along_axis(square, index[..., None], -1)
    apart = np.linalg.norm(points[index][..., None, :] - points, axis=-1)
    with np.errstate(divide="ignore", invalid="ignore"):
        margin = np.where(apart > 0.0, (square - least) / (2.0 * apart), np.inf)
    return index, np.asarray(margin.min(axis=-1), np.float64)
