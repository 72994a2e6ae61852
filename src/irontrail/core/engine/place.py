"""Compiled: where a point lies on the route."""

import numpy as np

from irontrail.core.compiled import compiled, inlined

# The sensor is looked for on the route within this distance along it, besides what it has moved since.
SEARCH_MM = 60.0
# A change of direction from one point of the route to the next that only a corner makes, in radians.
CORNER_RAD = 0.2
# How much of the bound is trusted below which a walk along the route cannot miss a nearer point.
SURE_SHARE = 0.95
# Points that are looked at together. From the first of them on they are taken in half the figures, so that one
# instruction looks at twice as many: that takes 3 % off what is said of a metre aside, and farther nothing is sure.
BLOCK = 512
SURE_MM = 1000.0

# A place on the route: the point nearest to what is followed and the round it is in, the segment of its foot and the
# share of it, the arc length there, and how far left of it what is followed lies.
PLACE = np.dtype([("point", "i8"), ("lap", "i8"), ("segment", "i8"), ("share", "f8"), ("s", "f8"), ("left", "f8")])


@compiled
def sure_reach(x, y, closed, reach):
    """Fill in how far a point may be aside of each point of the route for it to be the nearest one for sure.

    A point at a distance d aside of p has another point q of the route nearer if |q - p|^2 < 2 d |(q - p) . n|, n being
    the normal at p. Looked at is twice the way that is searched; a point near p's normal, by no more than half a step
    either way, is allowed for. Corners and open ends have no one normal, and no reach.
    """
    last = x.size - 1
    step = np.hypot(x[1] - x[0], y[1] - y[0])
    wide = int(2.0 * SEARCH_MM / step) + 1
    nx, ny, most = np.zeros(last + 1), np.zeros(last + 1), np.zeros(last + 1, np.float32)
    for i in range(last + 1):
        reach[i] = 0.0
        before, after = i - 1, i + 1
        if closed:
            before, after = before % last, after % last
        elif before < 0 or after > last:
            continue
        ax, ay, bx, by = x[i] - x[before], y[i] - y[before], x[after] - x[i], y[after] - y[i]
        if abs(np.arctan2(ax * by - ay * bx, ax * bx + ay * by)) > 0.5 * CORNER_RAD:
            continue
        length = np.hypot(ax + bx, ay + by)
        nx[i], ny[i], reach[i] = -(ay + by) / length, (ax + bx) / length, SURE_SHARE
    on_x, on_y, on_nx, on_ny = _on(x, wide), _on(y, wide), _on(nx, wide), _on(ny, wide)
    # For one distance along the route at a time, so that many points are looked at by one instruction; `behind` is
    # what points on from where one is say of those there.
    behind = np.zeros(on_x.size, np.float32)
    allowed = np.float32(1.2 * step)
    for first in range(0, last + 1, BLOCK):
        here = slice(first + wide, min(first + BLOCK, last + 1) + 2 * wide)
        near_x = (on_x[here] - on_x[first + wide]).astype(np.float32)
        near_y = (on_y[here] - on_y[first + wide]).astype(np.float32)
        near_nx, near_ny = on_nx[here].astype(np.float32), on_ny[here].astype(np.float32)
        for n in range(2, wide + 1):
            size = min(first + BLOCK, last + 1 if closed else last + 1 - n) - first
            if size > 0:
                _look(
                    near_x[:size], near_y[:size], near_nx[:size], near_ny[:size],
                    near_x[n : n + size], near_y[n : n + size], near_nx[n : n + size], near_ny[n : n + size],
                    allowed, most[first : first + size], behind[first + wide + n : first + wide + n + size],
                )  # fmt: skip
    for i in range(behind.size):
        at = i - wide
        at = at % last if closed else min(max(at, 0), last)
        most[at] = max(most[at], behind[i])
    if closed:
        most[last] = most[0] = max(most[0], most[last])
    for i in range(last + 1):
        if reach[i] > 0.0:
            reach[i] = min(reach[i] * 0.5 / most[i], SURE_MM)


@compiled
def _on(values, wide):
    """The values of a route's points, with so many more before its first and after its last as if it were closed."""
    last = values.size - 1
    on = np.empty(last + 1 + 2 * wide)
    for i in range(on.size):
        at = i - wide
        on[i] = values[at] if 0 <= at <= last else values[at % last]
    return on


@compiled
def _look(x, y, nx, ny, other_x, other_y, other_nx, other_ny, allowed, most, other_most):
    """Raise what the reach of points is half of the inverse of, each by another one, and that of those by them."""
    for i in range(x.size):
        dx, dy = other_x[i] - x[i], other_y[i] - y[i]
        square = dx * dx + dy * dy
        # From two steps away on, at least 0.4 of the square is left.
        per_room = np.float32(1.0) / (square - allowed * np.sqrt(square))
        bent, other_bent = abs(dx * nx[i] + dy * ny[i]) * per_room, abs(dx * other_nx[i] + dy * other_ny[i]) * per_room
        most[i] = bent if bent > most[i] else most[i]
        other_most[i] = other_bent if other_bent > other_most[i] else other_most[i]


@compiled
def place_at(p, place, route_x, s):
    """Begin to look at an arc length."""
    segments = route_x.size - 1
    n = int(np.floor(s / p.route_step))
    place.lap = n // segments if p.closed else 0
    place.point = n - place.lap * segments if p.closed else min(max(n, 0), segments)
    place.s = s


