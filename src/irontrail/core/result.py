"""What a run leaves behind: its trace, a row for each loop of the program, and how it ended."""

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from irontrail.core.figures import Outcome
from irontrail.core.mat.route import Route
from irontrail.core.robot.mount import Mount

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Trace:
    """One value a loop in each column, all of shape (rows,), taken when the program has read and decided.

    Distances from the edge are positive on the light side. `angle` is the robot's heading against the line's,
    left positive. `side` is 1 where the light side decided and 0 where the dark side did; `clipped` is 1 where
    a wheel's power was cut at its limit, `skidding` where a wheel slipped in the loop before. `band` is the band that
    decided, the darkest being 0, and -1 for laws without bands. The terms are the shares of the steer of proportional
    and PID, right positive. `given` is what the sensor itself gives (percent, counts, or the place of a name in its
    palette), before calibration; `margin` how far a named colour is from having another name.
    """

    time_s: Floats
    x_mm: Floats
    y_mm: Floats
    heading_rad: Floats
    reading: Floats
    error: Floats
    steer: Floats
    left_power: Floats
    right_power: Floats
    left_speed_mm_s: Floats
    right_speed_mm_s: Floats
    progress_mm: Floats
    edge_mm: Floats
    side: Floats
    angle_rad: Floats
    clipped: Floats
    skidding: Floats
    band: Floats
    p_term: Floats
    i_term: Floats
    d_term: Floats
    given: Floats
    margin: Floats

    def __len__(self) -> int:
        return self.time_s.size


def sensor_way(trace: Trace, mount: Mount) -> tuple[Floats, Floats]:
    """Where the sensor was in each row, x and y in mm, shape (rows,)."""
    c, s = np.cos(trace.heading_rad), np.sin(trace.heading_rad)
    x = trace.x_mm + mount.ahead_mm * c - mount.aside_mm * s
    return x, trace.y_mm + mount.ahead_mm * s + mount.aside_mm * c


COLUMNS = tuple(field.name for field in fields(Trace))


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
