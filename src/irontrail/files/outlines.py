"""What is filled between closed ways: how much of the mat, which places lie in it, and how far its sides are."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.drawn_way import evenly_along
from irontrail.files.shapes import Shape, Way

if TYPE_CHECKING:
    from scipy.spatial import cKDTree

Floats = NDArray[np.float64]

# What is filled is looked at in pixels of so much, so many of them at most, with so many round it.
MM_PER_PX, MOST_PX, ROOM_PX = 0.5, 20_000_000, 4
MOST_POINTS = 50_000


@dataclass(frozen=True, eq=False)
class Outlines:
    """Closed ways in mm, y up, and whether what lies in two of them is left out or filled."""

    ways: tuple[Way, ...]
    even_odd: bool
    corner: tuple[float, float]
    size: tuple[int, int]

    @classmethod
    def of(cls, shape: Shape) -> "Outlines | None":
        """Those of a shape; None if it has none, or too much to look at."""
        ways = tuple(way for way in shape.ways if way.closed)
        left, low, right, high = shape.box
        size = (int((right - left) / MM_PER_PX) + 2 * ROOM_PX, int((high - low) / MM_PER_PX) + 2 * ROOM_PX)
        if not ways or sum(len(way.points) for way in ways) > MOST_POINTS or size[0] * size[1] > MOST_PX:
            return None
        return cls(ways, shape.even_odd, (left, low), size)

    @property
    def round_mm(self) -> float:
        """How long they all are."""
        return sum(way.length_mm for way in self.ways)

    @property
    def rough_area_mm2(self) -> float:
        """How much is filled, if no two of them cross, without looking at any pixel."""
        return abs(sum(_area(way.points) * _side(way, self.ways) for way in self.ways))

    @property
    def area_mm2(self) -> float:
        """How much is filled, a pixel's rim more or less."""
        return float(self.mask.sum()) * MM_PER_PX**2

    @cached_property
    def mask(self) -> NDArray[np.bool_]:
        """What is filled: what is gone round an odd number of times, or more often one way than the other."""
        from PIL import Image, ImageDraw

        times = np.zeros((self.size[1], self.size[0]), np.int8)
        for way in self.ways:
            one = Image.new("1", self.size)
            places = (way.points - self.corner) / MM_PER_PX + ROOM_PX - 0.5
            ImageDraw.Draw(one).polygon([(float(x), float(y)) for x, y in places], fill=1)
            times += np.asarray(one, np.int8) * (1 if _area(way.points) > 0.0 else -1)
        return np.asarray(times % 2 == 1 if self.even_odd else times != 0)

    @cached_property
    def sides(self) -> Floats:
        """Points of them a millimetre apart, but for what of one lies inside another."""
        points = np.concatenate([evenly_along(way.points) for way in self.ways])
        inside = np.ones(len(points), np.bool_)
        for off in ((-1, 0), (1, 0), (0, -1), (0, 1)):
            inside &= self.holds(points + 2.0 * MM_PER_PX * np.array(off))
        return points[~inside] if not inside.all() else points

    @cached_property
    def _tree(self) -> "cKDTree":
        from scipy.spatial import cKDTree

        return cKDTree(self.sides)

    def places_of(self, pixels: Floats) -> Floats:
        """Where pixels of the mask lie, in mm."""
        return np.asarray((pixels + 0.5 - ROOM_PX) * MM_PER_PX + self.corner)

    def holds(self, points: Floats) -> NDArray[np.bool_]:
        """Which of some places lie in what is filled."""
        i, j = np.clip(((points - self.corner) / MM_PER_PX + ROOM_PX).astype(np.intp), 0, np.array(self.size) - 1).T
        return np.asarray(self.mask[j, i])

    def nearest(self, points: Floats) -> Floats:
        """The place of the sides that is nearest to each of some."""
        _, near = self._tree.query(points)
        return np.asarray(self.sides[near])

    def crossed(self, place: Floats, way: Floats) -> Floats:
        """How far ahead of a place, or behind it (negative), an outline is crossed by a straight way through there."""
        found = []
        for each in self.ways:
            off = each.points - place
            along, aside = off @ way, way[0] * off[:, 1] - way[1] * off[:, 0]
            next_along, next_aside = np.roll(along, -1), np.roll(aside, -1)
            crosses = (aside > 0.0) != (next_aside > 0.0)
            share = aside[crosses] / (aside[crosses] - next_aside[crosses])
            found.append(along[crosses] + share * (next_along[crosses] - along[crosses]))
        return np.concatenate(found)


def _area(points: Floats) -> float:
    x, y = points.T
    return 0.5 * float(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1)))


def _side(way: Way, ways: Sequence[Way]) -> float:
    """1 for an outline, -1 for a hole's: whichever way each is drawn round."""
    # Some place of it that is on no level of another's points.
    place = 0.63 * way.points[0] + 0.37 * way.points[1]
    depth = sum(_goes_round(other.points, place) for other in ways if other is not way)
    sign = 1.0 if depth % 2 == 0 else -1.0
    return sign * float(np.sign(_area(way.points)) or 1.0)


def _goes_round(outline: Floats, place: Floats) -> bool:
    x, y = outline.T
    nx, ny = np.roll(x, -1), np.roll(y, -1)
    crosses = (y > place[1]) != (ny > place[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        at = x + (place[1] - y) / (ny - y) * (nx - x)
    return bool(np.count_nonzero(crosses & (place[0] < at)) % 2)
