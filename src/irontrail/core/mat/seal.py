"""Circuits: a closed line is kept closed while a piece of it is changed."""

from dataclasses import replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.route import piece_joints
from irontrail.core.mat.tape import Bend, Corner, Straight, Stroke

Floats = NDArray[np.float64]

# Ends this near meet.
MEETS_MM, MEETS_RAD = 1e-3, 1e-9
# What gives way keeps at least this.
LEAST_STRAIGHT_MM, LEAST_RADIUS_MM, LEAST_ANGLE_DEG = 10.0, 40.0, 10.0
# A radius gives way only where straights would have to change by this many times as much.
RADIUS_COSTS = 4.0


def sealed(stroke: Stroke, *held: int | None) -> Stroke:
    """A closed stroke whose end meets its start, facing it; an open one as it is.

    The fewest other pieces give way, those that need the least: first the angle of the bend that comes next, for the
    direction; then the lengths of one or two straights, or radii, for the place. What is `held` stays as it is.

    Raises
    ------
    IronTrailError
        If the pieces cannot meet.
    """
    if not stroke.closed:
        return stroke
    return _met(_faced(stroke, held), held)


def spelled_out(stroke: Stroke) -> Stroke:
    """A stroke with the straight that a route lays where a closed line leaves a little room as a piece of its own."""
    if not stroke.closed:
        return stroke
    x, y, heading = piece_joints(stroke)[-1]
    dx, dy = stroke.x_mm - x, stroke.y_mm - y
    gap = float(np.hypot(dx, dy))
    ahead = dx * np.cos(heading) + dy * np.sin(heading) > 0.999 * gap
    return replace(stroke, pieces=(*stroke.pieces, Straight(gap))) if gap >= 1.0 and ahead else stroke


def _faced(stroke: Stroke, held: tuple[int | None, ...]) -> Stroke:
    """The stroke with one bend's angle changed so that its end faces its start."""
    *_, heading = piece_joints(stroke)[-1]
    off = float(np.radians(stroke.heading_deg)) - heading
    off = float(np.arctan2(np.sin(off), np.cos(off)))
    if abs(off) < MEETS_RAD:
        return stroke
    count, first = len(stroke.pieces), max((i for i in held if i is not None), default=-1) + 1
    for i in (place % count for place in range(first, first + count)):
        piece = stroke.pieces[i]
        if i in held or not isinstance(piece, Bend | Corner):
            continue
        angle = piece.angle_deg + float(np.degrees(off))
        limit = 355.0 if isinstance(piece, Bend) else 165.0
        if angle * piece.angle_deg > 0.0 and LEAST_ANGLE_DEG <= abs(angle) <= limit:
            turned = replace(piece, angle_deg=round(angle, 9))
            return replace(stroke, pieces=(*stroke.pieces[:i], turned, *stroke.pieces[i + 1 :]))
    raise IronTrailError("the circuit cannot be kept closed", "line", "Open it, or change another piece.")


def _met(stroke: Stroke, held: tuple[int | None, ...]) -> Stroke:
    """The stroke with the fewest lengths and radii changed so that its end comes to its start."""
    joints = piece_joints(stroke)
    missing = stroke.x_mm - joints[-1][0], stroke.y_mm - joints[-1][1]
    if float(np.hypot(*missing)) < MEETS_MM:
        return stroke
    places: list[int] = []
    per_unit: list[tuple[float, float]] = []
    room: list[float] = []
    cost: list[float] = []
    for i, piece in enumerate(stroke.pieces):
        if i in held or not isinstance(piece, Straight | Bend):
            continue
        size = piece.length_mm if isinstance(piece, Straight) else piece.radius_mm
        straight = isinstance(piece, Straight)
        places.append(i)
        # The way across a piece grows in proportion to its length or radius.
        (x, y, _), (to_x, to_y, _) = joints[i : i + 2]
        per_unit.append(((to_x - x) / size, (to_y - y) / size))
        room.append(size - min(size, LEAST_STRAIGHT_MM if straight else LEAST_RADIUS_MM))
        cost.append(1.0 if straight else RADIUS_COSTS)
    changes = _fewest(np.array(per_unit).reshape(-1, 2), np.array(missing), np.array(room), np.array(cost))
    if changes is None:
        raise IronTrailError("the circuit cannot be kept closed", "line", "Open it, or change another piece.")
    pieces = list(stroke.pieces)
    for i, change in zip(places, changes, strict=True):
        piece = pieces[i]
        if change != 0.0 and isinstance(piece, Straight):
            pieces[i] = replace(piece, length_mm=piece.length_mm + float(change))
        elif change != 0.0 and isinstance(piece, Bend):
            pieces[i] = replace(piece, radius_mm=piece.radius_mm + float(change))
    return replace(stroke, pieces=tuple(pieces))


def _fewest(per_unit: Floats, missing: Floats, room: Floats, cost: Floats) -> Floats | None:
    """The cheapest change of one or two sizes that makes up for what is missing; None if none does.

    Parameters
    ----------
    per_unit : ndarray, shape (n, 2)
        How far the end moves for each unit of a size.
    missing : ndarray, shape (2,)
        How far the end is to move.
    room, cost : ndarray, shape (n,)
        By how much each size may shrink, and what each unit of change costs.
    """
    n = len(room)
    if n < 2:
        return None
    i, j = _pairs(n)
    cross = per_unit[i, 0] * per_unit[j, 1] - per_unit[i, 1] * per_unit[j, 0]
    good = np.abs(cross) > 1e-6
    i, j, cross = i[good], j[good], cross[good]
    a = (missing[0] * per_unit[j, 1] - missing[1] * per_unit[j, 0]) / cross
    b = (per_unit[i, 0] * missing[1] - per_unit[i, 1] * missing[0]) / cross
    fits = (a >= -room[i]) & (b >= -room[j])
    if not fits.any():
        return None
    price = np.where(fits, np.abs(a) * cost[i] + np.abs(b) * cost[j], np.inf)
    best = int(np.argmin(price))
    changes = np.zeros(n)
    changes[i[best]], changes[j[best]] = a[best], b[best]
    return changes


@lru_cache(maxsize=4)
def _pairs(n: int) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The first and the second of any two of n."""
    return np.triu_indices(n, 1)
