"""From a run to what the mat and the strip show of it."""

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from irontrail.app.view import RunView
from irontrail.app.widgets.mat_ground import Marks
from irontrail.app.widgets.robot_drawing import Eye
from irontrail.app.widgets.strip_picture import Lane, StripLeg, StripPicture, StripRun
from irontrail.app.widgets.trail_picture import Trail
from irontrail.core import derive
from irontrail.core.advice.case import Finding
from irontrail.core.advice.proofread_trip import ends_at_finish
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.mat.route import Route
from irontrail.core.result import Run, Trace, point_way
from irontrail.core.setup import Setup
from irontrail.core.steering.leg_words import leg_title
from irontrail.core.steering.program import Program
from irontrail.core.steering.words import deciding
from irontrail.core.stretches import driven_mm

# What is only known while a line is followed.
OF_LINE = {"edge_mm", "angle_deg"}


def trail_of(setup: Setup, run: Run) -> Trail:
    """Where the sensor went, or the middle between two that are astride the line."""
    return Trail(*point_way(run.trace, setup.reference))


def marks_of(setup: Setup, route: Route) -> Marks:
    """What is marked on a setup's mat."""
    pose, finishes = derive.start_pose(setup), ends_at_finish(setup)
    return Marks(route, pose, setup.trial.reverse, setup.light.areas, finishes)


def pins_of(view: RunView, findings: Sequence[Finding]) -> tuple[tuple[str, float, float], ...]:
    """The number of each finding, and where (mm) the run was then."""
    trail = trail_of(view.setup, view.run)
    last = trail.x_mm.size - 1
    rows = [min(each.row, last) for each in findings]
    return tuple((str(i), float(trail.x_mm[row]), float(trail.y_mm[row])) for i, row in enumerate(rows, 1))


def strip_run(run: Run, lanes: tuple[Lane, ...], by_way: bool = False) -> StripRun:
    """A run laid out for some lanes: along its line, or `by_way` along all that it drove."""
    trace = run.trace
    # What is measured between marks is there whatever lanes are shown.
    names = dict.fromkeys([*(name for lane in lanes for name in lane.columns), "edge_mm"])
    columns = {name: _column(trace, name) for name in names}
    if run.sensors == 1 and "second_reading" in columns:
        columns["second_reading"] = np.full(len(trace), np.nan)
    if run.legs:
        for name in OF_LINE & columns.keys():
            columns[name] = np.where(trace.following > 0.0, columns[name], np.nan)
    place = driven_mm(run) if by_way else trace.progress_mm
    return StripRun.of(place / 1000.0, trace.time_s, columns, run.outcome == "finished")


def _column(trace: Trace, name: str) -> NDArray[np.float64]:
    if name == "angle_deg":
        return np.degrees(trace.angle_rad)
    values: NDArray[np.float64] = getattr(trace, name)
    return values


def strip_picture(view: RunView, kept: tuple[StripRun, ...], by_place: bool, lanes: tuple[Lane, ...]) -> StripPicture:
    """The strip's picture; places are counted from where the robot is set down."""
    bends, length = along_strip(view.run.route, view.run.start_mm)
    legs = _strip_legs(view)
    # What is kept at no reading has no target to be drawn.
    target = float("nan") if view.setup.program.astride else view.setup.program.target
    shown = strip_run(view.run, lanes, bool(legs))
    if legs:
        length, bends = float(max(run.place_m[-1] for run in (shown, *kept))) or 1.0, ()
    return StripPicture(shown, kept, target, bends, length, by_place, lanes, legs)


def along_strip(route: Route, start_mm: float) -> tuple[tuple[tuple[str, float, float], ...], float]:
    """The bends of a line by place, and how long it is, in metres from where the robot is set down."""
    whole, bends = route.length_mm, []
    for bend in route.bends:
        begins = (bend.start_mm - start_mm) % whole if route.closed else bend.start_mm - start_mm
        bends.append((bend.name, begins / 1000.0, (begins + bend.end_mm - bend.start_mm) / 1000.0))
    return tuple(bends), (whole if route.closed else whole - start_mm) / 1000.0


def _strip_legs(view: RunView) -> tuple[StripLeg, ...]:
    """The legs that a run came to, along its strip."""
    trip, times = view.setup.program.trip, view.run.trace.time_s
    if trip is None:
        return ()
    way = driven_mm(view.run) / 1000.0
    return tuple(
        StripLeg(
            leg.number + 1,
            leg_title(trip.legs[leg.number]),
            (float(way[leg.begun]), float(way[leg.over])),
            (float(times[leg.begun]), float(times[leg.over])),
        )
        for leg in view.run.legs
    )


def sentence_number(program: Program, trace: Trace, row: int) -> int:
    """Which sentence of the program in words decides in a row, from 1."""
    rule, leg = (column[row : row + 1].astype(np.int64) for column in (trace.rule, trace.leg))
    return int(deciding(program, rule, leg)[0]) + 1


def eyes_at(view: RunView, row: int) -> tuple[bool, Eye | None]:
    """Whether the first sensor sees light in a row, and the second one with what it sees.

    A single sensor is on the side that decides; each of two is told by its own reading.
    """
    setup, trace = view.setup, view.run.trace
    if setup.second is None:
        return bool(trace.side[row] > 0.5), None
    first, second = (setup.seen_by(which) for which in setup.sensors)
    mount = second.robot.mount
    spot = spot_sigma_mm(second.light.sensor, mount.height_mm)
    sees = bool(trace.second_reading[row] >= second.program.target)
    return bool(trace.reading[row] >= first.program.target), Eye(mount, spot, sees)
