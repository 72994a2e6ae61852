"""From a run to what the mat and the strip show of it."""

import numpy as np
from numpy.typing import NDArray

from irontrail.app.view import RunView
from irontrail.app.widgets.strip_picture import Lane, StripPicture, StripRun
from irontrail.app.widgets.trail_picture import Trail
from irontrail.core.project import Setup
from irontrail.core.result import Run, Trace, sensor_way
from irontrail.core.steering.program import Program
from irontrail.core.steering.words import in_words


def trail_of(setup: Setup, run: Run) -> Trail:
    """Where the sensor went."""
    return Trail(*sensor_way(run.trace, setup.robot.mount))


def strip_run(run: Run, lanes: tuple[Lane, ...]) -> StripRun:
    """A run laid out for some lanes."""
    trace = run.trace
    columns = {name: _column(trace, name) for lane in lanes for name in lane.columns}
    # What is measured between marks is there whatever lanes are shown.
    columns.setdefault("edge_mm", trace.edge_mm)
    return StripRun.of(trace.progress_mm / 1000.0, trace.time_s, columns, run.outcome == "finished")


def _column(trace: Trace, name: str) -> NDArray[np.float64]:
    if name == "angle_deg":
        return np.degrees(trace.angle_rad)
    values: NDArray[np.float64] = getattr(trace, name)
    return values


def strip_picture(view: RunView, kept: tuple[StripRun, ...], by_place: bool, lanes: tuple[Lane, ...]) -> StripPicture:
    """The strip's picture; places are counted from where the robot is set down."""
    route, start = view.run.route, view.run.start_mm
    whole = route.length_mm
    bends = []
    for bend in route.bends:
        begins = (bend.start_mm - start) % whole if route.closed else bend.start_mm - start
        bends.append((bend.name, begins / 1000.0, (begins + bend.end_mm - bend.start_mm) / 1000.0))
    length = (whole if route.closed else whole - start) / 1000.0
    target = view.setup.program.target
    return StripPicture(strip_run(view.run, lanes), kept, target, tuple(bends), length, by_place, lanes)


def sentence_numbers(program: Program, run: Run) -> NDArray[np.int64]:
    """Which sentence of the program in words decides in each row."""
    numbers = {sentence.rule: i for i, sentence in enumerate(in_words(program), 1) if sentence.rule is not None}
    by_rule = np.array([numbers[rule] for rule in range(len(numbers))])
    return np.asarray(by_rule[run.trace.rule.astype(np.int64)], np.int64)
