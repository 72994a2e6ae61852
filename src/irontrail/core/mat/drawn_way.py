"""A way as it is drawn: points with straights between them, and arcs; and how far tape and way are from each other."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.refine import points as stroke_points
from irontrail.core.mat.tape import Stroke

Floats = NDArray[np.float64]

# Between its points a way is looked at so often, in no less and no more places.
LOOK_MM = 2.0
LOOKED_AT = (50, 20_000)


@dataclass(frozen=True)
class Arc:
    """A round part of a drawn way: its radius in mm, and how far it turns left and starts to head, in rad."""

    radius_mm: float
    turn: float
    heading: float


Drawn = Floats | Arc


def length_of(part: Drawn) -> float:
    if isinstance(part, Arc):
        return part.radius_mm * abs(part.turn)
    return float(np.hypot(*np.diff(part, axis=0).T).sum())


def along_arc(start: Floats, heading: float, radius: float, turns: Floats) -> Floats:
    """Where an arc has come to after so much of its turn (rad, left positive), shape (n, 2)."""
    side = np.where(turns < 0.0, -1.0, 1.0)
    x = start[0] + side * radius * (np.sin(heading + turns) - np.sin(heading))
    y = start[1] - side * radius * (np.cos(heading + turns) - np.cos(heading))
    return np.column_stack((x, y))


def drawn_way(parts: Sequence[Drawn], start: tuple[float, float]) -> Floats:
    """Points along a drawn way, arcs included."""
    points = [np.array([start])]
    for part in parts:
        if isinstance(part, Arc):
            count = min(int(part.radius_mm * abs(part.turn) / LOOK_MM), LOOKED_AT[1])
            turns = np.linspace(0.0, part.turn, max(count, 8))
            points.append(along_arc(points[-1][-1], part.heading, part.radius_mm, turns))
        else:
            points.append(part)
    return np.concatenate(points)


def as_few(parts: Sequence[Drawn]) -> tuple[Drawn, ...]:
    """The same parts with straights in a row as one."""
    made: list[Drawn] = []
    line: list[Floats] = []
    for part in parts:
        if isinstance(part, Arc):
            made += [np.concatenate(line)] if line else []
            made.append(part)
            line = []
        else:
            line.append(part[1:] if line else part)
    return (*made, np.concatenate(line)) if line else tuple(made)


def along_and_left(places: Floats) -> tuple[Floats, Floats]:
    """The directions along a way and to its left at each of its places, shape (n, 2), of length 1."""
    way = np.gradient(places, axis=0)
    way /= np.maximum(np.hypot(way[:, 0], way[:, 1]), 1e-9)[:, None]
    return way, np.column_stack((-way[:, 1], way[:, 0]))


def moved_aside(places: Floats, left: Floats, by_mm: Floats, known: NDArray[np.bool_]) -> Floats:
    """Places moved to their left by what is known, and where it is not, as what is before and behind."""
    along = np.arange(len(places))
    return np.asarray(places + np.interp(along, along[known], by_mm[known])[:, None] * left)


def deviation(stroke: Stroke, way: Floats) -> float:
    """How far a stroke and a drawn way are from each other at most, in mm, each seen from the other."""
    drawn = evenly_along(way)
    laid = np.column_stack(stroke_points(stroke, np.linspace(0.0, 1.0, len(drawn))))
    return max(farthest(drawn, laid), farthest(laid, drawn))


def evenly_along(way: Floats) -> Floats:
    """Points about a millimetre apart along a way, shape (n, 2)."""
    along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(way, axis=0).T))))
    even = np.linspace(0.0, along[-1], int(np.clip(along[-1], *LOOKED_AT)))
    return np.column_stack([np.interp(even, along, way[:, k]) for k in (0, 1)])


def farthest(of: Floats, from_way: Floats) -> float:
    """How far the farthest of some points is from a way through others, which lie close together."""
    from scipy.spatial import cKDTree

    _, near = cKDTree(from_way).query(of)
    away = np.full(len(of), np.inf)
    for first in (near - 1, near):
        a = from_way[np.clip(first, 0, len(from_way) - 2)]
        b = from_way[np.clip(first, 0, len(from_way) - 2) + 1]
        away = np.minimum(away, from_chord(of, a, b))
    return float(away.max())


def from_chord(of: Floats, a: Floats, b: Floats) -> Floats:
    way = b - a
    share = ((of - a) * way).sum(axis=-1) / np.maximum((way**2).sum(axis=-1), 1e-12)
    off = of - a - np.clip(share, 0.0, 1.0)[..., None] * way
    return np.asarray(np.hypot(off[..., 0], off[..., 1]))


def turn_between(before: float, after: float) -> float:
    return float((after - before + np.pi) % (2.0 * np.pi) - np.pi)
