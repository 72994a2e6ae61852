"""Trails of other runs, drawn on the mat while they are pointed at."""

from PySide6.QtCore import QObject, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme, font, pen
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.widgets.trail_picture import Trail


class TrailHand(MatHand):
    """Holds nothing; draws one trail and a few words at its end."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.trail: Trail | None = None
        self.words = ""

    def set_trail(self, trail: Trail | None, words: str = "") -> None:
        """Draw another trail; None for none."""
        self.trail, self.words = trail, words
        self.changed.emit()

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        if self.trail is None or self.trail.x_mm.size == 0:
            return
        line = self.trail.in_px(to_px)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(LIGHT.kept[2], 2.0))
        painter.drawPolyline(line)
        end = to_px.map(QPointF(float(self.trail.x_mm[-1]), float(self.trail.y_mm[-1])))
        painter.setFont(font(11, True))
        card = QRectF(
            end.x() + 8.0, end.y() - 26.0, QFontMetricsF(painter.font()).horizontalAdvance(self.words) + 14.0, 20.0
        )
        painter.setPen(pen(LIGHT.rule, 1.0))
        painter.setBrush(QColor(LIGHT.card))
        painter.drawRoundedRect(card, 4.0, 4.0)
        painter.setPen(QColor(LIGHT.kept[2]))
        painter.drawText(card, Qt.AlignmentFlag.AlignCenter, self.words)
