"""Powers are taken in coarse steps."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL = 4.0


def _unusual(look: Look) -> float:
    return doublings(look.setup.robot.drive.power_step, USUAL)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.drive.power_step", 1.0)


def _says(look: Look) -> str:
    return f"its motors take powers only in steps of {look.setup.robot.drive.power_step:g}"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


POWER_STEP = Supposition("coarse powers", _unusual, _undone, _says, _remedies)
