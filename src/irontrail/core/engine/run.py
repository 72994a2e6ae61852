"""One run of a setup, and the robot driven without a program."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.engine.kernel import simulate
from irontrail.core.engine.pack import Lines, Packed, pack_plant
from irontrail.core.engine.plant import PLANT_STATE, STRIDE, drive
from irontrail.core.engine.run_records import ROW, STATE, SUMMARY
from irontrail.core.figures import Outcome
from irontrail.core.records import blank
from irontrail.core.result import COLUMNS, LegRun, Run, Trace
from irontrail.core.robot.mount import Robot

# By the judge's codes less one.
OUTCOMES: tuple[Outcome, ...] = ("finished", "off-mat", "lost", "stuck", "time-out", "stopped")


def run(packed: Packed) -> Run:
    """Compute a run from start to rest; about a millisecond for half a minute of driving."""
    parameters, route, lines = packed.parameters, packed.route, packed.lines
    trace, summary, states = np.empty(int(parameters["max_rows"][0]), ROW), blank(SUMMARY), blank(STATE)
    simulate(parameters, packed.field, packed.second_field, *lines.arrays, states, trace, summary)
    end = summary[0]
    used = np.ascontiguousarray(trace[: end["rows"]].view(np.float64).reshape(-1, len(COLUMNS)).T)
    used.setflags(write=False)
    return Run(
        route=route,
        start_mm=float(parameters["judge"]["start_s"][0]),
        pull_s=float(parameters["pull_time"][0]),
        trace=Trace(*used),
        outcome=OUTCOMES[end["outcome"] - 1],
        time_s=float(end["end_time"]),
        skid_mm=float(end["skid"]),
        slide_rad=float(end["slide"]),
        coast_mm=float(end["coast"]),
        rest_x_mm=float(end["rest_x"]),
        rest_y_mm=float(end["rest_y"]),
        rest_heading_rad=float(end["rest_heading"]),
        end_angle_rad=float(end["end_angle"]),
        seed=int(parameters["seed"][0]),
        legs=tuple(_leg(i, states["legs"][0, i], lines, int(end["rows"]) - 1) for i in range(int(end["legs"]))),
        sensors=int(parameters["sensors"][0]),
    )


def _leg(number: int, record: np.void, lines: Lines, last: int) -> LegRun:
    return LegRun(
        number=number,
        begun=int(record["begun"]),
        ended=int(record["ended"]) if record["ended_by"] else -1,
        over=int(record["over"]) if record["over"] >= 0 else last,
        ended_by=int(record["ended_by"]),
        route=lines.routes[record["line"]] if record["line"] >= 0 else None,
        met_mm=float(record["met_s"]),
        left_mm=float(record["left_to"] - record["left_from"]),
        right_mm=float(record["right_to"] - record["right_from"]),
        way_mm=float(record["way_to"] - record["way_from"]),
    )


def open_loop(robot: Robot, powers: NDArray[np.float64], interval_s: float) -> NDArray[np.void]:
    """Where given powers alone lead, from rest at the origin along x.

    Parameters
    ----------
    powers : ndarray, shape (n, 2)
        Of the left and the right wheel, in percent, as the motors take them.
    interval_s : float
        How long each pair holds.

    Returns
    -------
    ndarray of PLANT_STATE, shape (n + 1,)
        The whole state at first and after each interval: x, y (mm), heading (rad), speeds (mm/s), what it rolled (mm).
    """
    powers = np.ascontiguousarray(powers, np.float64).reshape(-1, 2)
    states = np.zeros(len(powers) + 1, PLANT_STATE)
    drive(pack_plant(robot), powers, interval_s, np.zeros(1, STRIDE), states)
    return states
