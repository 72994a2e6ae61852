"""Another line crosses or forks off."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.project import Setup
from irontrail.core.quantity import with_value


def _unusual(look: Look) -> float:
    # A fork or a crossing may be harmless; it is said where all goes well without it.
    return 1.2 if look.setup.mat.other_lines and not look.setup.mat.goal else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "mat.other_lines", ())


def _says(_look: Look) -> str:
    return "another line meets its own, and it goes wrong there"


def _remedies(look: Look) -> Iterator[Mend]:
    if not look.setup.program.astride:
        edge = "right" if look.setup.program.edge == "left" else "left"
        yield Mend(f"Follow the {edge} edge", with_value(look.setup, "program.edge", edge))


OTHER_LINES = Supposition("another line", _unusual, _undone, _says, _remedies)
