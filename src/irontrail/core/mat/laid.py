"""The tape as it lies: the runs between gaps, and how far each of their edges is from the middle."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Stroke

Floats = NDArray[np.float64]

# Lengths over which the edge of a felt-pen line wanders to and fro.
WANDER_MM = (12.0, 90.0)
WAVES = 24
# Places of the route this close to a cut belong to neither side of it.
SEAM_MM = 1e-6
# At a very sharp corner the strips stick out no farther than this many half widths.
SHARPEST = 2.0


@dataclass(frozen=True, eq=False)
class TapeRun:
    """An unbroken run of tape: its middle and the distance of its left and right edges from it, shape (n,), in mm."""

    x_mm: Floats
    y_mm: Floats
    left_mm: Floats
    right_mm: Floats
    closed: bool


@lru_cache(maxsize=64)
def tape_runs(stroke: Stroke, route: Route) -> tuple[TapeRun, ...]:
    """The runs of a stroke's tape along its route (as laid, not turned round)."""
    half = np.full(route.s_mm.size, 0.5 * stroke.width_mm)
    left, right = half, half
    if stroke.unevenness_mm > 0.0:
        random = np.random.default_rng(stroke.unevenness_seed)
        left, right = (np.maximum(half + stroke.unevenness_mm * _wander(route.s_mm, random), 0.5) for _ in range(2))
    corners = [bend.start_mm for bend in route.bends if bend.radius_mm == 0.0]
    if not route.gaps and not corners:
        return (TapeRun(route.x_mm, route.y_mm, left, right, route.closed),)
    cuts = sorted([*route.gaps, *((corner, corner) for corner in corners)])
    ends = [0.0, *(place for cut in cuts for place in cut), route.length_mm]
    runs = []
    for start, end in zip(ends[::2], ends[1::2], strict=True):
        here = np.flatnonzero((route.s_mm >= start + SEAM_MM) & (route.s_mm <= end - SEAM_MM))
        if here.size >= 2:
            runs.append(_strip(route, here, start, end, left, right, corners))
    return tuple(runs)


def _strip(
    route: Route, here: NDArray[np.int_], start: float, end: float, left: Floats, right: Floats, corners: list[float]
) -> TapeRun:
    """A straight-ended strip from one place of the route to another.

    At a corner the strips overlap, each cut square as far beyond the corner as the other is wide there: their outer
    sides meet in a point, as where a team lays one strip over the end of the other.
    """
    x, y, sides = route.x_mm[here], route.y_mm[here], [left[here], right[here]]
    ends = []
    for place, first, second in ((start, 0, 1), (end, -1, -2)):
        way = np.array([x[first] - x[second], y[first] - y[second]])
        way /= np.hypot(*way)
        beyond = abs(place - float(route.s_mm[here[first]]))
        if place in corners:
            turned = _turn_at(route, place)
            beyond += max(float(sides[0][first]), float(sides[1][first])) * min(np.tan(0.5 * turned), SHARPEST)
        ends.append((x[first] + beyond * way[0], y[first] + beyond * way[1]))
    x, y = (np.concatenate(([ends[0][i]], each, [ends[1][i]])) for i, each in enumerate((x, y)))
    left, right = (np.concatenate((side[:1], side, side[-1:])) for side in sides)
    return TapeRun(x, y, left, right, False)


def _turn_at(route: Route, corner_mm: float) -> float:
    """By how much the route turns at a corner, in radians, without its sign."""
    before, after = (route.at(corner_mm + away)[2] for away in (-2.0, 2.0))
    return abs(float(np.arctan2(np.sin(after - before), np.cos(after - before))))


def _wander(s_mm: Floats, random: np.random.Generator) -> Floats:
    """A smooth random signal of RMS 1: sines of many lengths with random phases."""
    lengths = np.exp(random.uniform(np.log(WANDER_MM[0]), np.log(WANDER_MM[1]), WAVES))
    phases = random.uniform(0.0, 2.0 * np.pi, WAVES)
    signal = np.zeros_like(s_mm)
    # Wave by wave: all at once they are a large table, which takes twice as long.
    for length, phase in zip(lengths, phases, strict=True):
        signal += np.sin(2.0 * np.pi / length * s_mm + phase)
    return np.asarray(signal * np.sqrt(2.0 / WAVES), np.float64)
