"""What is drawn over tape that is worked on: the grid it lands on, the chosen piece, and what that measures."""

from functools import lru_cache

import numpy as np
from PySide6.QtCore import QLineF, QPointF, Qt
from PySide6.QtGui import QImage, QPainter, QPen, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, fade, pen
from irontrail.app.widgets.laid_tape import NEAR_TURN_RAD, shown_by
from irontrail.app.widgets.painting import draw_card, in_pixels, polygon_of
from irontrail.core.mat.laying import in_words
from irontrail.core.mat.route import piece_lengths, stroke_route
from irontrail.core.mat.tape import Stroke

# Between the lines of the grid that is shown while something is held.
GRID_MM = 100.0


def draw_grid(painter: QPainter, width_mm: float, height_mm: float, to_px: QTransform) -> None:
    """Thin lines over a mat of some size."""
    device = painter.device()
    if not in_pixels(painter, device.devicePixelRatioF()):
        _draw_lines(painter, width_mm, height_mm, to_px)
        return
    placed, size = (to_px.m11(), to_px.m22(), to_px.dx(), to_px.dy()), (device.width(), device.height())
    painter.drawImage(0, 0, _grid(width_mm, height_mm, placed, size, device.devicePixelRatioF()))


# To draw lines that are seen through takes a hundred times as long as a picture of them.
@lru_cache(maxsize=2)
def _grid(
    width_mm: float, height_mm: float, placed: tuple[float, float, float, float], size: tuple[int, int], ratio: float
) -> QImage:
    """The grid of a mat of some size, clear between its lines, as the mat lies (to_px) in a view."""
    image = QImage(int(size[0] * ratio), int(size[1] * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(Qt.GlobalColor.transparent)
    across, up, dx, dy = placed
    painter = QPainter(image)
    # What there is nothing under need not be blended in.
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
    _draw_lines(painter, width_mm, height_mm, QTransform(across, 0.0, 0.0, up, dx, dy))
    painter.end()
    return image


def _draw_lines(painter: QPainter, width_mm: float, height_mm: float, to_px: QTransform) -> None:
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    painter.setPen(QPen(fade(LIGHT.ink, 0.13), 1.0))
    up = [GRID_MM * i for i in range(1, int(width_mm // GRID_MM) + 1)]
    along = [GRID_MM * j for j in range(1, int(height_mm // GRID_MM) + 1)]
    lines = [QLineF(x, 0.0, x, height_mm) for x in up] + [QLineF(0.0, y, width_mm, y) for y in along]
    painter.drawLines([to_px.map(line) for line in lines])
    painter.restore()


def draw_way(painter: QPainter, stroke: Stroke, piece: int, to_px: QTransform) -> None:
    """The middle of a piece in rust."""
    painter.setPen(pen(LIGHT.rust, 2.0))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(to_px.map(_way(stroke, piece)))


def draw_measures(painter: QPainter, stroke: Stroke, piece: int | None, to_px: QTransform) -> None:
    """What a piece measures, on a card beside its middle; of none, where the line begins and which way."""
    place = QPointF(stroke.x_mm, stroke.y_mm)
    if piece is None:
        text = f"{stroke.x_mm:.4g}, {stroke.y_mm:.4g} mm, {stroke.heading_deg:.4g}°"
    else:
        text, (start, length) = in_words(stroke.pieces[piece]), _along(stroke, piece)
        place = QPointF(*stroke_route(stroke, "line").at(start + 0.5 * length)[:2])
    draw_card(painter, LIGHT, to_px.map(place) + QPointF(14.0, -34.0), text)


def _along(stroke: Stroke, piece: int) -> tuple[float, float]:
    """Where along its line a piece begins, and how long it is, in mm."""
    lengths = piece_lengths(stroke)
    return sum(lengths[:piece]), lengths[piece]


@lru_cache(maxsize=4)
def _way(stroke: Stroke, piece: int) -> QPolygonF:
    """The middle of a piece, in mm."""
    (start, length), route = _along(stroke, piece), stroke_route(stroke, "line")
    first, last = round(start / route.step_mm), round((start + length) / route.step_mm)
    here = np.arange(first, min(last, route.s_mm.size - 1) + 1)
    if here.size > 2:
        here = here[shown_by(route.x_mm[here], route.y_mm[here], NEAR_TURN_RAD)]
    return polygon_of(route.x_mm[here], route.y_mm[here])
