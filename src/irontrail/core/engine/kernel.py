"""The compiled engine: one run from start to rest.

Each loop of the program reads the light as it was `delay` ago, decides, and sets both powers, which hold for the
whole loop; in between, wheels and pose advance in equal steps no longer than `max_step`. The equations are those
of docs/model.md. Plain arrays in, plain arrays out; nothing here allocates per step, and the interpreter's lock is
released, so that runs can share the machine's cores.
"""

import numpy as np
from numba import njit

from irontrail.core.engine.laws import BANDS, D_TERM, I_TERM, MEMORY_SIZE, P_TERM, band_of, decide
from irontrail.core.engine.motion import (
    S_HEADING,
    S_LEFT,
    S_RIGHT,
    S_RIM_ROLLED,
    S_SKID,
    S_SLIDE,
    S_X,
    S_Y,
    STATE_SIZE,
    coast,
    drive,
    limited,
    sensor_place,
    wheel_target,
)
from irontrail.core.engine.place import find_on_route, nearest_place, route_heading_at, wrapped
from irontrail.core.engine.sensing import delayed_levels, lagged_levels, levels_at, read

# Codes of how a run ended, in the order of OUTCOMES in run.py.
RUNNING, FINISHED, OFF_MAT, LOST, STUCK, TIME_OUT, STOPPED = range(7)

# Progress that shows that the robot is not stuck.
STIR_MM = 5.0

# Rows of the trace, in the order of result.COLUMNS.
(TIME, X, Y, HEADING, READING, ERROR, STEER, LEFT, RIGHT, LEFT_SPEED, RIGHT_SPEED,
 PROGRESS, EDGE, SIDE, ANGLE, CLIPPED, SKIDDING, BAND, TERM_P, TERM_I, TERM_D, GIVEN, MARGIN) = range(23)  # fmt: skip

TRACE_ROWS = 23

# Rows of the summary.
OUTCOME, END_TIME, ROWS, SKID, COAST, REST_X, REST_Y, REST_HEADING, END_ANGLE, SLIDE = range(10)
SUMMARY_SIZE = 10


@njit(cache=True, nogil=True)
def stops_itself(p, time, rim_rolled, reading):
    """Whether one of the program's own rules, where there is one, tells it to stop."""
    return (
        (p.stop_time > 0.0 and time >= p.stop_time - 1e-9)
        or (p.stop_distance > 0.0 and rim_rolled >= p.stop_distance)
        or (p.stop_reading > 0.0 and reading >= p.stop_reading)
    )


@njit(cache=True, nogil=True)
def left_to_go(p, x, y, s):
    """How far the sensor is from the finish, in mm: from the zone, or along the route; 0 or less once there."""
    if not p.has_zone:
        return p.finish - s
    dx, dy = x - p.finish_x, y - p.finish_y
    across, up = abs(dx * p.finish_cos + dy * p.finish_sin), abs(dy * p.finish_cos - dx * p.finish_sin)
    return max(across - p.finish_half_width, up - p.finish_half_height)


@njit(cache=True, nogil=True)
def outcome_at(p, x, y, edge, arrived, time, stirred):
    """How the run stands with the sensor at (x, y), `edge` from its edge, arrived at its finish or not."""
    if x < 0.0 or y < 0.0 or x > p.mat_width or y > p.mat_height:
        return OFF_MAT
    if abs(edge) > p.lost_distance:
        return LOST
    if arrived:
        return FINISHED
    if time - stirred >= p.stuck_time:
        return STUCK
    if time >= p.time_limit - 1e-9:
        return TIME_OUT
    return RUNNING


