"""What a drawing is made of, whatever program drew it: shapes with their ways, in millimetres, y up."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.biarcs import Arc, Drawn, drawn_way

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Way:
    """A way that is drawn without lifting the pen; a closed one ends where it starts."""

    start: tuple[float, float]
    parts: tuple[Drawn, ...]
    closed: bool = False

    @cached_property
    def points(self) -> Floats:
        """Points along it in mm, shape (n, 2)."""
        return drawn_way(self.parts, self.start)

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where it starts and where it ends."""
        x, y = self.points[-1]
        return self.start, (float(x), float(y))

    @cached_property
    def length_mm(self) -> float:
        return float(np.hypot(*np.diff(self.points, axis=0).T).sum())

    def turned_round(self) -> "Way":
        """The same way from its other end."""
        parts = tuple(
            Arc(part.radius_mm, -part.turn, part.heading + part.turn + np.pi) if isinstance(part, Arc) else part[::-1]
            for part in reversed(self.parts)
        )
        return Way(self.ends[1], parts, self.closed)

    def followed_by(self, other: "Way") -> "Way":
        """Both as one way; the other starts where this one ends."""
        return replace(self, parts=(*self.parts, *other.parts))


@dataclass(frozen=True, eq=False)
class Shape:
    """One drawn thing: its name, colours and width, its dashes (mm, on and off in turn), and its ways.

    `extra` is what this program's own drawings say of it beyond what can be seen.
    """

    name: str
    fill: str | None
    stroke: str | None
    width_mm: float
    ways: tuple[Way, ...]
    dashes: tuple[float, ...] = ()
    dashes_from_mm: float = 0.0
    extra: tuple[tuple[str, str], ...] = ()

    @property
    def told(self) -> dict[str, str]:
        """Its extra by name."""
        return dict(self.extra)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, low, right and high of all its ways."""
        points = np.concatenate([way.points for way in self.ways])
        (left, low), (right, high) = points.min(axis=0), points.max(axis=0)
        return float(left), float(low), float(right), float(high)


@dataclass(frozen=True, eq=False)
class Sheet:
    """A drawing: its size in mm, its shapes in the order they are drawn, the pictures in it, and what was left out."""

    width_mm: float
    height_mm: float
    shapes: tuple[Shape, ...]
    pictures: tuple[bytes, ...] = ()
    left_out: tuple[str, ...] = ()
    extra: tuple[tuple[str, str], ...] = ()
