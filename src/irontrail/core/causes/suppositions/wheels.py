"""The wheels are unlike."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_PERCENT = 4.0


def _unusual(look: Look) -> float:
    return 1.2 * doublings(abs(look.setup.robot.drive.mismatch_percent), USUAL_PERCENT)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.drive.mismatch_percent", 0.0)


def _says(look: Look) -> str:
    much = look.setup.robot.drive.mismatch_percent
    return f"its {'left' if much > 0.0 else 'right'} wheel turns {abs(much):.0f} % faster at the same power"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


WHEELS = Supposition("unlike wheels", _unusual, _undone, _says, _remedies)
