"""The steering curve: what a program sets both wheels to, over every reading."""

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from irontrail.core.engine.kernel import decide, limited
from irontrail.core.engine.pack import pack_program
from irontrail.core.project import Setup

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class SteeringCurve:
    """Powers of both wheels over the reading, as the law wants them and as the motors take them; shape (n,)."""

    reading: Floats
    wanted_left: Floats
    wanted_right: Floats
    left: Floats
    right: Floats

    @property
    def clipped(self) -> NDArray[np.bool_]:
        """Where a wheel is wanted beyond its limit."""
        return np.maximum(np.abs(self.wanted_left), np.abs(self.wanted_right)) > 100.0


def steering_curve(setup: Setup, points: int = 401) -> SteeringCurve:
    """The curve over 0..100, by the very function that decides in a run."""
    reading = np.linspace(0.0, 100.0, points)
    out = np.empty((4, points))
    _powers(pack_program(setup), reading, out)
    return SteeringCurve(reading, *out)


@njit(cache=True, nogil=True)
def _powers(parameters, reading, out):
    p = parameters[0]
    for i in range(reading.size):
        left, right = decide(p, reading[i])
        out[0, i], out[1, i] = left, right
        out[2, i], out[3, i] = limited(p, left), limited(p, right)
