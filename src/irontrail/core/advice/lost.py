"""Why a run left its line: the one cause that the trace shows, or none.

Each cause looks at the moment of leaving, the last row in which the sensor still saw how far off its edge it was. They
are tried from the most particular to the most general; the first that holds is told.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.case import Case, Finding, Mend, finding
from irontrail.core.errors import IronTrailError
from irontrail.core.light.profile import bilinear
from irontrail.core.light.sensor import reading_per_raw, room_share
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import stroke_route
from irontrail.core.measures import wobbling
from irontrail.core.quantity import with_value
from irontrail.core.result import point_way
from irontrail.core.steering.program import Program
from irontrail.core.theory.linear import UltimateGain, linear_loop
from irontrail.core.theory.sampled import ultimate_gain
from irontrail.core.theory.turning import BendCheck, check_bends

# A bend that the sensor strays this far in, by turning alone, is too tight.
STRAYS_MM = 20.0
# Readings this near to the target on one side leave that side without a say.
NEAR_TARGET = 4.0
# A shadow counts if it changes the reading by this much.
SHADOW_READING = 8.0
# Shares of a stretch of time that make it skidding, or clipped.
MOSTLY = 0.5
# A tightest turn beyond this share of what a bend needs leaves too little to come back with.
NEARLY_WIDE = 0.8
SLOWER = (0.9, 0.8, 0.7, 0.6, 0.5, 0.4)


@dataclass(frozen=True, eq=False)
class Leaving:
    """The moment of leaving: its row, and the rows of a second before it."""

    case: Case
    row: int

    @property
    def before(self) -> slice:
        return slice(max(0, self.row - self.case.rows(1.0)), self.row + 1)

    @property
    def xy(self) -> tuple[float, float]:
        x, y = self.case.sensor
        return float(x[self.row]), float(y[self.row])

    @property
    def bend_check(self) -> BendCheck | None:
        """The bend here against what the program can turn; None on a straight or at a corner."""
        bend = self.case.bend_at(self.row)
        return next((each for each in check_bends(self.case.setup, self.case.run.route) if each.bend is bend), None)

    def left(self, because: str) -> str:
        """The beginning of every sentence here."""
        time = self.case.run.trace.time_s[self.row]
        return f"Left the line in {self.case.where(self.row)} after {time:.1f} s: {because}"


def why_it_left(case: Case) -> Finding | None:
    """The cause of a run that ended off its line; where and when alone if no cause is sure; None if it did not."""
    if case.run.outcome not in ("lost", "off-mat", "stuck"):
        return None
    edge = np.abs(case.run.trace.edge_mm)
    seen = np.flatnonzero(edge <= case.seen_mm)
    if not seen.size:
        return finding("never there", "The sensor was set down too far from its edge to see it.", 0)
    leaving = Leaving(case, int(seen[-1]))
    if case.run.outcome == "stuck" and leaving.row == edge.size - 1:
        return finding("stuck", f"Stuck in {case.where(leaving.row)}: it moves no farther along the line.", leaving.row)
    causes: tuple[Callable[[Leaving], Finding | None], ...] = (
        _pulled, _other_line, _gap, _light, _held, _target, _skidded, _too_tight, _rocked, _at_its_limit,
    )  # fmt: skip
    for cause in causes:
        found = cause(leaving)
        if found is not None:
            return found
    return _by_trying(leaving)


def _by_trying(leaving: Leaving) -> Finding:
    """The number that alone keeps it on the line: what a run with another value shows is as sure as anything."""
    case, program = leaving.case, leaving.case.setup.program
    where = case.where(leaving.row)
    tries: list[tuple[str, list[Mend]]] = []
    if program.decision_loops > 1:
        says = f"it holds each decision for {1000 * program.decision_time_s:.0f} ms"
        tries.append((says, [_hold_nothing(case)]))
    rocking = _rocking_of(case)
    if rocking is not None and rocking[1] > 1.1:
        says = f"its gain is {100 * rocking[1]:.0f} % of the one at which it rocks steadily ({rocking[0].gain:.2f})"
        tries.append((says, case.other_gain(part * rocking[0].gain for part in (0.8, 0.65, 0.5))))
    tries.append((f"too fast for {where}", case.faster_or_slower(SLOWER[:3])))
    midway = case.midway
    if midway is not None and midway != program.target and program.chosen.uses_target:
        says = f"its target {program.target:g} is off the middle of what it reads ({midway:g})"
        tries.append((says, [case.with_number("program.target", midway, f"Target {midway:g}")]))
    tries.append(("too much gain", case.gain_times((0.8, 0.6))))
    tries.append(("too little gain", case.gain_times((1.25, 1.6))))
    tries.append((f"far too fast for {where}", case.faster_or_slower(SLOWER[3:])))
    for says, mends in tries:
        mend = case.first_that_finishes(mends)
        if mend is not None:
            return finding("by trying", leaving.left(f"{says}. {mend.says} alone keeps it on."), leaving.row, mend)
    return finding("left", leaving.left("no change of speed, gain or target that was tried keeps it on."), leaving.row)


def _hold_nothing(case: Case) -> Mend:
    return case.with_number("program.decision_loops", 1, "Decide every loop")


def _pulled(leaving: Leaving) -> Finding | None:
    pull, trace = leaving.case.setup.trial.pull, leaving.case.run.trace
    if pull is None or not 0.0 <= trace.time_s[-1] - pull.time_s < 3.0:
        return None
    row = int(np.searchsorted(trace.time_s, pull.time_s))
    return finding("pulled", f"A hand pulled it away after {pull.time_s:.1f} s, and it did not find back.", row)


def _other_line(leaving: Leaving) -> Finding | None:
    """Another line of the mat crosses here, or forks off."""
    case = leaving.case
    mat, (x, y) = case.setup.mat, leaving.xy
    for i, stroke in enumerate(mat.lines):
        if i == mat.goal:
            continue
        route = stroke_route(stroke, mat.name)
        away = np.hypot(route.x_mm - x, route.y_mm - y)
        nearest = int(np.argmin(away))
        if away[nearest] > 0.5 * stroke.width_mm + 2.0 * case.seen_mm:
            continue
        here = case.run.route.at(case.place_mm(leaving.row))[2]
        if abs(np.sin(route.heading[nearest] - here)) > np.sin(np.radians(35.0)):
            slower = case.first_that_finishes(case.faster_or_slower(SLOWER[:4]))
            return finding(
                "crossing", leaving.left("a line crosses here, and was taken for its own."), leaving.row, slower
            )
        sensor_x, sensor_y = (column[leaving.row :] for column in case.sensor)
        followed = [np.hypot(route.x_mm - a, route.y_mm - b).min() for a, b in zip(sensor_x, sensor_y, strict=True)]
        if abs(float(np.median(followed)) - min(0.5 * stroke.width_mm, case.setup.off_middle_mm)) < case.seen_mm:
            if case.setup.program.astride:
                return finding("fork", leaving.left("at the fork it went the other way."), leaving.row)
            edge = "right" if case.setup.program.edge == "left" else "left"
            other = Mend(f"Follow the {edge} edge", with_value(case.setup, "program.edge", edge))
            says = leaving.left("at the fork it went the other way.")
            return finding("fork", says, leaving.row, case.first_that_finishes([other]))
    return None


def _gap(leaving: Leaving) -> Finding | None:
    case, place = leaving.case, leaving.case.place_mm(leaving.row)
    for start, end in case.run.route.gaps:
        if start - case.seen_mm <= place <= end + case.seen_mm:
            says = leaving.left(f"the tape has a gap of {end - start:.0f} mm here.")
            mends = case.faster_or_slower((1.2, 0.8)) + case.gain_times((0.7, 0.5))
            return finding("gap", says, leaving.row, case.first_that_finishes(mends))
    return None


def _light(leaving: Leaving) -> Finding | None:
    """Shadows and glares that change what is read here by enough to matter."""
    case, light = leaving.case, leaving.case.setup.light
    if light.sensor.names_colours:
        return None
    if case.setup.program.arrangement != "one":
        return _light_of_two(leaving)
    factor = derive.room_factor(case.setup, *leaving.xy)
    room = 100.0 * room_share(light, case.setup.robot.mount.height_mm)
    x, y = (np.array([place / MM_PER_PX]) for place in leaving.xy)
    seen = float(bilinear(derive.field(case.setup), x, y)[0, 0])
    change = room * (factor - 1.0) * (seen + case.setup.mat.gloss) * reading_per_raw(light)
    if abs(change) < SHADOW_READING:
        return None
    what, way = ("a shadow", "lower") if factor < 1.0 else ("a glare", "higher")
    says = leaving.left(f"{what} makes it read about {abs(change):.0f} {way} here.")
    shields = [case.shielded(share) for share in (0.9, 1.0)]
    return finding("light", says, leaving.row, case.first_that_finishes(shields))


def _light_of_two(leaving: Leaving) -> Finding | None:
    """A shadow or a glare over either of two sensors, without which the run is finished."""
    case, setup = leaving.case, leaving.case.setup
    mounts = [setup.seen_by(which).robot.mount for which in setup.sensors]
    places = [point_way(case.run.trace, mount) for mount in mounts]
    factors = [derive.room_factor(setup, float(x[leaving.row]), float(y[leaving.row])) for x, y in places]
    without = with_value(setup, "light.areas", ())
    if all(factor == 1.0 for factor in factors) or derive.figures(without).outcome != "finished":
        return None
    what = "a shadow" if min(factors) < 1.0 else "a glare"
    says = leaving.left(f"{what} lies over its sensors here, and without it the run is finished.")
    shields = [case.shielded(share) for share in (0.9, 1.0)]
    return finding("light", says, leaving.row, case.first_that_finishes(shields))


def _held(leaving: Leaving) -> Finding | None:
    """Blind while a decision was held, for longer than the sensor needs to cross all that it can see."""
    case, trace, program = leaving.case, leaving.case.run.trace, leaving.case.setup.program
    loops = program.decision_loops
    if loops < 2:
        return None
    decided = (leaving.row // loops) * loops
    after = min(decided + loops, len(trace) - 1)
    across = abs(float(trace.edge_mm[after] - trace.edge_mm[decided]))
    if across < case.seen_mm:
        return None
    drove = float(np.hypot(np.diff(trace.x_mm[decided : after + 1]), np.diff(trace.y_mm[decided : after + 1])).sum())
    says = leaving.left(
        f"blind for {1000 * loops * case.loop_s:.0f} ms while it held a decision and drove {drove:.0f} mm."
    )
    return finding("held", says, decided, case.first_that_finishes([_hold_nothing(case)]))


def _target(leaving: Leaving) -> Finding | None:
    """The target is not between what the sensor reads on and off the line here."""
    case, setup = leaving.case, leaving.case.setup
    if setup.program.arrangement != "one":
        return None
    profile = derive.profile(setup, case.place_mm(leaving.row))
    near = profile.reading[profile.edge_mm >= -0.5 * setup.mat.followed.width_mm]
    low, high = float(near.min()), float(near.max())
    target = setup.program.target
    if not setup.program.chosen.uses_target or low + NEAR_TARGET <= target <= high - NEAR_TARGET:
        return None
    midway = float(round(0.5 * (low + high)))
    says = leaving.left(f"here the sensor reads {low:.0f} to {high:.0f}, and the target is {target:g}.")
    mend = case.with_number("program.target", midway, f"Target {midway:g}")
    return finding("target", says, leaving.row, case.first_that_finishes([mend]))


def _skidded(leaving: Leaving) -> Finding | None:
    case, trace = leaving.case, leaving.case.run.trace
    rows = slice(max(0, leaving.row - case.rows(0.4)), leaving.row + case.rows(0.1))
    if float(trace.skidding[rows].mean()) < MOSTLY:
        return None
    says = leaving.left("its wheels were slipping.")
    return finding("skid", says, leaving.row, case.first_that_finishes(case.faster_or_slower(SLOWER)))


def _too_tight(leaving: Leaving) -> Finding | None:
    case, check = leaving.case, leaving.bend_check
    if check is None or check.strays_mm < STRAYS_MM or not np.isfinite(check.turns_mm):
        return None
    says = leaving.left(
        f"the bend needs a turn of radius {check.room_mm:.0f} mm at the axle, and at full steer it turns "
        f"{check.turns_mm:.0f} mm."
    )
    mends = [*_harder(case), *case.gain_times((1.25, 1.6, 2.0, 3.0)), *case.faster_or_slower(SLOWER)]
    return finding("too tight", says, leaving.row, case.first_that_finishes(mends))


def _harder(case: Case) -> list[Mend]:
    """The law's own ways to turn harder, one after the other."""
    program = case.setup.program
    return [Mend(change.says, case.with_program(change.program)) for change in program.chosen.harder(program)]


