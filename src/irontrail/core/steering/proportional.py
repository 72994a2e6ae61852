"""Proportional steering: the further the reading is from the target, the harder the robot steers back."""

from dataclasses import dataclass
from typing import Annotated, Literal

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class Proportional(Part):
    """`gain`: percent of steer for each unit that the reading is off the target.

    On the dark side the gain is `dark_ratio` times as much.
    """

    gain: Annotated[float, Quantity("gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2)] = 0.7
    dark_ratio: Annotated[float, Quantity("gain ratio dark to light", "", 0.0, 10.0, 0.05, 1.0, 2)] = 1.0


@dataclass(frozen=True)
class Mixed(Part):
    """Proportional on one side of the target, one fixed turn on the other."""

    sloped_side: Literal["dark", "light"] = "light"
    gain: Annotated[float, Quantity("gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2)] = 0.7
    fixed_steer: Annotated[float, Quantity("fixed steer", "%", 0.0, 200.0, 1.0)] = 25.0
