"""Compiled: how two powers move the robot, exactly between two commands.

At constant powers a wheel's rim follows w* + (w0 - w*) exp(-t / tau); while no wheel slips, speed and turn rate are
each a constant plus that one exponential, the heading has a closed form, and the way is an integral over little
turning, which three Gauss-Legendre nodes give to far below a micrometre. An interval in which a wheel might slip is
driven in steps of at most MAX_STEP_S.
"""

import numpy as np

from irontrail.core.compiled import compiled, inlined

GRAVITY_MM_S2 = 9810.0
# A wheel whose rim and ground speed differ by more than this is skidding.
SKID_MM_S = 5.0
# The robot is at rest below this speed, or after this long.
REST_MM_S = 1.0
REST_S = 5.0
# The longest step where a wheel might slip.
MAX_STEP_S = 0.001
# An integral goes over at most so much turning (rad) and so large a share of the response time at once.
PANEL_RAD = 0.25
PANEL_SHARE = 0.5
# What slips less than this is left of a rim's exponential after so many panels.
MOST_DECAY_PANELS = 8.0
# Nodes and weights of the three-point rule on 0..1.
NODES = (0.5 - np.sqrt(0.15), 0.5, 0.5 + np.sqrt(0.15))
OUTER_WEIGHT, MIDDLE_WEIGHT = 5.0 / 18.0, 8.0 / 18.0

# `friction` is the acceleration that the grip allows, `per_track` one over the track width.
PLANT = np.dtype(
    [(name, "f8") for name in ("per_track", "left_top", "right_top", "response_time", "dead_band", "friction")]
    + [(name, "f8") for name in ("ahead", "aside", "max_step")]
)
# `cos` and `sin` are those of the heading; rims are the wheels' own speeds, left and right those over the mat.
PLANT_STATE = np.dtype(
    [(name, "f8") for name in ("x", "y", "heading", "cos", "sin", "left_rim", "right_rim", "left", "right")]
    + [(name, "f8") for name in ("left_rolled", "right_rolled", "rolled", "skid", "slide")]
)
# An interval of one length, made ready: panels and their decay, and the steps for when a wheel might slip.
STRIDE = np.dtype(
    [("length", "f8"), ("panels", "i8"), ("panel", "f8")]
    + [(name, "f8") for name in ("first", "middle", "last", "whole", "step", "response")]
    + [("steps", "i8")]
)


@compiled
def make_stride(p, stride, length):
    """Make a stride ready for `plant_step`: an interval of `length` seconds."""
    tau = p.response_time
    turning = (abs(p.left_top) + abs(p.right_top)) * p.per_track * length
    panels = np.ceil(turning / PANEL_RAD)
    if tau > 0.0:
        panels = max(panels, min(np.ceil(length / (PANEL_SHARE * tau)), MOST_DECAY_PANELS))
    stride.length, stride.panels = length, max(int(panels), 1)
    stride.panel = length / stride.panels
    stride.first, stride.middle, stride.last, stride.whole = 0.0, 0.0, 0.0, 0.0
    if tau > 0.0:
        stride.first, stride.middle = np.exp(-NODES[0] * stride.panel / tau), np.exp(-NODES[1] * stride.panel / tau)
        stride.last, stride.whole = np.exp(-NODES[2] * stride.panel / tau), np.exp(-stride.panel / tau)
    stride.steps = max(1, int(np.ceil(length / p.max_step - 1e-9)))
    stride.step = length / stride.steps
    stride.response = 1.0 - np.exp(-stride.step / tau) if tau > 0.0 else 1.0


@compiled
def stand(state, x, y, heading):
    """Set the robot down at rest, nothing rolled yet."""
    put_down(state, x, y, heading)
    state.left_rim, state.right_rim, state.left, state.right = 0.0, 0.0, 0.0, 0.0
    state.left_rolled, state.right_rolled, state.rolled, state.skid, state.slide = 0.0, 0.0, 0.0, 0.0, 0.0


@compiled
def put_down(state, x, y, heading):
    """Set the robot down somewhere, its wheels turning as they did."""
    state.x, state.y, state.heading = x, y, heading
    state.cos, state.sin = np.cos(heading), np.sin(heading)


