"""Trails of other runs, drawn on the mat while they are pointed at."""

from PySide6.QtCore import QObject, QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme, pen
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.widgets.painting import draw_card
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
        draw_card(painter, LIGHT, end + QPointF(8.0, -26.0), self.words, LIGHT.kept[2])
