"""Only one wheel steers."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    program = look.setup.program
    return 0.9 if program.chosen.gives == "steer" and program.mixing != "both wheels" else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.mixing", "both wheels")


def _says(look: Look) -> str:
    return f"it steers by {look.setup.program.mixing.replace(' only', ' alone')}, which turns half as hard"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Steer by both wheels", setup)


MIXING = Supposition("mixing", _unusual, _undone, _says, _remedies)
