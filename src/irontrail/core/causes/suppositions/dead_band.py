"""Small powers do not move its wheels."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL = 6.0


def _unusual(look: Look) -> float:
    return 1.1 * doublings(look.setup.robot.drive.dead_band, USUAL)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.drive.dead_band", 2.0)


def _says(look: Look) -> str:
    return f"powers below {look.setup.robot.drive.dead_band:g} do not move its wheels"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


DEAD_BAND = Supposition("dead band", _unusual, _undone, _says, _remedies)
