"""The tape has a gap."""

from collections.abc import Iterator
from dataclasses import replace

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.mat.tape import Gap, Straight, Stroke
from irontrail.core.setup import Setup

USUAL_MM = 20.0


def _longest(look: Look) -> float:
    return max((piece.length_mm for piece in look.setup.mat.followed.pieces if isinstance(piece, Gap)), default=0.0)


def _unusual(look: Look) -> float:
    return 0.8 + doublings(_longest(look), USUAL_MM) if _longest(look) > 0.0 else 0.0


def _closed(stroke: Stroke) -> Stroke:
    pieces = tuple(Straight(each.length_mm) if isinstance(each, Gap) else each for each in stroke.pieces)
    return replace(stroke, pieces=pieces)


def _undone(look: Look) -> Iterator[Setup]:
    mat = look.setup.mat
    others = tuple(_closed(each) for each in mat.other_lines)
    yield replace(look.setup, mat=replace(mat, line=_closed(mat.line), other_lines=others))


def _says(look: Look) -> str:
    return f"the tape has a gap of {_longest(look):.0f} mm, and over it nothing tells it where its edge is"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


GAP = Supposition("gap", _unusual, _undone, _says, _remedies)
