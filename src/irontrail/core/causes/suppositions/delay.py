"""What is decided takes hold late."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import put, value_at
from irontrail.core.setup import Setup

# Seconds; up to this nothing of it is unusual.
USUAL_S, QUICK_S = 0.03, 0.015


def _unusual(look: Look) -> float:
    return 1.2 * doublings(value_at(look.setup, "program.delay_s"), USUAL_S)


def _undone(look: Look) -> Iterator[Setup]:
    yield put(look.setup, "program.delay_s", QUICK_S)


def _says(look: Look) -> str:
    seconds = value_at(look.setup, "program.delay_s")
    return (
        f"its answer takes hold {1000 * seconds:.0f} ms late, "
        f"and it drives {seconds * look.speed_mm_s:.0f} mm meanwhile"
    )


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Delay 15 ms", setup)


DELAY = Supposition("late answer", _unusual, _undone, _says, _remedies)
