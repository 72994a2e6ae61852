"""A hand pulls it off its line."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    return 2.0 if look.setup.trial.pull is not None else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "trial.pull", None)


def _says(look: Look) -> str:
    pull = look.setup.trial.pull
    return f"a hand pulled it away after {pull.time_s if pull is not None else 0.0:.1f} s, and it did not find back"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Without the hand", setup)


HAND = Supposition("hand", _unusual, _undone, _says, _remedies)
