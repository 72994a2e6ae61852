"""On-off steering: one pair of wheel powers on the dark side of the threshold, another on the light side."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class OnOff(Part):
    """Wheel powers of the two turns; the outer wheel of a turn is the one that swings round it.

    On the dark side the robot turns off the line, on the light side onto it; which of its wheels is the outer
    one follows from the edge it is on.
    """

    dark_outer: Annotated[float, Quantity("dark: outer wheel", "%", -100.0, 100.0, 1.0)] = 55.0
    dark_inner: Annotated[float, Quantity("dark: inner wheel", "%", -100.0, 100.0, 1.0)] = 0.0
    light_outer: Annotated[float, Quantity("light: outer wheel", "%", -100.0, 100.0, 1.0)] = 55.0
    light_inner: Annotated[float, Quantity("light: inner wheel", "%", -100.0, 100.0, 1.0)] = 0.0
