"""A trail on the mat: plain, or in levels of something; and where it ended in trouble."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSizeF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen, QPolygonF, QTransform

from irontrail.app.theme import LIGHT, contrast, font, pen
from irontrail.app.widgets.painting import in_pixels, polygon
from irontrail.app.widgets.strokes import Stroke
from irontrail.app.widgets.trail_shade import Level, Shade

Floats = NDArray[np.float64]

# The trail's rust on the mat, which is light in both themes.
TRAIL = "#B3471D"
TRAIL_WIDTH = 1.5
# The row of buttons and levels over the mat begins below the frame that shows the focus; the next is so far below it.
ROW_TOP, ROW_PX, LEVELS_PX = 3, 22, 18.0
# A dashed level is drawn for so many pixels and left out for as many.
DASH_PX = 6.0
# What stands out less than this from dark tape is lost on it, unless so much of light ground goes along on both sides.
LEAST_CONTRAST, RIM_PX = 2.0, 1.2
# A shorter stretch is drawn as the one before it: it would not be seen by itself.
SHORTEST_PX = 8.0


@dataclass(frozen=True, eq=False)
class Trail:
    """Where a sensor went, in millimetres, shape (n,)."""

    x_mm: Floats
    y_mm: Floats

    def in_px(self, to_px: QTransform) -> QPolygonF:
        """The trail in pixels."""
        return polygon(*self.places(to_px))

    def places(self, to_px: QTransform) -> tuple[Floats, Floats]:
        """All its places in pixels."""
        return self.x_mm * to_px.m11() + to_px.dx(), self.y_mm * to_px.m22() + to_px.dy()

    def row_near(self, place: QPointF, within_mm: float) -> int | None:
        """The row nearest to a place of the mat; None if it is not so near."""
        away = np.hypot(self.x_mm - place.x(), self.y_mm - place.y())
        row = int(np.argmin(away))
        return row if away[row] < within_mm else None


def strokes_of(trail: Trail, shade: Shade | None, to_px: QTransform) -> list[Stroke]:
    """The trail, plain or in levels."""
    x, y = trail.places(to_px)
    if shade is None:
        return [Stroke(x, y, TRAIL, TRAIL_WIDTH)]
    # The engine is loaded by now: there is a run.
    from irontrail.app.ink import calmed, travelled

    way = travelled(x, y)
    level = calmed(shade.level, way, SHORTEST_PX)
    dashed = any(look.dashed for look in shade.levels)
    drawn = way % (2.0 * DASH_PX) < DASH_PX if dashed else np.ones(way.size, np.bool_)
    there = [(look, level == i) for i, look in enumerate(shade.levels) if np.any(level == i)]
    return [
        Stroke(x, y, LIGHT.card, look.width + 2.0 * RIM_PX, shown=here)
        for look, here in there
        if contrast(look.colour, LIGHT.ink) < LEAST_CONTRAST
    ] + [Stroke(x, y, look.colour, look.width, shown=here & drawn if look.dashed else here) for look, here in there]


def draw_levels(painter: QPainter, levels: tuple[Level, ...], right: float, buttons_to: float) -> None:
    """What each level stands for, in a row that ends at a place: along the top, or below buttons that reach into it."""
    widths = _widths(levels)
    whole = sum(wide + 38.0 for wide in widths)
    left = right - 18.0 - whole
    row = QPointF(left, ROW_TOP if left > buttons_to else ROW_TOP + ROW_PX)
    ratio = painter.device().devicePixelRatioF()
    if not in_pixels(painter, ratio):
        painter.save()
        painter.translate(row)
        _draw_row(painter, levels, widths)
        painter.restore()
    else:
        # On a whole pixel, as the words are.
        painter.drawImage(row.toPoint(), _row(levels, widths, ratio))


@lru_cache(maxsize=4)
def _widths(levels: tuple[Level, ...]) -> tuple[float, ...]:
    """How much room each level's words take."""
    metrics = QFontMetricsF(font(10))
    return tuple(metrics.horizontalAdvance(look.says) for look in levels)


@lru_cache(maxsize=4)
def _row(levels: tuple[Level, ...], widths: tuple[float, ...], ratio: float) -> QImage:
    """The row of levels as a picture: its words take longer to draw than the trail."""
    size = QSizeF(sum(wide + 38.0 for wide in widths) + 12.0, LEVELS_PX) * ratio
    image = QImage(size.toSize(), QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    image.fill(QColor(LIGHT.card))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _draw_row(painter, levels, widths)
    painter.end()
    return image


def _draw_row(painter: QPainter, levels: tuple[Level, ...], widths: tuple[float, ...]) -> None:
    # It may lie over a mat of any colour; the levels are made for a light ground.
    right = sum(wide + 38.0 for wide in widths)
    painter.fillRect(QRectF(0.0, 0.0, right + 12.0, LEVELS_PX), QColor(LIGHT.card))
    painter.setFont(font(10))
    for look, wide in zip(reversed(levels), reversed(widths), strict=True):
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
