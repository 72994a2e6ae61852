"""The derivative is not filtered."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# With less of a filter than this, a derivative of this many seconds of kp answers to every step of the reading.
LEAST_S, USUAL_S, FILTER_S = 0.008, 0.03, 0.03


def _unusual(look: Look) -> float:
    pid, program = look.setup.program.pid, look.setup.program
    if "derivative" not in program.chosen.terms or pid.filter_s >= LEAST_S:
        return 0.0
    return 0.6 + doublings(pid.kd / max(pid.kp, 0.05), USUAL_S)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.pid.filter_s", FILTER_S)


def _says(look: Look) -> str:
    filter_ms = 1000 * look.setup.program.pid.filter_s
    return f"its derivative has a filter of only {filter_ms:.0f} ms: each step of the reading kicks its wheels"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Derivative filter 30 ms", setup)


UNFILTERED = Supposition("unfiltered derivative", _unusual, _undone, _says, _remedies)
