"""What is laid on a mat as it is drawn, to scale: lines of tape, all of them or what is near a place, and patches."""

from functools import lru_cache

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from irontrail.app.widgets.painting import polygon, polygon_of
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Mat

# Of a bend a point is drawn for each so much that it turns: seen as a whole, and from nearer than so many pixels a mm.
TURN_RAD, NEAR_TURN_RAD, NEAR_PX_PER_MM = 0.06, 0.02, 0.8
# Points of the lengths that tape is cut into where only some of it is seen; and how far any reaches from its middle.
LENGTH_POINTS, WIDEST_MM = 60, 120.0


def draw_tape(painter: QPainter, mat: Mat, to_px: QTransform, near: QRectF | None = None) -> None:
    """All that lies on the mat, to scale, in the order that the robot's light finds it.

    Of a run of tape only what lies near a rectangle of the mat, in mm, if there is one.
    """
    turn = NEAR_TURN_RAD if to_px.m11() > NEAR_PX_PER_MM else TURN_RAD
    painter.save()
    painter.setTransform(to_px, True)
    _draw_patches(painter, mat, over_line=False)
    for stroke in reversed(mat.lines):
        runs = tape_runs(stroke, stroke_route(stroke, mat.name))
        if near is not None:
            runs = _lengths_near(runs, near)
        if stroke.border_mm > 0.0:
            _draw_runs(painter, runs, stroke.border_colour, stroke.border_mm, turn)
        _draw_runs(painter, runs, stroke.colour, 0.0, turn)
    _draw_patches(painter, mat, over_line=True)
    painter.restore()


def _draw_patches(painter: QPainter, mat: Mat, over_line: bool) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    for patch in mat.patches:
        if patch.over_line == over_line:
            painter.setBrush(QColor(patch.colour))
            left, low = patch.x_mm - patch.width_mm / 2, patch.y_mm - patch.height_mm / 2
            painter.drawRect(QRectF(left, low, patch.width_mm, patch.height_mm))


def _draw_runs(painter: QPainter, runs: tuple[TapeRun, ...], colour: str, wider_mm: float, turn_rad: float) -> None:
    """Runs of tape: a line as wide as the narrowest place, and the outline where the edges wander."""
    for run in runs:
        narrowest, wanders = _sides(run)
        wide = 2.0 * (narrowest + wider_mm)
        tape = QPen(QColor(colour), wide, Qt.PenStyle.SolidLine, Qt.PenCapStyle.FlatCap, Qt.PenJoinStyle.BevelJoin)
        painter.setPen(tape)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        if run.closed:
            painter.drawPolygon(_middle(run, turn_rad))
        else:
            painter.drawPolyline(_middle(run, turn_rad))
        if wanders:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colour))
            painter.drawPath(_outline(run, wider_mm))


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
    """A run's middle, by as few points as show it: one for each so much that it turns."""
    heading = np.unwrap(np.arctan2(np.diff(run.y_mm), np.diff(run.x_mm)))
    turned = np.concatenate(([0.0], np.cumsum(np.abs(np.diff(heading))), [0.0]))
    keep = np.flatnonzero(np.diff(np.floor(turned[:-1] / turn_rad), prepend=-1.0, append=-1.0))
    return polygon_of(run.x_mm[keep], run.y_mm[keep])


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
