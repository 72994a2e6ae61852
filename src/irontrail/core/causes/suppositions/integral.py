"""The integral winds up."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# In proportion to kp: per second.
USUAL = 1.5


def _unusual(look: Look) -> float:
    pid, program = look.setup.program.pid, look.setup.program
    return 1.3 * doublings(pid.ki / max(pid.kp, 0.05), USUAL) if "integral" in program.chosen.terms else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.pid.ki", round(0.25 * look.setup.program.pid.kp, 2))


def _says(look: Look) -> str:
    return f"its integral gain {look.setup.program.pid.ki:g} is too big: it goes on steering long after it should"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Integral gain {setup.program.pid.ki:g}", setup)


INTEGRAL = Supposition("integral", _unusual, _undone, _says, _remedies)
