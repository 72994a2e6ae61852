"""What a run leaves behind: its trace, a row for each loop of the program, and how it ended."""

from dataclasses import dataclass, fields
from typing import Annotated, get_args, get_type_hints

import numpy as np
from numpy.typing import NDArray

from irontrail.core.figures import Outcome
from irontrail.core.mat.route import Route
from irontrail.core.robot.mount import Mount, Place

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Column:
    """What a column of the trace is, as shown and exported: its name, unit, and figures after the point.

    `words` are those of its values 0, 1, ..., for a column that names; `of_second` says that it is all zero without a
    second sensor.
    """

    label: str
    unit: str = ""
    decimals: int = 6
    words: tuple[str, ...] = ()
    of_second: bool = False


@dataclass(frozen=True, eq=False)
class Trace:
    """One value a loop in each column, all of shape (rows,), taken when the program has read and decided.

    Distances from the edge are positive on the light side. `angle` is the robot's heading against the line's,
    left positive. `side` is 1 where the light side decided and 0 where the dark side did; `clipped` is 1 where
    a wheel's power was cut at its limit, `skidding` where a wheel slipped in the loop before. `rule` is the number of
    the law's rule that decided (a band's, the darkest being 0; 0 for light and 1 for dark where the sides differ). The
    terms are the shares of the steer of laws that add up several, right positive. `raw_output` is what the sensor
    itself gives (percent, counts, or the place of a name in its palette), before calibration; `margin` how far a named
    colour is from having another name. `leg` is the number of the leg that is driven, from 1; 0 for a program without
    legs. `ended_by` is, in the row in which a leg came to its end, the number of the end that came, from 1, or OWN_END;
    0 else. `following` is 1 while the line is followed: elsewhere its distance is that of the last such row.
    """

    time_s: Annotated[Floats, Column("time", "s")]
    x_mm: Annotated[Floats, Column("x", "mm")]
    y_mm: Annotated[Floats, Column("y", "mm")]
    heading_rad: Annotated[Floats, Column("heading", "rad")]
    reading: Annotated[Floats, Column("reading")]
    error: Annotated[Floats, Column("error")]
    steer: Annotated[Floats, Column("steer", "%")]
    left_power: Annotated[Floats, Column("left wheel", "%")]
    right_power: Annotated[Floats, Column("right wheel", "%")]
    left_speed_mm_s: Annotated[Floats, Column("left speed", "mm/s")]
    right_speed_mm_s: Annotated[Floats, Column("right speed", "mm/s")]
    progress_mm: Annotated[Floats, Column("progress", "mm")]
    edge_mm: Annotated[Floats, Column("off edge", "mm")]
    side: Annotated[Floats, Column("side", words=("dark", "light"))]
    angle_rad: Annotated[Floats, Column("angle to the line", "rad")]
    clipped: Annotated[Floats, Column("clipped", decimals=0)]
    skidding: Annotated[Floats, Column("slipping", decimals=0)]
    rule: Annotated[Floats, Column("rule", decimals=0)]
    p_term: Annotated[Floats, Column("proportional term", "%")]
    i_term: Annotated[Floats, Column("integral term", "%")]
    d_term: Annotated[Floats, Column("derivative term", "%")]
    raw_output: Annotated[Floats, Column("gives")]
    margin: Annotated[Floats, Column("margin to the next name")]
    leg: Annotated[Floats, Column("leg", decimals=0)]
    ended_by: Annotated[Floats, Column("leg ended by", decimals=0)]
    following: Annotated[Floats, Column("following", decimals=0)]
    second_raw_output: Annotated[Floats, Column("second sensor gives", of_second=True)]
    second_reading: Annotated[Floats, Column("second reading", of_second=True)]

    def __len__(self) -> int:
        return self.time_s.size


def _columns() -> dict[str, Column]:
    hints = get_type_hints(Trace, include_extras=True)
    return {field.name: get_args(hints[field.name])[1] for field in fields(Trace)}


# By name, in the order of a row.
COLUMNS = _columns()


def stands(run: "Run") -> Floats:
    """Where each leg that came to its end left the axle's middle (x, y in mm) and the heading (rad), shape (legs, 3).

    Standing where it braked, at rest after the last one; a run without legs is taken for one.
    """
    trace, found = run.trace, []
    for leg in run.legs:
        if leg.ended >= 0 and leg.over < len(trace) - 1:
            found.append((trace.x_mm[leg.over], trace.y_mm[leg.over], trace.heading_rad[leg.over]))
    if not run.legs or run.legs[-1].ended >= 0:
        found.append((run.rest_x_mm, run.rest_y_mm, run.rest_heading_rad))
    return np.array(found).reshape(-1, 3)


def point_way(trace: Trace, mount: Mount | Place) -> tuple[Floats, Floats]:
    """Where a sensor, or another point of the robot, was in each row, x and y in mm, shape (rows,)."""
    c, s = np.cos(trace.heading_rad), np.sin(trace.heading_rad)
    x = trace.x_mm + mount.ahead_mm * c - mount.aside_mm * s
    return x, trace.y_mm + mount.ahead_mm * s + mount.aside_mm * c


@dataclass(frozen=True, eq=False)
class LegRun:
    """A leg of a run: its place in the trip, from 0, and the rows in which it began, came to its end, and was over.

    `ended` is -1 where the run ended before it came to its end. It is over when the next leg begins: at its end if it
    rolls on, standing if it brakes; the last one with the run. `route` is the line that it followed, from `met_mm` on;
    None where it followed none. `left_mm` and `right_mm` are what the wheels counted from its beginning to its end,
    `way_mm` how far the axle's middle came.
    """

    number: int
    begun: int
    ended: int
    over: int
    ended_by: int
    route: Route | None
    met_mm: float
    left_mm: float
    right_mm: float
    way_mm: float

    @property
    def counted_mm(self) -> float:
        """The distance by the mean of both wheels' counts, forward positive."""
        return 0.5 * (self.left_mm + self.right_mm)


@dataclass(frozen=True, eq=False)
class Run:
    """A whole run.

    `time_s` is when it ended: at the finish, to a fraction of a loop. `end_angle_rad` and `coast_mm` are those
    of the robot come to rest; `skid_mm` is the mean of the wheels; `slide_rad` the turning lost
    because the tyres slid sideways. `progress_mm` runs along the route from
    `start_mm`, where the sensor was set down, in a trip along all lines that were followed. At `pull_s` a hand moved
    the robot; infinite if none did. `legs` are those of its trip that it came to; none without one. `sensors` is how
    many the robot has.
    """

    route: Route
    start_mm: float
    pull_s: float
    trace: Trace
    outcome: Outcome
    time_s: float
    skid_mm: float
    slide_rad: float
    coast_mm: float
    rest_x_mm: float
    rest_y_mm: float
    rest_heading_rad: float
    end_angle_rad: float
    seed: int
    legs: tuple[LegRun, ...] = ()
    sensors: int = 1
