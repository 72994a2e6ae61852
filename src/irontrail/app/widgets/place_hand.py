"""Numbered places on the mat, that nothing is to be done with but to look."""

from PySide6.QtCore import QObject, QPointF
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.widgets.painting import draw_ring


class PlaceHand(MatHand):
    """Holds nothing; draws the places (a number, and where it is in mm)."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.places: tuple[tuple[str, float, float], ...] = ()

    def set_places(self, places: tuple[tuple[str, float, float], ...]) -> None:
        """Show other places."""
        if places != self.places:
            self.places = places
            self.changed.emit()

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        for number, x, y in self.places:
            draw_ring(painter, LIGHT, to_px.map(QPointF(x, y)), number)
