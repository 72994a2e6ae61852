"""Its edge is the harder one: a branch leaves there, or the bends are tighter."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.causes.suppositions.other_lines import astray
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    if look.setup.program.astride:
        return 0.0
    # Of an edge nothing is unusual: it is said where the other one mends all.
    return 1.3 if look.setup.mat.goal and look.took_another_line else 0.35


def _undone(look: Look) -> Iterator[Setup]:
    other = "right" if look.setup.program.edge == "left" else "left"
    yield with_value(look.setup, "program.edge", other)


def _says(look: Look) -> str:
    if look.took_another_line:
        return astray(look)
    return f"it follows the {look.setup.program.edge} edge; on the other one the same numbers hold"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Follow the {setup.program.edge} edge", setup)


EDGE = Supposition("edge", _unusual, _undone, _says, _remedies)
