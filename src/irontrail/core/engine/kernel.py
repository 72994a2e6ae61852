"""The compiled engine: one run from start to rest.

Each loop of the program reads the light as it was `delay` ago, decides, and sets both powers, which hold for the
whole loop; in between, wheels and pose advance in equal steps no longer than `max_step`. The equations are those
of docs/model.md. Plain arrays in, plain arrays out; nothing here allocates per step, and the interpreter's lock is
released, so that runs can share the machine's cores.
"""

import numpy as np
from numba import njit

from irontrail.core.engine.laws import decide

# Codes of how a run ended, in the order of OUTCOMES in run.py.
RUNNING, FINISHED, OFF_MAT, LOST, STUCK, TIME_OUT = range(6)

GRAVITY_MM_S2 = 9810.0
# A wheel whose rim and ground speed differ by more than this is skidding.
SKID_MM_S = 5.0
# Progress that shows that the robot is not stuck.
STIR_MM = 5.0
# The sensor is looked for on the route within this distance along it from where it was a loop ago.
SEARCH_MM = 60.0
# The robot is at rest below this speed, or after this long.
REST_MM_S = 1.0
REST_S = 5.0

# Rows of the trace, in the order of result.COLUMNS.
(TIME, X, Y, HEADING, READING, ERROR, STEER, LEFT, RIGHT, LEFT_SPEED, RIGHT_SPEED,
 PROGRESS, EDGE, SIDE, ANGLE, CLIPPED) = range(16)  # fmt: skip

# Rows of the summary.
OUTCOME, END_TIME, ROWS, SKID, COAST, REST_X, REST_Y, REST_HEADING, END_ANGLE = range(9)
SUMMARY_SIZE = 9

# Rows of the moving state.
S_X, S_Y, S_HEADING, S_LEFT_RIM, S_RIGHT_RIM, S_LEFT, S_RIGHT, S_SKID = range(8)


@njit(cache=True, nogil=True)
def round_half_away(value):
    """Nearest whole number, halves away from zero."""
    return np.floor(value + 0.5) if value >= 0.0 else np.ceil(value - 0.5)


@njit(cache=True, nogil=True)
def next_random(state):
    """One step of splitmix64 (Steele, Lea and Flood 2014): the new state and a uniform number in (0, 1)."""
    state = state + np.uint64(0x9E3779B97F4A7C15)
    z = state
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return state, (np.float64(z >> np.uint64(11)) + 0.5) / 9007199254740992.0


@njit(cache=True, nogil=True)
def next_normal(state):
    """The new state and a standard normal number (Box and Muller 1958)."""
    state, first = next_random(state)
    state, second = next_random(state)
    return state, np.sqrt(-2.0 * np.log(first)) * np.cos(2.0 * np.pi * second)


@njit(cache=True, nogil=True)
def field_at(field, x, y):
    """Bilinear value of a field at a point in pixels; pixel centres lie at halves, the rim is held."""
    rows, columns = field.shape
    px = min(max(x - 0.5, 0.0), columns - 1.000001)
    py = min(max(y - 0.5, 0.0), rows - 1.000001)
    i, j = int(px), int(py)
    fx, fy = px - i, py - j
    low = field[j, i] * (1.0 - fx) + field[j, i + 1] * fx
    high = field[j + 1, i] * (1.0 - fx) + field[j + 1, i + 1] * fx
    return low * (1.0 - fy) + high * fy


@njit(cache=True, nogil=True)
def nearest_on_segment(x0, y0, x1, y1, x, y):
    """Share 0..1 along the segment of the point nearest to (x, y), and the distance, left positive."""
    dx, dy = x1 - x0, y1 - y0
    length2 = dx * dx + dy * dy
    share = ((x - x0) * dx + (y - y0) * dy) / length2
    share = min(max(share, 0.0), 1.0)
    off_x, off_y = x - x0 - share * dx, y - y0 - share * dy
    distance = np.sqrt(off_x * off_x + off_y * off_y)
    return share, distance if dx * (y - y0) - dy * (x - x0) >= 0.0 else -distance


