"""What happened on a trip: which leg waited for what, how a line was met, how far a leg overran its end.

A mend is offered only after it was run: over the same perturbed starts the trip must come to its end as often as
before, and what was wrong must be gone, or smaller by half.
"""

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.case import Case, Finding, Mend, finding
from irontrail.core.advice.lost import why_it_left
from irontrail.core.advice.luck import perturbed
from irontrail.core.control.trip import OFF_LINE
from irontrail.core.project import Setup
from irontrail.core.quantity import with_value
from irontrail.core.result import LegRun, Run
from irontrail.core.steering.leg_words import all_ends, ended_words, leg_title
from irontrail.core.steering.legs import (
    AfterDistance,
    AtMark,
    CreepLeg,
    FollowLeg,
    Leg,
    StraightLeg,
    TurnLeg,
)

# A mend is tried on so many perturbed starts, and must make smaller what it is for by this share.
STARTS, SMALLER = 10, 0.5
# Beyond these a finding is worth a sentence.
OVERRAN_MM, OVERTURNED_DEG = 8.0, 5.0
STEEP_DEG, OVERSHOT_MM = 25.0, 12.0
# Where the line is met: so far along it; and so near to its edge it has been come to.
MEETING_MM, MET_MM = 250.0, 6.0
MOST = 5


def trip_findings(setup: Setup) -> tuple[Finding, ...]:
    """All findings on a trip's run, what kept it from its end first."""
    case = Case.of(setup)
    found = [*_unended(case)]
    for leg in case.run.legs:
        found += [*_met_steeply(case, leg), *_overran(case, leg), *_overturned(case, leg)]
    # What kept it from its end may be found again with its leg.
    return tuple(dict.fromkeys(found))[:MOST]


def _asked(case: Case, leg: LegRun) -> Leg:
    trip = case.setup.program.trip
    assert trip is not None
    return trip.legs[leg.number]


# --- a leg that did not come to its end


def _unended(case: Case) -> Iterator[Finding]:
    leg, outcome = case.run.legs[-1], case.run.outcome
    if leg.ended >= 0:
        return
    asked, last, place = _asked(case, leg), len(case.run.trace) - 1, leg.number + 1
    name = f"Leg {place} ({leg_title(asked)})"
    passed = _passed_before(case, leg, asked)
    if passed is not None and (outcome not in ("lost", "stuck") or passed.mended is not None):
        yield passed
        return
    if outcome in ("lost", "stuck") and leg.route is not None:
        off = abs(float(case.run.trace.edge_mm[leg.begun]))
        if off > case.setup.trial.lost_distance_mm:
            yield finding("no line", f"{name} began {off:.0f} mm from any line, and follows nothing.", leg.begun)
            return
        if _at_line_end(case, leg):
            says = f"{name} came to the end of its line, and waited still: {all_ends(asked)}."
            yield finding("line ended", says, last)
            return
        steeply = [*_met_steeply(case, leg)] if _came_mm(case, leg) <= MEETING_MM else []
        if steeply:
            yield from steeply
            return
        if leg.route is case.run.route and off <= case.seen_mm:
            left = why_it_left(_alone(case, leg))
            if left is not None:
                yield replace(left, says=f"{name}: {left.says}", row=left.row + leg.begun)
                return
        word = "lost its line" if outcome == "lost" else "got no further"
        yield finding(outcome, f"{name} {word} after {case.run.trace.time_s[last]:.1f} s.", last)
        return
    how = {"off-mat": "the robot left the mat", "time-out": "the time was over", "stopped": "the program stopped"}
    yield finding("waited", f"{name} waited: {all_ends(asked)}. Before that came, {how.get(outcome, outcome)}.", last)


def _at_line_end(case: Case, leg: LegRun) -> bool:
    """Whether it was lost where its line ends."""
    route = leg.route
    return route is not None and not route.closed and leg.met_mm + _came_mm(case, leg) >= route.length_mm - case.seen_mm


def _came_mm(case: Case, leg: LegRun) -> float:
    """How far along its line a leg came."""
    progress = case.run.trace.progress_mm[leg.begun : leg.over + 1]
    return float(progress.max() - progress[0])


def _passed_before(case: Case, leg: LegRun, asked: Leg) -> Finding | None:
    """It waits for a mark that was passed in the leg before, where nobody counted it."""
    marks = [(i, end) for i, end in enumerate(asked.ends) if isinstance(end, AtMark)]
    if not marks or leg.number == 0:
        return None
    place, mark = marks[0]
    before = case.run.legs[leg.number - 1]
    row = _seen(case, before, mark)
    if row is None:
        return None
    path = f"program.trip.legs.{leg.number}.ends.{place}.count"
    mends = [Mend(f"Count to {mark.count - 1}", with_value(case.setup, path, mark.count - 1))] if mark.count > 1 else []
    says = (
        f"Leg {leg.number + 1} waited for a {mark.mark} that had been passed in leg {before.number + 1} "
        f"({leg_title(_asked(case, before))}), after {case.run.trace.time_s[row]:.1f} s: only those seen since the leg "
        "began count."
    )
    good = next((mend for mend in mends if _finishes(mend.setup) >= 0.8), None)
    return finding("passed before", says, row, good)


