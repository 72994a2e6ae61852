"""The tightest bend of the way, drawn on the mat where it is."""

import numpy as np
from PySide6.QtCore import QObject, QPointF, Qt
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import LIGHT, Theme, pen
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.widgets.painting import draw_card, polygon
from irontrail.core.mat.route import Bending, Route


class DemandHand(MatHand):
    """Holds nothing; draws the followed edge of one bend, with its radius."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.drawn: tuple[Route, Bending, float, float] | None = None

    def set_bend(self, route: Route, bend: Bending | None, aside_mm: float, radius_mm: float) -> None:
        """Draw a bend of a route along an edge so far to the left of the middle; None for no bend."""
        self.drawn = (route, bend, aside_mm, radius_mm) if bend is not None else None
        self.changed.emit()

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:  # noqa: ARG002
        if self.drawn is None:
            return
        route, bend, aside, radius = self.drawn
        start, end = (bend.start_mm, bend.end_mm) if radius > 0.0 else (bend.start_mm - 20.0, bend.end_mm + 20.0)
        here = (route.s_mm >= start) & (route.s_mm <= end)
        x = route.x_mm[here] - aside * np.sin(route.heading[here])
        y = route.y_mm[here] + aside * np.cos(route.heading[here])
        way = to_px.map(polygon(x, y))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(pen(LIGHT.card, 6.0))
        painter.drawPolyline(way)
        painter.setPen(pen(LIGHT.rust, 3.5))
        painter.drawPolyline(way)
        words = f"{bend.name}: radius {radius:.0f} mm" if radius > 0.0 else f"{bend.name}: a corner"
        at = way.at(way.size() // 2) if way.size() else QPointF()
        draw_card(painter, LIGHT, at + QPointF(-52.0, -36.0), words, LIGHT.rust)
