"""Proportional steering: the further the reading is from the target, the harder the robot steers back."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class Proportional(Part):
    """`gain`: percent of steer for each unit that the reading is off the target."""

    gain: Annotated[float, Quantity("gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2)] = 0.7