def _seen(case: Case, leg: LegRun, mark: AtMark) -> int | None:
    """The row in which a leg came onto a mark that it did not begin on; None if it came to none."""
    trace = case.run.trace
    sign = 1.0 if mark.mark == "bright mark" else -1.0
    beyond = sign * (trace.reading[leg.begun : leg.over] - mark.reading) >= 0.0
    off = sign * (trace.reading[leg.begun : leg.over] - mark.reading) <= -OFF_LINE
    if not beyond.any() or not off.any():
        return None
    first_off = int(np.argmax(off))
    later = np.flatnonzero(beyond[first_off:])
    # It was off it again before the leg was over: passed, and not stood on.
    if not later.size or not off[first_off + later[0] :].any():
        return None
    return leg.begun + first_off + int(later[0])


def _alone(case: Case, leg: LegRun) -> Case:
    """A leg that followed the trial's own line, as a case of its own."""
    trace = case.run.trace
    rows = slice(leg.begun, leg.over + 1)
    columns = {name: getattr(trace, name)[rows] for name in vars(trace)}
    columns["progress_mm"] = columns["progress_mm"] - columns["progress_mm"][0]
    alone = replace(case.run, trace=type(trace)(**columns), start_mm=leg.met_mm, legs=())
    return Case(case.setup, alone, case.figures)


# --- the line met too steeply


def _met_steeply(case: Case, leg: LegRun) -> Iterator[Finding]:
    if leg.route is None or leg.number == 0 or case.run.legs[leg.number - 1].route is not None:
        return
    angle, over = _meeting(case.run, leg)
    if angle < STEEP_DEG or over < OVERSHOT_MM:
        return
    lost = case.run.outcome == "lost" and leg is case.run.legs[-1] and _came_mm(case, leg) <= MEETING_MM
    then = "and drove over it" if lost else f"and overshot its edge by {over:.0f} mm before it followed"
    says = (
        f"Leg {leg.number + 1} met the line at {angle:.0f}°, {then}: a lead-in that meets it more flatly, or more "
        "slowly, leaves less to turn."
    )

    def overshoot(run: Run) -> float:
        return _meeting(run, run.legs[leg.number])[1] if len(run.legs) > leg.number else np.inf

    before = leg.number - 1
    asked = _asked(case, case.run.legs[before])
    path = f"program.trip.legs.{before}"
    mends = [Mend(f"Leg {leg.number + 1} at speed {s:g}", _at_speed(case, leg, s)) for s in _slower(_speed(case, leg))]
    if isinstance(asked, StraightLeg):
        mends[:0] = [
            Mend(f"Leg {before + 1} at power {p:g}", with_value(case.setup, f"{path}.power", p))
            for p in _slower(asked.power)
        ]
    yield finding("met steeply", says, leg.begun, _that_helps(case.setup, mends, overshoot))


def _meeting(run: Run, leg: LegRun) -> tuple[float, float]:
    """The angle at which a line was met (degrees), and how far the sensor came off its edge once it was at it (mm)."""
    trace = run.trace
    rows = slice(leg.begun, leg.over + 1)
    near = trace.progress_mm[rows] - trace.progress_mm[leg.begun] <= MEETING_MM
    off = np.abs(trace.edge_mm[rows][near])
    there = np.flatnonzero(off <= MET_MM)
    over = float(off[there[0] :].max()) if there.size else float(off.max(initial=0.0))
    return abs(float(np.degrees(trace.angle_rad[leg.begun]))), over


def _speed(case: Case, leg: LegRun) -> float:
    asked = _asked(case, leg)
    return asked.speed or case.setup.program.speed if isinstance(asked, FollowLeg) else 0.0


def _at_speed(case: Case, leg: LegRun, speed: float) -> Setup:
    return with_value(case.setup, f"program.trip.legs.{leg.number}.speed", speed)


def _slower(power: float) -> list[float]:
    return [float(round(share * power)) for share in (0.8, 0.65, 0.5, 0.35) if abs(round(share * power)) >= 1.0]


# --- rolled past the end


