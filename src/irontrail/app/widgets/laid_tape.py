"""What is laid on a mat as it is drawn, to scale: lines of tape, and patches."""

from dataclasses import dataclass
from functools import lru_cache
from math import hypot
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from irontrail.app.widgets.painting import polygon, polygon_of
from irontrail.app.widgets.strokes import Laid
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat

Floats = NDArray[np.float64]

if TYPE_CHECKING:
    from irontrail.core.mat.cover import Strip

# Of a bend a point is drawn for each so much that it turns: seen as a whole, and from nearer than so many pixels a mm.
TURN_RAD, NEAR_TURN_RAD, NEAR_PX_PER_MM = 0.06, 0.02, 0.8


@dataclass(frozen=True, eq=False)
class Tape:
    """Runs of tape of one colour on a view, `wider_mm` wider on either side."""

    runs: tuple[TapeRun, ...]
    colour: str
    wider_mm: float
    to_px: QTransform
    opacity: float = 1.0

    def draw(self, painter: QPainter) -> None:
        """A line as wide as the narrowest place, and the outline where the edges wander."""
        painter.save()
        painter.setTransform(self.to_px, True)
        painter.setOpacity(self.opacity)
        for run in self.runs:
            narrowest, wanders = _sides(run)
            tape = QPen(QColor(self.colour), 2.0 * (narrowest + self.wider_mm))
            tape.setCapStyle(Qt.PenCapStyle.FlatCap)
            tape.setJoinStyle(Qt.PenJoinStyle.BevelJoin)
            painter.setPen(tape)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            if run.closed:
                painter.drawPolygon(_middle(run, self._turn_rad))
            else:
                painter.drawPolyline(_middle(run, self._turn_rad))
            if wanders:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(self.colour))
                painter.drawPath(_outline(run, self.wider_mm))
        painter.restore()

    def lay(self, pixels: NDArray[np.uint32], laid: Laid) -> None:
        """As light finds it, pixel by pixel: Qt takes seven times as long, and others wait for it."""
        from irontrail.core.mat.cover import cover_of

        strips = [
            _strip(_with_few_points(run, self._turn_rad), self.wider_mm, self.to_px, laid.ratio) for run in self.runs
        ]
        cover, place = cover_of(pixels.shape, strips)
        laid.ink.lay_cover(pixels, laid.wet, cover, place, int(self.colour[1:], 16), round(255.0 * self.opacity))

    @property
    def _turn_rad(self) -> float:
        return NEAR_TURN_RAD if _px_per_mm(self.to_px) > NEAR_PX_PER_MM else TURN_RAD


def tapes(mat: Mat, to_px: QTransform, opacity: float = 1.0) -> list[Tape]:
    """The tape of a mat's lines, each on its border, in the order in which it lies."""
    found = []
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if stroke.border_mm > 0.0:
            found.append(Tape(runs, stroke.border_colour, stroke.border_mm, to_px, opacity))
        found.append(Tape(runs, stroke.colour, 0.0, to_px, opacity))
    return found


def draw_tape(painter: QPainter, mat: Mat, to_px: QTransform) -> None:
    """All that lies on the mat, to scale, in the order that the robot's light finds it."""
    draw_patches(painter, mat, to_px, over_line=False)
    for tape in tapes(mat, to_px):
        tape.draw(painter)
    draw_patches(painter, mat, to_px, over_line=True)


def draw_patches(painter: QPainter, mat: Mat, to_px: QTransform, over_line: bool) -> None:
    """The patches that lie over the line, or those under it."""
    painter.setPen(Qt.PenStyle.NoPen)
    for patch in mat.patches:
        if patch.over_line == over_line:
            painter.setBrush(QColor(patch.colour))
            left, low = patch.x_mm - patch.width_mm / 2, patch.y_mm - patch.height_mm / 2
            painter.drawPolygon(to_px.map(QPolygonF(QRectF(left, low, patch.width_mm, patch.height_mm))))


@lru_cache(maxsize=64)
def _sides(run: TapeRun) -> tuple[float, bool]:
    """How far a run's edges are from its middle at the narrowest place, in mm, and whether they wander."""
    return min(float(run.left_mm.min()), float(run.right_mm.min())), bool(np.ptp(run.left_mm) > 0.0)


@lru_cache(maxsize=64)
def _middle(run: TapeRun, turn_rad: float) -> QPolygonF:
    """A run's middle, by as few points as show it."""
    keep = shown_by(run.x_mm, run.y_mm, turn_rad)
    return polygon_of(run.x_mm[keep], run.y_mm[keep])


@lru_cache(maxsize=64)
def _with_few_points(run: TapeRun, turn_rad: float) -> TapeRun:
    """A run by as few points as show it; all of one whose edges wander."""
    if _sides(run)[1]:
        return run
    keep = shown_by(run.x_mm, run.y_mm, turn_rad)
    return TapeRun(run.x_mm[keep], run.y_mm[keep], run.left_mm[keep], run.right_mm[keep], run.closed)


def shown_by(x_mm: Floats, y_mm: Floats, turn_rad: float) -> NDArray[np.int_]:
    """The points by which a line is seen as it is: its ends, and one for each so much that it turns."""
    x, y = np.diff(x_mm), np.diff(y_mm)
    squared = x * x + y * y
    # The sine of how far it turns from one piece to the next, which is as good: at a corner a run ends.
    turns = np.abs(x[:-1] * y[1:] - y[:-1] * x[1:]) / np.sqrt(squared[:-1] * squared[1:])
    steps = np.floor(np.cumsum(turns) / turn_rad)
    return np.flatnonzero(np.concatenate(([True], steps[:1] > 0.0, steps[1:] > steps[:-1], [True])))


def _strip(run: TapeRun, wider_mm: float, to_px: QTransform, ratio: float) -> "Strip":
    """A run as a view shows it, whose pixels are `ratio` to a place: y grows downward there, so that left is right."""
    x = ratio * to_px.m11() * run.x_mm + ratio * to_px.m21() * run.y_mm + ratio * to_px.dx()
    y = ratio * to_px.m12() * run.x_mm + ratio * to_px.m22() * run.y_mm + ratio * to_px.dy()
    scale = ratio * _px_per_mm(to_px)
    left, right = scale * run.right_mm + scale * wider_mm, scale * run.left_mm + scale * wider_mm
    return x, y, left, right, run.closed


def _px_per_mm(to_px: QTransform) -> float:
    """The scale of a view, however it is turned."""
    return hypot(to_px.m11(), to_px.m12())


def _outline(run: TapeRun, wider_mm: float) -> QPainterPath:
    """The outline of a run whose edges wander."""
    heading = np.unwrap(np.arctan2(np.gradient(run.y_mm), np.gradient(run.x_mm)))
    across_x, across_y = -np.sin(heading), np.cos(heading)
    left, right = run.left_mm + wider_mm, -(run.right_mm + wider_mm)
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    x = np.concatenate((run.x_mm + left * across_x, (run.x_mm + right * across_x)[::-1]))
    y = np.concatenate((run.y_mm + left * across_y, (run.y_mm + right * across_y)[::-1]))
    path.addPolygon(polygon(x, y))
    return path
