"""What a run leaves behind: its trace, a row for each loop of the program, and how it ended."""

from dataclasses import dataclass, fields
from typing import Annotated, get_args, get_type_hints

import numpy as np
from numpy.typing import NDArray

from irontrail.core.figures import Outcome
from irontrail.core.mat.route import Route
from irontrail.core.robot.mount import Mount

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Column:
    """What a column of the trace is, as shown and exported: its name, unit, and figures after the point.

    `words` are those of its values 0, 1, ..., for a column that names.
    """

    label: str
    unit: str = ""
    decimals: int = 6
    words: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Trace:
    """One value a loop in each column, all of shape (rows,), taken when the program has read and decided.

    Distances from the edge are positive on the light side. `angle` is the robot's heading against the line's,
    left positive. `side` is 1 where the light side decided and 0 where the dark side did; `clipped` is 1 where
    a wheel's power was cut at its limit, `skidding` where a wheel slipped in the loop before. `rule` is the number of
    the law's rule that decided (a band's, the darkest being 0; 0 for light and 1 for dark where the sides differ). The
    terms are the shares of the steer of laws that add up several, right positive. `raw_output` is what the sensor
    itself gives (percent, counts, or the place of a name in its palette), before calibration; `margin` how far a named
    colour is from having another name.
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

    def __len__(self) -> int:
        return self.time_s.size


def _columns() -> dict[str, Column]:
    hints = get_type_hints(Trace, include_extras=True)
    return {field.name: get_args(hints[field.name])[1] for field in fields(Trace)}


# By name, in the order of a row.
COLUMNS = _columns()


def sensor_way(trace: Trace, mount: Mount) -> tuple[Floats, Floats]:
    """Where the sensor was in each row, x and y in mm, shape (rows,)."""
    c, s = np.cos(trace.heading_rad), np.sin(trace.heading_rad)
    x = trace.x_mm + mount.ahead_mm * c - mount.aside_mm * s
    return x, trace.y_mm + mount.ahead_mm * s + mount.aside_mm * c


@dataclass(frozen=True, eq=False)
class Run:
    """A whole run.

    `time_s` is when it ended: at the finish, to a fraction of a loop. `end_angle_rad` and `coast_mm` are those
    of the robot come to rest; `skid_mm` is the mean of the wheels; `slide_rad` the turning lost
    because the tyres slid sideways. `progress_mm` runs along the route from
    `start_mm`, where the sensor was set down. At `pull_s` a hand moved the robot; infinite if none did.
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
