"""Proofreading two sensors without running them: what they cannot tell, pull against, or never come to."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.advice.remark import Remark
from irontrail.core.errors import IronTrailError
from irontrail.core.light.profile import EdgeProfile
from irontrail.core.light.reading import reads_upside_down
from irontrail.core.quantity import quantity_at, value_at, with_value
from irontrail.core.robot.mount import Mount
from irontrail.core.setup import Setup
from irontrail.core.steering.side import steer_sign
from irontrail.core.theory.pair import PairPoint, pair_point

Floats = NDArray[np.float64]

# Less change of the error than this across the line tells nothing.
CONTRAST = 5.0
# Error below this share of its most is none; a middle without any that is wider than this lets the robot wander.
NONE_SHARE, GAP_MM = 0.04, 8.0
# Sensors' mean nearer to the axle than this has no say in the heading.
LEAST_LEVER_MM = 5.0
# A mend brings it this far ahead.
GOOD_LEVER_MM = 25.0


def proofread_pair(setup: Setup) -> tuple[Remark, ...]:
    """All remarks on how a setup's sensors work together; none for a single one that leads its axle."""
    if setup.second is None:
        return tuple(_behind(setup))
    if setup.program.arrangement == "one":
        return tuple(_behind(setup))
    unlike = tuple(_unlike(setup))
    if unlike:
        return unlike
    profile = derive.profile(setup)
    same = tuple(_same(setup, profile))
    if same:
        return same
    found: list[Remark] = [*_no_straight(setup)]
    if setup.program.astride:
        found += [*_crossed(setup), *_gap(setup, profile)]
    else:
        found += _weighed(setup)
    return tuple(found)


# --- what a single sensor can be wrong by


def _behind(setup: Setup) -> Iterator[Remark]:
    """A sensor behind the axle goes aside the other way as the robot turns."""
    ahead = setup.robot.mount.ahead_mm
    if ahead < 0.0:
        yield Remark(
            "behind",
            f"The sensor is {-ahead:g} mm behind the axle: a turn toward the line takes it farther off.",
            mend="Sensor 75 mm ahead",
            mended=with_value(setup, "robot.mount.ahead_mm", 75.0),
        )


# --- what two can be


def _unlike(setup: Setup) -> Iterator[Remark]:
    """One reads low on the line, the other high."""
    first, second = (reads_upside_down(setup.seen_by(which).light) for which in setup.sensors)
    if first != second:
        mended = with_value(setup, "light.calibrate", True) if not setup.light.calibrate else None
        yield Remark(
            "unlike",
            "One sensor reads low on the line and the other high: their readings cannot be set against each other.",
            mend="Calibrate both" if mended is not None else "",
            mended=mended,
        )


def _same(setup: Setup, profile: EdgeProfile) -> Iterator[Remark]:
    """Both see the same, so that nothing changes as the line moves from one side to the other."""
    change = float(np.ptp(profile.reading))
    if setup.program.arrangement == "table":
        change = _told_apart(setup)
    if change >= CONTRAST:
        return
    apart = abs(setup.robot.mount.aside_mm - _second(setup).aside_mm)
    if setup.program.astride:
        says = (
            f"Both sensors see the same: they are {apart:g} mm apart across the robot, and their error does not change."
        )
        yield Remark("see the same", says, mend="Astride the line", mended=astride_the_line(setup))
    else:
        yield Remark(
            "see the same", "The error of the two hardly changes across this line: there is nothing to steer by."
        )


def _told_apart(setup: Setup) -> float:
    """How much more the left sensor reads than the right one, at most, as the pair is drawn across the line."""
    plain = replace(setup, program=replace(setup.program, arrangement="difference"))
    return float(np.ptp(derive.profile(plain).reading))


def astride_the_line(setup: Setup) -> Setup:
    """A setup whose sensors ride over the two edges of its line, as far ahead and as high as the first."""
    half, mount = 0.5 * setup.mat.followed.width_mm, setup.robot.mount
    left, right = replace(mount, aside_mm=half), replace(mount, aside_mm=-half)
    first, second = (left, right) if setup.first_is_left else (right, left)
    assert setup.second is not None
    return replace(setup, robot=replace(setup.robot, mount=first), second=replace(setup.second, mount=second))


def _no_straight(setup: Setup) -> Iterator[Remark]:
    """A law that knows two sides alone, where each sensor steers only over the line."""
    program = setup.program
    if program.arrangement == "each its side" and program.chosen.target_name == "threshold":
        yield Remark(
            "no straight on",
            f"With {program.law} an error of none counts as light: with neither sensor on the line it turns, "
            "and never drives straight on.",
            mend="Steer in proportion",
            mended=with_value(setup, "program.law", "proportional"),
        )


def _crossed(setup: Setup) -> Iterator[Remark]:
    """With the line to one side it must turn there."""
    turns = _turns(setup)
    if turns is None or min(turns) > 0.0 or max(turns) == min(turns) == 0.0:
        return
    if max(turns) < 0.0:
        line = "light" if setup.program.line == "dark" else "dark"
        if setup.program.arrangement == "table":
            table = setup.program.table
            says = "With the line to one side it turns to the other: the two turns of the table are changed over."
            mended = with_value(setup, "program.table", replace(table, left=table.right, right=table.left))
            yield Remark("turned away", says, mend="Change the two turns over", mended=mended)
            return
        says = f"It turns away from the line on both sides: a {setup.program.line} line is looked for, and this is not."
        yield Remark("turned away", says, mend=f"Follow a {line} line", mended=with_value(setup, "program.line", line))
        return
    side = "left" if turns[0] <= 0.0 else "right"
    says = f"With the line to its {side} the robot does not turn {side}."
    yield Remark("turned away", says)


