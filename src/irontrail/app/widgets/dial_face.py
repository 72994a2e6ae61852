"""A dial as it is drawn: where its parts are, and which value is where on its track."""

import math
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.painting import HANDLE_RADIUS, draw_handle
from irontrail.core.quantity import Quantity

HEIGHT = 42
TRACK_Y = 31.0
MARGIN = 8.0
FIGURE_WIDTH = 128.0
UNIT_WIDTH = 58.0
BUTTON = QSize(26, 20)


@dataclass(frozen=True)
class DialFace:
    """A label, a figure with its unit, a track from `low` to `high` (in the stored unit), and two small buttons."""

    theme: Theme
    quantity: Quantity
    label: str
    width: float
    low: float
    high: float

    @property
    def track(self) -> QRectF:
        return QRectF(MARGIN, TRACK_Y - 1.5, self.width - 2 * MARGIN, 3.0)

    def position(self, value: float) -> float:
        """Where a value is on the track."""
        track = self.track
        share = (value - self.low) / (self.high - self.low)
        return track.left() + min(max(share, 0.0), 1.0) * track.width()

    def value_at(self, x: float) -> float:
        """The value at a place of the track, to a whole nudge."""
        track = self.track
        share = min(max((x - track.left()) / track.width(), 0.0), 1.0)
        value = self.low + share * (self.high - self.low)
        return self.on_grid(value)

    def on_grid(self, value: float) -> float:
        """The value to a whole nudge."""
        step = self.quantity.step
        digits = max(0, 9 - math.ceil(math.log10(max(abs(value), step, 1.0))))
        return round(round(value / step) * step, digits)

    @property
    def figure(self) -> QRectF:
        """Where the figure stands, and is typed."""
        return QRectF(self.width - FIGURE_WIDTH - MARGIN / 2, 0.0, FIGURE_WIDTH, 24.0)

    @property
    def halve(self) -> QRectF:
        right = self.figure.left()
        return QRectF(right - 2 * BUTTON.width() - 6, 3.0, BUTTON.width(), BUTTON.height())

    @property
    def double(self) -> QRectF:
        right = self.figure.left()
        return QRectF(right - BUTTON.width() - 2, 3.0, BUTTON.width(), BUTTON.height())

    def draw_still(self, painter: QPainter, buttons: bool) -> None:
        """All that a value does not change: the label, the unit, the whole track and, if they show, the buttons."""
        theme = self.theme
        painter.setFont(font(12))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(MARGIN / 2, 0.0, 200.0, 24.0), Qt.AlignmentFlag.AlignVCenter, self.label)
        right = self.width - MARGIN / 2
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        box = QRectF(right - UNIT_WIDTH + 5.0, 2.0, UNIT_WIDTH - 5.0, 22.0)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self.quantity.unit)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.edge))
        painter.drawRoundedRect(self.track, 1.5, 1.5)
        if buttons:
            self._draw_buttons(painter)

    def draw_figure(self, painter: QPainter, value: float) -> None:
        """The figure."""
        right = self.width - MARGIN / 2
        painter.setFont(font(16, True))
        painter.setPen(QColor(self.theme.ink))
        box = QRectF(right - FIGURE_WIDTH, 0.0, FIGURE_WIDTH - UNIT_WIDTH, 24.0)
        aligned = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.drawText(box, aligned, self.quantity.shown(value))

    def draw_track(
        self, painter: QPainter, value: float, kept: float | None, enabled: bool, focused: bool, held: bool
    ) -> None:
        """The track up to a value, the mark of the kept one, and the handle."""
        theme, track, at = self.theme, self.track, self.position(value)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.ink if enabled else theme.second))
        painter.drawRoundedRect(QRectF(track.left(), track.top(), at - track.left(), track.height()), 1.5, 1.5)
        if kept is not None:
            painter.setBrush(QColor(theme.slate))
            painter.drawRect(QRectF(self.position(kept) - 1.0, track.top() - 5.0, 2.0, 13.0))
        if focused:
            painter.setPen(QColor(theme.rust))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(at, TRACK_Y), HANDLE_RADIUS + 3.5, HANDLE_RADIUS + 3.5)
        draw_handle(painter, theme, QPointF(at, TRACK_Y), held)

    def _draw_buttons(self, painter: QPainter) -> None:
        painter.setFont(font(11))
        for box, text in ((self.halve, "½"), (self.double, "×2")):
            painter.setPen(QColor(self.theme.edge))
            painter.setBrush(QColor(self.theme.card))
            painter.drawRoundedRect(box, 4.0, 4.0)
            painter.setPen(QColor(self.theme.rust))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)
