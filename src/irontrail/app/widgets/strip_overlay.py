"""What lies over the strip's lanes: their names, the axis, the bends' letters, the cursor."""

from typing import TYPE_CHECKING

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPixmap
from PySide6.QtWidgets import QWidget

from irontrail.app.theme import font
from irontrail.app.widgets.strip_picture import LANES

if TYPE_CHECKING:
    from irontrail.app.widgets.strip import Strip

# Least distance between two letters, so that those of neighbouring bends do not run together.
LETTER_PX = 11.0


class StripOverlay(QWidget):
    """Names, axis and cursor over the lanes; only the cursor's columns are painted anew when it moves."""

    def __init__(self, strip: "Strip") -> None:
        super().__init__(strip.viewport())
        self._strip = strip
        self._drawn_at = 0.0
        self._words: QPixmap | None = None
        self.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        self.setGeometry(strip.viewport().rect())

    def forget(self) -> None:
        """Names or axis have changed."""
        self._words = None
        self.update()

    def move_cursor(self) -> None:
        """Paint the cursor's old and new columns."""
        x = self._strip.x_px(self._strip.cursor_at)
        for at in (self._drawn_at, x):
            self.update(int(at) - 3, 0, 7, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        strip = self._strip
        if self._words is None:
            self._words = self._draw_words()
        painter = QPainter(self)
        painter.drawPixmap(0, 0, self._words)
        plot = strip.plot_rect()
        self._drawn_at = strip.x_px(strip.cursor_at)
        if plot.left() <= self._drawn_at <= plot.right():
            painter.setPen(QPen(QColor(strip.theme.ink), 1.4))
            painter.drawLine(QPointF(self._drawn_at, 0.0), QPointF(self._drawn_at, plot.bottom()))

    def _draw_words(self) -> QPixmap:
        ratio = self.devicePixelRatioF()
        words = QPixmap(self.size() * ratio)
        words.setDevicePixelRatio(ratio)
        words.fill(Qt.GlobalColor.transparent)
        painter = QPainter(words)
        self._paint_names(painter)
        self._paint_axis(painter)
        painter.end()
        return words

    def _paint_names(self, painter: QPainter) -> None:
        theme, plot = self._strip.theme, self._strip.plot_rect()
        for row, lane in enumerate(LANES):
            box = self._strip.lane_rect(row)
            painter.setPen(QColor(theme.ink))
            painter.setFont(font(11))
            painter.drawText(QRectF(12, box.top() + 5, 80, 16), Qt.AlignmentFlag.AlignLeft, lane.name)
            painter.setFont(font(10))
            painter.setPen(QColor(theme.second))
            if lane.unit:
                painter.drawText(QRectF(12, box.top() + 20, 60, 14), Qt.AlignmentFlag.AlignLeft, lane.unit)
            low, high = self._strip.range_of(row)
            for value, y in ((high, box.top() + 3), (low, box.bottom() - 16)):
                text = f"{value:g}".replace("-", "−")
                painter.drawText(QRectF(plot.left() - 46, y, 40, 14), Qt.AlignmentFlag.AlignRight, text)

    def _paint_axis(self, painter: QPainter) -> None:
        strip, theme, plot = self._strip, self._strip.theme, self._strip.plot_rect()
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        unit = "m" if strip.picture is None or strip.picture.by_place else "s"
        low, high = strip.span()
        step = _round_step((high - low) / 8)
        value = np.ceil(low / step) * step
        while value <= high + 1e-9:
            text = f"{value:.6g} {unit}" if value == 0.0 else f"{value:.6g}"
            box = QRectF(strip.x_px(float(value)) - 24, plot.bottom() + 3, 48, 14)
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
            value += step
        painter.setFont(font(10, True))
        painter.setPen(QColor(theme.ink))
        last = -100.0
        for name, start, end in strip.bends_on_axis():
            x = strip.x_px((start + end) / 2)
            if plot.left() <= x <= plot.right() and x - last > LETTER_PX:
                painter.drawText(QRectF(x - 10, 1, 20, 14), Qt.AlignmentFlag.AlignCenter, name)
                last = x


def _round_step(least: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    power = 10.0 ** np.floor(np.log10(max(least, 1e-9)))
    return float(next(each * power for each in (1.0, 2.0, 5.0, 10.0) if each * power >= least))
