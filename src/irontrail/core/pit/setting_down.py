"""How the robot is set down: where, how exactly, and how straight it has to drive."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from irontrail.core.pit.remedies import speed
from irontrail.core.quantity import Quantity, put, quantity_at, value_at, with_value
from irontrail.core.robot.mount import Robot
from irontrail.core.setup import Setup, starts_on_line
from irontrail.core.tune.tries import STARTS, Trying

OFF_MM = (2.0, 4.0, 8.0, 12.0, 16.0, 20.0, 25.0, 30.0, 40.0)
TURNED_DEG = (2.0, 5.0, 10.0, 15.0, 20.0, 30.0, 40.0)
MISMATCH_PERCENT = (1.0, 2.0, 3.0, 4.0, 6.0, 8.0, 10.0, 13.0, 16.0)
CHECK_S, CHECK_MM = 2.0, 1000.0


@dataclass(frozen=True)
class Placing:
    """How far off the robot may be set down, either way, with every step to there holding; None if nothing was lost.

    `starts` is how many starts each step was tried on, to either side.
    """

    off_mm: float | None
    turned_deg: float | None
    starts: int


@dataclass(frozen=True)
class WheelCheck:
    """Both wheels at one power on the open mat: how far it comes, and how far aside it may have come by then.

    `aside_mm` is None if even the worst wheels tried came through.
    """

    power: float
    seconds: float
    came_mm: float
    over_mm: float
    aside_mm: float | None
    percent: float
    starts: int


def placing(setup: Setup, trying: Trying) -> Placing:
    """How exactly a setup is to be set down."""
    off = _reach(setup, "trial.start_off_mm", OFF_MM, trying)
    return Placing(off, _reach(setup, "trial.start_angle_deg", TURNED_DEG, trying), STARTS)


def _reach(setup: Setup, path: str, steps: Sequence[float], trying: Trying) -> float | None:
    """How far a number may be off to either side with every step to there holding; None if it holds at the last."""
    now, last = float(value_at(setup, path)), 0.0
    for step in steps:
        if not all(each.holds for each in trying([put(setup, path, now + sign * step) for sign in (1.0, -1.0)])):
            return last
        last = step
    return None


def wheel_check(setup: Setup, trying: Trying) -> WheelCheck:
    """How straight a setup's robot has to drive."""
    power = float(round(speed(setup).of(setup))) or 50.0
    percent = _reach(setup, "robot.drive.mismatch_percent", MISMATCH_PERCENT, trying)
    most = MISMATCH_PERCENT[-1] if percent is None else percent
    came, _ = _driven(_even(setup.robot), power, CHECK_S)
    now = setup.robot.drive.mismatch_percent
    aside = max(
        abs(_aside_at(with_value(setup.robot, "drive.mismatch_percent", _held(now + sign * most)), power, CHECK_MM))
        for sign in (1.0, -1.0)
    )
    return WheelCheck(power, CHECK_S, came, CHECK_MM, None if percent is None else aside, most, STARTS)


def _held(percent: float) -> float:
    return min(max(percent, -20.0), 20.0)


def _even(robot: Robot) -> Robot:
    return with_value(robot, "drive.mismatch_percent", 0.0)


def _driven(robot: Robot, power: float, seconds: float) -> tuple[float, float]:
    """How far ahead and aside (mm) a robot comes with both wheels at a power."""
    from irontrail.core.engine.run import open_loop

    end = open_loop(robot, np.full((1, 2), power), seconds)[-1]
    return float(end["x"]), float(end["y"])


def _aside_at(robot: Robot, power: float, over_mm: float) -> float:
    """How far aside (mm) a robot has come when it has come so far ahead."""
    from irontrail.core.engine.run import open_loop

    states = open_loop(robot, np.full((3000, 2), power), 0.01)
    reached = np.maximum.accumulate(states["x"])
    return float(states["y"][min(int(np.searchsorted(reached, over_mm)), len(states) - 1)])


def set_down(setup: Setup) -> str:
    """Where the robot is set down, in a sentence."""
    trial = setup.trial
    ranges: dict[str, Quantity] = {
        name: quantity_at(setup, f"trial.{name}") for name in ("start_mm", "start_off_mm", "start_angle_deg")
    }
    if not starts_on_line(setup):
        return "Axle in the middle of the start zone, pointing as the zone does."
    along = ranges["start_mm"].shown(trial.start_mm)
    on = "between its sensors" if setup.program.astride else f"the sensor on its {setup.program.edge} edge"
    way = "against the way it was laid" if trial.reverse else "along it"
    words = f"{along} mm from the line's start, {on}, pointing {way}."
    if trial.start_off_mm or trial.start_angle_deg:
        words = (
            f"{words[:-1]}; {ranges['start_off_mm'].shown(trial.start_off_mm)} mm off it and "
            f"{ranges['start_angle_deg'].shown(trial.start_angle_deg)}° turned to the left."
        )
    return words
