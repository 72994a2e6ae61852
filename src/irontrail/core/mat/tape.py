"""Tape as people lay it: strokes made of straights, bends and corners, on a mat."""

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Predicate

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Part, Quantity


def is_colour(text: str) -> bool:
    """Whether a text is an sRGB colour such as #2a2b2d."""
    return re.fullmatch("#[0-9a-fA-F]{6}", text) is not None


Colour = Annotated[str, Predicate(is_colour)]


def _check_colour(colour: str, where: str) -> None:
    if not is_colour(colour):
        raise OutOfRangeError(f"'{colour}' is not a colour", where, "Write it like #2a2b2d.")


@dataclass(frozen=True)
class Straight(Part):
    """A straight piece of tape."""

    length_mm: Annotated[float, Quantity("length", "mm", 1.0, 10_000.0, 10.0)]
    kind: Literal["straight"] = "straight"


@dataclass(frozen=True)
class Bend(Part):
    """An arc; a positive angle turns left, seen in the stroke's own direction."""

    radius_mm: Annotated[float, Quantity("radius", "mm", 10.0, 5_000.0, 5.0)]
    angle_deg: Annotated[float, Quantity("angle", "°", -360.0, 360.0, 5.0)]
    kind: Literal["bend"] = "bend"


@dataclass(frozen=True)
class Corner(Part):
    """A change of direction on the spot, as where two pieces of tape meet; positive turns left."""

    angle_deg: Annotated[float, Quantity("angle", "°", -170.0, 170.0, 5.0)]
    kind: Literal["corner"] = "corner"


Piece = Straight | Bend | Corner


@dataclass(frozen=True)
class Stroke(Part):
    """One line of tape: a start and the pieces laid on from there.

    A closed stroke ends where it starts; what little is missing is laid as a straight.
    """

    x_mm: Annotated[float, Quantity("start x", "mm", 0.0, 10_000.0, 10.0)]
    y_mm: Annotated[float, Quantity("start y", "mm", 0.0, 10_000.0, 10.0)]
    heading_deg: Annotated[float, Quantity("heading", "°", -360.0, 360.0, 5.0)]
    pieces: tuple[Piece, ...]
    closed: bool = False
    width_mm: Annotated[float, Quantity("tape width", "mm", 4.0, 80.0, 1.0)] = 20.0
    colour: Colour = "#2a2b2d"

    def __post_init__(self) -> None:
        super().__post_init__()
        _check_colour(self.colour, "Stroke.colour")


@dataclass(frozen=True)
class Mat(Part):
    """A surface with one line of tape on it.

    An open line starts and finishes in a zone at its ends: the run is finished when the sensor has come to
    within `zone_mm` of the far end.
    """

    name: str
    line: Stroke
    width_mm: Annotated[float, Quantity("width", "mm", 200.0, 4_000.0, 50.0)] = 2000.0
    height_mm: Annotated[float, Quantity("height", "mm", 200.0, 4_000.0, 50.0)] = 1000.0
    colour: Colour = "#f3f1ea"
    zone_mm: Annotated[float, Quantity("finish zone", "mm", 10.0, 500.0, 10.0)] = 60.0

    def __post_init__(self) -> None:
        super().__post_init__()
        _check_colour(self.colour, "Mat.colour")
