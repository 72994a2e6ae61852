"""The edge profile: what the sensor reads as it is drawn across the edge of the line."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.light.reading import reading_of_patch
from irontrail.core.light.sensor import Light
from irontrail.core.light.shadow import shadow_factor
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.mat.route import Route
from irontrail.core.robot.mount import AXLE, Place

Floats = NDArray[np.float64]

# How far either side of the edge the profile reaches, and how finely it is taken.
REACH_MM = 25.0
STEP_MM = 0.25
# Between these shares of the way from dark to bright a small step across the edge still changes what is read.
USABLE = (0.05, 0.95)


@dataclass(frozen=True, eq=False)
class EdgeProfile:
    """Reading over distance from the edge (mm, light side positive), without noise or rounding; shape (n,)."""

    edge_mm: Floats
    reading: Floats

    @property
    def usable_mm(self) -> tuple[float, float]:
        """From where to where across the edge the reading changes: from USABLE's low to its high."""
        share = (self.reading - self.reading.min()) / max(float(np.ptp(self.reading)), 1e-9)
        outside = np.flatnonzero((share <= USABLE[0]) | (share >= USABLE[1]))
        before, after = outside[self.edge_mm[outside] <= 0.0], outside[self.edge_mm[outside] > 0.0]
        low = self.edge_mm[before[-1]] if before.size else self.edge_mm[0]
        high = self.edge_mm[after[0]] if after.size else self.edge_mm[-1]
        return float(low), float(high)

    def rides_at(self, target: float) -> float | None:
        """How far from the edge (mm) the reading comes to the target, nearest to the edge; None if it never does."""
        off = self.reading - target
        crossings = np.flatnonzero(np.diff(np.signbit(off)))
        if crossings.size == 0:
            return None
        i = int(crossings[np.argmin(np.abs(self.edge_mm[crossings]))])
        share = off[i] / (off[i] - off[i + 1])
        return float(self.edge_mm[i] + share * (self.edge_mm[i + 1] - self.edge_mm[i]))


def edge_profile(
    field: NDArray[np.float32],
    route: Route,
    s_mm: float,
    half_tape_mm: float,
    left: bool,
    light: Light,
    height_mm: float,
    gloss: float = 0.0,
    beside: Place = AXLE,
) -> EdgeProfile:
    """The profile across the followed edge, square to the route at arc length `s_mm`.

    `beside` is where the sensor is from the point that is drawn across, in a robot that points along the route.
    """
    x, y, heading = route.at(s_mm)
    edge = np.arange(-REACH_MM, REACH_MM + STEP_MM / 2, STEP_MM)
    aside = (half_tape_mm + edge) * (1.0 if left else -1.0)
    across, along = aside + beside.aside_mm, beside.ahead_mm
    at_x = x - across * np.sin(heading) + along * np.cos(heading)
    at_y = y + across * np.cos(heading) + along * np.sin(heading)
    return EdgeProfile(edge, _readings(field, at_x, at_y, light, height_mm, gloss))


def cut_profile(
    field: NDArray[np.float32],
    start: tuple[float, float],
    end: tuple[float, float],
    edge_mm: Callable[[Floats, Floats], Floats],
    light: Light,
    height_mm: float,
    gloss: float = 0.0,
) -> EdgeProfile:
    """The profile along a cut from a place to another, wherever it was drawn.

    `edge_mm(x, y)` tells how far places are from the followed edge, light side positive. The place where the cut
    crosses that edge, that nearest to its middle, is 0, and what lies to its light side is positive; where it does not
    cross it, 0 is the cut's start.
    """
    length = max(float(np.hypot(end[0] - start[0], end[1] - start[1])), STEP_MM)
    along = np.linspace(0.0, length, max(3, round(length / STEP_MM) + 1))
    x, y = (a + (b - a) * along / length for a, b in zip(start, end, strict=True))
    reading = _readings(field, x, y, light, height_mm, gloss)
    side = edge_mm(x, y)
    crossings = np.flatnonzero(np.diff(np.signbit(side)))
    if crossings.size == 0:
        return EdgeProfile(along, reading)
    i = int(crossings[np.argmin(np.abs(along[crossings] - 0.5 * length))])
    share = side[i] / (side[i] - side[i + 1])
    from_edge = along - (along[i] + share * (along[i + 1] - along[i]))
    if side[i + 1] > side[i]:
        return EdgeProfile(from_edge, reading)
    return EdgeProfile(-from_edge[::-1], reading[::-1])


def _readings(field: NDArray[np.float32], x: Floats, y: Floats, light: Light, height_mm: float, gloss: float) -> Floats:
    """What the program reads at places (mm), without noise or rounding."""
    seen = bilinear(field, x / MM_PER_PX, y / MM_PER_PX)
    return reading_of_patch(light, height_mm, seen, gloss, shadow_factor(light.areas, x, y))


def bilinear(field: NDArray[np.float32], x: Floats, y: Floats) -> Floats:
    """Values of a field at n points in pixels, shape (n, channels); pixel centres lie at halves, the rim is held."""
    _, rows, columns = field.shape
    px, py = np.clip(x - 0.5, 0.0, columns - 1.001), np.clip(y - 0.5, 0.0, rows - 1.001)
    i, j = px.astype(int), py.astype(int)
    fx, fy = px - i, py - j
    low = field[:, j, i] * (1.0 - fx) + field[:, j, i + 1] * fx
    high = field[:, j + 1, i] * (1.0 - fx) + field[:, j + 1, i + 1] * fx
    return np.asarray((low * (1.0 - fy) + high * fy).T, np.float64)