@njit(cache=True, nogil=True)
def find_on_route(p, route_x, route_y, s, x, y):
    """Where a point lies along the route, near arc length s, and how far to its left.

    Looks SEARCH_MM either way, so that a robot that cuts a corner, or passes close to another part of the line,
    is found on the part it is following. On a closed route s goes on past the route's length.
    """
    segments = route_x.size - 1
    first = int(np.floor((s - SEARCH_MM) / p.route_step))
    last = int(np.floor((s + SEARCH_MM) / p.route_step)) + 1
    turns = 0
    if p.closed:
        turns = first // segments
    else:
        first, last = max(first, 0), min(last, segments)
    i = first - turns * segments
    nearest, nearest2 = first, np.inf
    for n in range(first, last + 1):
        dx, dy = x - route_x[i], y - route_y[i]
        distance2 = dx * dx + dy * dy
        if distance2 < nearest2:
            nearest, nearest2 = n, distance2
        i += 1
        if i > segments:
            i = 1
    best_s, best = s, np.inf
    for n in range(nearest - 1, nearest + 1):
        if p.closed:
            i = n % segments
        elif n < 0 or n >= segments:
            continue
        else:
            i = n
        share, distance = nearest_on_segment(route_x[i], route_y[i], route_x[i + 1], route_y[i + 1], x, y)
        if abs(distance) < abs(best):
            best, best_s = distance, (n + share) * p.route_step
    return best_s, best


@njit(cache=True, nogil=True)
def route_heading_at(p, route_heading, s):
    """Direction of the route at an arc length."""
    segments = route_heading.size - 1
    n = int(np.floor(s / p.route_step))
    i = n % segments if p.closed else min(max(n, 0), segments - 1)
    share = min(max(s / p.route_step - n, 0.0), 1.0)
    step = route_heading[i + 1] - route_heading[i]
    if abs(step) > 0.2:  # a corner: no direction in between
        return route_heading[i] if share < 0.5 else route_heading[i + 1]
    return route_heading[i] + share * step


@njit(cache=True, nogil=True)
def wrapped(angle):
    """The same direction within -pi..pi."""
    return angle - 2.0 * np.pi * np.floor((angle + np.pi) / (2.0 * np.pi))


@njit(cache=True, nogil=True)
def reading_of(p, level, normal):
    """The calibrated reading of a level in raw percent: noise, range, rounding, calibration."""
    raw = min(max(level + p.noise * normal, 0.0), 100.0)
    if p.reading_step > 0.0:
        raw = p.reading_step * round_half_away(raw / p.reading_step)
    reading = 100.0 * (raw - p.dark) / (p.bright - p.dark)
    return min(max(reading, 0.0), 100.0)


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
    skid, rolled, size = 0.0, 0.0, trail_x.size
    for _ in range(steps):
        left_before, right_before = left, right
        left_rim, left = wheel_step(left_rim, left, left_target, response, most)
        right_rim, right = wheel_step(right_rim, right, right_target, response, most)
        slip_left, slip_right = abs(left_rim - left), abs(right_rim - right)
        skid += (slip_left if slip_left > SKID_MM_S else 0.0) + (slip_right if slip_right > SKID_MM_S else 0.0)
        left_mean, right_mean = 0.5 * (left_before + left), 0.5 * (right_before + right)
        v, turn = 0.5 * (left_mean + right_mean), (right_mean - left_mean) * per_track
        if abs(v * turn) > friction:
            turn = friction / abs(v) if turn > 0.0 else -friction / abs(v)
        half = 0.5 * turn * dt
        c, s = turned(c, s, half)
        x += v * c * dt
        y += v * s * dt
        c, s = turned(c, s, half)
        heading += turn * dt
        rolled += abs(v) * dt
        newest += 1
        if newest == size:
            newest = 0
        trail_x[newest], trail_y[newest] = x + ahead * c - aside * s, y + ahead * s + aside * c
    state[S_X], state[S_Y], state[S_HEADING] = x, y, heading
    state[S_LEFT_RIM], state[S_RIGHT_RIM], state[S_LEFT], state[S_RIGHT] = left_rim, right_rim, left, right
    state[S_SKID] += 0.5 * skid * dt
    return newest, rolled


@njit(cache=True, nogil=True)
def wheel_target(p, power, top):
    """Rim speed that a power leads to; nothing inside the dead band."""
    return top * power / 100.0 if abs(power) >= p.dead_band else 0.0


@njit(cache=True, nogil=True)
def outcome_at(p, x, y, s, edge, time, stirred):
    """How the run stands with the sensor at (x, y), arc length s, and `edge` from its edge."""
    if x < 0.0 or y < 0.0 or x > p.mat_width or y > p.mat_height:
        return OFF_MAT
    if abs(edge) > p.lost_distance:
        return LOST
    if s >= p.finish:
        return FINISHED
    if time - stirred >= p.stuck_time:
        return STUCK
    if time >= p.time_limit - 1e-9:
        return TIME_OUT
    return RUNNING


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


