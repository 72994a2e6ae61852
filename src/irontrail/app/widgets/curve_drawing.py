"""The steering curve as it is drawn: sides, axes, both wheels, readings met, and rings of what is said of them."""

from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.curve_picture import CurvePicture
from irontrail.app.widgets.painting import draw_ring, draw_words
from irontrail.app.widgets.strokes import Laid, Stroke

Floats = NDArray[np.float64]
# A number, or many.
Some = TypeVar("Some", float, Floats)

LEFT_MARGIN, RIGHT_MARGIN, TOP_MARGIN, BOTTOM_MARGIN = 30.0, 14.0, 10.0, 32.0
BINS = 50
WHEEL_WIDTH = 1.8
# Where along the readings the lines' names may stand, as shares, the best first.
NAMES_AT = (0.68, 0.86, 0.32, 0.14)
NAME_PX = 14.0
# Share of the height that the highest bar of the histogram takes.
HISTOGRAM_SHARE = 0.22
BAR_OPACITY = 0.33


@dataclass(frozen=True, eq=False)
class CurveDrawing:
    """A picture in a room, and where in it its points lie."""

    picture: CurvePicture
    theme: Theme
    room: QRectF

    @cached_property
    def plot(self) -> QRectF:
        """Where the curve is."""
        return self.room.adjusted(LEFT_MARGIN, TOP_MARGIN, -RIGHT_MARGIN, -BOTTOM_MARGIN)

    def place_of(self, reading: float, power: float) -> QPointF:
        """Where a point of the curve is drawn."""
        return QPointF(self._across(reading), self._up(power))

    def _across(self, reading: Some) -> Some:
        plot, (least, most) = self.plot, self.picture.span
        return plot.left() + plot.width() / (most - least) * (reading - least)

    def _up(self, power: Some) -> Some:
        plot, low = self.plot, self.picture.low_power
        return plot.bottom() - plot.height() / (100.0 - low) * (power - low)

    def point_at(self, at: QPointF) -> tuple[float, float]:
        """The reading and power at a place."""
        plot, low, (least, most) = self.plot, self.picture.low_power, self.picture.span
        reading = least + (most - least) * (at.x() - plot.left()) / plot.width()
        return reading, low + (100.0 - low) * (plot.bottom() - at.y()) / plot.height()

    def backdrop_of(self) -> tuple[object, ...]:
        """What the backdrop depends on; not a gain."""
        picture = self.picture
        return (
            picture.target,
            picture.target_name,
            picture.span,
            picture.sides,
            picture.low_power,
            self.theme.name,
            self.room,
        )

    def draw_backdrop(self, painter: QPainter) -> None:
        """The sides, the axes and all their words."""
        painter.fillRect(self.room, QColor(self.theme.sheet))
        self._paint_sides(painter)
        self._paint_axes(painter)

    def draw_readings(self, painter: QPainter) -> None:
        """At which readings a wheel is clipped."""
        self._paint_clipped(painter)

    def wheels(self) -> list[Stroke]:
        """Both wheels' powers."""
        across = self._across(self.picture.reading)
        return [Stroke(across, self._up(powers), colour, WHEEL_WIDTH) for _, powers, _, colour in self._wheels()]

    def draw_notes(self, painter: QPainter) -> None:
        """The wheels' names, and rings of what is said."""
        for name, powers, other, colour in self._wheels():
            at = self._name_rect(self.picture.reading, powers, other).center()
            draw_words(painter, ((at.x(), at.y(), name),), 11, True, colour)
        self._paint_rings(painter)

    def _wheels(self) -> tuple[tuple[str, Floats, Floats, str], ...]:
        """Each wheel's name, its powers, the other's, and its colour, the one on top last."""
        picture, theme = self.picture, self.theme
        return (
            ("right", picture.right, picture.left, theme.ink),
            ("left", picture.left, picture.right, theme.rust),
        )

    def _paint_sides(self, painter: QPainter) -> None:
        picture, theme, plot = self.picture, self.theme, self.plot
        target = self.place_of(picture.target, 0.0).x()
        painter.fillRect(QRectF(plot.left(), plot.top(), target - plot.left(), plot.height()), QColor(theme.slate_wash))
        painter.fillRect(QRectF(target, plot.top(), plot.right() - target, plot.height()), QColor(theme.brass_wash))

    def _paint_clipped(self, painter: QPainter) -> None:
        """A bar over the readings where a wheel is wanted beyond its limit."""
        picture, plot, clipped = self.picture, self.plot, self.picture.clipped
        if clipped.any():
            edges = np.flatnonzero(np.diff(np.concatenate(([0], clipped.astype(int), [0]))))
            for start, end in zip(edges[::2], edges[1::2], strict=True):
                left = self.place_of(float(picture.reading[start]), 0.0).x()
                right = self.place_of(float(picture.reading[end - 1]), 0.0).x()
                bar = QRectF(left, plot.top() - 5.0, max(right - left, 2.0), 5.0)
                painter.fillRect(bar, QColor(self.theme.rust))

    def bars(self) -> "list[Bars]":
        """How often which reading was met."""
        picture = self.picture
        if not picture.readings.size:
            return []
        least, most = picture.span
        places = np.clip(((picture.readings - least) * (BINS / (most - least))).astype(int), 0, BINS - 1)
        counts = np.bincount(places, minlength=BINS)
        plot, width = self.plot, self.plot.width() / BINS
        # The square root keeps rare readings visible beside the many near the target.
        heights = np.sqrt(counts / counts.max()) * HISTOGRAM_SHARE * plot.height()
        left = plot.left() + width * np.arange(BINS, dtype=np.float64)
        first_light = int(np.ceil((picture.target - least) * BINS / (most - least) - 0.5))
        colours = (self.theme.slate, self.theme.brass)
        return [Bars(left, width - 0.8, heights, plot.bottom(), min(max(first_light, 0), BINS), colours)]

    def _paint_axes(self, painter: QPainter) -> None:
        picture, theme, plot = self.picture, self.theme, self.plot
        painter.setFont(font(10))
        powers = [p for p in (-100, -50, 0, 50, 100) if p >= self.picture.low_power]
        for power in powers:
            y = self.place_of(0.0, power).y()
            painter.setPen(QColor(theme.rule))
            painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y))
            painter.setPen(QColor(theme.second))
            box = QRectF(0, y - 8, LEFT_MARGIN - 5, 16)
            text = str(power).replace("-", "−")
            painter.drawText(box, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, text)
        target = self.place_of(picture.target, 0.0).x()
        for reading in np.linspace(*picture.span, 5):
            x = self.place_of(reading, 0.0).x()
            painter.setPen(QColor(theme.second))
            words = picture.shown(reading) if picture.of_error else f"{reading:g}"
            painter.drawText(QRectF(x - 20, plot.bottom() + 3, 40, 12), Qt.AlignmentFlag.AlignCenter, words)
        painter.setPen(pen(theme.brass_text, 1.3, (4.0, 3.0)))
        painter.drawLine(QPointF(target, plot.top()), QPointF(target, plot.bottom()))
        painter.setPen(QColor(theme.brass_text))
        painter.setFont(font(10, True))
        text = "error 0" if picture.of_error else f"{picture.target_name} {picture.target:.3g}"
        centre = min(max(target, plot.left() + 96), plot.right() - 96)
        low = plot.bottom() + 16
        painter.drawText(QRectF(centre - 60, low, 120, 14), Qt.AlignmentFlag.AlignCenter, text)
        painter.setFont(font(10))
        painter.setPen(QColor(theme.slate))
        painter.drawText(QRectF(plot.left(), low, 110, 14), Qt.AlignmentFlag.AlignLeft, picture.sides[0])
        painter.setPen(QColor(theme.brass_text))
        painter.drawText(QRectF(plot.right() - 110, low, 110, 14), Qt.AlignmentFlag.AlignRight, picture.sides[1])

    def _name_rect(self, reading: Floats, powers: Floats, other: Floats) -> QRectF:
        """Where a line's name has room: over it where it is the upper of the two, else under it."""
        plot = self.plot
        rect = QRectF()
        for share in NAMES_AT:
            i = int(share * (reading.size - 1))
            place = self.place_of(float(reading[i]), float(powers[i]))
            upper = powers[i] >= other[i]
            rect = QRectF(place.x() - 20, place.y() + (-18 - NAME_PX if upper else 18), 40, NAME_PX)
            if rect.top() >= plot.top() and rect.bottom() <= plot.bottom() and powers[i] != other[i]:
                return rect
        rect.moveTop(min(max(rect.top(), plot.top()), plot.bottom() - NAME_PX))
        return rect

    def _paint_rings(self, painter: QPainter) -> None:
        picture, plot = self.picture, self.plot
        for number, reading in picture.rings:
            x = min(max(self.place_of(reading, 0.0).x(), plot.left() + 10.0), plot.right() - 10.0)
            # Those about the same readings stand one under the other.
            above = sum(other < number and abs(at - reading) < 8.0 for other, at in picture.rings)
            draw_ring(painter, self.theme, QPointF(x, plot.top() + 12.0 + 20.0 * above), number)


