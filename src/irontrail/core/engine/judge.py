"""Compiled: how a run stands, from where the sensor is; it knows neither powers nor law.

In a trip the line is met anew when a leg begins to follow it: the nearest of all lines, in whichever direction of it
the robot points. Only while it is followed can it be lost.
"""

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
# A line that points straight across is taken for so much farther away than one that points as the robot does.
ACROSS_MM = 60.0

# A line that may be followed, in one direction: where its points lie among those of all lines.
LINE = np.dtype(
    [(name, "i8") for name in ("first", "count", "closed")] + [(name, "f8") for name in ("route_step", "half_tape")]
)

JUDGE = np.dtype(
    [
        (name, "f8")
        for name in (
            "edge_sign", "mat_width", "mat_height", "finish", "finish_x", "finish_y", "finish_cos", "finish_sin",
            "finish_half_width", "finish_half_height", "start_s", "time_limit", "lost_distance", "stuck_time",
            "end_zone",
        )
    ]
    + [(name, "i8") for name in ("has_zone", "rounds")]
)  # fmt: skip
# `place` is where the sensor is on the line, `edge` how far off its edge; `seen` is when it was last looked at,
# `arrived` when it came to its finish, infinite if it has not. Of the line: its number, the edge that is followed,
# where it is finished if there is no zone, where it was met (`met_s`) and what had been driven along lines before
# (`driven_before`). `following`: it is being followed; `tracked`: the
# robot is on it still, braking or waiting; `whole`: at the finish the run is over.
JUDGE_STATE = np.dtype(
    [("place", PLACE)]
    + [(name, "f8") for name in ("x", "y", "edge", "stirred", "stirred_s", "round_s", "arrived", "seen")]
    + [(name, "f8") for name in ("edge_sign", "finish", "met_s", "driven_before")]
    + [(name, "i8") for name in ("visits", "line", "following", "tracked", "whole")]
)


@compiled
def begin(p, line, state, x, y, route_x, route_y, reach):
    """The robot has been set down with its sensor at (x, y)."""
    state.stirred, state.stirred_s, state.round_s = 0.0, p.start_s, p.start_s
    state.arrived, state.seen, state.visits = np.inf, 0.0, 0
    state.edge_sign, state.finish, state.met_s, state.driven_before = p.edge_sign, p.finish, p.start_s, 0.0
    state.line, state.following, state.tracked, state.whole = 0, 1, 1, 1
    state.x, state.y = x, y
    place_at(line, state.place, route_x, p.start_s)
    see(line, state, x, y, route_x, route_y, reach)


@compiled
def set_back(line, state, x, y, time, route_x, route_y, reach):
    """A hand has put the sensor to (x, y): it goes on from the place of the whole route nearest to there."""
    nearest_place(line, state.place, route_x, route_y, x, y)
    state.x, state.y, state.seen = x, y, time
    see(line, state, x, y, route_x, route_y, reach)
    state.stirred, state.stirred_s = time, state.place.s


@compiled
def nearest_line(lines, state, all_x, all_y, headings, x, y, heading):
    """Which line the sensor at (x, y) begins to follow, and from which of its points, where the robot points so.

    Of all points the one whose edge is nearest: a line that crosses itself is met on the branch that is driven along.
    """
    nearest, point, least = 0, 0, np.inf
    for i in range(lines.size):
        line = lines[i]
        for j in range(line.first, line.first + line.count):
            dx, dy = x - all_x[j], y - all_y[j]
            away2, bound = dx * dx + dy * dy, least + line.half_tape
            # The edge is no nearer than half the tape from the middle.
            if away2 >= bound * bound:
                continue
            c, s = np.cos(headings[j]), np.sin(headings[j])
            away = np.sqrt(away2) if dy * c - dx * s >= 0.0 else -np.sqrt(away2)
            off = abs(state.edge_sign * away - line.half_tape) + ACROSS_MM * (1.0 - np.cos(heading - headings[j]))
            if off < least - 1e-9:
                nearest, point, least = i, j - line.first, off
    return nearest, point


@compiled
def meet(p, line, state, point, x, y, time, route_x, route_y, reach):
    """Begin to follow a line that has been met at one of its points."""
    place_at(line, state.place, route_x, point * line.route_step)
    state.following, state.tracked, state.x, state.y, state.seen = 1, 1, x, y, time
    see(line, state, x, y, route_x, route_y, reach)
    state.stirred, state.stirred_s = time, state.place.s
    s, length = state.place.s, line.route_step * (route_x.size - 1)
    state.met_s, state.round_s, state.visits = s, s, 0
    if line.closed:
        state.finish = s + p.rounds * length
    else:
        state.finish = length - p.end_zone if s < length - p.end_zone else length - END_MM


@compiled
def resume(line, state, time):
    """Follow the line that the robot is on, maybe along its other edge."""
    if not state.following:
        state.following, state.met_s = 1, state.place.s
        state.stirred, state.stirred_s = time, state.place.s
    state.edge = state.edge_sign * state.place.left - line.half_tape


@compiled
def leave(state):
    """The line is followed no more; what was driven along it stays driven."""
    if state.following:
        state.driven_before, state.following = driven(state), 0


@inlined
def driven(state):
    """How far the robot has come along the lines it followed."""
    return state.driven_before + (state.place.s - state.met_s) if state.following else state.driven_before


@inlined
def see(line, state, x, y, route_x, route_y, reach):
    """Find the sensor on the line, and how far it is off its edge."""
    dx, dy = x - state.x, y - state.y
    moved = np.sqrt(dx * dx + dy * dy)
    find_on_route(line, state.place, route_x, route_y, reach, x, y, moved)
    state.edge = state.edge_sign * state.place.left - line.half_tape
    state.x, state.y = x, y


@inlined
def follow(p, line, state, x, y, time, route_x, route_y, reach):
    """The sensor has come to (x, y), driving straight from where it was seen before."""
    before_s, before_x, before_y = state.place.s, state.x, state.y
    if state.tracked:
        see(line, state, x, y, route_x, route_y, reach)
    else:
        state.x, state.y = x, y
    s = state.place.s
    if s - state.stirred_s >= STIR_MM:
        state.stirred, state.stirred_s = time, s
    share = np.inf
    if p.has_zone:
        share = entered(p, before_x, before_y, x, y)
        if share <= 1.0:
            round_mm = line.route_step * (route_x.size - 1)
            if not line.closed or not state.following or s - state.round_s >= ROUND_SHARE * round_mm:
                state.visits, state.round_s = state.visits + 1, s
            if state.visits < p.rounds:
                share = np.inf
    elif state.following and s >= state.finish:
        share = min(max((state.finish - before_s) / (s - before_s), 0.0), 1.0) if s > before_s else 1.0
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
    if abs(state.edge) > p.lost_distance and state.following:
        return LOST
    if state.arrived < np.inf and state.whole:
        return FINISHED
    if time - state.stirred >= p.stuck_time and state.following:
        return STUCK
    if time >= p.time_limit - 1e-9:
        return TIME_OUT
    return RUNNING
