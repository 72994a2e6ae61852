"""The powers of a side are those of the other: changed over."""

from collections.abc import Iterator
from dataclasses import replace

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup


def _unusual(look: Look) -> float:
    program = look.setup.program
    as_told = look.line_is == look.setup.effective_program.line
    return 3.0 if any(look.turns_away) and as_told and program.chosen.gives == "powers" else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    """The wheels changed over where it turns away, and on both sides."""
    setup, program = look.setup, look.setup.program
    low, high = look.across
    made = program
    for reading, away in ((high, look.turns_away[0]), (low, look.turns_away[1])):
        swapped = made.chosen.swapped(made, reading) if away else None
        made = swapped if swapped is not None else made
    if made != program:
        yield replace(setup, program=made)


def _says(look: Look) -> str:
    off, on = look.turns_away
    where = "on both sides" if off and on else "off the line" if off else "on the line"
    return f"the two wheels are changed over: {where} it turns away from its edge"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Change the wheels over", setup)


POWERS = Supposition("wheels changed over", _unusual, _undone, _says, _remedies)
