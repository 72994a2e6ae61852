"""Practice room and event hall: what the present settings would do in each, and calibrated anew there."""

from dataclasses import dataclass, replace

from irontrail.core import derive
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.rooms import Room, in_room, with_readings
from irontrail.core.light.sensor import Calibration
from irontrail.core.project import Project, Setup


@dataclass(frozen=True, eq=False)
class RoomView:
    """What a room does: its raw readings, and the run there as the robot is set and calibrated anew."""

    readings: Calibration
    as_set: Figures
    calibrated: Figures


def setup_in(setup: Setup, room: Room) -> Setup:
    """The same setup in a room."""
    light, robot = in_room(setup.light, setup.robot, room)
    return replace(setup, light=light, robot=robot)


def readings_here(setup: Setup) -> Calibration:
    """The raw readings, of the line and of the mat, that a program's present numbers are for."""
    if setup.light.calibrate:
        return setup.light.calibration
    return calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)


def look_at_rooms(project: Project) -> tuple[RoomView, RoomView]:
    """What the practice room and the event hall do to the project's setup.

    Raises
    ------
    IronTrailError
        If line and mat read too much alike in one of them, or here.
    """
    old = readings_here(project.setup)

    def look(room: Room) -> RoomView:
        there = setup_in(project.setup, room)
        readings = calibrate_on(there.mat, there.light, room.height_mm)
        anew = with_readings(there.light, there.program, readings.dark, readings.bright, old)
        again = replace(there, light=anew.light, program=anew.program)
        return RoomView(readings, derive.figures(there), derive.figures(again))

    return look(project.practice), look(project.event)


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