@inlined
def plant_step(p, stride, state, left_power, right_power):
    """Advance the robot by a stride at constant powers."""
    left_target, right_target = wheel_target(p, left_power, p.left_top), wheel_target(p, right_power, p.right_top)
    if grips(p, stride, state, left_target, right_target):
        roll(p, stride, state, left_target, right_target)
    else:
        slip(p, stride, state, left_target, right_target)


@inlined
def wheel_target(p, power, top):
    """Rim speed that a power leads to; nothing inside the dead band."""
    return top * power / 100.0 if abs(power) >= p.dead_band else 0.0


@inlined
def grips(p, stride, state, left_target, right_target):
    """Whether no wheel can slip over a stride: speeds are monotone in it, so that its two ends tell."""
    if state.left_rim != state.left or state.right_rim != state.right:
        return False
    left_off, right_off = state.left_rim - left_target, state.right_rim - right_target
    if max(abs(left_off), abs(right_off)) > p.friction * p.response_time:
        return False
    decay = stride.whole
    for _ in range(stride.panels - 1):
        decay *= stride.whole
    left_end, right_end = left_target + left_off * decay, right_target + right_off * decay
    fastest = 0.5 * max(abs(state.left + state.right), abs(left_end + right_end))
    turning = max(abs(state.right - state.left), abs(right_end - left_end)) * p.per_track
    return fastest * turning <= p.friction


@inlined
def roll(p, stride, state, left_target, right_target):
    """A stride without slip, in closed form but for the way's integral."""
    per_track, tau, h = p.per_track, p.response_time, stride.panel
    x, y, heading, c, s = state.x, state.y, state.heading, state.cos, state.sin
    left_off, right_off = state.left_rim - left_target, state.right_rim - right_target
    v, turn = 0.5 * (left_target + right_target), (right_target - left_target) * per_track
    rolled_off = tau * (1.0 - stride.whole)
    for _ in range(stride.panels):
        v_off, turn_off = 0.5 * (left_off + right_off), (right_off - left_off) * per_track
        swung = tau * turn_off
        c1, s1 = small_turn(turn * NODES[0] * h + swung * (1.0 - stride.first))
        c2, s2 = small_turn(turn * NODES[1] * h + swung * (1.0 - stride.middle))
        c3, s3 = small_turn(turn * NODES[2] * h + swung * (1.0 - stride.last))
        v1, v3 = OUTER_WEIGHT * (v + v_off * stride.first), OUTER_WEIGHT * (v + v_off * stride.last)
        v2 = MIDDLE_WEIGHT * (v + v_off * stride.middle)
        # Ahead and to the left of where it headed; then as the mat has it.
        ahead, aside = h * (v1 * c1 + v2 * c2 + v3 * c3), h * (v1 * s1 + v2 * s2 + v3 * s3)
        x += ahead * c - aside * s
        y += ahead * s + aside * c
        angle = turn * h + swung * (1.0 - stride.whole)
        heading += angle
        c, s = turned(c, s, angle)
        state.left_rolled += left_target * h + left_off * rolled_off
        state.right_rolled += right_target * h + right_off * rolled_off
        way = v * h + v_off * rolled_off
        if (v + v_off) * (v + v_off * stride.whole) < 0.0:
            # Forth and back: the way to where it turns round counts twice.
            to_turn = -tau * np.log(-v / v_off)
            state.rolled += abs(2.0 * (v * to_turn + v_off * tau * (1.0 + v / v_off)) - way)
        else:
            state.rolled += abs(way)
        left_off *= stride.whole
        right_off *= stride.whole
    state.x, state.y, state.heading, state.cos, state.sin = x, y, heading, c, s
    state.left_rim = state.left = left_target + left_off
    state.right_rim = state.right = right_target + right_off


