"""The points of a drawn way that it needs, how it heads there, and which of them are corners."""

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.drawn_way import LOOK_MM, from_chord, turn_between

Floats = NDArray[np.float64]

# A turn that a bend would cut by so much, or more tightly than a bend can be, is a corner.
CUT_MM, LEAST_RADIUS_MM = 0.3, 10.0
# A tight turn of less is one of a rough hand; a chord so long, and so many times its neighbour, is a straight.
TIGHT_DEG, LONG_MM, LONG_TIMES = 12.0, 15.0, 3.0


def without_repeats(way: Floats) -> Floats:
    return way[np.concatenate(([True], np.hypot(*np.diff(way, axis=0).T) > 1e-6))] if len(way) > 1 else way


def knots_of(way: Floats, within_mm: float) -> NDArray[np.intp]:
    """The points that the way needs: all others lie on the straights between them (Douglas and Peucker, 1973)."""
    keep = np.zeros(len(way), np.bool_)
    keep[[0, -1]] = True
    waiting = [(0, len(way) - 1)]
    while waiting:
        first, last = waiting.pop()
        if last - first < 2:
            continue
        inside = way[first + 1 : last]
        away = from_chord(inside, way[first], way[last])
        worst = int(np.argmax(away))
        if away[worst] > within_mm:
            middle = first + 1 + worst
            keep[middle] = True
            waiting += [(first, middle), (middle, last)]
    return np.flatnonzero(keep)


def headings_at(knots: Floats, closed: bool) -> tuple[Floats, NDArray[np.bool_]]:
    """The heading into and out of each knot, shape (n, 2), and which are corners.

    Where it is none, that of the circle through it and its neighbours.
    """
    step = np.diff(knots, axis=0)
    length, way = np.hypot(*step.T), np.arctan2(step[:, 1], step[:, 0])
    n = len(knots)
    heading, corner = np.zeros((n, 2)), np.zeros(n, np.bool_)
    heading[0], heading[-1] = way[0], way[-1]
    inner = [(i - 1, i, i) for i in range(1, n - 1)] + ([(n - 2, 0, 0), (n - 2, 0, n - 1)] if closed and n > 2 else [])
    for before, after, i in inner:
        turn = turn_between(way[before], way[after])
        a, b = length[before], length[after]
        # How far each chord's ends may head aside of it, so that it bulges by no more than a cut.
        most = 4.0 * CUT_MM / a, 4.0 * CUT_MM / b
        tight = 0.5 * min(a, b) < LEAST_RADIUS_MM * np.tan(0.5 * min(abs(turn), 3.0))
        if abs(turn) > sum(most) or (tight and abs(turn) > np.radians(TIGHT_DEG)):
            corner[i], heading[i] = True, (way[before], way[after])
        elif max(a, b) > LONG_TIMES * min(a, b) and max(a, b) > LONG_MM:
            # A straight, and a bend that begins or ends.
            heading[i] = way[before] if a > b else way[after]
        else:
            heading[i] = way[before] + turn * a / (a + b)
    # Beside an end or a corner the way goes on as it bends beyond the next knot.
    for i in range(n):
        for side, next_way, near in ((0, i - 1, i - 1), (1, i, i + 1)):
            at_end = (i in (0, n - 1) and not closed) or corner[i]
            if at_end and 0 <= next_way < n - 1 and not corner[near] and near not in (0, n - 1):
                heading[i, side] = way[next_way] + turn_between(heading[near, 1 - side], way[next_way])
    return heading, corner


def looked_at(way: Floats, knots: NDArray[np.intp]) -> tuple[Floats, NDArray[np.intp]]:
    """Points along the way, no farther apart than is looked, and where among them the knots are."""
    steps = np.hypot(*np.diff(way, axis=0).T)
    count = np.maximum(np.ceil(steps / LOOK_MM).astype(np.intp), 1)
    starts = np.concatenate(([0], np.cumsum(count)))
    which = np.repeat(np.arange(len(steps)), count)
    share = (np.arange(starts[-1]) - starts[which]) / count[which]
    look = way[which] + share[:, None] * (way[which + 1] - way[which])
    return np.concatenate((look, way[-1:])), starts[knots]
