"""Ways that are drawn piece by piece, end to end, as the lines that they make."""

from collections.abc import Iterator
from dataclasses import replace
from functools import reduce

import numpy as np

from irontrail.core.mat.drawn_way import as_few
from irontrail.files.shapes import Shape, Way

# A shape, those of its ways that are lines, and its place in the order that things are drawn in.
Marked = tuple[Shape, tuple[Way, ...], int]

# Ends this near meet; by so much more or less they are as far apart.
MEETS_MM, ALIKE_MM = 0.5, 0.05
# Ways that turn back where they meet are two lines; where more ends than this come together nobody looks which meet.
MOST_TURN_DEG, MOST_MEETINGS = 120.0, 100_000


def joined(drawn: list[Marked]) -> list[Marked]:
    """What is drawn end to end, alike in width and colour, as one way; where three ends meet, the straightest two."""
    open_ways = [
        (shape, way, order) for shape, ways, order in drawn for way in ways if not way.closed and not shape.dashes
    ]
    ours = any("pieces" in shape.told for shape, _, _ in drawn)
    if len(open_ways) < 2 or ours:
        return drawn
    taken: dict[tuple[int, int], tuple[int, int]] = {}
    for _, _, one, other in sorted(_links(open_ways)):
        if one not in taken and other not in taken:
            taken[one], taken[other] = other, one
    if not taken:
        return drawn
    used: set[int] = set()
    chains: list[Marked] = []
    for i in range(len(open_ways)):
        if i in used:
            continue
        chain, closed = _chain(i, taken)
        used |= {k for k, _ in chain}
        ways = [open_ways[k][1].turned_round() if turned else open_ways[k][1] for k, turned in chain]
        whole = reduce(Way.followed_by, ways)
        whole = replace(whole, parts=as_few(whole.parts))
        shapes = [open_ways[k][0] for k, _ in chain]
        named = next((shape for shape in shapes if shape.name in ("line", "line-1")), shapes[0])
        chains.append((named, (replace(whole, closed=closed),), min(open_ways[k][2] for k, _ in chain)))
    rest = ((shape, tuple(way for way in ways if way.closed or shape.dashes), order) for shape, ways, order in drawn)
    return sorted([*chains, *(each for each in rest if each[1])], key=lambda each: each[2])


def _links(ways: list[tuple[Shape, Way, int]]) -> Iterator[tuple[int, float, tuple[int, int], tuple[int, int]]]:
    """Which ends could be joined: about how far apart they are, by how much a way would turn there, and both ends.

    An end is a way's number, and 0 or 1.
    """
    from scipy.spatial import cKDTree

    ends = []
    for i, (shape, way, _) in enumerate(ways):
        points = way.points
        near = min(3, len(points) - 1)
        for side, at, beside in ((0, points[0], points[near]), (1, points[-1], points[-1 - near])):
            out = np.arctan2(at[1] - beside[1], at[0] - beside[0])
            ends.append(((i, side), at, float(out), shape))
    tree = cKDTree(np.array([at for _, at, _, _ in ends]))
    if tree.count_neighbors(tree, MEETS_MM) > MOST_MEETINGS:
        return
    for i, k in sorted(tree.query_pairs(MEETS_MM)):
        (one, a, out, first), (other, b, back, second) = ends[i], ends[k]
        alike = first.stroke == second.stroke and abs(first.width_mm - second.width_mm) < 0.1
        if alike and one[0] != other[0]:
            turn = abs((back - out + 2.0 * np.pi) % (2.0 * np.pi) - np.pi)
            if turn <= np.radians(MOST_TURN_DEG):
                yield round(float(np.hypot(*(a - b))) / ALIKE_MM), float(turn), one, other


def _chain(start: int, taken: dict[tuple[int, int], tuple[int, int]]) -> tuple[list[tuple[int, bool]], bool]:
    """The ways joined to one, each with whether it is turned round, and whether the last meets the first."""
    first, turned = start, False
    seen = {start}
    while (before := taken.get((first, 1 if turned else 0))) is not None:
        if before[0] in seen:
            break
        first, turned = before[0], before[1] == 0
        seen.add(first)
    chain = [(first, turned)]
    while (after := taken.get((chain[-1][0], 0 if chain[-1][1] else 1))) is not None:
        if after[0] == first:
            return chain, True
        chain.append((after[0], after[1] == 1))
    return chain, False
