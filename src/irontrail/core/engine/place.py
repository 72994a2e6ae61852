"""Compiled: where a point lies on the route."""

import numpy as np
from numba import njit

# The sensor is looked for on the route within this distance along it from where it was a loop ago.
SEARCH_MM = 60.0
# A change of direction from one point of the route to the next that only a corner makes, in radians.
CORNER_RAD = 0.2


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
def nearest_place(p, route_x, route_y, s, x, y):
    """Arc length of the point of the whole route nearest to (x, y); of a closed one, in the round that s is in."""
    segments = route_x.size - 1
    nearest, least = 0, np.inf
    for i in range(segments + 1):
        dx, dy = x - route_x[i], y - route_y[i]
        if dx * dx + dy * dy < least:
            nearest, least = i, dx * dx + dy * dy
    if not p.closed:
        return nearest * p.route_step
    turns = np.floor(s / p.route_step / segments - nearest / segments + 0.5)
    return (nearest + turns * segments) * p.route_step


@njit(cache=True, nogil=True)
def route_heading_at(p, route_heading, s):
    """Direction of the route at an arc length."""
    segments = route_heading.size - 1
    n = int(np.floor(s / p.route_step))
    i = n % segments if p.closed else min(max(n, 0), segments - 1)
    share = min(max(s / p.route_step - n, 0.0), 1.0)
    step = route_heading[i + 1] - route_heading[i]
    if abs(step) > CORNER_RAD:  # no direction in between
        return route_heading[i] if share < 0.5 else route_heading[i + 1]
    return route_heading[i] + share * step


@njit(cache=True, nogil=True)
def wrapped(angle):
    """The same direction within -pi..pi."""
    return angle - 2.0 * np.pi * np.floor((angle + np.pi) / (2.0 * np.pi))
