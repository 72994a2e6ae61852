"""Proportional steering: the further the reading is from the target, the harder the robot steers back."""

from dataclasses import dataclass
from typing import Annotated

from numba import njit

from irontrail.core.quantity import Part, Quantity


@dataclass(frozen=True)
class Proportional(Part):
    """`gain`: percent of steer for each unit that the reading is off the target."""

    gain: Annotated[float, Quantity("gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2)] = 0.7


@njit(cache=True, nogil=True)
def proportional_powers(p, reading):
    """Powers (left, right), not yet limited: both wheels share the steer."""
    steer = p.light_turn * p.gain * (reading - p.target)
    return p.speed + steer, p.speed - steer
