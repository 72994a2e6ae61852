"""There is not enough time."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import put
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    return 1.5 if look.run.outcome == "time-out" else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    for times in (4.0, 20.0):
        yield put(look.setup, "trial.time_limit_s", times * look.setup.trial.time_limit_s)


def _says(look: Look) -> str:
    return f"{look.setup.trial.time_limit_s:g} s are not enough for the way"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Time limit {setup.trial.time_limit_s:g} s", setup)


TIME_LIMIT = Supposition("time limit", _unusual, _undone, _says, _remedies)