@inlined
def find_on_route(p, place, route_x, route_y, reach, x, y, moved):
    """Where a point lies along the route, near the place it had, and how far to its left.

    Looks SEARCH_MM and what the point has moved either way, so that a robot that cuts a corner, or passes close to
    another part of the line, is found on the part it is following. On a closed route s goes on past its length.
    """
    before, before_lap = place.point, place.lap
    distance2, steps = walk(p, place, route_x, route_y, x, y)
    bound = reach[place.point]
    if distance2 > bound * bound or steps * p.route_step > SEARCH_MM or moved > SEARCH_MM:
        place.point, place.lap = before, before_lap
        nearest_of_all(p, place, route_x, route_y, x, y, SEARCH_MM + moved)
    foot(p, place, route_x, route_y, x, y)


@inlined
def walk(p, place, route_x, route_y, x, y):
    """Go to where neither neighbour is nearer; the squared distance there, and the steps made."""
    segments = route_x.size - 1
    n, turn, steps = place.point, place.lap, 0
    dx, dy = x - route_x[n], y - route_y[n]
    least = dx * dx + dy * dy
    for way in (1, -1):
        while steps <= segments:
            other, other_turn = n + way, turn
            if p.closed:
                # The last point is the first one again.
                if other == segments:
                    other, other_turn = 0, turn + 1
                elif other < 0:
                    other, other_turn = segments - 1, turn - 1
            elif other > segments or other < 0:
                break
            dx, dy = x - route_x[other], y - route_y[other]
            distance2 = dx * dx + dy * dy
            if distance2 >= least:
                break
            n, turn, least, steps = other, other_turn, distance2, steps + 1
        if steps > 0:
            break
    place.point, place.lap = n, turn
    return least, steps


@compiled
def nearest_of_all(p, place, route_x, route_y, x, y, within):
    """Go to the nearest point of the route within a way of the place."""
    segments = route_x.size - 1
    middle = int(np.floor(place.s / p.route_step))
    points = int(np.ceil(within / p.route_step)) + 1
    first, last = middle - points, middle + points + 1
    if p.closed:
        last = min(last, first + segments)
    else:
        first, last = min(max(first, 0), segments), max(min(last, segments), 0)
    turn = first // segments if p.closed else 0
    i, least = first - turn * segments, np.inf
    for _ in range(first, last + 1):
        if p.closed and i == segments:
            i, turn = 0, turn + 1
        dx, dy = x - route_x[i], y - route_y[i]
        distance2 = dx * dx + dy * dy
        if distance2 < least:
            place.point, place.lap, least = i, turn, distance2
        i += 1


@inlined
def foot(p, place, route_x, route_y, x, y):
    """The foot of a point on the two segments at the nearest point of the route, and how far left of it the point is.

    A point outside a corner is as near to one segment as to the other: the side is that of the sum of both directions,
    however short the segment is by which the route cuts a corner that lies between two of its points.
    """
    segments = route_x.size - 1
    best, across, length2 = np.inf, 0.0, 1.0
    for later in (False, True):
        i, turn = place.point if later else place.point - 1, place.lap
        if i < 0:
            if not p.closed:
                continue
            i, turn = segments - 1, turn - 1
        elif i >= segments:
            continue
        dx, dy = route_x[i + 1] - route_x[i], route_y[i + 1] - route_y[i]
        off_x, off_y = x - route_x[i], y - route_y[i]
        own2 = dx * dx + dy * dy
        share = min(max((off_x * dx + off_y * dy) / own2, 0.0), 1.0)
        away_x, away_y = off_x - share * dx, off_y - share * dy
        distance = np.sqrt(away_x * away_x + away_y * away_y)
        side = dx * off_y - dy * off_x
        if later and share == 0.0 and abs(distance - best) <= 1e-9:
            across = across / np.sqrt(length2) + side / np.sqrt(own2)
        elif distance < best:
            best, across, length2 = distance, side, own2
            place.segment, place.share = i, share
            place.s = (turn * segments + i + share) * p.route_step
    place.left = best if across >= 0.0 else -best


@compiled
def nearest_place(p, place, route_x, route_y, x, y):
    """Go to the point of the whole route nearest to (x, y); of a closed one, in the round nearest to the place."""
    segments = route_x.size - 1
    nearest, least = 0, np.inf
    for i in range(segments + 1):
        dx, dy = x - route_x[i], y - route_y[i]
        if dx * dx + dy * dy < least:
            nearest, least = i, dx * dx + dy * dy
    turns = np.floor(place.s / p.route_step / segments - nearest / segments + 0.5) if p.closed else 0.0
    place_at(p, place, route_x, (nearest + turns * segments) * p.route_step)


@inlined
def route_heading(place, headings):
    """Direction of the route at the foot of the place."""
    i = place.segment
    step = headings[i + 1] - headings[i]
    if abs(step) > CORNER_RAD:  # no direction in between
        return headings[i] if place.share < 0.5 else headings[i + 1]
    return headings[i] + place.share * step


@inlined
def wrapped(angle):
    """The same direction within -pi..pi."""
    return angle - 2.0 * np.pi * np.floor((angle + np.pi) * (0.5 / np.pi))
