"""The line's edges wander."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_MM = 1.2


def _unusual(look: Look) -> float:
    return doublings(look.setup.mat.followed.unevenness_mm, USUAL_MM)


def _undone(look: Look) -> Iterator[Setup]:
    path = "mat.line.unevenness_mm" if not look.setup.mat.goal else ""
    if path:
        yield with_value(look.setup, path, 0.0)


def _says(look: Look) -> str:
    return f"the edges of the line wander by {look.setup.mat.followed.unevenness_mm:.1f} mm"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


UNEVEN = Supposition("uneven line", _unusual, _undone, _says, _remedies)
