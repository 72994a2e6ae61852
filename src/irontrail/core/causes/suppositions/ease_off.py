"""It slows down too little, or too much, when it is off."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    return 2.0 * max(look.setup.program.ease_off - 0.6, 0.0) / 0.4


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.ease_off", 0.0)


def _says(look: Look) -> str:
    return f"it takes away {100 * look.setup.program.ease_off:.0f} % of its speed when it is off, and comes to a stand"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("No ease-off", setup)


EASE_OFF = Supposition("ease-off", _unusual, _undone, _says, _remedies)
