"""What happened on a trip: which leg waited for what, how a line was met, how far a leg overran its end.

A mend is offered only after it was run: over the same perturbed starts the trip must come to its end as often as
before, and what was wrong must be gone, or smaller by half.
"""

from collections.abc import Iterator

import numpy as np

from irontrail.core.advice.case import Case, Finding, Mend, finding
from irontrail.core.advice.overran import overran, overturned
from irontrail.core.advice.trip_mends import asked_of, at_speed, finishes, slower, speed_of, that_helps
from irontrail.core.quantity import with_value
from irontrail.core.result import LegRun, Run
from irontrail.core.steering.leg_words import all_ends, leg_title, number
from irontrail.core.steering.legs import (
    OFF_LINE,
    AtMark,
    Leg,
    StraightLeg,
)

# Beyond these a finding is worth a sentence.
STEEP_DEG, OVERSHOT_MM = 25.0, 12.0
# Where the line is met: so far along it; and so near to its edge it has been come to.
MEETING_MM, MET_MM = 250.0, 6.0
MOST = 5


def trip_findings(case: Case) -> tuple[Finding, ...]:
    """What happened on a trip's run, leg by leg."""
    found: list[Finding] = []
    for leg in case.run.legs:
        found += [*_met_steeply(case, leg), *overran(case, leg), *overturned(case, leg)]
    return tuple(found[:MOST])


# --- a leg that did not come to its end


def unended(case: Case) -> Finding | None:
    """Which leg kept a trip from its end, and how; None if it came there."""
    leg, outcome = case.run.legs[-1], case.run.outcome
    if leg.ended >= 0:
        return None
    asked, last, place = asked_of(case, leg), len(case.run.trace) - 1, leg.number + 1
    name = f"Leg {place} ({leg_title(asked)})"
    passed = _passed_before(case, leg, asked)
    if passed is not None and (outcome not in ("lost", "stuck") or passed.mended is not None):
        return passed
    if outcome in ("lost", "stuck") and leg.route is not None:
        off = abs(float(case.run.trace.edge_mm[leg.begun]))
        if off > case.setup.trial.lost_distance_mm:
            return finding("no line", f"{name} began {off:.0f} mm from any line, and follows nothing.", leg.begun)
        if _at_line_end(case, leg):
            says = f"{name} came to the end of its line, and waited still: {all_ends(asked)}."
            return finding("line ended", says, last)
        if _came_mm(case, leg) <= MEETING_MM:
            for steeply in _met_steeply(case, leg):
                return steeply
        word = "lost its line" if outcome == "lost" else "got no further"
        return finding(outcome, f"{name} {word} after {case.run.trace.time_s[last]:.1f} s.", last)
    how = {"off-mat": "the robot left the mat", "time-out": "the time was over", "stopped": "the program stopped"}
    return finding("waited", f"{name} waited: {all_ends(asked)}. Before that came, {how.get(outcome, outcome)}.", last)


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
        f"({leg_title(asked_of(case, before))}), after {case.run.trace.time_s[row]:.1f} s: only those seen since the "
        "leg began count."
    )
    good = next((mend for mend in mends if finishes(mend.setup) >= 0.8), None)
    return finding("passed before", says, row, good)


def _seen(case: Case, leg: LegRun, mark: AtMark) -> int | None:
    """The row in which a leg came onto a mark that it did not begin on; None if it came to none."""
    trace = case.run.trace
    sign = 1.0 if mark.mark == "bright mark" else -1.0
    seen = (trace.second_reading if mark.sensor == "second" else trace.reading)[leg.begun : leg.over]
    beyond, off = sign * (seen - mark.reading) >= 0.0, sign * (seen - mark.reading) <= -OFF_LINE
    if not beyond.any() or not off.any():
        return None
    first_off = int(np.argmax(off))
    later = np.flatnonzero(beyond[first_off:])
    # It was off it again before the leg was over: passed, and not stood on.
    if not later.size or not off[first_off + later[0] :].any():
        return None
    return leg.begun + first_off + int(later[0])


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
    asked = asked_of(case, case.run.legs[before])
    path = f"program.trip.legs.{before}"
    mends = [Mend(f"Leg {leg.number + 1} at speed {s:g}", at_speed(case, leg, s)) for s in slower(speed_of(case, leg))]
    if isinstance(asked, StraightLeg):
        mends[:0] = [
            Mend(f"Leg {before + 1} at power {number(p)}", with_value(case.setup, f"{path}.power", p))
            for p in slower(asked.power)
        ]
    yield finding("met steeply", says, leg.begun, that_helps(case.setup, mends, overshoot))


def _meeting(run: Run, leg: LegRun) -> tuple[float, float]:
    """The angle at which a line was met (degrees), and how far the sensor came off its edge once it was at it (mm)."""
    trace = run.trace
    rows = slice(leg.begun, leg.over + 1)
    near = trace.progress_mm[rows] - trace.progress_mm[leg.begun] <= MEETING_MM
    off = np.abs(trace.edge_mm[rows][near])
    there = np.flatnonzero(off <= MET_MM)
    over = float(off[there[0] :].max()) if there.size else float(off.max(initial=0.0))
    return abs(float(np.degrees(trace.angle_rad[leg.begun]))), over
