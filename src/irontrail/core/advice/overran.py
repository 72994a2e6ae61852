"""How far a leg overran its end, for rolling on: a straight or a turn, and gentler ways to come to it."""

from collections.abc import Iterator

import numpy as np

from irontrail.core.advice.case import Case, Finding, Mend, finding
from irontrail.core.advice.trip_mends import asked_of, at_speed, slower, speed_of, that_helps
from irontrail.core.quantity import with_value
from irontrail.core.result import LegRun, Run
from irontrail.core.steering.leg_words import ended_words, leg_title, number
from irontrail.core.steering.legs import (
    AfterDistance,
    AtMark,
    AtReading,
    CreepLeg,
    FollowLeg,
    Leg,
    StraightLeg,
    TurnLeg,
)

# Beyond these a finding is worth a sentence.
OVERRAN_MM, OVERTURNED_DEG = 8.0, 5.0


def overran(case: Case, leg: LegRun) -> Iterator[Finding]:
    """Stood so far past the place where it came to its end, for rolling on."""
    asked = asked_of(case, leg)
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

    yield finding("overran", says, leg.ended, that_helps(case.setup, _gentler(case, leg, asked), rolled))


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
    if isinstance(asked, StraightLeg) and asked.power > 0.0:
        mends += _creeping(case, leg, asked)
    if isinstance(asked, StraightLeg):
        mends += [Mend(f"Power {number(p)}", with_value(case.setup, f"{path}.power", p)) for p in slower(asked.power)]
    elif isinstance(asked, CreepLeg):
        mends += [
            Mend(f"Least power {number(p)}", with_value(case.setup, f"{path}.least_power", p))
            for p in slower(asked.least_power)
        ]
    elif isinstance(asked, FollowLeg):
        mends += [Mend(f"Speed {s:g}", at_speed(case, leg, s)) for s in slower(speed_of(case, leg))]
    return mends


def _creeping(case: Case, leg: LegRun, asked: StraightLeg) -> list[Mend]:
    """Creep onto a dark line or crossing that a straight leg stops at."""
    dark = [
        end.reading
        for end in asked.ends
        if (isinstance(end, AtReading) and end.side == "below") or (isinstance(end, AtMark) and end.mark == "crossing")
    ]
    if not dark:
        return []
    least = case.setup.robot.drive.dead_band + 5.0
    rest = tuple(end for end in asked.ends if not isinstance(end, AtReading | AtMark))
    path = f"program.trip.legs.{leg.number}"
    creeps = [
        CreepLeg(round(share * asked.power / 100.0, 2), min(least, asked.power), dark[0], ends=rest, then=asked.then)
        for share in (0.6, 0.3)
    ]
    return [
        Mend(f"Creep onto it, at {creep.power_per_reading:g} × the reading", with_value(case.setup, path, creep))
        for creep in creeps
    ]


def overturned(case: Case, leg: LegRun) -> Iterator[Finding]:
    """A turn that turned on past its angle, for rolling on."""
    asked = asked_of(case, leg)
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
    mends = [Mend(f"Power {number(p)}", with_value(case.setup, path, p)) for p in slower(asked.power)]
    yield finding("overturned", says, leg.ended, that_helps(case.setup, mends, over))


def _turned_past(run: Run, leg: LegRun) -> float:
    last = leg.over >= len(run.trace) - 1
    heading = run.rest_heading_rad if last else run.trace.heading_rad[leg.over]
    return abs(float(np.degrees(heading - run.trace.heading_rad[leg.ended])))