@compiled
def slip(p, stride, state, left_target, right_target):
    """A stride in which a wheel might slip, in equal small steps.

    Heading by the midpoint rule, speeds by the mean of a step's two ends: with the speed at the end alone the robot
    would be half a step ahead of itself.
    """
    dt, per_track, friction = stride.step, p.per_track, p.friction
    most = friction * dt
    x, y, heading = state.x, state.y, state.heading
    left_rim, right_rim, left, right = state.left_rim, state.right_rim, state.left, state.right
    c, s = np.cos(heading), np.sin(heading)
    for _ in range(stride.steps):
        left_before, right_before = left, right
        left_rim_before, right_rim_before = left_rim, right_rim
        left_rim, left = wheel_step(left_rim, left, left_target, stride.response, most)
        right_rim, right = wheel_step(right_rim, right, right_target, stride.response, most)
        slip_left, slip_right = abs(left_rim - left), abs(right_rim - right)
        skid = (slip_left if slip_left > SKID_MM_S else 0.0) + (slip_right if slip_right > SKID_MM_S else 0.0)
        left_mean, right_mean = 0.5 * (left_before + left), 0.5 * (right_before + right)
        v, turn = 0.5 * (left_mean + right_mean), (right_mean - left_mean) * per_track
        if abs(v * turn) > friction:
            held = friction / abs(v)
            state.slide += (abs(turn) - held) * dt
            turn = held if turn > 0.0 else -held
        half = 0.5 * turn * dt
        c, s = turned(c, s, half)
        x += v * c * dt
        y += v * s * dt
        c, s = turned(c, s, half)
        heading += turn * dt
        state.skid += 0.5 * skid * dt
        state.rolled += abs(v) * dt
        state.left_rolled += 0.5 * (left_rim_before + left_rim) * dt
        state.right_rolled += 0.5 * (right_rim_before + right_rim) * dt
    state.x, state.y, state.heading, state.cos, state.sin = x, y, heading, c, s
    state.left_rim, state.right_rim, state.left, state.right = left_rim, right_rim, left, right


@compiled
def wheel_step(rim, ground, target, response, most):
    """One step of a wheel: its rim follows the motor, the ground speed follows the rim as far as grip allows."""
    rim += (target - rim) * response
    away = rim - ground
    # The very same speed where it grips, so that what follows can be driven exactly.
    return rim, rim if abs(away) <= most else ground + (most if away > 0.0 else -most)


@inlined
def small_turn(angle):
    """Cosine and sine of a small angle.

    The series is cut where its next term is below 1e-14 for a quarter of a radian.
    """
    square = angle * angle
    cosine = 1.0 - square * (
        1 / 2 - square * (1 / 24 - square * (1 / 720 - square * (1 / 40320 - square * (1 / 3628800))))
    )
    sine = angle * (1.0 - square * (1 / 6 - square * (1 / 120 - square * (1 / 5040 - square * (1 / 362880)))))
    return cosine, sine


@inlined
def turned(c, s, angle):
    """The direction (c, s) turned left by a small angle."""
    cosine, sine = small_turn(angle)
    return c * cosine - s * sine, s * cosine + c * sine


@inlined
def point_of(p, state):
    """Where the sensor is over the mat."""
    return state.x + p.ahead * state.cos - p.aside * state.sin, state.y + p.ahead * state.sin + p.aside * state.cos


@compiled
def coast(p, stride, state):
    """Both powers off until the robot rests; the distance that the axle's middle rolls."""
    before = state.rolled
    make_stride(p, stride, p.max_step)
    for _ in range(int(REST_S / p.max_step)):
        if max(abs(state.left), abs(state.right)) <= REST_MM_S:
            break
        plant_step(p, stride, state, 0.0, 0.0)
    return state.rolled - before


@compiled
def drive(parameters, powers, interval, strides, states):
    """Drive from rest at the origin along x by powers alone.

    Parameters
    ----------
    parameters : ndarray of PLANT, shape (1,)
    powers : ndarray, shape (n, 2)
    interval : float
        Seconds that each pair holds.
    strides : ndarray of STRIDE, shape (1,)
    states : ndarray of PLANT_STATE, shape (n + 1,)
        Filled in: the whole state before and after each.
    """
    p, stride, state = parameters[0], strides[0], states[0]
    make_stride(p, stride, interval)
    stand(state, 0.0, 0.0, 0.0)
    for i in range(powers.shape[0]):
        states[i + 1] = states[i]
        plant_step(p, stride, states[i + 1], powers[i, 0], powers[i, 1])
