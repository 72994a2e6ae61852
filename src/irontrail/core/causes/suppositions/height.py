"""The sensor hangs high."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.causes.suppositions.calibration import calibrated_here
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_MM, LOW_MM = 11.0, 8.0


def _unusual(look: Look) -> float:
    return 1.5 * doublings(look.setup.robot.mount.height_mm, USUAL_MM)


def _undone(look: Look) -> Iterator[Setup]:
    yield calibrated_here(with_value(look.setup, "robot.mount.height_mm", LOW_MM))


def _says(look: Look) -> str:
    return (
        f"its sensor hangs {look.setup.robot.mount.height_mm:.0f} mm high: it sees a patch {look.seen_mm:.0f} mm to "
        "either side and much of the room's light"
    )


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Sensor {LOW_MM:g} mm high, calibrated anew", setup)


HEIGHT = Supposition("sensor's height", _unusual, _undone, _says, _remedies)
