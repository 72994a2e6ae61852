"""A trail on the mat: plain, or in levels of something; and where it ended in trouble."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, font, pen
from irontrail.app.widgets.painting import draw_trail, polygon, polygon_of
from irontrail.app.widgets.trail_shade import Shade, calmed, stretches_of

Floats = NDArray[np.float64]

# The trail's rust on the mat, which is light in both themes.
TRAIL = "#B3471D"
# A shaded trail has a point for so many pixels, but no more points than this all together; a dashed one is drawn for
# so many points and left out for as many.
LEVEL_STEP_PX = 2.0
MOST_POINTS = 6000
DASH_POINTS = 3
# A stretch of fewer points is drawn as the one before it: too short to be seen by itself.
SHORTEST_POINTS = 4


@dataclass(frozen=True, eq=False)
class Trail:
    """Where a sensor went, in millimetres, shape (n,)."""

    x_mm: Floats
    y_mm: Floats

    def in_px(self, to_px: QTransform) -> QPolygonF:
        """The trail in pixels."""
        return polygon(self.x_mm * to_px.m11() + to_px.dx(), self.y_mm * to_px.m22() + to_px.dy())


def draw_shaded(painter: QPainter, trail: Trail, shade: Shade, to_px: QTransform, width: int) -> None:
    """The trail in levels, and what each stands for in a row over the mat."""
    x, y = trail.x_mm * to_px.m11() + to_px.dx(), trail.y_mm * to_px.m22() + to_px.dy()
    travelled = np.concatenate(([0.0], np.cumsum(np.hypot(np.diff(x), np.diff(y)))))
    step = max(LEVEL_STEP_PX, float(travelled[-1]) / MOST_POINTS)
    way = np.arange(0.0, float(travelled[-1]) + step, step)
    rows = np.minimum(np.searchsorted(travelled, way), travelled.size - 1)
    x, y, level = np.interp(way, travelled, x), np.interp(way, travelled, y), calmed(shade.level[rows], SHORTEST_POINTS)
    dashed = np.array([look.dashed for look in shade.levels])[level]
    in_gap = dashed & (np.arange(way.size) // DASH_POINTS % 2 == 1)
    paths = [QPainterPath() for _ in shade.levels]
    for start, end in stretches_of(2 * level + in_gap):
        if not in_gap[start]:
            paths[level[start]].addPolygon(polygon_of(x[start:end], y[start:end]))
    for look, path in zip(shade.levels, paths, strict=True):
        draw_trail(painter, look.colour, path, look.width)
    painter.setFont(font(10))
    right = width - 18.0
    # It may lie over a mat of any colour; the levels are made for a light ground.
    metrics = QFontMetricsF(painter.font())
    whole = sum(metrics.horizontalAdvance(look.says) + 38.0 for look in shade.levels)
    painter.fillRect(QRectF(right - whole, 0.0, whole + 12.0, 18.0), QColor(LIGHT.card))
    for look in reversed(shade.levels):
        wide = metrics.horizontalAdvance(look.says)
        painter.setPen(QColor(LIGHT.second))
        painter.drawText(QPointF(right - wide, 13.0), look.says)
        line = QPointF(right - wide - 26.0, 9.5)
        painter.setPen(pen(look.colour, max(look.width, 2.0), (2.5, 1.5) if look.dashed else ()))
        painter.drawLine(line, line + QPointF(21.0, 0.0))
        right -= wide + 38.0


def draw_trouble(painter: QPainter, trail: Trail, word: str, to_px: QTransform, width: int) -> None:
    """Where a run ended that did not finish: a cross, and the word."""
    at = to_px.map(QPointF(float(trail.x_mm[-1]), float(trail.y_mm[-1])))
    painter.setPen(QPen(QColor(TRAIL), 2.4))
    for tilt in (-6.0, 6.0):
        painter.drawLine(at + QPointF(-6.0, -tilt), at + QPointF(6.0, tilt))
    painter.setFont(font(12, True))
    # Ahead of the sensor, where the robot is not.
    back = max(0, trail.x_mm.size - 8)
    way = QPointF(trail.x_mm[-1] - trail.x_mm[back], trail.y_mm[back] - trail.y_mm[-1])
    length = float(np.hypot(way.x(), way.y())) or 1.0
    middle = at + QPointF(way.x() / length * 48.0, way.y() / length * 22.0)
    room = QRectF(middle.x() - 40, middle.y() - 9, 80, 18)
    room.moveRight(min(room.right(), width - 4.0))
    room.moveLeft(max(room.left(), 4.0))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor("#FFFDF8"))
    painter.drawRoundedRect(room.adjusted(4, 0, -4, 0), 4, 4)
    painter.setPen(QColor(TRAIL))
    painter.drawText(room, Qt.AlignmentFlag.AlignCenter, word)
