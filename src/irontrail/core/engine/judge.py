"""Compiled: how a run stands, from where the sensor is; it knows neither powers nor law."""

import numpy as np

from irontrail.core.compiled import compiled, inlined
from irontrail.core.engine.place import PLACE, find_on_route, nearest_place, place_at
from irontrail.core.mat.zones import ROUND_SHARE

# Codes of how a run stands, in the order of OUTCOMES in run.py, the first being that it goes on.
RUNNING, FINISHED, OFF_MAT, LOST, STUCK, TIME_OUT, STOPPED = range(7)
# Progress that shows that the robot is not stuck.
STIR_MM = 5.0
# A line shorter than its own finish is driven to its very end; within this of it.
END_MM = 1.0

JUDGE = np.dtype(
    [
        (name, "f8")
        for name in (
            "route_step", "half_tape", "edge_sign", "mat_width", "mat_height", "finish", "finish_x", "finish_y",
            "finish_cos", "finish_sin", "finish_half_width", "finish_half_height", "start_s", "time_limit",
            "lost_distance", "stuck_time",
        )
    ]
    + [(name, "i8") for name in ("closed", "has_zone", "rounds")]
)  # fmt: skip
# `place` is where the sensor is on the route, `edge` how far off its edge; `seen` is when it was last looked at,
# `arrived` when it came to its finish, infinite if it has not.
JUDGE_STATE = np.dtype(
    [("place", PLACE)]
    + [(name, "f8") for name in ("x", "y", "edge", "stirred", "stirred_s", "round_s", "arrived", "seen")]
    + [("visits", "i8")]
)


@compiled
def begin(p, state, x, y, route_x, route_y, reach):
    """The robot has been set down with its sensor at (x, y)."""
    state.stirred, state.stirred_s, state.round_s = 0.0, p.start_s, p.start_s
    state.arrived, state.seen, state.visits = np.inf, 0.0, 0
    state.x, state.y = x, y
    place_at(p, state.place, route_x, p.start_s)
    see(p, state, x, y, route_x, route_y, reach)


@compiled
def set_back(p, state, x, y, time, route_x, route_y, reach):
    """A hand has put the sensor to (x, y): it goes on from the place of the whole route nearest to there."""
    nearest_place(p, state.place, route_x, route_y, x, y)
    state.x, state.y, state.seen = x, y, time
    see(p, state, x, y, route_x, route_y, reach)
    state.stirred, state.stirred_s = time, state.place.s


@inlined
def see(p, state, x, y, route_x, route_y, reach):
    """Find the sensor on the route, and how far it is off its edge."""
    dx, dy = x - state.x, y - state.y
    moved = np.sqrt(dx * dx + dy * dy)
    find_on_route(p, state.place, route_x, route_y, reach, x, y, moved)
    state.edge = p.edge_sign * state.place.left - p.half_tape
    state.x, state.y = x, y


@inlined
def follow(p, state, x, y, time, route_x, route_y, reach):
    """The sensor has come to (x, y), driving straight from where it was seen before."""
    before_s, before_x, before_y = state.place.s, state.x, state.y
    see(p, state, x, y, route_x, route_y, reach)
    s = state.place.s
    if s - state.stirred_s >= STIR_MM:
        state.stirred, state.stirred_s = time, s
    share = np.inf
    if p.has_zone:
        share = entered(p, before_x, before_y, x, y)
        if share <= 1.0:
            round_mm = p.route_step * (route_x.size - 1)
            if not p.closed or s - state.round_s >= ROUND_SHARE * round_mm:
                state.visits, state.round_s = state.visits + 1, s
            if state.visits < p.rounds:
                share = np.inf
    elif s >= p.finish:
        share = min(max((p.finish - before_s) / (s - before_s), 0.0), 1.0) if s > before_s else 1.0
    if share < np.inf and state.arrived == np.inf:
        state.arrived = state.seen + share * (time - state.seen)
    state.seen = time


@compiled
def entered(p, from_x, from_y, to_x, to_y):
    """At which share of a straight way the finish zone is come into from outside; infinite if it is not."""
    enters, leaves, inside = 0.0, 1.0, True
    for turned in (False, True):
        c, s = (-p.finish_sin, p.finish_cos) if turned else (p.finish_cos, p.finish_sin)
        half = p.finish_half_height if turned else p.finish_half_width
        start = (from_x - p.finish_x) * c + (from_y - p.finish_y) * s
        way = (to_x - from_x) * c + (to_y - from_y) * s
        inside = inside and abs(start) <= half
        if way == 0.0:
            if abs(start) > half:
                return np.inf
        else:
            one, other = (-half - start) / way, (half - start) / way
            enters, leaves = max(enters, min(one, other)), min(leaves, max(one, other))
    return enters if enters <= leaves and not inside else np.inf


@inlined
def outcome_at(p, state, time):
    """How the run stands at a time."""
    if state.x < 0.0 or state.y < 0.0 or state.x > p.mat_width or state.y > p.mat_height:
        return OFF_MAT
    if abs(state.edge) > p.lost_distance:
        return LOST
    if state.arrived < np.inf:
        return FINISHED
    if time - state.stirred >= p.stuck_time:
        return STUCK
    if time >= p.time_limit - 1e-9:
        return TIME_OUT
    return RUNNING
