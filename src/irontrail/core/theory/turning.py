"""The tightest bend that a program can hold, against the bends of a route."""

from dataclasses import dataclass
from functools import lru_cache
from math import atan2, cos, inf, isinf, pi, remainder, sin, sqrt

import numpy as np

from irontrail.core.mat.route import Bending, Route
from irontrail.core.robot.drive import turning_radius_mm
from irontrail.core.setup import Setup

# Of the way that a robot is followed in a bend.
STEP_MM = 2.0


@dataclass(frozen=True)
class TightestTurns:
    """The smallest circles that the axle's middle can be steered on, to the left and to the right, in mm."""

    left_mm: float
    right_mm: float


@dataclass(frozen=True)
class BendCheck:
    """A bend against what the program can turn.

    The sensor keeps within the tape's width of its edge, and the middle between two astride the line as near as either
    of them needs to see it, so that the axle's radius lies between `needs_mm` (near
    edge) and `room_mm` (far edge). The bend is held if the tightest turn is no wider than the room, surely so if it is
    no wider than the need; a bend tighter than the sensor is ahead needs a turn on the spot (0). A short bend is over
    before a wide turn has led far away: `strays_mm` is how far from its edge the sensor comes at least.
    """

    bend: Bending
    needs_mm: float
    room_mm: float
    turns_mm: float
    strays_mm: float

    @property
    def held(self) -> bool:
        return self.turns_mm <= self.room_mm

    @property
    def surely(self) -> bool:
        return self.turns_mm <= self.needs_mm


def tightest_turns(setup: Setup) -> TightestTurns:
    """The turns at the ends of the reading, where laws steer hardest; one with memory as it decides at first."""
    from irontrail.core.control.curve import curve_over

    left, right = inf, inf
    low, high = setup.program.reach
    # Of a table every case.
    hardest = np.arange(low, high + 1.0) if setup.program.arrangement == "table" else np.array([low, high])
    curve = curve_over(setup, hardest)
    for powers in np.clip(np.column_stack((curve.wanted_left, curve.wanted_right)), -100.0, 100.0).tolist():
        radius = turning_radius_mm(setup.robot.drive.track_width_mm, *powers)
        if powers[0] < powers[1]:
            left = min(left, radius)
        elif powers[0] > powers[1]:
            right = min(right, radius)
    return TightestTurns(left, right)


def _strip_mm(setup: Setup) -> float:
    """How wide a strip the reference may keep to: the tape, or as far as either of two astride it has the tape."""
    tape, second = setup.mat.followed.width_mm, setup.second
    if second is None or not setup.program.astride:
        return tape
    return tape + abs(setup.robot.mount.aside_mm - second.mount.aside_mm)


def check_bends(setup: Setup, route: Route) -> tuple[BendCheck, ...]:
    """Every bend of the route, corners left out, against the program's tightest turn to its side."""
    turns, ahead, strip = tightest_turns(setup), setup.reference.ahead_mm, _strip_mm(setup)
    checks = []
    for bend in route.bends:
        if bend.radius_mm == 0.0:
            continue
        near, far = (sqrt(max((bend.radius_mm + side * strip / 2) ** 2 - ahead**2, 0.0)) for side in (-1.0, 1.0))
        turns_mm = turns.left_mm if bend.turns_left else turns.right_mm
        inside = bend.turns_left == (setup.side > 0.0)
        edge = max(bend.radius_mm + (-1.0 if inside else 1.0) * setup.off_middle_mm, 1.0)
        angle = (bend.end_mm - bend.start_mm) / bend.radius_mm
        strays = strays_mm(edge, angle, turns_mm, ahead) if turns_mm > near else 0.0
        checks.append(BendCheck(bend, near, far, turns_mm, strays))
    return tuple(checks)


@lru_cache(maxsize=256)
def strays_mm(edge_mm: float, angle: float, turns_mm: float, ahead_mm: float) -> float:
    """How far outside its edge the sensor comes in a bend of a radius and angle (rad), if it can turn no tighter.

    A robot that sees its distance exactly and answers at once, so that a real one comes farther off. Without a sensor
    ahead there is no such robot, and the answer is 0.
    """
    if ahead_mm < 1.0 or turns_mm == 0.0:
        return 0.0
    most = 0.0 if isinf(turns_mm) else STEP_MM / turns_mm
    # The bend's middle is the origin; the sensor stands at its beginning and heads into it.
    x, y, heading, worst, round_ = -ahead_mm, -edge_mm, 0.0, 0.0, 0.0
    for _ in range(int(edge_mm * angle / STEP_MM) + int(2.0 * ahead_mm / STEP_MM)):
        sensor_x, sensor_y = x + ahead_mm * cos(heading), y + ahead_mm * sin(heading)
        round_ += remainder(atan2(sensor_x, -sensor_y) - round_, 2.0 * pi)
        along = min(max(round_, 0.0), angle)
        outside = sensor_x * sin(along) - sensor_y * cos(along) - edge_mm
        worst = max(worst, outside)
        # The sensor goes aside by the step times its direction's slant, and by the turn times its distance ahead.
        wanted = (outside - STEP_MM * sin(heading - along)) / ahead_mm
        turn = min(max(wanted, -most), most)
        x, y = x + STEP_MM * cos(heading + 0.5 * turn), y + STEP_MM * sin(heading + 0.5 * turn)
        heading += turn
    return worst
