"""What a drawing is made of, whatever program drew it: shapes with their ways, in millimetres, y up."""

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from irontrail.core.mat.drawn_way import Arc, Drawn, drawn_way
from irontrail.core.mat.route import plain_joints
from irontrail.core.mat.tape import Bend, Corner, Stroke
from irontrail.core.plain import plain_name

Floats = NDArray[np.float64]

# A drawing's figures are no finer than this; what converting units adds is left off.
DECIMALS = 2


@dataclass(frozen=True, eq=False)
class Way:
    """A way that is drawn without lifting the pen; a closed one ends where it starts.

    `off_mm` is how far it is from what it stands for, where it was worked out from that.
    """

    start: tuple[float, float]
    parts: tuple[Drawn, ...]
    closed: bool = False
    off_mm: float = 0.0

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
        return Way(self.ends[1], parts, self.closed, self.off_mm)

    def followed_by(self, other: "Way") -> "Way":
        """Both as one way; the other starts where this one ends."""
        return replace(self, parts=(*self.parts, *other.parts), off_mm=max(self.off_mm, other.off_mm))


@dataclass(frozen=True, eq=False)
class Shape:
    """One drawn thing: its name, colours and width, its dashes (mm, on and off in turn), and its ways.

    `even_odd`: what lies in two of its ways is not filled, as it else is where both go round it alike. `extra` is what
    this program's own drawings say of it beyond what can be seen.
    """

    name: str
    fill: str | None
    stroke: str | None
    width_mm: float
    ways: tuple[Way, ...]
    dashes: tuple[float, ...] = ()
    dashes_from_mm: float = 0.0
    extra: tuple[tuple[str, str], ...] = ()
    even_odd: bool = False

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


def parts_of(stroke: Stroke) -> tuple[tuple[float, float], tuple[Drawn, ...]]:
    """Tape as a drawn way: where it starts, and its straights and bends."""
    parts: list[Drawn] = []
    line = [(stroke.x_mm, stroke.y_mm)]
    for piece, (_, _, heading), (x, y, _) in plain_joints(stroke):
        if isinstance(piece, Bend):
            parts += [np.array(line)] if len(line) > 1 else []
            parts.append(Arc(piece.radius_mm, float(np.radians(piece.angle_deg)), heading))
            line = [(x, y)]
        elif not isinstance(piece, Corner):
            line.append((x, y))
    parts += [np.array(line)] if len(line) > 1 else []
    return (stroke.x_mm, stroke.y_mm), tuple(parts)


def upright_box(shape: Shape) -> tuple[float, float, float, float, float] | None:
    """Middle, width, height (mm) and angle (degrees, left) of a shape that is a rectangle; None for another."""
    if len(shape.ways) != 1 or len(shape.ways[0].parts) != 1 or not isinstance(shape.ways[0].parts[0], np.ndarray):
        return None
    points = shape.ways[0].parts[0]
    points = points[np.concatenate(([True], np.hypot(*np.diff(points, axis=0).T) > 1e-6))]
    if len(points) == 5 and np.allclose(points[0], points[-1], atol=1e-6):
        points = points[:4]
    if len(points) != 4:
        return None
    # From the lower left corner on: SVG draws it from the upper left, downward in y.
    across, up = points[1] - points[0], points[2] - points[1]
    wide, tall = float(np.hypot(*across)), float(np.hypot(*up))
    square = abs(float(across @ up)) < 1e-6 * max(wide * tall, 1e-9)
    if not square or min(wide, tall) < 1.0 or not np.allclose(points[0] + up, points[3], atol=1e-3):
        return None
    middle, angle = points.mean(axis=0), float(np.degrees(np.arctan2(across[1], across[0])))
    x, y, wide, tall = (round(float(value), DECIMALS) for value in (*middle, wide, tall))
    return x, y, wide, tall, round(angle, 6)


def called(shape: Shape) -> str:
    """What a shape is called, to be said after what it is; nothing without a name."""
    return f" “{plain_name(shape.name)[:40]}”" if shape.name else ""
