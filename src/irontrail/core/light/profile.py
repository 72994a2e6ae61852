"""The edge profile: what the sensor reads as it is drawn across the edge of the line."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.sensor import Light, reading_of_patch
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route

Floats = NDArray[np.float64]

# How far either side of the edge the profile reaches, and how finely it is taken.
REACH_MM = 25.0
STEP_MM = 0.25


@dataclass(frozen=True, eq=False)
class EdgeProfile:
    """Reading over distance from the edge (mm, light side positive), without noise or rounding; shape (n,)."""

    edge_mm: Floats
    reading: Floats


def edge_profile(
    field: NDArray[np.float32],
    route: Route,
    s_mm: float,
    half_tape_mm: float,
    left: bool,
    light: Light,
    height_mm: float,
    gloss: float = 0.0,
) -> EdgeProfile:
    """The profile across the followed edge, square to the route at arc length `s_mm`."""
    x, y, heading = route.at(s_mm)
    edge = np.arange(-REACH_MM, REACH_MM + STEP_MM / 2, STEP_MM)
    aside = (half_tape_mm + edge) * (1.0 if left else -1.0)
    seen = bilinear(field, (x - aside * np.sin(heading)) / MM_PER_PX, (y + aside * np.cos(heading)) / MM_PER_PX)
    return EdgeProfile(edge, reading_of_patch(light, height_mm, seen, gloss))


def bilinear(field: NDArray[np.float32], x: Floats, y: Floats) -> Floats:
    """Values of a field at n points in pixels, shape (n, channels); pixel centres lie at halves, the rim is held."""
    _, rows, columns = field.shape
    px, py = np.clip(x - 0.5, 0.0, columns - 1.001), np.clip(y - 0.5, 0.0, rows - 1.001)
    i, j = px.astype(int), py.astype(int)
    fx, fy = px - i, py - j
    low = field[:, j, i] * (1.0 - fx) + field[:, j, i + 1] * fx
    high = field[:, j + 1, i] * (1.0 - fx) + field[:, j + 1, i + 1] * fx
    return np.asarray((low * (1.0 - fy) + high * fy).T, np.float64)
