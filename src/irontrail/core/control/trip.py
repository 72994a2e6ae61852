"""Compiled: what the legs of a trip decide, one after the other."""

from typing import Any

from numba import njit

from irontrail.core.compiled import unfused, unfused_inlined
from irontrail.core.control.legs import (
    BUTTON,
    CREEP,
    DISTANCE,
    FINISH,
    FOLLOW,
    FOUND,
    GOES_ON,
    MARK,
    READING,
    STRAIGHT,
    TIME,
    TURN,
)
from irontrail.core.steering.legs import HOLD_PER_MM, OFF_LINE, OWN_END, RAMP_LEAST, STANDS_MM_S, on_mark

_on_mark: Any = njit(on_mark, error_model="numpy")


@unfused
def follow_trip(c, trip, reading, second, time, left_rolled, right_rolled, at_finish):
    """End the leg that is driven if it is to end, and begin the next; whether a Follow leg has begun.

    `at_finish` says that the mat's finish has been reached since the leg began.
    """
    if trip.begun == 0:
        begin_leg(c, trip, trip.leg, reading, second, time, left_rolled, right_rolled)
        return c.legs[trip.leg].kind == FOLLOW
    left, right = left_rolled - trip.last_left, right_rolled - trip.last_right
    way, passed = 0.5 * (abs(left) + abs(right)), time - trip.last_time
    trip.last_left, trip.last_right, trip.last_time = left_rolled, right_rolled, time
    trip.driven += way
    trip.ended = GOES_ON
    stands = max(abs(left), abs(right)) <= STANDS_MM_S * passed
    if trip.braking == 0:
        trip.ended = ended_by(c, trip, reading, second, time, left_rolled, right_rolled, at_finish)
        if trip.ended == GOES_ON:
            return False
        if trip.leg + 1 == c.leg_count:
            trip.done = 1
            return False
        if c.legs[trip.leg].brakes == 1 and not stands:
            trip.braking = 1
            return False
    elif not stands:
        return False
    begin_leg(c, trip, trip.leg + 1, reading, second, time, left_rolled, right_rolled)
    return c.legs[trip.leg].kind == FOLLOW


@unfused
def begin_leg(c, trip, leg, reading, second, time, left_rolled, right_rolled):
    """A leg begins; what its ends remember begins anew."""
    trip.leg, trip.begun, trip.braking, trip.bordered = leg, 1, 0, 0
    trip.began, trip.left, trip.right, trip.driven = time, left_rolled, right_rolled, 0.0
    trip.last_left, trip.last_right, trip.last_time = left_rolled, right_rolled, time
    for i in range(c.legs[leg].end_count):
        end = c.legs[leg].ends[i]
        beyond = 1 if end.sign * (seen_by(end, reading, second) - end.value) >= 0.0 else 0
        trip.beyond[i], trip.since[i], trip.seen[i] = beyond, 0.0, 0
        # A mark that the leg begins on is none that it comes to.
        trip.on[i] = beyond if end.kind == MARK else 0


@unfused
def ended_by(c, trip, reading, second, time, left_rolled, right_rolled, at_finish):
    """Which of its ends the leg has come to, from 1; OWN_END for the leg's own; GOES_ON if none."""
    leg = c.legs[trip.leg]
    found = GOES_ON
    for i in range(leg.end_count):
        seen = seen_by(leg.ends[i], reading, second)
        if comes(leg.ends[i], trip, i, seen, time, left_rolled, right_rolled, at_finish) and found == GOES_ON:
            found = i + 1
    if found != GOES_ON:
        return found
    if leg.kind == TURN:
        turned = (right_rolled - trip.right) - (left_rolled - trip.left)
        if (turned if leg.turn >= 0.0 else -turned) >= abs(leg.turn):
            return OWN_END
    elif leg.kind == CREEP:
        seen = seen_by(leg, reading, second)
        if seen >= leg.border:
            trip.bordered = 1
        if trip.bordered == 1 and seen <= leg.dark:
            return OWN_END
    return GOES_ON


@unfused_inlined
def seen_by(part, reading, second):
    """What the sensor reads that a leg, or an end of one, looks at."""
    return second if part.sensor == 1 else reading


@unfused
def comes(end, trip, i, reading, time, left_rolled, right_rolled, at_finish):
    """Whether an end has come; its memory of what was read is kept up."""
    kind = end.kind
    if kind in (TIME, BUTTON):
        return time - trip.began >= end.value - 1e-9
    if kind == DISTANCE:
        return abs(0.5 * ((left_rolled - trip.left) + (right_rolled - trip.right))) >= end.value
    if kind == FINISH:
        return at_finish
    off = end.sign * (reading - end.value)
    if kind == FOUND:
        if off <= -OFF_LINE:
            trip.on[i] = 1
        return trip.on[i] == 1 and off >= 0.0
    beyond = 1 if off >= 0.0 else 0
    trip.since[i], on = _on_mark(beyond, trip.beyond[i], trip.since[i], trip.on[i], trip.driven, end.for_mm)
    trip.beyond[i] = beyond
    if kind == READING:
        return beyond == 1 and trip.driven - trip.since[i] >= end.for_mm
    trip.seen[i] += 1 if on > trip.on[i] else 0
    trip.on[i] = on
    return trip.seen[i] >= end.count


@unfused_inlined
def leg_powers(leg, trip, reading, left_rolled, right_rolled):
    """The wanted powers (left, right) of a leg that does not follow the line."""
    if leg.kind == STRAIGHT:
        power = leg.power * ramp(leg, trip)
        ahead = (left_rolled - trip.left) - (right_rolled - trip.right) if leg.held == 1 else 0.0
        return power - HOLD_PER_MM * ahead, power + HOLD_PER_MM * ahead
    if leg.kind == TURN:
        power = leg.power * ramp(leg, trip)
        inner = 0.0 if leg.one_wheel == 1 else -power
        return (inner, power) if leg.turn >= 0.0 else (power, inner)
    if leg.kind == CREEP:
        power = max(leg.least, leg.per_reading * reading)
        return power, power
    return 0.0, 0.0


@unfused_inlined
def ramp(leg, trip):
    """The share of its power that a leg asks for: less over its beginning, and before a distance that ends it."""
    share = 1.0
    if leg.ramp_up > 0.0:
        share = min(share, trip.driven / leg.ramp_up)
    if leg.ramp_down > 0.0:
        share = min(share, (leg.length - trip.driven) / leg.ramp_down)
    return max(share, RAMP_LEAST)
