"""The program takes long once round."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import put, value_at
from irontrail.core.setup import Setup

# Seconds; up to this nothing of it is unusual.
USUAL_S, QUICK_S = 0.02, 0.01


def _unusual(look: Look) -> float:
    return 1.2 * doublings(value_at(look.setup, "program.loop_time_s"), USUAL_S)


def _undone(look: Look) -> Iterator[Setup]:
    yield put(look.setup, "program.loop_time_s", QUICK_S)


def _says(look: Look) -> str:
    seconds = value_at(look.setup, "program.loop_time_s")
    return f"its loop takes {1000 * seconds:.0f} ms, and it drives {seconds * look.speed_mm_s:.0f} mm meanwhile"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Loop 10 ms", setup)


LOOP = Supposition("slow loop", _unusual, _undone, _says, _remedies)