@njit(cache=True, nogil=True)
def simulate(parameters, field, route_x, route_y, route_heading, trace, summary):
    """One run; fills `trace` (columns, rows) and `summary`.

    Parameters
    ----------
    parameters : ndarray of pack.PARAMETERS, shape (1,)
    field : ndarray, shape (channels, rows, columns), float32
    route_x, route_y, route_heading : ndarray, shape (n,)
    trace : ndarray, shape (23, max_rows)
    summary : ndarray, shape (10,)
    """
    p = parameters[0]
    steps = max(1, int(np.ceil(p.loop_time / p.max_step - 1e-9)))
    dt = p.loop_time / steps
    state, memory = np.zeros(STATE_SIZE), np.zeros(MEMORY_SIZE)
    state[S_X], state[S_Y], state[S_HEADING] = p.start_x, p.start_y, p.start_heading
    x, y = sensor_place(p, state)
    age = p.delay / dt
    between = steps * p.hold_loops
    size = int(age) + 2 + (between if p.lag > 0.0 else 0)
    trail_x, trail_y, newest = np.full(size, x), np.full(size, y), 0
    levels, lagged = np.empty(field.shape[0]), np.empty(field.shape[0])
    levels_at(p, field, x, y, lagged)
    lag_share = 1.0 - np.exp(-dt / p.lag) if p.lag > 0.0 else 1.0

    random = np.uint64(p.seed)
    s, stirred_s, stirred = p.start_s, p.start_s, 0.0
    # A zone is come into from outside; on a closed line each time round counts once.
    to_go, to_go_before, visits, visited_s = left_to_go(p, x, y, s), 0.0, 0, -np.inf
    lap = p.route_step * (route_x.size - 1) if p.closed else 0.0
    outcome, time, row, pulled = RUNNING, 0.0, 0, False
    given, reading, margin = 0.0, 0.0, 0.0
    wanted_left, wanted_right, left, right, skid = 0.0, 0.0, 0.0, 0.0, 0.0
    while True:
        time = row * p.loop_time
        if time >= p.pull_time and not pulled:
            pulled = True
            state[S_X], state[S_Y], state[S_HEADING] = p.pull_x, p.pull_y, p.pull_heading
            x, y = sensor_place(p, state)
            trail_x[:], trail_y[:] = x, y
            s = nearest_place(p, route_x, route_y, s, x, y)
        x, y = trail_x[newest], trail_y[newest]
        s, left_of = find_on_route(p, route_x, route_y, s, x, y)
        edge = p.edge_sign * left_of - p.half_tape
        if s - stirred_s >= STIR_MM:
            stirred, stirred_s = time, s
        to_go_before, to_go = to_go, left_to_go(p, x, y, s)
        arrived = to_go <= 0.0
        if p.has_zone:
            if arrived and to_go_before > 0.0 and s - visited_s >= 0.5 * lap:
                visits, visited_s = visits + 1, s
            arrived = visits >= p.zone_visits
        outcome = outcome_at(p, x, y, edge, arrived, time, stirred)

        if row % p.hold_loops == 0:
            if p.lag > 0.0:
                lagged_levels(p, field, trail_x, trail_y, newest, age, between, lag_share, levels, lagged)
                random, given, reading, margin = read(p, lagged, random)
            else:
                delayed_levels(p, field, trail_x, trail_y, newest, age, levels)
                random, given, reading, margin = read(p, levels, random)
            wanted_left, wanted_right = decide(p, reading, memory)
            left, right = limited(p, wanted_left), limited(p, wanted_right)
            if outcome == RUNNING and stops_itself(p, time, state[S_RIM_ROLLED], reading):
                outcome = STOPPED

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
        trace[SKIDDING, row] = 1.0 if state[S_SKID] > skid else 0.0
        trace[BAND, row] = band_of(p, reading) if p.law == BANDS else -1.0
        trace[TERM_P, row], trace[TERM_I, row] = p.light_turn * memory[P_TERM], p.light_turn * memory[I_TERM]
        trace[TERM_D, row] = p.light_turn * memory[D_TERM]
        trace[GIVEN, row], trace[MARGIN, row] = given, margin
        skid = state[S_SKID]
        row += 1
        if outcome != RUNNING or row >= trace.shape[1]:
            break

        left_target = wheel_target(p, left, p.left_top)
        right_target = wheel_target(p, right, p.right_top)
        newest, _ = drive(p, state, left_target, right_target, steps, dt, trail_x, trail_y, newest)

    if outcome == RUNNING:
        outcome = TIME_OUT
    if outcome == FINISHED and to_go_before > to_go:
        time -= p.loop_time * -to_go / (to_go_before - to_go)
    summary[OUTCOME], summary[END_TIME], summary[ROWS], summary[SKID] = outcome, time, row, state[S_SKID]
    summary[SLIDE] = state[S_SLIDE]
    summary[COAST], x, y = coast(p, state, dt, np.full(2, x), np.full(2, y))
    summary[REST_X], summary[REST_Y], summary[REST_HEADING] = state[S_X], state[S_Y], state[S_HEADING]
    s, _ = find_on_route(p, route_x, route_y, s, x, y)
    summary[END_ANGLE] = wrapped(state[S_HEADING] - route_heading_at(p, route_heading, s))
