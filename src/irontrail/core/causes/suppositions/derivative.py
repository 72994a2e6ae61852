"""The derivative is too big, or not filtered."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# In proportion to kp: a derivative of this many seconds is usual.
USUAL_S = 0.12


def _unusual(look: Look) -> float:
    pid, program = look.setup.program.pid, look.setup.program
    return doublings(pid.kd / max(pid.kp, 0.05), USUAL_S) if "derivative" in program.chosen.terms else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    kp = look.setup.program.pid.kp
    yield with_value(look.setup, "program.pid.kd", round(0.04 * kp, 3))


def _says(look: Look) -> str:
    return f"its derivative gain {look.setup.program.pid.kd:g} is too big: it answers to every jump of the reading"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Derivative gain {setup.program.pid.kd:g}", setup)


DERIVATIVE = Supposition("derivative", _unusual, _undone, _says, _remedies)
