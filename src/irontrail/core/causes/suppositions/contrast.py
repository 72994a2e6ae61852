"""Line and mat are nearly alike."""

from collections.abc import Iterator
from dataclasses import replace

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.causes.suppositions.calibration import calibrated_here
from irontrail.core.setup import Setup

# So far apart line and mat are read well (raw).
USUAL = 25.0


def _unusual(look: Look) -> float:
    if look.setup.light.sensor.names_colours:
        return 0.0
    return 1.1 * doublings(1.0 / max(look.contrast, 0.5), 1.0 / USUAL)


def _undone(look: Look) -> Iterator[Setup]:
    """As if the line were black and the mat white, or the other way round."""
    setup = look.setup
    raw = look.raw
    darker = raw is None or (raw.dark <= raw.bright) == (setup.light.sensor.reads_high_on == "bright")
    line, ground = ("#202020", "#f0f0f0") if darker else ("#f0f0f0", "#202020")
    mat = setup.mat
    goal = mat.goal - 1
    others = tuple(replace(each, colour=line) if i == goal else each for i, each in enumerate(mat.other_lines))
    first = replace(mat.line, colour=line) if not mat.goal else mat.line
    yield calibrated_here(replace(setup, mat=replace(mat, colour=ground, line=first, other_lines=others)))


def _says(look: Look) -> str:
    noise = look.setup.light.sensor.noise
    return f"line and mat read only {look.contrast:.0f} apart, with a noise of {noise:g}"


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


CONTRAST = Supposition("contrast", _unusual, _undone, _says, _remedies)
