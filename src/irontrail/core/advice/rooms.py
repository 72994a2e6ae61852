"""Practice room and event hall: what the present settings would do in each, and calibrated anew there."""

from dataclasses import dataclass, replace

from irontrail.core import derive
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.rooms import Room, in_room, second_in_room, with_readings
from irontrail.core.light.sensor import Calibration
from irontrail.core.project import Project
from irontrail.core.setup import Setup
from irontrail.core.steering.pair import Which


@dataclass(frozen=True, eq=False)
class RoomView:
    """What a room does: its raw readings, and the run there as the robot is set and calibrated anew."""

    readings: Calibration
    as_set: Figures
    calibrated: Figures


def setup_in(setup: Setup, room: Room) -> Setup:
    """The same setup in a room."""
    light, robot = in_room(setup.light, setup.robot, room)
    second = None if setup.second is None else second_in_room(setup.second, room)
    return replace(setup, light=light, robot=robot, second=second)


def readings_here(setup: Setup, which: Which = "first") -> Calibration:
    """The raw readings of a sensor, of the line and of the mat, that a program's present numbers are for."""
    setup = setup.seen_by(which)
    if setup.light.calibrate:
        return setup.light.calibration
    return calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)


def look_at_rooms(project: Project, which: Which = "first") -> tuple[RoomView, RoomView]:
    """What the practice room and the event hall do to a project's setup, with the raw readings of one of its sensors.

    Raises
    ------
    IronTrailError
        If line and mat read too much alike in one of them, or here.
    """

    def look(room: Room) -> RoomView:
        there = setup_in(project.setup, room)
        again = calibrated_anew(project.setup, there)
        return RoomView(_calibrated_on_mat(there, which), derive.figures(there), derive.figures(again))

    return look(project.practice), look(project.event)


def calibrated_anew(setup: Setup, there: Setup) -> Setup:
    """A setup elsewhere, with each of its sensors told what it reads there.

    Raises
    ------
    IronTrailError
        If line and mat read too much alike here or there.
    """
    made = there
    for which in there.sensors:
        found = _calibrated_on_mat(there, which)
        made = take_readings(made, which, found, readings_here(setup, which))[0]
    return made


def _calibrated_on_mat(setup: Setup, which: Which) -> Calibration:
    """What one of a setup's sensors reads on line and mat, raw."""
    alone = setup.seen_by(which)
    return calibrate_on(alone.mat, alone.light, alone.robot.mount.height_mm)


def take_readings(setup: Setup, which: Which, found: Calibration, old: Calibration) -> tuple[Setup, str]:
    """A setup that takes two raw readings of a sensor for what its old ones were; and what was changed, in words.

    Of the second sensor of a program that does not calibrate only its own threshold moves: the target is the first's.

    Raises
    ------
    IronTrailError
        If the two readings are too much alike, or the other way round than the sensor reads.
    """
    alone, second = setup.seen_by(which), setup.second
    if alone.light.calibration == found:
        # A program that does not calibrate would have its target moved again.
        return setup, "The numbers are for these readings."
    made = with_readings(alone.light, setup.program, found.dark, found.bright, old)
    if which == "first" or second is None:
        pair = made.program.pair
        if second is not None and not setup.light.calibrate:
            # Each threshold is its own sensor's.
            name = "right_threshold" if setup.first_is_left else "left_threshold"
            pair = replace(pair, **{name: getattr(setup.program.pair, name)})
        return replace(setup, light=made.light, program=replace(made.program, pair=pair)), made.says
    setup = replace(setup, second=replace(second, calibration=made.light.calibration))
    if setup.light.calibrate:
        return setup, made.says
    name = "right_threshold" if setup.first_is_left else "left_threshold"
    before, now = getattr(setup.program.pair, name), getattr(made.program.pair, name)
    pair = replace(setup.program.pair, **{name: now})
    return replace(setup, program=replace(setup.program, pair=pair)), f"Its threshold {before:.0f} → {now:.0f}."


def verdict(project: Project, views: tuple[RoomView, RoomView]) -> str:
    """What the present settings do in the event hall, in a sentence."""
    here, there = views
    hall, lost = project.event.name, in_brief(there.as_set)
    if there.as_set.outcome != "finished" and there.calibrated.outcome == "finished":
        return f"In the {hall}, as it is set, it is {lost}; calibrated there it finishes."
    if there.as_set.outcome != "finished":
        return f"In the {hall} it is {lost}, calibrated or not: lower or shield the sensor."
    apart = abs(0.5 * (there.readings.dark + there.readings.bright - here.readings.dark - here.readings.bright))
    return f"The best target is {apart:.0f} raw away from the {project.practice.name}'s; calibrate again at the event."


def in_brief(figures: Figures) -> str:
    """How a run went: its time and swing, or how else it ended."""
    if figures.outcome != "finished":
        return figures.outcome.replace("-", " ")
    return f"{figures.time_s:.1f} s, swing {figures.wobble_mm:.1f}"
