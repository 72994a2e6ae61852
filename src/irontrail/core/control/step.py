"""The one step that decides, compiled: scale, calibration, target, law, mixing, legs, limits, rounding and stop rules.

It knows neither mat nor pose. Whatever says what a program does asks it: the engine, the steering curve, theory's
powers, proofreading.
"""

from collections.abc import Callable
from typing import Any

import numpy as np
from numba import njit

from irontrail.core.compiled import unfused, unfused_inlined
from irontrail.core.control.legs import FOLLOW
from irontrail.core.control.pair import value_and_error
from irontrail.core.control.trip import follow_trip, leg_powers, ramp, seen_by
from irontrail.core.steering.law import D_SHARE, I_SHARE, P_SHARE
from irontrail.core.steering.mixing import mixed_powers
from irontrail.core.steering.registry import DECIDING

# Half the calibrated span: at this error ease-off takes all of its share of the speed.
HALF_SPAN = 50.0
# What decides in a leg that does not follow the line is none of the law's rules.
NO_RULE = -1.0


def _chain() -> Callable[..., Any]:
    """One compiled function that takes the step of whichever law a record has, each law compiled from its own file."""

    @njit(nogil=True, error_model="numpy")
    def no_law(_c, _reading, _memory):
        return -1.0, 0.0, 0.0

    chain = no_law
    for code, law in enumerate(DECIDING.values()):
        source = (
            f"def {law.field}_or_another(c, reading, memory):\n"
            f"    if c.law == {code}:\n"
            f"        return step(c.{law.field}, reading, c.target, memory)\n"
            f"    return another(c, reading, memory)\n"
        )
        names: dict[str, Any] = {"step": njit(law.step, error_model="numpy"), "another": chain}
        exec(source, names)
        chain = njit(nogil=True, error_model="numpy")(names[f"{law.field}_or_another"])
    return chain


law_step = _chain()
_mixed_powers: Any = njit(mixed_powers, error_model="numpy")


@unfused_inlined
def control_step(c, memory, trip, raw_output, second_raw_output, time, left_rolled, right_rolled, at_finish):
    """One decision.

    Parameters
    ----------
    c : record.CONTROLLER
    memory : ndarray, shape (record.MEMORY_SIZE,)
        Carried from decision to decision; zeros at first.
    trip : legs.TRIP
        The same of a program with legs; zeros at first.
    raw_output, second_raw_output : float
        What each sensor gives: percent, counts, or the place of a name in its palette. Of a second sensor that is not
        there, anything.
    time : float
        Seconds since the program began.
    left_rolled, right_rolled : float
        Distance of each wheel by its counts, in mm.
    at_finish : bool
        The mat's finish has been reached since the leg began.

    Returns
    -------
    reading, second_reading : what the program reads by each sensor, 0..100
    error : what it steers away, positive on the light side
    wanted_left, wanted_right : powers as the law wants them
    left, right : powers as the motors take them
    rule : the number of the law's rule that decided; NO_RULE in a leg that does not follow the line
    stopped : whether one of the program's own rules tells it to stop, or its trip is done
    """
    reading, second = reading_of(c.first, raw_output), reading_of(c.second, second_raw_output)
    value, error = value_and_error(c, reading, second)
    if c.leg_count == 0:
        rule, wanted_left, wanted_right = decide(c, memory, value)
    else:
        rule, wanted_left, wanted_right = decide_on_trip(
            c, memory, trip, value, reading, second, time, left_rolled, right_rolled, at_finish
        )
    stopped = trip.done == 1 or (
        (c.stop_time > 0.0 and time >= c.stop_time - 1e-9)
        or (c.stop_distance > 0.0 and 0.5 * (left_rolled + right_rolled) >= c.stop_distance)
        or (c.stop_reading > 0.0 and reading >= c.stop_reading)
    )
    left, right = limited(c, wanted_left), limited(c, wanted_right)
    return reading, second, error, wanted_left, wanted_right, left, right, rule, stopped


@unfused_inlined
def reading_of(reader, raw_output):
    """What the program reads when a sensor gives this."""
    if reader.gives_names:
        return reader.name_reads_as[int(raw_output)]
    raw = min(raw_output * reader.raw_per_output, 100.0)
    if reader.calibrate:
        return min(max(100.0 * (raw - reader.dark) / (reader.bright - reader.dark), 0.0), 100.0)
    return raw


@unfused
def decide_on_trip(c, memory, trip, value, reading, second, time, left_rolled, right_rolled, at_finish):
    """As `decide`, by the leg that is driven, or begins."""
    if follow_trip(c, trip, reading, second, time, left_rolled, right_rolled, at_finish):
        memory[:] = 0.0
    leg = c.legs[trip.leg]
    if trip.done == 1 or trip.braking == 1 or leg.kind != FOLLOW:
        memory[P_SHARE] = memory[I_SHARE] = memory[D_SHARE] = 0.0
        if trip.done == 1 or trip.braking == 1:
            return NO_RULE, 0.0, 0.0
        left, right = leg_powers(leg, trip, seen_by(leg, reading, second), left_rolled, right_rolled)
        return NO_RULE, left, right
    share = ramp(leg, trip)
    return steered(c, memory, value, leg.speed * share, leg.scale * share, leg.steer_sign)


@unfused_inlined
def decide(c, memory, value):
    """The rule that decides on a value, and the wanted powers (left, right), not yet limited."""
    return steered(c, memory, value, c.speed, 1.0, c.steer_sign)


@unfused_inlined
def steered(c, memory, value, speed, scale, steer_sign):
    """What the law decides: at a speed if it gives a steer, its own powers by a scale if it gives powers."""
    memory[P_SHARE] = memory[I_SHARE] = memory[D_SHARE] = 0.0
    rule, one, other = law_step(c, value, memory)
    if c.gives_powers:
        one, other = scale * one, scale * other
        return (rule, one, other) if steer_sign > 0.0 else (rule, other, one)
    speed = speed * (1.0 - c.ease_off * min(1.0, abs(value - c.target) / HALF_SPAN))
    left, right = _mixed_powers(c.mixing, speed, steer_sign * one)
    return rule, left, right


@unfused_inlined
def limited(c, power):
    """A power as the motor driver takes it: within -100..100, in whole steps."""
    power = min(max(power, -100.0), 100.0)
    return min(max(c.power_step * round_half_away(power / c.power_step), -100.0), 100.0)


@unfused_inlined
def round_half_away(value):
    """Nearest whole number, halves away from zero."""
    return np.floor(value + 0.5) if value >= 0.0 else np.ceil(value - 0.5)