def _rocking_of(case: Case) -> tuple[UltimateGain, float] | None:
    """Where theory says that the law starts to rock, and its gain's share of that; None where there is no theory."""
    try:
        loop = linear_loop(case.setup)
    except IronTrailError:
        return None
    rocking = ultimate_gain(loop)
    return (rocking, loop.kp / rocking.gain) if rocking is not None else None


def _rocked(leaving: Leaving) -> Finding | None:
    """Swings that grew, at a gain near or beyond the one at which theory says they do, and about as quick."""
    case, trace = leaving.case, leaving.case.run.trace
    found = _rocking_of(case)
    if found is None or found[1] < 0.9:
        return None
    rocking, share = found
    first = max(0, leaving.row - case.rows(4.0))
    edge = trace.edge_mm[first : leaving.row + 1]
    crossings = np.flatnonzero(np.diff(np.sign(wobbling(edge, case.loop_s))) != 0) + 1
    if crossings.size < 3:
        return None
    heights = [float(np.ptp(edge[a:b])) for a, b in pairwise(crossings.tolist())]
    recent = slice(max(0, crossings.size - 5), None)
    hertz = 0.5 / (float(np.median(np.diff(crossings[recent]))) * case.loop_s)
    if max(heights[-2:]) < 1.2 * min(heights[:2]) or max(heights) < 3.0 or not 0.6 < hertz / rocking.hertz < 1.4:
        return None
    row = first + int(crossings[0])
    says = leaving.left(
        f"it rocked at {hertz:.1f} Hz, higher and higher from {case.where(row)} on; the gain is "
        f"{100 * share:.0f} % of the one at which it rocks steadily ({rocking.gain:.2f})."
    )
    held = [_hold_nothing(case)] if case.setup.program.decision_loops > 1 else []
    gains = case.other_gain(part * rocking.gain for part in (0.8, 0.65, 0.5))
    mends = [*held, *gains, *case.faster_or_slower(SLOWER[1:])]
    return finding("rocked", says, row, case.first_that_finishes(mends))


