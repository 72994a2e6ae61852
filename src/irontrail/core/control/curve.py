"""The steering curve of a setup, by the very step that decides in a run."""

import numpy as np

from irontrail.core.compiled import compiled
from irontrail.core.control.record import MEMORY_SIZE, controller
from irontrail.core.control.step import decide, limited
from irontrail.core.project import Setup
from irontrail.core.steering.curve import SteeringCurve


def steering_curve(setup: Setup, points: int = 401) -> SteeringCurve:
    """The curve over readings 0..100; a law with memory as it decides at first."""
    return curve_over(setup, np.linspace(0.0, 100.0, points))


def curve_over(setup: Setup, reading: np.ndarray) -> SteeringCurve:
    """The curve at some readings, shape (n,)."""
    out = np.empty((4, reading.size))
    _powers(controller(setup), reading, out)
    return SteeringCurve(reading, *out)


@compiled
def _powers(records, reading, out):
    c = records[0]
    for i in range(reading.size):
        _, left, right = decide(c, np.zeros(MEMORY_SIZE), reading[i])
        out[0, i], out[1, i] = left, right
        out[2, i], out[3, i] = limited(c, left), limited(c, right)
