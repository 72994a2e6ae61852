"""Halls from dim to bright: what the sensor reads in each, and what to set for that."""

from dataclasses import dataclass, replace

from irontrail.core.advice.changes import changes
from irontrail.core.advice.rooms import readings_here, take_readings
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.quantity import quantity_at, value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.tune.tries import Tried, Trying

# From a dim hall to a bright one, and that with the sensor's skirt off.
HALLS: tuple[dict[str, float], ...] = (
    {"light.room_light": 0.1},
    {"light.room_light": 0.4},
    {"light.room_light": 0.7},
    {"light.room_light": 1.0},
    {"light.room_light": 1.0, "light.sensor.shield": 0.0},
)
# Two halls whose readings are this near to each other (raw) are one row of the table.
SAME_READINGS = 1.5


@dataclass(frozen=True)
class HallRow:
    """A hall's two raw readings, what to set there, and what the starts come to as it is set and with that set."""

    dark: float
    bright: float
    do: str
    as_set: Tried
    anew: Tried

    @property
    def leave(self) -> bool:
        """Nothing is to be set there: as it is it does no worse."""
        return self.as_set.good >= self.anew.good

    @property
    def says(self) -> str:
        """What to do there."""
        if self.leave:
            return "leave the numbers" if self.as_set.holds else "no numbers tried hold there"
        return self.do if self.anew.holds else f"{self.do}, though that does not hold there"


def hall_rows(base: Tried, trying: Trying) -> tuple[HallRow, ...]:
    """Halls from dim to bright: what the sensor reads, what to set for it, and how often that comes through."""
    setup = base.setup
    if setup.light.sensor.names_colours:
        return ()
    rows: list[HallRow] = []
    for hall in HALLS:
        there = setup
        for path, value in hall.items():
            for which in setup.sensors:
                there = with_value(there, setup.path_of(path, which), value)
        alone = there.seen_by("first")
        try:
            found = calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)
            anew = _as_typed(_with_all_readings(setup, there))
        except IronTrailError:
            # There they read too much alike to be told apart.
            continue
        if rows and abs(found.dark - rows[-1].dark) + abs(found.bright - rows[-1].bright) < SAME_READINGS:
            continue
        as_set, tried = trying([there, anew])
        rows.append(HallRow(found.dark, found.bright, _hall_does(setup, anew), as_set, tried))
    return tuple(rows)


def _with_all_readings(setup: Setup, there: Setup) -> Setup:
    """The setup in a hall with the readings taken there for what those of practice were."""
    made = there
    for which in setup.sensors:
        alone = there.seen_by(which)
        found = calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)
        made, _ = take_readings(made, which, found, readings_here(setup, which))
    return made


def _hall_does(setup: Setup, anew: Setup) -> str:
    """What is set in a hall."""
    if setup.light.calibrate:
        return "calibrate there"
    return ", ".join(changes(setup, replace(setup, program=anew.program))) or "leave the numbers"


def _as_typed(setup: Setup) -> Setup:
    """A setup with the numbers that go with its readings to as many figures as a team would type."""
    program = setup.program
    paths = ["target", "pair.left_threshold", "pair.right_threshold"]
    paths += [program.chosen.gain_path] if program.chosen.gain else []
    for path in paths:
        quantity = quantity_at(program, path)
        program = with_value(program, path, quantity.clamped(round(value_at(program, path), quantity.decimals)))
    return replace(setup, program=program)
