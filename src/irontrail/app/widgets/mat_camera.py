"""How the mat is looked at: from where, how close, and the way between millimetres and pixels."""

from PySide6.QtCore import QPointF, QSize
from PySide6.QtGui import QTransform

MARGIN_PX = 14.0
LEAST_PX_PER_MM, MOST_PX_PER_MM = 0.05, 12.0


class MatCamera:
    """Looks at a place of the mat, which stands in the middle of a room of some size; `fitted` on the whole mat."""

    def __init__(self) -> None:
        self.px_per_mm = 0.4
        self.centre = QPointF(1000.0, 500.0)
        self.fitted = True

    def to_px(self, room: QSize) -> QTransform:
        """From millimetres on the mat (y up) to pixels (y down)."""
        scale, centre = self.px_per_mm, self.centre
        return QTransform(
            scale, 0.0, 0.0, -scale, room.width() / 2 - scale * centre.x(), room.height() / 2 + scale * centre.y()
        )

    def to_mm(self, at: QPointF, room: QSize) -> QPointF:
        """The place on the mat under a pixel."""
        inverse, _ = self.to_px(room).inverted()
        return inverse.map(at)

    def look_at(self, centre: QPointF, px_per_mm: float) -> bool:
        """Look somewhere else; says whether anything changed."""
        changed = centre != self.centre or px_per_mm != self.px_per_mm
        self.centre, self.px_per_mm, self.fitted = centre, px_per_mm, False
        return changed

    def fit(self, width_mm: float, height_mm: float, room: QSize) -> bool:
        """Look at a whole mat; says whether anything changed."""
        across = (room.width() - 2 * MARGIN_PX) / width_mm
        up = (room.height() - 2 * MARGIN_PX) / height_mm
        changed = self.look_at(QPointF(width_mm / 2, height_mm / 2), max(min(across, up), 0.01))
        self.fitted = True
        return changed

    def zoomed(self, factor: float, about: QPointF, room: QSize) -> tuple[QPointF, float]:
        """Centre and scale after a zoom about a pixel, which stays where it is."""
        held = self.to_mm(about, room)
        scale = min(max(self.px_per_mm * factor, LEAST_PX_PER_MM), MOST_PX_PER_MM)
        offset = (about - QPointF(room.width() / 2, room.height() / 2)) / scale
        return held - QPointF(offset.x(), -offset.y()), scale

    def moved(self, by_px: QPointF) -> QPointF:
        """The centre after the mat has been dragged by some pixels."""
        return self.centre - QPointF(by_px.x() / self.px_per_mm, -by_px.y() / self.px_per_mm)
