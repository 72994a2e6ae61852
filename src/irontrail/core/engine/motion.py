"""Compiled: how powers move the robot."""

import numpy as np
from numba import njit

from irontrail.core.engine.sensing import round_half_away

GRAVITY_MM_S2 = 9810.0
# A wheel whose rim and ground speed differ by more than this is skidding.
SKID_MM_S = 5.0
# The robot is at rest below this speed, or after this long.
REST_MM_S = 1.0
REST_S = 5.0

# Rows of the moving state.
S_X, S_Y, S_HEADING, S_LEFT_RIM, S_RIGHT_RIM, S_LEFT, S_RIGHT, S_SKID, S_RIM_ROLLED, S_SLIDE = range(10)
STATE_SIZE = 10


@njit(cache=True, nogil=True)
def limited(p, power):
    """A power as the motor driver takes it: within -100..100, in whole steps."""
    power = min(max(power, -100.0), 100.0)
    return min(max(p.power_step * round_half_away(power / p.power_step), -100.0), 100.0)


@njit(cache=True, nogil=True)
def turned(c, s, angle):
    """The direction (c, s) turned left by a small angle.

    The series is cut where its next term is below 1e-14 for the 0.1 rad that half a step can turn at most.
    """
    square = angle * angle
    sine = angle * (1.0 - square / 6.0 * (1.0 - square / 20.0 * (1.0 - square / 42.0)))
    cosine = 1.0 - 0.5 * square * (1.0 - square / 12.0 * (1.0 - square / 30.0 * (1.0 - square / 56.0)))
    return c * cosine - s * sine, s * cosine + c * sine


@njit(cache=True, nogil=True)
def wheel_step(rim, ground, target, response, most):
    """One step of a wheel: its rim follows the motor, the ground speed follows the rim as far as grip allows."""
    rim += (target - rim) * response
    ground += min(max(rim - ground, -most), most)
    return rim, ground


@njit(cache=True, nogil=True)
def drive(p, state, left_target, right_target, steps, dt, trail_x, trail_y, newest):
    """Advance the robot by some steps of dt at constant wheel targets.

    Heading by the midpoint rule, speeds by the mean of a step's two ends: with the speed at the end alone the
    robot would be half a step ahead of itself, and rock a percent less.
    Stores where the sensor is after each step in the ring `trail_x`, `trail_y`; returns the ring's newest place
    and the distance that the axle's middle rolled.
    """
    response = 1.0 - np.exp(-dt / p.response_time) if p.response_time > 0.0 else 1.0
    friction = p.grip * GRAVITY_MM_S2
    most, per_track, ahead, aside = friction * dt, 1.0 / p.track_width, p.ahead, p.aside
    x, y, heading = state[S_X], state[S_Y], state[S_HEADING]
    left_rim, right_rim, left, right = state[S_LEFT_RIM], state[S_RIGHT_RIM], state[S_LEFT], state[S_RIGHT]
    c, s = np.cos(heading), np.sin(heading)
    skid, rolled, rim_rolled, slide, size = 0.0, 0.0, 0.0, 0.0, trail_x.size
    for _ in range(steps):
        left_before, right_before = left, right
        left_rim, left = wheel_step(left_rim, left, left_target, response, most)
        right_rim, right = wheel_step(right_rim, right, right_target, response, most)
        slip_left, slip_right = abs(left_rim - left), abs(right_rim - right)
        skid += (slip_left if slip_left > SKID_MM_S else 0.0) + (slip_right if slip_right > SKID_MM_S else 0.0)
        left_mean, right_mean = 0.5 * (left_before + left), 0.5 * (right_before + right)
        v, turn = 0.5 * (left_mean + right_mean), (right_mean - left_mean) * per_track
        if abs(v * turn) > friction:
            held = friction / abs(v)
            slide += abs(turn) - held
            turn = held if turn > 0.0 else -held
        half = 0.5 * turn * dt
        c, s = turned(c, s, half)
        x += v * c * dt
        y += v * s * dt
        c, s = turned(c, s, half)
        heading += turn * dt
        rolled += abs(v) * dt
        rim_rolled += 0.5 * (left_rim + right_rim) * dt
        newest += 1
        if newest == size:
            newest = 0
        trail_x[newest], trail_y[newest] = x + ahead * c - aside * s, y + ahead * s + aside * c
    state[S_X], state[S_Y], state[S_HEADING] = x, y, heading
    state[S_LEFT_RIM], state[S_RIGHT_RIM], state[S_LEFT], state[S_RIGHT] = left_rim, right_rim, left, right
    state[S_SKID] += 0.5 * skid * dt
    state[S_RIM_ROLLED] += rim_rolled
    state[S_SLIDE] += slide * dt
    return newest, rolled


@njit(cache=True, nogil=True)
def wheel_target(p, power, top):
    """Rim speed that a power leads to; nothing inside the dead band."""
    return top * power / 100.0 if abs(power) >= p.dead_band else 0.0


@njit(cache=True, nogil=True)
def sensor_place(p, state):
    """Where the sensor is over the mat."""
    c, s = np.cos(state[S_HEADING]), np.sin(state[S_HEADING])
    return state[S_X] + p.ahead * c - p.aside * s, state[S_Y] + p.ahead * s + p.aside * c


@njit(cache=True, nogil=True)
def coast(p, state, dt, trail_x, trail_y):
    """Both powers off until the robot rests; the distance it rolls and where its sensor comes to rest."""
    rolled, newest = 0.0, 0
    for _ in range(int(REST_S / dt)):
        if max(abs(state[S_LEFT]), abs(state[S_RIGHT])) <= REST_MM_S:
            break
        newest, more = drive(p, state, 0.0, 0.0, 1, dt, trail_x, trail_y, newest)
        rolled += more
    return rolled, trail_x[newest], trail_y[newest]
