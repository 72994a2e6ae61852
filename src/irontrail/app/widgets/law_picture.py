"""A steering law to choose, shown by the shape of its curve."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core.steering.program import LawName

WIDTH = 44.0

SHAPES: dict[LawName, tuple[tuple[float, float], ...]] = {
    "on-off": ((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (1.0, 1.0)),
    "bands": ((0.0, 0.0), (0.25, 0.0), (0.25, 0.35), (0.5, 0.35), (0.5, 0.65), (0.75, 0.65), (0.75, 1.0), (1.0, 1.0)),
    "mixed": ((0.0, 0.1), (0.5, 0.1), (0.5, 0.4), (1.0, 1.0)),
    "proportional": ((0.0, 0.0), (1.0, 1.0)),
    # A slope, and the kick that a derivative gives to a sudden change.
    "PID": ((0.0, 0.0), (0.35, 0.32), (0.42, 0.85), (0.5, 0.45), (0.72, 0.68), (1.0, 1.0)),
}


class LawPicture(PictureButton):
    """A law's curve over its trade name."""

    def __init__(self, law: LawName, theme: Theme) -> None:
        super().__init__(law, theme, 42)
        self.law: LawName = law
        self.setAccessibleName(f"{law} steering")

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        left = room.center().x() - WIDTH / 2
        points = [QPointF(left + WIDTH * x, room.bottom() - room.height() * y) for x, y in SHAPES[self.law]]
        painter.setPen(pen(self.theme.rust if self.isChecked() else self.theme.second, 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
