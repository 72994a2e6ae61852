"""What is laid on a mat as it is drawn, to scale: lines of tape, all of them or what is near a place, and patches."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from irontrail.app.widgets.painting import polygon, polygon_of
from irontrail.app.widgets.strokes import Laid
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat

# Of a bend a point is drawn for each so much that it turns: seen as a whole, and from nearer than so many pixels a mm.
TURN_RAD, NEAR_TURN_RAD, NEAR_PX_PER_MM = 0.06, 0.02, 0.8
# Points of the lengths that tape is cut into where only some of it is seen; and how far any reaches from its middle.
LENGTH_POINTS, WIDEST_MM = 60, 120.0


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
        from irontrail.app.ink import lay_cover
        from irontrail.core.mat.raster import tape_cover

        seen = tuple(_on_view(_with_few_points(run, self._turn_rad), self.to_px) for run in self.runs)
        cover, place = tape_cover(pixels.shape, seen, self.wider_mm, 1.0 / (laid.ratio * self.to_px.m11()))
        lay_cover(pixels, laid.wet, cover, place, int(self.colour[1:], 16), round(255.0 * self.opacity))

    @property
    def _turn_rad(self) -> float:
        return NEAR_TURN_RAD if self.to_px.m11() > NEAR_PX_PER_MM else TURN_RAD


def tapes(mat: Mat, to_px: QTransform, near: QRectF | None = None, opacity: float = 1.0) -> list[Tape]:
    """The tape of a mat's lines, each on its border, in the order in which it lies.

    Only what lies near a rectangle of the mat, in mm, if there is one.
    """
    found = []
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if near is not None:
            runs = _lengths_near(runs, near)
        if stroke.border_mm > 0.0:
            found.append(Tape(runs, stroke.border_colour, stroke.border_mm, to_px, opacity))
        found.append(Tape(runs, stroke.colour, 0.0, to_px, opacity))
    return found


def draw_tape(painter: QPainter, mat: Mat, to_px: QTransform, near: QRectF | None = None) -> None:
    """All that lies on the mat, to scale, in the order that the robot's light finds it; of the tape what is near."""
    draw_patches(painter, mat, to_px, over_line=False)
    for tape in tapes(mat, to_px, near):
        tape.draw(painter)
    draw_patches(painter, mat, to_px, over_line=True)


def draw_patches(painter: QPainter, mat: Mat, to_px: QTransform, over_line: bool) -> None:
    """The patches that lie over the line, or those under it."""
    painter.setPen(Qt.PenStyle.NoPen)
    for patch in mat.patches:
        if patch.over_line == over_line:
            painter.setBrush(QColor(patch.colour))
            left, low = patch.x_mm - patch.width_mm / 2, patch.y_mm - patch.height_mm / 2
            painter.drawRect(to_px.mapRect(QRectF(left, low, patch.width_mm, patch.height_mm)))


def _lengths_near(runs: tuple[TapeRun, ...], near: QRectF) -> tuple[TapeRun, ...]:
    """Those lengths of runs of tape that may reach into a rectangle, in mm."""
    x = (near.left() - WIDEST_MM, near.right() + WIDEST_MM)
    y = (near.top() - WIDEST_MM, near.bottom() + WIDEST_MM)
    found = []
    for run in runs:
        in_reach = (run.x_mm > x[0]) & (run.x_mm < x[1]) & (run.y_mm > y[0]) & (run.y_mm < y[1])
        numbers = sorted(set((np.flatnonzero(in_reach) // LENGTH_POINTS).tolist()))
        found += [_length(run, number) for number in numbers]
    return tuple(found)


@lru_cache(maxsize=64)
def _length(run: TapeRun, number: int) -> TapeRun:
    """One of the lengths that a run of tape is cut into, with so much of its neighbours that nothing shows between."""
    last = run.x_mm.size - 1
    here = np.arange(number * LENGTH_POINTS - 1, min((number + 1) * LENGTH_POINTS + 1, last + 1))
    # The last point of a closed run is its first one again.
    here = here % last if run.closed else here[here >= 0]
    return TapeRun(run.x_mm[here], run.y_mm[here], run.left_mm[here], run.right_mm[here], False)


@lru_cache(maxsize=64)
def _sides(run: TapeRun) -> tuple[float, bool]:
    """How far a run's edges are from its middle at the narrowest place, in mm, and whether they wander."""
    return min(float(run.left_mm.min()), float(run.right_mm.min())), bool(np.ptp(run.left_mm) > 0.0)


@lru_cache(maxsize=64)
def _middle(run: TapeRun, turn_rad: float) -> QPolygonF:
    """A run's middle, by as few points as show it."""
    keep = _shown_by(run, turn_rad)
    return polygon_of(run.x_mm[keep], run.y_mm[keep])


@lru_cache(maxsize=64)
def _with_few_points(run: TapeRun, turn_rad: float) -> TapeRun:
    """A run by as few points as show it; all of one whose edges wander."""
    if _sides(run)[1]:
        return run
    keep = _shown_by(run, turn_rad)
    return TapeRun(run.x_mm[keep], run.y_mm[keep], run.left_mm[keep], run.right_mm[keep], run.closed)


def _shown_by(run: TapeRun, turn_rad: float) -> NDArray[np.int_]:
    """The points by which a run's middle is seen as it is: one for each so much that it turns."""
    x, y = np.diff(run.x_mm), np.diff(run.y_mm)
    squared = x * x + y * y
    # The sine of how far it turns from one piece to the next, which is as good: at a corner a run ends.
    turns = np.abs(x[:-1] * y[1:] - y[:-1] * x[1:]) / np.sqrt(squared[:-1] * squared[1:])
    steps = np.floor(np.cumsum(turns) / turn_rad)
    return np.flatnonzero(np.concatenate(([True], steps[:1] > 0.0, steps[1:] > steps[:-1], [True])))


def _on_view(run: TapeRun, to_px: QTransform) -> TapeRun:
    """A run as a view shows it, in mm from the view's corner: y grows downward there, so that left is right."""
    x, y = run.x_mm + to_px.dx() / to_px.m11(), to_px.dy() / to_px.m11() - run.y_mm
    return TapeRun(x, y, run.right_mm, run.left_mm, run.closed)


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
