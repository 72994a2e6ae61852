"""The way back to the edge after being let go beside it: distance over time, of this program and the kept one."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import KEPT_DASHES, Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.painting import polygon

Floats = NDArray[np.float64]
HEIGHT = 236
MARGIN = QRectF(34.0, 10.0, 10.0, 30.0)


@dataclass(frozen=True, eq=False)
class Way:
    """Distance from the edge (mm, light side positive) over time, shape (n,); when it is back for good, if ever."""

    time_s: Floats
    edge_mm: Floats
    settle_s: float | None


class WayBack(Described, QWidget):
    """Draws one way or two on a common scale."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.now: Way | None = None
        self.kept: Way | None = None
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The way back to the edge, over time")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_ways(self, now: Way | None, kept: Way | None) -> None:
        """Show other ways."""
        self.now, self.kept = now, kept
        self.update()

    def _span(self) -> tuple[float, float, float]:
        """Seconds shown, and millimetres to either side: all of the way back and a little of what follows."""
        ways = [way for way in (self.now, self.kept) if way is not None]
        settled = [way.settle_s for way in ways if way.settle_s is not None]
        seconds = min(max([1.5 * max(settled), 1.0]) if len(settled) == len(ways) else 3.0, 6.0)
        shown = [way.edge_mm[way.time_s <= seconds] for way in ways]
        most = max(max(float(np.abs(edge).max(initial=5.0)) for edge in shown) * 1.1, 6.0)
        return seconds, -most, most

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self.now is None:
            return
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        plot = QRectF(self.rect()).adjusted(MARGIN.x(), MARGIN.y(), -MARGIN.width(), -MARGIN.height())
        seconds, low, high = self._span()

        def place(time: Floats, edge: Floats) -> tuple[Floats, Floats]:
            return plot.left() + plot.width() * time / seconds, plot.bottom() - plot.height() * (edge - low) / (
                high - low
            )

        middle = plot.center().y()
        painter.fillRect(QRectF(plot.left(), plot.top(), plot.width(), middle - plot.top()), QColor(theme.brass_wash))
        painter.fillRect(QRectF(plot.left(), middle, plot.width(), plot.bottom() - middle), QColor(theme.slate_wash))
        self._paint_axes(painter, plot, seconds, high)
        painter.setClipRect(plot)
        ways = ((self.kept, theme.kept[0], KEPT_DASHES[0], 1.4), (self.now, theme.rust, (), 1.8))
        for way, colour, dashes, width in ways:
            if way is not None:
                here = way.time_s <= seconds
                painter.setPen(pen(colour, width, dashes))
                painter.drawPolyline(polygon(*place(way.time_s[here], way.edge_mm[here])))
        painter.setClipping(False)
        if self.now.settle_s is not None and self.now.settle_s <= seconds:
            x = plot.left() + plot.width() * self.now.settle_s / seconds
            painter.setPen(pen(theme.rust, 1.0, (4.0, 3.0)))
            painter.drawLine(QPointF(x, plot.top()), QPointF(x, plot.bottom()))
            painter.setFont(font(10, True))
            painter.setPen(QColor(theme.rust))
            box = QRectF(min(x + 4, plot.right() - 66), plot.bottom() - 17, 66, 14)
            painter.drawText(box, Qt.AlignmentFlag.AlignLeft, "back for good")

    def _paint_axes(self, painter: QPainter, plot: QRectF, seconds: float, high: float) -> None:
        theme, middle = self.theme, plot.center().y()
        painter.setFont(font(10))
        painter.setPen(pen(theme.ink, 1.0))
        painter.drawLine(QPointF(plot.left(), middle), QPointF(plot.right(), middle))
        painter.setPen(QColor(theme.second))
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        step = next(each for each in (2.0, 5.0, 10.0, 20.0, 50.0, 100.0) if 3.2 * each > high)
        for value in (-2 * step, -step, 0.0, step, 2 * step):
            if abs(value) < high:
                y = middle - value / high * plot.height() / 2
                painter.drawText(QRectF(0, y - 8, MARGIN.x() - 5, 16), right, f"{value:.0f}".replace("-", "−"))
        tick = 0.5 if seconds <= 3.0 else 1.0
        for i in range(int(seconds / tick + 1e-6) + 1):
            x = plot.left() + plot.width() * i * tick / seconds
            words = f"{i * tick:g}" if i else "0 s"
            painter.drawText(QRectF(x - 20, plot.bottom() + 2, 40, 13), Qt.AlignmentFlag.AlignCenter, words)
        painter.setPen(QColor(theme.brass_text))
        painter.drawText(
            QRectF(plot.right() - 90, plot.top() + 3, 86, 14), Qt.AlignmentFlag.AlignRight, "light side, mm"
        )
        painter.setPen(QColor(theme.slate))
        painter.drawText(
            QRectF(plot.right() - 90, plot.bottom() - 32, 86, 14), Qt.AlignmentFlag.AlignRight, "dark side, mm"
        )
