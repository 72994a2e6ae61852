"""What a hand does to a trip: legs put in, moved, doubled and taken out, and their ends; no trip is an empty one."""

from dataclasses import replace
from typing import Any

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import with_value
from irontrail.core.steering.legs import (
    ENDS,
    MAX_ENDS,
    MAX_LEGS,
    AfterDistance,
    AfterTime,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    End,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
)
from irontrail.core.steering.program import Program

# What can end a leg of each kind.
ENDS_OF: dict[str, tuple[str, ...]] = {
    "follow": tuple(ENDS),
    "straight": tuple(ENDS),
    "turn": ("line found", "reading", "time", "button"),
    "creep": tuple(ENDS),
    "wait": ("time", "button", "reading"),
}


def legs_of(program: Program) -> tuple[Leg, ...]:
    """The legs of a program's trip; none without one."""
    return program.trip.legs if program.trip is not None else ()


def with_legs(program: Program, legs: tuple[Leg, ...]) -> Program:
    """A program with other legs; without any it follows the line to the finish."""
    return replace(program, trip=Trip(legs) if legs else None)


def usual(kind: str, before: tuple[Leg, ...], program: Program) -> Leg:
    """A leg of a kind as one would begin with it, after those before it."""
    target = program.target
    if kind == "follow":
        return FollowLeg((AtFinish(),)) if not before else FollowLeg((AfterDistance(500.0),))
    if kind == "straight":
        on_way = before and isinstance(before[-1], FollowLeg | TurnLeg | CreepLeg)
        return StraightLeg((AfterDistance(100.0),) if on_way else (LineFound(target),))
    if kind == "turn":
        return TurnLeg()
    if kind == "creep":
        return CreepLeg(dark_reading=float(round(0.4 * target)))
    return WaitLeg()


def put_in(program: Program, at: int, kind: str) -> Program:
    """A program with one more leg, before the leg that is now number `at` (from 0).

    Raises
    ------
    OutOfRangeError
        If a trip holds no more.
    """
    legs = legs_of(program)
    _room_for_one(legs)
    return with_legs(program, (*legs[:at], usual(kind, legs[:at], program), *legs[at:]))


def doubled(program: Program, at: int) -> Program:
    """A program with a leg once more, after itself; OutOfRangeError if a trip holds no more."""
    legs = legs_of(program)
    _room_for_one(legs)
    return with_legs(program, (*legs[: at + 1], *legs[at:]))


def _room_for_one(legs: tuple[Leg, ...]) -> None:
    if len(legs) >= MAX_LEGS:
        raise OutOfRangeError(f"a trip has at most {MAX_LEGS} legs", remedy="Take one out first.")


def taken_out(program: Program, at: int) -> Program:
    """A program without a leg."""
    legs = legs_of(program)
    return with_legs(program, legs[:at] + legs[at + 1 :])


def moved(program: Program, at: int, to: int) -> Program:
    """A program with a leg moved to another place, counted without it."""
    legs = legs_of(program)
    rest = legs[:at] + legs[at + 1 :]
    return with_legs(program, (*rest[:to], legs[at], *rest[to:]))


def usual_end(kind: str, leg: Leg, program: Program) -> End:
    """An end of a kind as one would begin with it."""
    target = program.target
    made: dict[str, Any] = {
        "time": AfterTime(1.0),
        "distance": AfterDistance(300.0),
        "reading": AtReading("below", float(round(0.4 * target))),
        "mark": AtMark(1, "crossing", float(round(0.2 * target)), 5.0),
        "line found": LineFound(target),
    }
    if kind == "reading" and isinstance(leg, WaitLeg):
        return AtReading("below", float(round(0.4 * target)), 0.0)
    end: End = made[kind] if kind in made else ENDS[kind]()
    return end


def with_end(program: Program, at: int, kind: str) -> Program:
    """A program whose leg may also end by another thing; OutOfRangeError if it has as many ends as it can."""
    leg = legs_of(program)[at]
    if len(leg.ends) >= MAX_ENDS:
        raise OutOfRangeError(f"a leg has at most {MAX_ENDS} ends", remedy="Take one away first.")
    return _changed(program, at, replace(leg, ends=(*leg.ends, usual_end(kind, leg, program))))


def other_end(program: Program, at: int, end: int, kind: str) -> Program:
    """A program whose leg ends by something else in an end's place."""
    leg = legs_of(program)[at]
    if leg.ends[end].kind == kind:
        return program
    ends = (*leg.ends[:end], usual_end(kind, leg, program), *leg.ends[end + 1 :])
    return _changed(program, at, replace(leg, ends=ends))


def without_end(program: Program, at: int, end: int) -> Program:
    """A program whose leg does not end by one of its ends any more; OutOfRangeError if it would never end."""
    leg = legs_of(program)[at]
    return _changed(program, at, replace(leg, ends=leg.ends[:end] + leg.ends[end + 1 :]))


def _changed(program: Program, at: int, leg: Leg) -> Program:
    return with_value(program, f"trip.legs.{at}", leg) if leg != legs_of(program)[at] else program
