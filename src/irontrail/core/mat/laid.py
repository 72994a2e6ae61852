"""The tape as it lies: the runs between gaps, and how far each of their edges is from the middle."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Stroke

Floats = NDArray[np.float64]

# Lengths over which the edge of a felt-pen line wanders to and fro.
WANDER_MM = (12.0, 90.0)
WAVES = 24


@dataclass(frozen=True, eq=False)
class TapeRun:
    """An unbroken run of tape: its middle and the distance of its left and right edges from it, shape (n,), in mm."""

    x_mm: Floats
    y_mm: Floats
    left_mm: Floats
    right_mm: Floats
    closed: bool


def tape_runs(stroke: Stroke, route: Route) -> tuple[TapeRun, ...]:
    """The runs of a stroke's tape along its route (as laid, not turned round)."""
    half = np.full(route.s_mm.size, 0.5 * stroke.width_mm)
    left, right = half, half
    if stroke.unevenness_mm > 0.0:
        random = np.random.default_rng(stroke.unevenness_seed)
        left, right = (np.maximum(half + stroke.unevenness_mm * _wander(route.s_mm, random), 0.5) for _ in range(2))
    if not route.gaps:
        return (TapeRun(route.x_mm, route.y_mm, left, right, route.closed),)
    ends = [0.0, *(place for gap in route.gaps for place in gap), route.length_mm]
    runs = []
    for start, end in zip(ends[::2], ends[1::2], strict=True):
        here = (route.s_mm >= start - 1e-6) & (route.s_mm <= end + 1e-6)
        if np.count_nonzero(here) >= 2:
            runs.append(TapeRun(route.x_mm[here], route.y_mm[here], left[here], right[here], False))
    return tuple(runs)


def _wander(s_mm: Floats, random: np.random.Generator) -> Floats:
    """A smooth random signal of RMS 1: sines of many lengths with random phases."""
    lengths = np.exp(random.uniform(np.log(WANDER_MM[0]), np.log(WANDER_MM[1]), WAVES))
    phases = random.uniform(0.0, 2.0 * np.pi, WAVES)
    waves = np.sin(2.0 * np.pi * s_mm[:, None] / lengths + phases).sum(axis=1)
    return np.asarray(waves * np.sqrt(2.0 / WAVES), np.float64)
