"""It is set down off its edge, or crooked."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_MM, USUAL_DEG = 8.0, 12.0


def _unusual(look: Look) -> float:
    trial = look.setup.trial
    off, turned = abs(trial.start_off_mm), abs(trial.start_angle_deg)
    return 1.6 * max(doublings(off, USUAL_MM), doublings(turned, USUAL_DEG))


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(with_value(look.setup, "trial.start_off_mm", 0.0), "trial.start_angle_deg", 0.0)


def _says(look: Look) -> str:
    trial, said = look.setup.trial, []
    if abs(trial.start_off_mm) > USUAL_MM:
        said.append(f"{abs(trial.start_off_mm):.0f} mm off its edge")
    if abs(trial.start_angle_deg) > USUAL_DEG:
        said.append(f"{abs(trial.start_angle_deg):.0f}° crooked")
    return f"at the start it is set down {' and '.join(said) or 'beside its edge'}"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Set it down on its edge, straight", setup)


SET_DOWN = Supposition("set down", _unusual, _undone, _says, _remedies)
