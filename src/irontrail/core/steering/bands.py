"""Steering by bands: the reading's range cut in steps, a pair of wheel powers for each."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Part, Quantity

MAX_BANDS = 8


@dataclass(frozen=True)
class Band(Part):
    """One band: readings below `below` and not below the band before it.

    The powers are those on the left edge of a dark line; on the right edge, or on a light line, left and right
    change places.
    """

    below: Annotated[float, Quantity("band below", "", 0.0, 101.0, 1.0)]
    left: Annotated[float, Quantity("left wheel", "%", -100.0, 100.0, 1.0)]
    right: Annotated[float, Quantity("right wheel", "%", -100.0, 100.0, 1.0)]


@dataclass(frozen=True)
class Bands(Part):
    """The bands from dark to light; the last one takes all that is left."""

    steps: tuple[Band, ...] = (
        Band(20.0, 0.0, 50.0),
        Band(40.0, 25.0, 50.0),
        Band(60.0, 45.0, 45.0),
        Band(80.0, 50.0, 25.0),
        Band(101.0, 50.0, 0.0),
    )

    def __post_init__(self) -> None:
        super().__post_init__()
        if not 1 <= len(self.steps) <= MAX_BANDS:
            raise OutOfRangeError(f"{len(self.steps)} bands are outside 1 to {MAX_BANDS}", "Bands.steps")
        limits = [band.below for band in self.steps]
        if sorted(limits) != limits:
            raise OutOfRangeError("the limits do not rise from band to band", "Bands.steps", "Sort them.")
