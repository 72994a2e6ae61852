"""The sensor is beside the robot's middle."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_MM = 8.0


def _unusual(look: Look) -> float:
    return doublings(abs(look.setup.robot.mount.aside_mm), USUAL_MM) if look.setup.second is None else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "robot.mount.aside_mm", 0.0)


def _says(look: Look) -> str:
    aside = look.setup.robot.mount.aside_mm
    return f"its sensor is {abs(aside):.0f} mm to the {'left' if aside > 0.0 else 'right'} of its middle"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Sensor in the middle", setup)


ASIDE = Supposition("sensor aside", _unusual, _undone, _says, _remedies)