@njit(cache=True, nogil=True)
def delayed_level(p, field, trail_x, trail_y, newest, age):
    """The level, in raw percent, where the sensor was `age` steps ago (between steps: in proportion)."""
    size = trail_x.size
    whole = int(age)
    part = age - whole
    near, far = (newest - whole) % size, (newest - whole - 1) % size
    x = trail_x[near] * (1.0 - part) + trail_x[far] * part
    y = trail_y[near] * (1.0 - part) + trail_y[far] * part
    return p.level_per_field * field_at(field, x / p.mm_per_px, y / p.mm_per_px) + p.dark_level


@njit(cache=True, nogil=True)
def simulate(parameters, field, route_x, route_y, route_heading, trace, summary):
    """One run; fills `trace` (columns, rows) and `summary`.

    Parameters
    ----------
    parameters : ndarray of pack.PARAMETERS, shape (1,)
    field : ndarray, shape (rows, columns), float32
    route_x, route_y, route_heading : ndarray, shape (n,)
    trace : ndarray, shape (16, max_rows)
    summary : ndarray, shape (9,)
    """
    p = parameters[0]
    steps = max(1, int(np.ceil(p.loop_time / p.max_step - 1e-9)))
    dt = p.loop_time / steps
    state = np.zeros(8)
    state[S_X], state[S_Y], state[S_HEADING] = p.start_x, p.start_y, p.start_heading
    x, y = sensor_place(p, state)
    age = p.delay / dt
    trail_x, trail_y, newest = np.full(int(age) + 2, x), np.full(int(age) + 2, y), 0

    random = np.uint64(p.seed)
    s, before_s, stirred_s, stirred = p.start_s, p.start_s, p.start_s, 0.0
    outcome, time, row = RUNNING, 0.0, 0
    while True:
        time = row * p.loop_time
        x, y = trail_x[newest], trail_y[newest]
        s, left_of = find_on_route(p, route_x, route_y, s, x, y)
        edge = p.edge_sign * left_of - p.half_tape
        if s - stirred_s >= STIR_MM:
            stirred, stirred_s = time, s
        outcome = outcome_at(p, x, y, s, edge, time, stirred)

        level = delayed_level(p, field, trail_x, trail_y, newest, age)
        random, normal = next_normal(random)
        reading = reading_of(p, level, normal)
        wanted_left, wanted_right = decide(p, reading)
        left, right = limited(p, wanted_left), limited(p, wanted_right)

        trace[TIME, row] = time
        trace[X, row], trace[Y, row], trace[HEADING, row] = state[S_X], state[S_Y], state[S_HEADING]
        trace[READING, row], trace[ERROR, row] = reading, reading - p.target
        trace[STEER, row] = 0.5 * (wanted_left - wanted_right)
        trace[LEFT, row], trace[RIGHT, row] = left, right
        trace[LEFT_SPEED, row], trace[RIGHT_SPEED, row] = state[S_LEFT], state[S_RIGHT]
        trace[PROGRESS, row], trace[EDGE, row] = s - p.start_s, edge
        trace[SIDE, row] = 1.0 if reading >= p.target else 0.0
        trace[ANGLE, row] = wrapped(state[S_HEADING] - route_heading_at(p, route_heading, s))
        trace[CLIPPED, row] = 1.0 if max(abs(wanted_left), abs(wanted_right)) > 100.0 else 0.0
        row += 1
        if outcome != RUNNING or row >= trace.shape[1]:
            break

        before_s = s
        left_target = wheel_target(p, left, p.left_top)
        right_target = wheel_target(p, right, p.right_top)
        newest, _ = drive(p, state, left_target, right_target, steps, dt, trail_x, trail_y, newest)

    if outcome == RUNNING:
        outcome = TIME_OUT
    if outcome == FINISHED and s > before_s:
        time -= p.loop_time * (s - p.finish) / (s - before_s)
    summary[OUTCOME], summary[END_TIME], summary[ROWS], summary[SKID] = outcome, time, row, state[S_SKID]
    summary[COAST], x, y = coast(p, state, dt, np.full(2, x), np.full(2, y))
    summary[REST_X], summary[REST_Y], summary[REST_HEADING] = state[S_X], state[S_Y], state[S_HEADING]
    s, _ = find_on_route(p, route_x, route_y, s, x, y)
    summary[END_ANGLE] = wrapped(state[S_HEADING] - route_heading_at(p, route_heading, s))
