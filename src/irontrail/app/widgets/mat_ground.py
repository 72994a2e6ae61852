"""The mat as drawn: surface, tape, zones, the start, the bends' letters. It changes only with the mat and the zoom."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPen, QTransform

from irontrail.app.theme import Theme, fade, font
from irontrail.app.widgets.painting import polygon
from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Mat

# Words and lines drawn on the mat itself, which is light in both themes.
MAT_INK = "#4A4F55"
LETTER_AWAY_PX = 22.0


def draw_surface(painter: QPainter, theme: Theme, mat: Mat, to_px: QTransform) -> None:
    """The mat's surface with a soft edge on the desk."""
    sheet = to_px.mapRect(QRectF(0.0, 0.0, mat.width_mm, mat.height_mm))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.shadow))
    painter.drawRect(sheet.translated(3.0, 4.0))
    painter.setBrush(QColor(mat.colour))
    painter.drawRect(sheet)


def line_path(route: Route) -> QPainterPath:
    """The tape's middle in millimetres."""
    path = QPainterPath()
    path.addPolygon(polygon(route.x_mm, route.y_mm))
    if route.closed:
        path.closeSubpath()
    return path


def draw_tape(painter: QPainter, mat: Mat, route: Route, to_px: QTransform) -> None:
    """The line of tape, to scale."""
    painter.save()
    painter.setTransform(to_px, True)
    made = QPen(QColor(mat.line.colour), mat.line.width_mm)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    made.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(made)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(line_path(route))
    painter.restore()


def draw_marks(painter: QPainter, mat: Mat, route: Route, start_mm: float, to_px: QTransform) -> None:
    """Where the run starts and which way, the zones of an open line, and the letters of the bends."""
    painter.setFont(font(10))
    if not route.closed:
        for s, word in ((0.0, "start"), (route.length_mm, "finish")):
            _draw_zone(painter, mat, route, s, word, to_px)
    x, y, heading = route.at(start_mm)
    across = np.array([-np.sin(heading), np.cos(heading)]) * (0.5 * mat.line.width_mm + 14.0)
    along = np.array([np.cos(heading), np.sin(heading)])
    painter.setPen(QPen(QColor(MAT_INK), 1.5))
    painter.drawLine(to_px.map(QPointF(x + across[0], y + across[1])), to_px.map(QPointF(x - across[0], y - across[1])))
    tip = np.array([x, y]) - across * 1.5 + along * 46.0
    tail, side = tip - along * 46.0, across / np.hypot(*across) * 9.0
    arrow = [tail, tip, tip - along * 14.0 + side, tip, tip - along * 14.0 - side]
    painter.drawPolyline([to_px.map(QPointF(*point)) for point in arrow])
    painter.setFont(font(11, True))
    painter.setPen(QColor(MAT_INK))
    for bend in route.bends:
        _draw_letter(painter, route, bend.name, 0.5 * (bend.start_mm + bend.end_mm), bend.turns_left, to_px)


def _draw_letter(painter: QPainter, route: Route, letter: str, s: float, left: bool, to_px: QTransform) -> None:
    """A bend's letter on its outside."""
    x, y, heading = route.at(s)
    if abs(np.diff(route.heading[max(0, round(s) - 2) : round(s) + 3]).sum()) > 0.2:
        heading = 0.5 * (route.at(s - 3.0)[2] + route.at(s + 3.0)[2])
    outward = -1.0 if left else 1.0
    place = to_px.map(QPointF(x, y))
    # Pixels grow downward, so the normal's y changes sign.
    place += QPointF(-np.sin(heading), -np.cos(heading)) * outward * LETTER_AWAY_PX
    painter.drawText(QRectF(place.x() - 12, place.y() - 8, 24, 16), Qt.AlignmentFlag.AlignCenter, letter)


def _draw_zone(painter: QPainter, mat: Mat, route: Route, s: float, word: str, to_px: QTransform) -> None:
    """A zone at an end of an open line."""
    x, y, heading = route.at(s)
    inward = 1.0 if s == 0.0 else -1.0
    half = 0.5 * mat.line.width_mm + 22.0
    painter.save()
    painter.setTransform(QTransform(np.cos(heading), np.sin(heading), -np.sin(heading), np.cos(heading), x, y) * to_px)
    made = QPen(QColor(MAT_INK), 1.2)
    made.setCosmetic(True)
    painter.setPen(made)
    painter.setBrush(fade(MAT_INK, 0.08))
    zone = QRectF(0.0, -half, inward * mat.zone_mm, 2 * half).normalized().adjusted(-6, 0, 6, 0)
    painter.drawRect(zone)
    painter.restore()
    place = to_px.map(QPointF(x, y))
    painter.setPen(QColor(MAT_INK))
    drop = half * abs(to_px.m22()) + 12.0
    painter.drawText(QRectF(place.x() - 40, place.y() + drop - 8, 80, 16), Qt.AlignmentFlag.AlignCenter, word)
