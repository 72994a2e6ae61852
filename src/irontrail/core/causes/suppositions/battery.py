"""The battery is low."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL = 0.85


def _unusual(look: Look) -> float:
    return 2.5 * doublings(1.0 / look.setup.robot.drive.battery, 1.0 / USUAL)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.drive.battery", 1.0)


def _says(look: Look) -> str:
    return f"its battery is at {100 * look.setup.robot.drive.battery:.0f} %: every power drives it more slowly"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Charge the battery", setup)


BATTERY = Supposition("battery", _unusual, _undone, _says, _remedies)
