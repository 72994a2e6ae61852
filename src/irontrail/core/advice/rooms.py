"""Practice room and event hall: what the present settings would do in each, and calibrated anew there."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.rooms import Room, in_room, second_in_room, with_readings
from irontrail.core.light.sensor import Calibration
from irontrail.core.project import Project
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.steering.pair import Which

# What may help is tried over so many.
STARTS = 10
# Swing and time that differ by less are told to be alike.
LITTLE_MM, LITTLE_S = 0.5, 0.1


@dataclass(frozen=True, eq=False)
class RoomView:
    """What a room does: its raw readings, and the run there as the robot is set and calibrated anew.

    Where neither finishes in the hall, `tried` is what was tried against it, and how many of STARTS perturbed starts
    finish so, calibrated there.
    """

    readings: Calibration
    as_set: Figures
    calibrated: Figures
    tried: tuple[tuple[str, int], ...] = ()

    @property
    def finishes(self) -> bool:
        """One of its runs finishes."""
        return "finished" in (self.as_set.outcome, self.calibrated.outcome)


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

    here, there = look(project.practice), look(project.event)
    if here.finishes and not there.finishes:
        tried = tuple((words, _finishing(project.setup, room)) for words, room in _against_the_hall(project))
        there = replace(there, tried=tried)
    return here, there


def _against_the_hall(project: Project) -> Iterator[tuple[str, Room]]:
    """What may help in the event hall, in words, and the hall with it."""
    hall, practice = project.event, project.practice
    shielded = replace(hall, shield=1.0, second_shield=1.0)

    def low(room: Room) -> Room:
        return replace(
            room,
            height_mm=min(hall.height_mm, practice.height_mm),
            second_height_mm=min(hall.second_height_mm, practice.second_height_mm),
        )

    yield "with a full shield", shielded
    if low(hall) != hall:
        yield "with the sensor as low as in practice", low(hall)
        yield "with a full shield, as low as in practice", low(shielded)


def _finishing(setup: Setup, room: Room) -> int:
    """How many perturbed starts finish in a room, calibrated there."""
    there = setup_in(setup, room)
    try:
        again = calibrated_anew(setup, there)
    except IronTrailError:
        return 0
    return sum(derive.run_once(perturbed(again, start)).outcome == "finished" for start in range(1, STARTS + 1))


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
    if not there.finishes:
        says = f"In the {hall} it is {lost}, calibrated or not"
        if not here.finishes:
            return f"{says}; in the {project.practice.name} it does not finish either: mend that first."
        words, count = max(there.tried, key=lambda each: each[1])
        return f"{says}; {words} and calibrated there, {count} of {STARTS} shaken starts finish."
    if there.as_set.outcome != "finished":
        return f"In the {hall}, as it is set, it is {lost}; calibrated there it finishes."
    if there.calibrated.outcome != "finished":
        return f"In the {hall} it finishes as it is set; calibrated there it is {in_brief(there.calibrated)}."
    apart = abs(0.5 * (there.readings.dark + there.readings.bright - here.readings.dark - here.readings.bright))
    says = f"The best target is {apart:.0f} raw away from the {project.practice.name}'s"
    swing, calibrated = there.as_set.wobble_mm, there.calibrated.wobble_mm
    if abs(calibrated - swing) < LITTLE_MM and abs(there.calibrated.time_s - there.as_set.time_s) < LITTLE_S:
        return f"{says}; calibrating there changes little."
    if calibrated < swing:
        return f"{says}; calibrate there, and it swings {calibrated:.1f} mm instead of {swing:.1f}."
    return f"{says}; calibrated there it swings {calibrated:.1f} mm, as it is set {swing:.1f}."


def in_brief(figures: Figures) -> str:
    """How a run went: its time and swing, or how else it ended."""
    if figures.outcome != "finished":
        return "out of time" if figures.outcome == "time-out" else figures.outcome
    return f"{figures.time_s:.1f} s, swing {figures.wobble_mm:.1f}"
