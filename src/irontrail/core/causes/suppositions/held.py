"""It decides only now and then."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_S = 0.03


def _unusual(look: Look) -> float:
    return 1.2 * doublings(look.period_s, USUAL_S) if look.setup.program.decision_loops > 1 else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.decision_loops", 1)


def _says(look: Look) -> str:
    return (
        f"it decides only every {1000 * look.period_s:.0f} ms, and drives {look.period_s * look.speed_mm_s:.0f} mm "
        "blindly in between"
    )


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Decide every loop", setup)


HELD = Supposition("held decisions", _unusual, _undone, _says, _remedies)