def _turns(setup: Setup) -> tuple[float, float] | None:
    """How hard it turns toward the line, where that is well to its left, and well to its right."""
    program = setup.program
    if program.arrangement == "table":
        table = program.table
        return table.left.right - table.left.left, table.right.left - table.right.right
    profile, curve = derive.profile(setup), derive.curve(setup)
    reach = 0.5 * (abs(setup.robot.mount.aside_mm - _second(setup).aside_mm) + setup.mat.followed.width_mm)
    near = np.abs(profile.edge_mm) <= reach
    # The robot to the right of the line has it to its left.
    right_of, left_of = near & (profile.edge_mm < 0.0), near & (profile.edge_mm > 0.0)
    error = profile.reading - program.aim
    if not right_of.any() or not left_of.any():
        return None
    turns = []
    for rows, sign in ((right_of, -1.0), (left_of, 1.0)):
        value = profile.reading[rows][np.argmax(np.abs(error[rows]))]
        left, right = (np.interp(value, curve.reading, power) for power in (curve.wanted_left, curve.wanted_right))
        turns.append(sign * 0.5 * float(left - right))
    return turns[0], turns[1]


def _gap(setup: Setup, profile: EdgeProfile) -> Iterator[Remark]:
    """A pair so wide that neither of the two sees the line between them."""
    if setup.program.arrangement == "table":
        dead = _neither_mm(setup, profile.edge_mm)
    else:
        error = np.abs(profile.reading - setup.program.aim)
        dead = _span(profile.edge_mm, error <= NONE_SHARE * float(error.max()))
    if dead < GAP_MM or (setup.program.arrangement == "each its side" and dead < 2.0 * GAP_MM):
        return
    apart = abs(setup.robot.mount.aside_mm - _second(setup).aside_mm)
    says = (
        f"The sensors are {apart:g} mm apart and the line is {setup.mat.followed.width_mm:g} wide: over {dead:.0f} mm "
        "between them neither sees it, and nothing is steered."
    )
    yield Remark("gap", says, mend="Astride the line", mended=astride_the_line(setup))


def _neither_mm(setup: Setup, edge_mm: Floats) -> float:
    """Over how wide a middle a table has neither sensor on the line."""
    pair, sign = setup.program.pair, 1.0 if setup.effective_program.line == "dark" else -1.0
    off = np.ones(edge_mm.size, bool)
    for which, reading in zip(setup.sensors, derive.pair_readings(setup), strict=True):
        left = (which == "first") == setup.first_is_left
        threshold = pair.left_threshold if left else pair.right_threshold
        off &= sign * (threshold - reading) <= 0.0
    return _span(edge_mm, off)


def _span(edge_mm: Floats, where: NDArray[np.bool_]) -> float:
    """The length of the stretch about 0 over which something holds."""
    middle = int(np.argmin(np.abs(edge_mm)))
    if not where[middle]:
        return 0.0
    outside = np.flatnonzero(~where)
    low = edge_mm[outside[outside < middle].max()] if (outside < middle).any() else edge_mm[0]
    high = edge_mm[outside[outside > middle].min()] if (outside > middle).any() else edge_mm[-1]
    return float(high - low)


def _weighed(setup: Setup) -> Iterator[Remark]:
    """What a weight, or the wrong edge for the second sensor, makes of a weighted pair."""
    try:
        point = pair_point(setup)
    except IronTrailError:
        return
    pair = setup.program.pair
    if point.slopes[0] * point.slopes[1] < 0.0:
        other = "opposite" if pair.edges == "same" else "same"
        yield Remark(
            "against each other",
            f"The second sensor rides on the {other} edge, so that as the robot goes aside the two pull against each "
            "other.",
            mend=f"Second on the {other} edge",
            mended=with_value(setup, "program.pair.edges", other),
        )
        return
    if sum(point.slopes) * steer_sign(setup.effective_program) < 0.0:
        return  # it turns away, which another check says
    lever = _lever(setup, point)
    if lever >= LEAST_LEVER_MM:
        return
    quantity = quantity_at(setup, "program.pair.weight")
    weights = np.arange(np.ceil(20.0 * pair.weight) / 20.0, quantity.high + 0.01, quantity.step)
    # The second may be the one that is ahead.
    tried = [*weights, *np.arange(np.floor(20.0 * pair.weight) / 20.0, -0.01, -quantity.step)]
    mended = next((each for each in (_with_weight(setup, float(w)) for w in tried) if _leads(each)), None)
    where = f"{-lever:.0f} mm behind" if lever < -0.5 else "over" if lever < 0.5 else f"only {lever:.0f} mm ahead of"
    value = value_at(mended, "program.pair.weight") if mended is not None else 0.0
    yield Remark(
        "rear leads",
        f"With {100 * pair.weight:.0f} % on the first, the two steer as one sensor {where} the axle: its swings grow.",
        mend=f"Weight {100 * value:.0f} %" if mended is not None else "",
        mended=mended,
    )


def _with_weight(setup: Setup, weight: float) -> Setup:
    return with_value(setup, "program.pair.weight", round(weight, 2))


def _leads(setup: Setup) -> bool:
    try:
        return _lever(setup, pair_point(setup)) >= GOOD_LEVER_MM
    except IronTrailError:
        return False


def _lever(setup: Setup, point: PairPoint) -> float:
    ahead = (setup.robot.mount.ahead_mm, _second(setup).ahead_mm)
    return sum(slope * each for slope, each in zip(point.slopes, ahead, strict=True)) / sum(point.slopes)


def _second(setup: Setup) -> Mount:
    assert setup.second is not None
    return setup.second.mount
