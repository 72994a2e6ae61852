"""Two readings taken in a hall: a mat that reads so, and the numbers that go with it."""

from dataclasses import dataclass, replace

import numpy as np

from irontrail.core.advice.rooms import readings_here, take_readings
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import lamp_share, room_share
from irontrail.core.light.sensor import Calibration, Light
from irontrail.core.mat.reflectance import srgb
from irontrail.core.setup import Setup
from irontrail.core.tune.tries import Tried

# Readings that the model comes no nearer to than this cannot be had from line and mat alone.
NEAR_READING = 1.5


@dataclass(frozen=True)
class Readings:
    """What two readings taken in the hall make of a setup.

    `there` is the setup as it is, on a mat that reads so; `anew` with the new numbers; `says` what was changed.
    """

    there: Setup
    anew: Setup
    says: str
    as_set: Tried | None = None
    with_new: Tried | None = None


def take_in(setup: Setup, found: Calibration) -> Readings:
    """A setup where line and mat read as found (raw percent), as it is and with the numbers that go with them.

    Raises
    ------
    IronTrailError
        If the readings are too much alike, the other way round, or cannot be had from any line and mat.
    """
    there = reading_so(setup, found)
    anew, says = there, ""
    for which in setup.sensors:
        alone = there.seen_by(which)
        read = found if which == "first" else calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)
        anew, said = take_readings(anew, which, read, readings_here(setup, which))
        says = says or said
    return Readings(there, anew, says)


def reading_so(setup: Setup, found: Calibration) -> Setup:
    """A setup whose line and mat are as dark and as bright, in grey, as its first sensor was found to read them.

    Raises
    ------
    IronTrailError
        If no line and mat read so in its light.
    """
    light, height, mat = setup.light, setup.robot.mount.height_mm, setup.mat
    if light.sensor.names_colours:
        raise IronTrailError("this sensor gives names, not brightness", "two readings", "Look at Light ▸ Colours.")
    dark, bright = (_grey(light, height, mat.gloss, raw) for raw in (found.dark, found.bright))
    there = replace(setup, mat=replace(mat, colour=bright, line=replace(mat.line, colour=dark)))
    if mat.goal:
        others = tuple(
            replace(line, colour=dark) if i == mat.goal - 1 else line for i, line in enumerate(mat.other_lines)
        )
        there = replace(setup, mat=replace(mat, colour=bright, other_lines=others))
    read = calibrate_on(there.mat, light, height)
    if max(abs(read.dark - found.dark), abs(read.bright - found.bright)) > NEAR_READING:
        raise IronTrailError(
            f"no line and mat read {found.dark:.0f} and {found.bright:.0f} at this height and in this light",
            "two readings", "Set the sensor's height and the room's light as they are there, on Robot and Light.",
        )  # fmt: skip
    return there


def _grey(light: Light, height_mm: float, gloss: float, raw: float) -> str:
    """The grey that a sensor reads as a raw percent, or the nearest there is."""
    level = 0.01 * (raw if light.sensor.reads_high_on == "bright" else 100.0 - raw) - light.sensor.dark_level
    room = room_share(light, height_mm)
    reflects = np.array([min(max((level - room * gloss) / (lamp_share(height_mm) + room), 0.0), 1.0)])
    shade = round(255.0 * float(srgb(reflects)[0]))
    return f"#{shade:02x}{shade:02x}{shade:02x}"
