"""The mat under and over its tape: surface, light, zones, the start, the letters of bends."""

from dataclasses import dataclass, field
from math import cos, sin

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QImage,
    QPainter,
    QPen,
    QPolygonF,
    QRadialGradient,
    QTransform,
)

from irontrail.app.theme import Theme, fade, font, pen, readable
from irontrail.app.widgets.painting import draw_words, polygon
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.route import Bending, Route
from irontrail.core.mat.surface import SURFACES
from irontrail.core.mat.tape import Mat, Spot
from irontrail.core.mat.zones import corners, start_and_finish

Floats = NDArray[np.float64]

# Words and lines drawn on the mat itself, which is light in both themes.
MAT_INK = "#4A4F55"
LETTER_AWAY_PX = 22.0
SPOT_ARROW_PX = 34.0
GRAIN_GAP_MM, GRAIN_STEP_MM = 34.0, 20.0


@dataclass(frozen=True)
class Marks:
    """What is marked on a mat: the way, where the robot is set down, shadows and glares.

    `pose` is what is set down (mm, rad); `finishes`: coming to the finish means something to the program. The route
    follows from the mat and `reverse`.
    """

    route: Route = field(compare=False)
    pose: tuple[float, float, float]
    reverse: bool
    areas: tuple[LightArea, ...]
    finishes: bool = True


@dataclass(frozen=True, eq=False)
class Underlay:
    """A picture of a mat seen from above, its top row first, and the name of the mat it belongs to."""

    mat_name: str
    picture: QImage


def draw_underlay(painter: QPainter, mat: Mat, underlay: Underlay, to_px: QTransform) -> None:
    """A picture of the mat over its surface, to lay tape over."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.drawImage(to_px.mapRect(QRectF(0.0, 0.0, mat.width_mm, mat.height_mm)), underlay.picture)
    painter.restore()


def mat_ink(mat: Mat) -> str:
    """What is written on a mat is written in: dark on a light mat, light on a dark one."""
    return readable(mat.colour, MAT_INK)


def draw_surface(painter: QPainter, theme: Theme, mat: Mat, to_px: QTransform) -> None:
    """The mat's surface with a soft edge on the desk."""
    sheet = to_px.mapRect(QRectF(0.0, 0.0, mat.width_mm, mat.height_mm))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.shadow))
    painter.drawRect(sheet.translated(3.0, 4.0))
    draw_sheet(painter, mat, to_px)


