"""The program's numbers are for other readings than those of here."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.setup import Setup

# Of the span that was calibrated its ends may be off by this share.
USUAL_OFF = 0.12


def calibrated_here(setup: Setup) -> Setup:
    """A setup with its sensors calibrated where they are; as it is where they cannot be."""
    if not setup.light.calibrate or setup.light.sensor.names_colours:
        return setup
    for which in setup.sensors:
        alone = setup.seen_by(which)
        try:
            found = calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)
        except IronTrailError:
            return setup
        setup = setup.with_eye(which, calibration=found)
    return setup


def _off(look: Look) -> float:
    had, here = look.setup.light.calibration, look.raw
    if here is None or not look.setup.light.calibrate or look.setup.light.sensor.names_colours:
        return 0.0
    return max(abs(had.dark - here.dark), abs(had.bright - here.bright)) / abs(had.bright - had.dark)


def _unusual(look: Look) -> float:
    return 1.6 * doublings(_off(look), USUAL_OFF)


def _undone(look: Look) -> Iterator[Setup]:
    yield calibrated_here(look.setup)


def _says(look: Look) -> str:
    had, here = look.setup.light.calibration, look.raw
    assert here is not None
    return (
        f"it was calibrated on {had.dark:.0f} and {had.bright:.0f}, and here line and mat read {here.dark:.0f} and "
        f"{here.bright:.0f}"
    )


def _remedies(look: Look) -> Iterator[Mend]:
    yield Mend("Calibrate here", calibrated_here(look.setup))


CALIBRATION = Supposition("calibration", _unusual, _undone, _says, _remedies)
