"""Line and mat are alike in its lamp's light."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.causes.suppositions.calibration import calibrated_here
from irontrail.core.light.reading import LAMP_WEIGHTS
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup


def _best(look: Look) -> Look:
    """The same in the light of the lamp in which line and mat are farthest apart."""
    lamps = (Look(with_value(look.setup, "light.sensor.lamp", lamp)) for lamp in LAMP_WEIGHTS)
    return max(lamps, key=lambda other: other.contrast)


def _unusual(look: Look) -> float:
    if look.setup.light.sensor.names_colours:
        return 0.0
    return 1.3 * doublings(_best(look).contrast, 1.6 * max(look.contrast, 0.5))


def _undone(look: Look) -> Iterator[Setup]:
    yield calibrated_here(_best(look).setup)


def _says(look: Look) -> str:
    lamp = look.setup.light.sensor.lamp
    return f"in {lamp} light line and mat read only {look.contrast:.0f} apart"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"A {setup.light.sensor.lamp} lamp, calibrated anew", setup)


LAMP = Supposition("lamp", _unusual, _undone, _says, _remedies)