def _overran(case: Case, leg: LegRun) -> Iterator[Finding]:
    """Stood so far past the place where it came to its end, for rolling on."""
    asked = _asked(case, leg)
    if leg.ended < 0 or isinstance(asked, TurnLeg) or not _stands(case, leg, asked):
        return
    past = _past(case.run, leg)
    if past < OVERRAN_MM:
        return
    trace, place = case.run.trace, leg.number + 1
    speed = 0.5 * float(trace.left_speed_mm_s[leg.ended] + trace.right_speed_mm_s[leg.ended])
    says = (
        f"Leg {place} ({leg_title(asked)}) stopped {past:.0f} mm past its end ({ended_words(asked, leg.ended_by)}): it "
        f"came there at {abs(speed):.0f} mm/s, and its wheels rolled on."
    )

    def rolled(run: Run) -> float:
        ended = len(run.legs) > leg.number and run.legs[leg.number].ended >= 0
        return _past(run, run.legs[leg.number]) if ended else np.inf

    yield finding("overran", says, leg.ended, _that_helps(case.setup, _gentler(case, leg, asked), rolled))


def _stands(case: Case, leg: LegRun, asked: Leg) -> bool:
    """Whether it comes to a stand after a leg: the trip's last does."""
    trip = case.setup.program.trip
    return asked.then == "brake" or (trip is not None and leg.number + 1 == len(trip.legs))


def _past(run: Run, leg: LegRun) -> float:
    """How far from where a leg came to its end the robot then stood, in mm."""
    trace, last = run.trace, leg.over >= len(run.trace) - 1
    x, y = (run.rest_x_mm, run.rest_y_mm) if last else (trace.x_mm[leg.over], trace.y_mm[leg.over])
    return float(np.hypot(x - trace.x_mm[leg.ended], y - trace.y_mm[leg.ended]))


def _gentler(case: Case, leg: LegRun, asked: Leg) -> list[Mend]:
    """Ways to come to an end more slowly: a ramp before a distance, less power, a creep onto a dark line."""
    path, mends = f"program.trip.legs.{leg.number}", []
    known = any(isinstance(end, AfterDistance) for end in asked.ends)
    if isinstance(asked, StraightLeg | FollowLeg) and known and not asked.ramp_down_mm:
        mends += [
            Mend(f"Slow down over {mm:g} mm", with_value(case.setup, f"{path}.ramp_down_mm", mm))
            for mm in (100.0, 200.0)
        ]
    if isinstance(asked, StraightLeg):
        mends += [Mend(f"Power {p:g}", with_value(case.setup, f"{path}.power", p)) for p in _slower(asked.power)]
    elif isinstance(asked, CreepLeg):
        mends += [
            Mend(f"Least power {p:g}", with_value(case.setup, f"{path}.least_power", p))
            for p in _slower(asked.least_power)
        ]
    elif isinstance(asked, FollowLeg):
        mends += [Mend(f"Speed {s:g}", _at_speed(case, leg, s)) for s in _slower(_speed(case, leg))]
    return mends


def _overturned(case: Case, leg: LegRun) -> Iterator[Finding]:
    """A turn that turned on past its angle, for rolling on."""
    asked = _asked(case, leg)
    if leg.ended < 0 or not isinstance(asked, TurnLeg) or not _stands(case, leg, asked):
        return
    past = _turned_past(case.run, leg)
    if past < OVERTURNED_DEG:
        return
    says = (
        f"Leg {leg.number + 1} ({leg_title(asked)}) turned {past:.0f}° past its end: its wheels rolled on. Ask for "
        "less, or turn more slowly."
    )

    def over(run: Run) -> float:
        ended = len(run.legs) > leg.number and run.legs[leg.number].ended >= 0
        return _turned_past(run, run.legs[leg.number]) if ended else np.inf

    path = f"program.trip.legs.{leg.number}.power"
    mends = [Mend(f"Power {p:g}", with_value(case.setup, path, p)) for p in _slower(asked.power)]
    yield finding("overturned", says, leg.ended, _that_helps(case.setup, mends, over))


def _turned_past(run: Run, leg: LegRun) -> float:
    last = leg.over >= len(run.trace) - 1
    heading = run.rest_heading_rad if last else run.trace.heading_rad[leg.over]
    return abs(float(np.degrees(heading - run.trace.heading_rad[leg.ended])))


# --- mends, run


def _that_helps(setup: Setup, mends: list[Mend], wrong: Callable[[Run], float]) -> Mend | None:
    """The first change that makes what is wrong smaller by half over perturbed starts, and the trip end as often."""
    if not mends:
        return None
    ended, size = _over_starts(setup, wrong)
    for mend in mends:
        if mend.setup == setup:
            continue
        now_ended, now = _over_starts(mend.setup, wrong)
        if now_ended >= ended and now <= SMALLER * size:
            return mend
    return None


def _over_starts(setup: Setup, wrong: Callable[[Run], float]) -> tuple[int, float]:
    """In how many perturbed starts a trip came to its end, and the middle of what is wrong with them."""
    runs = [derive.run_once(perturbed(setup, i)) for i in range(1, STARTS + 1)]
    return sum(run.outcome == "finished" for run in runs), float(np.median([wrong(run) for run in runs]))


def _finishes(setup: Setup) -> float:
    """In what share of perturbed starts a trip comes to its end."""
    return _over_starts(setup, lambda _run: 0.0)[0] / STARTS