@dataclass(frozen=True, eq=False)
class Bars:
    """Upright bars that stand beside one another on a line, of one colour and, from some number on, another."""

    left: Floats
    width: float
    heights: Floats
    bottom: float
    first_other: int
    colours: tuple[str, str]

    def draw(self, painter: QPainter) -> None:
        bars = [
            QRectF(left, self.bottom - high, self.width, high)
            for left, high in zip(self.left.tolist(), self.heights.tolist(), strict=True)
        ]
        painter.setPen(Qt.PenStyle.NoPen)
        for colour, some in zip(self.colours, (bars[: self.first_other], bars[self.first_other :]), strict=True):
            painter.setBrush(fade(colour, BAR_OPACITY))
            painter.drawRects(some)

    def lay(self, pixels: NDArray[np.uint32], laid: Laid) -> None:
        """On whole pixels."""
        sides = (self.left, self.left + self.width, self.bottom - self.heights)
        left, right, top = (np.rint(laid.ratio * side).astype(np.int64) for side in sides)
        one, other = (int(colour[1:], 16) for colour in self.colours)
        colours = np.where(np.arange(left.size) < self.first_other, one, other)
        bottom, full = round(laid.ratio * self.bottom), round(255.0 * BAR_OPACITY)
        laid.ink.lay_bars(pixels, laid.wet, left, right, top, bottom, colours, full)
