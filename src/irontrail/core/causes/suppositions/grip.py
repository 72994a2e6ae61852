"""The tyres slip."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL, LEAST_MM = 0.5, 10.0


def _unusual(look: Look) -> float:
    slips = look.run.skid_mm > LEAST_MM
    return 1.3 * doublings(1.0 / look.setup.robot.drive.grip, 1.0 / USUAL) if slips else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.drive.grip", 0.9)


def _says(look: Look) -> str:
    return f"its tyres slip: it slid {look.run.skid_mm:.0f} mm, with a grip of {look.setup.robot.drive.grip:g}"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


GRIP = Supposition("grip", _unusual, _undone, _says, _remedies)
