"""One moment of a run: where the robot is, between two rows of the trace, and what mat and close view show of it."""

from irontrail.app.pictures import eyes_at
from irontrail.app.view import RunView
from irontrail.app.widgets.close_view import Moment
from irontrail.app.widgets.mat_hand import RobotNow
from irontrail.core.light.reading import spot_sigma_mm


def row_at(view: RunView, time_s: float) -> int:
    """The row of the trace at a time."""
    times = view.run.trace.time_s
    return min(max(int(times.searchsorted(time_s + 1e-9, side="right")) - 1, 0), times.size - 1)


def robot_at(view: RunView, time_s: float, rule: str) -> RobotNow:
    """The robot on the mat, and which rule decides."""
    row, setup = row_at(view, time_s), view.setup
    spot = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
    first, second = eyes_at(view, row)
    return RobotNow(setup.robot, spot, *_pose(view, time_s), bool(view.run.trace.side[row] > 0.5), rule, first, second)


def close_up_at(view: RunView, time_s: float) -> Moment:
    """What each wheel is told and does, and what the sensors see."""
    row, trace, top = row_at(view, time_s), view.run.trace, view.setup.robot.drive.top_speed_mm_s
    first, second = eyes_at(view, row)
    return Moment(
        *_pose(view, time_s), float(trace.left_power[row]), float(trace.right_power[row]),
        float(trace.left_speed_mm_s[row]) / top, float(trace.right_speed_mm_s[row]) / top,
        bool(trace.skidding[row] > 0.5), float(trace.reading[row]), first,
        float(trace.second_reading[row]) if second is not None else None, second,
    )  # fmt: skip


def _pose(view: RunView, time_s: float) -> tuple[float, float, float]:
    """The axle's middle, mm, and the heading, rad."""
    row, trace = row_at(view, time_s), view.run.trace
    after, share = min(row + 1, len(trace) - 1), 0.0
    if after > row:
        share = (time_s - trace.time_s[row]) / (trace.time_s[after] - trace.time_s[row])
    x, y, heading = (
        float(column[row] + share * (column[after] - column[row]))
        for column in (trace.x_mm, trace.y_mm, trace.heading_rad)
    )
    return x, y, heading
