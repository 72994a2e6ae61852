"""The steering curve of a setup, by the very step that decides in a run."""

import numpy as np

from irontrail.core.compiled import compiled
from irontrail.core.control.pair import value_and_error
from irontrail.core.control.record import MEMORY_SIZE, controller
from irontrail.core.control.step import decide, limited
from irontrail.core.setup import Setup
from irontrail.core.steering.curve import SteeringCurve

# What a law remembers lies in a record, as it does in a run: a law is compiled once for both.
_MEMORY = np.dtype([("memory", "f8", (MEMORY_SIZE,))])


def steering_curve(setup: Setup, points: int = 401) -> SteeringCurve:
    """The curve over all that it can steer by; a law with memory as it decides at first."""
    return curve_over(setup, np.linspace(*setup.program.reach, points))


def curve_over(setup: Setup, reading: np.ndarray) -> SteeringCurve:
    """The curve at some values of what is steered by, shape (n,)."""
    out = np.empty((4, reading.size))
    _powers(controller(setup), np.zeros(1, _MEMORY), reading, out)
    return SteeringCurve(reading, *out)


def steered_by(setup: Setup, first: np.ndarray, second: np.ndarray) -> np.ndarray:
    """What the setup's program steers by where its sensors read so, shape (n,): its error about where that is none."""
    out = np.empty(first.size)
    _errors(controller(setup), first, second, out)
    return out + setup.program.aim


def powers_at(setup: Setup, first: float, second: float) -> tuple[float, float]:
    """The powers that both wheels are set to where its sensors read so; a law with memory as it decides at first."""
    out = np.empty(2)
    _powers_of_both(controller(setup), np.zeros(1, _MEMORY), first, second, out)
    return float(out[0]), float(out[1])


@compiled
def _powers_of_both(records, memories, first, second, out):
    c = records[0]
    value, _ = value_and_error(c, first, second)
    _, left, right = decide(c, memories[0].memory, value)
    out[0], out[1] = limited(c, left), limited(c, right)


@compiled
def _errors(records, first, second, out):
    c = records[0]
    for i in range(first.size):
        _, out[i] = value_and_error(c, first[i], second[i])


@compiled
def _powers(records, memories, reading, out):
    c, memory = records[0], memories[0].memory
    for i in range(reading.size):
        memory[:] = 0.0
        _, left, right = decide(c, memory, reading[i])
        out[0, i], out[1, i] = left, right
        out[2, i], out[3, i] = limited(c, left), limited(c, right)
