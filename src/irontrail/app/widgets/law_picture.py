"""A steering law to choose, shown by the shape of its curve."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.picture_button import PictureButton

WIDTH = 44.0

SHAPES: dict[str, tuple[tuple[float, float], ...]] = {
    "on-off": ((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (1.0, 1.0)),
    "proportional": ((0.0, 0.0), (1.0, 1.0)),
}


class LawPicture(PictureButton):
    """A law's curve over its trade name."""

    def __init__(self, law: str, theme: Theme) -> None:
        super().__init__(law, theme, 52)
        self.setAccessibleName(f"{law} steering")

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        left = room.center().x() - WIDTH / 2
        points = [QPointF(left + WIDTH * x, room.bottom() - room.height() * y) for x, y in SHAPES[self.text()]]
        painter.setPen(pen(self.theme.rust if self.isChecked() else self.theme.second, 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