def _at_its_limit(leaving: Leaving) -> Finding | None:
    """All the steer there is, for some time, and not enough: clipped, or the reading at its end."""
    case, trace, program = leaving.case, leaving.case.run.trace, leaving.case.setup.program
    rows = slice(max(0, leaving.row - case.rows(0.15)), min(len(trace), leaving.row + case.rows(0.25)))
    curve = derive.curve(case.setup)
    wanted = 0.5 * np.abs(curve.wanted_left - curve.wanted_right)
    end = trace.error[rows] >= 0.5 * (trace.error.max() + trace.error.min())
    most = float(wanted[-1] if end.mean() >= 0.5 else wanted[0])
    if not _turns_too_wide(leaving):
        return None
    full = np.abs(trace.steer[rows]) >= 0.9 * most
    clipped = trace.clipped[rows] > 0.5
    if most <= 0.0 or float((full | clipped).mean()) < MOSTLY:
        return None
    seconds = float((full | clipped).sum()) * case.loop_s
    bend = case.bend_at(leaving.row)
    what = (
        "clipped at full steer"
        if clipped.mean() >= MOSTLY
        else f"at all the steer {_source(program)} can give ({most:.0f} %)"
    )
    enough = (
        f"not enough for a radius of {bend.radius_mm:.0f} mm" if bend is not None and bend.radius_mm else "not enough"
    )
    says = leaving.left(f"{what} for {seconds:.1f} s, and that was {enough}.")
    mends = [*_harder(case), *case.faster_or_slower(SLOWER)]
    if clipped.mean() < MOSTLY:
        mends = [*case.gain_times((1.2, 1.4)), *mends]
    return finding("full steer", says, leaving.row, case.first_that_finishes(mends))


def _turns_too_wide(leaving: Leaving) -> bool:
    """The bend here leaves little room: what the program can turn at most is near what the bend needs, or wider."""
    check = leaving.bend_check
    return check is not None and check.turns_mm > NEARLY_WIDE * check.room_mm


def _source(program: Program) -> str:
    """Where a law's steer comes from."""
    if program.chosen.gives == "powers":
        return "the difference of its powers"
    return "its reading" if program.arrangement == "one" else "its error"
