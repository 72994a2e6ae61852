"""Another line crosses or forks off."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    # A fork or a crossing may be harmless; it is said where it ends near one, and all goes well without it.
    if not look.setup.mat.other_lines or look.setup.mat.goal:
        return 0.0
    return 1.2 if look.ends_near_another_line else 0.35


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "mat.other_lines", ())


def astray(look: Look) -> str:
    """It left its own line along another one."""
    edge = "it was led" if look.setup.program.astride else f"its {look.setup.program.edge} edge led it"
    return f"where another line meets its own, {edge} along that one"


def _says(look: Look) -> str:
    return astray(look) if look.took_another_line else "another line meets its own, and it goes wrong there"


def _remedies(look: Look) -> Iterator[Mend]:
    if not look.setup.program.astride:
        edge = "right" if look.setup.program.edge == "left" else "left"
        yield Mend(f"Follow the {edge} edge", with_value(look.setup, "program.edge", edge))


OTHER_LINES = Supposition("another line", _unusual, _undone, _says, _remedies)