def draw_sheet(painter: QPainter, mat: Mat, to_px: QTransform) -> None:
    """The bare mat."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(mat.colour))
    painter.drawRect(to_px.mapRect(QRectF(0.0, 0.0, mat.width_mm, mat.height_mm)))
    if SURFACES[mat.surface].grain > 0.0:
        _draw_grain(painter, mat, to_px)


def _draw_grain(painter: QPainter, mat: Mat, to_px: QTransform) -> None:
    """Long streaks, so that wood is seen to be wood; drawn sparsely, whatever the zoom."""
    painter.save()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(fade(mat_ink(mat), 0.16), 1.0))
    x = np.arange(0.0, mat.width_mm + GRAIN_STEP_MM, GRAIN_STEP_MM)
    for i, y in enumerate(np.arange(0.5 * GRAIN_GAP_MM, mat.height_mm, GRAIN_GAP_MM)):
        bow = y + 0.2 * GRAIN_GAP_MM * np.sin(x / (180.0 + 37.0 * (i % 5)) + 1.7 * i)
        painter.drawPolyline(to_px.map(polygon(np.minimum(x, mat.width_mm), bow)))
    painter.restore()


def draw_light(painter: QPainter, mat: Mat, areas: tuple[LightArea, ...], to_px: QTransform) -> None:
    """Shadows and glares: darker or lighter inside a dashed outline, fading over the soft edge, each with its name."""
    painter.setFont(font(10))
    for area in areas:
        wide, high = area.half_width_mm + area.soft_mm, area.half_height_mm + area.soft_mm
        shadow = area.factor < 1.0
        strength = 0.34 * min(abs(1.0 - area.factor), 1.0)
        tone = "#1C2530" if shadow else "#FFF3B0"
        painter.save()
        painter.setTransform(to_px, True)
        painter.translate(area.x_mm, area.y_mm)
        painter.scale(wide, high)
        shade = QRadialGradient(QPointF(0.0, 0.0), 1.0)
        shade.setColorAt(0.0, fade(tone, strength))
        shade.setColorAt(min(area.half_width_mm / wide, area.half_height_mm / high), fade(tone, strength))
        shade.setColorAt(1.0, fade(tone, 0.0))
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(shade)
        painter.drawEllipse(QPointF(0.0, 0.0), 1.0, 1.0)
        painter.restore()
        inner = to_px.mapRect(
            QRectF(
                area.x_mm - area.half_width_mm,
                area.y_mm - area.half_height_mm,
                2 * area.half_width_mm,
                2 * area.half_height_mm,
            )
        )
        painter.setPen(QPen(QColor(mat_ink(mat)), 1.0, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(inner)
        word = f"{'shadow' if shadow else 'glare'} × {area.factor:g}"
        painter.drawText(
            QRectF(inner.center().x() - 50, inner.bottom() + 3, 100, 16), Qt.AlignmentFlag.AlignCenter, word
        )


def draw_marks(painter: QPainter, mat: Mat, marks: Marks, to_px: QTransform) -> None:
    """Where the run starts and which way, the start and finish zones, and the letters of the bends."""
    painter.setFont(font(10))
    route = marks.route
    zones = start_and_finish(mat, marks.reverse)
    taken = QRectF()
    for zone, s, word in zip(zones, (0.0, route.length_mm), ("start", "finish"), strict=True):
        if zone is not None or (not route.closed and marks.finishes):
            around = corners(zone) if zone is not None else _end_corners(mat, route, s)
            taken = _draw_zone(painter, around, word, mat_ink(mat), to_px, taken)
    for i, spot in enumerate(mat.spots, 1):
        _draw_spot(painter, spot, f"spot {i}" if len(mat.spots) > 1 else "spot", mat_ink(mat), to_px)
    x, y, heading = marks.pose
    across = np.array([-np.sin(heading), np.cos(heading)]) * (0.5 * mat.followed.width_mm + 14.0)
    along = np.array([np.cos(heading), np.sin(heading)])
    ink = mat_ink(mat)
    painter.setPen(QPen(QColor(ink), 1.5))
    painter.drawLine(to_px.map(QPointF(x + across[0], y + across[1])), to_px.map(QPointF(x - across[0], y - across[1])))
    tip = np.array([x, y]) - across * 1.5 + along * 46.0
    tail, side = tip - along * 46.0, across / np.hypot(*across) * 9.0
    arrow = [tail, tip, tip - along * 14.0 + side, tip, tip - along * 14.0 - side]
    painter.drawPolyline([to_px.map(QPointF(*point)) for point in arrow])
    draw_words(painter, [(*_beside(route, bend, to_px), bend.name) for bend in route.bends], 11, True, ink)


def _draw_spot(painter: QPainter, spot: Spot, word: str, ink: str, to_px: QTransform) -> None:
    """A spot: the circle to stand in, and the sector to point into."""
    middle, reach = to_px.map(QPointF(spot.x_mm, spot.y_mm)), spot.within_mm * to_px.m11()
    painter.setPen(pen(ink, 1.4, (3.0, 2.0)))
    painter.setBrush(fade(ink, 0.08))
    painter.drawEllipse(middle, reach, reach)
    far = max(reach + 14.0, SPOT_ARROW_PX)
    painter.setPen(QPen(QColor(ink), 1.2))
    for turned in (spot.heading_deg - spot.within_deg, spot.heading_deg + spot.within_deg):
        way = np.radians(turned)
        painter.drawLine(middle, middle + QPointF(far * float(np.cos(way)), -far * float(np.sin(way))))
    painter.setFont(font(10))
    painter.setPen(QColor(ink))
    box = QRectF(middle.x() - 40, middle.y() + max(reach, 6.0) + 2, 80, 16)
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, word)


def _beside(route: Route, bend: Bending, to_px: QTransform) -> tuple[float, float]:
    """Where a bend's letter stands, on its outside."""
    i, last = round(0.5 * (bend.start_mm + bend.end_mm) / route.step_mm), route.heading.size - 1
    heading = route.heading.item
    turned = heading(i)
    if abs(heading(min(i + 2, last)) - heading(max(i - 2, 0))) > 0.2:
        turned = 0.5 * (heading(max(i - 3, 0)) + heading(min(i + 3, last)))
    away = LETTER_AWAY_PX if bend.turns_left else -LETTER_AWAY_PX
    at = to_px.map(QPointF(route.x_mm.item(i), route.y_mm.item(i)))
    # Pixels grow downward, so the normal's y changes sign.
    return at.x() + away * sin(turned), at.y() + away * cos(turned)


def _end_corners(mat: Mat, route: Route, s: float) -> list[tuple[float, float]]:
    """The corners of the zone at an end of an open line."""
    x, y, heading = route.at(s)
    c, sine = float(np.cos(heading)), float(np.sin(heading))
    inward = mat.zone_mm if s == 0.0 else -mat.zone_mm
    low, high = min(inward, 0.0) - 6.0, max(inward, 0.0) + 6.0
    half = 0.5 * mat.followed.width_mm + 22.0
    return [
        (x + c * a - sine * b, y + sine * a + c * b)
        for a, b in ((low, -half), (high, -half), (high, half), (low, half))
    ]


def _draw_zone(
    painter: QPainter, around: list[tuple[float, float]], word: str, ink: str, to_px: QTransform, taken: QRectF
) -> QRectF:
    """A zone by its corners, with its name under it, or over it where a place is taken; tells where the name stands."""
    shape = QPolygonF([to_px.map(QPointF(*corner)) for corner in around])
    painter.setPen(QPen(QColor(ink), 1.2))
    painter.setBrush(fade(ink, 0.08))
    painter.drawPolygon(shape)
    box = shape.boundingRect()
    name = QRectF(0.0, 0.0, painter.fontMetrics().horizontalAdvance(word) + 8.0, 16.0)
    name.moveCenter(QPointF(box.center().x(), box.bottom() + 11.0))
    if name.intersects(taken):
        name.moveBottom(box.top() - 3.0)
    painter.drawText(name, Qt.AlignmentFlag.AlignCenter, word)
    return name
