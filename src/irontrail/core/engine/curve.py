"""Computes the steering curve of a setup."""

import numpy as np
from numba import njit

from irontrail.core.engine.laws import MEMORY_SIZE, decide
from irontrail.core.engine.motion import limited
from irontrail.core.engine.pack import pack_program
from irontrail.core.project import Setup
from irontrail.core.steering.curve import SteeringCurve


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
        left, right = decide(p, reading[i], np.zeros(MEMORY_SIZE))
        out[0, i], out[1, i] = left, right
        out[2, i], out[3, i] = limited(p, left), limited(p, right)
