"""The line is looked for as the other of the two: dark for light."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    return 3.0 if any(look.turns_away) and look.line_is != look.setup.effective_program.line else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    other = "light" if look.setup.program.line == "dark" else "dark"
    yield with_value(look.setup, "program.line", other)


def _says(look: Look) -> str:
    return f"it is told that the line is {look.setup.program.line}, and turns away from its edge on both sides"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Follow a {setup.program.line} line", setup)


LINE = Supposition("line colour", _unusual, _undone, _says, _remedies)
