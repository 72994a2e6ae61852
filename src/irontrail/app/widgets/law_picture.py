"""A steering law to choose, shown by the shape of its curve."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPolygonF

from irontrail.app.theme import Theme, pen
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core.steering.registry import LAWS, LawName

WIDTH = 44.0


class LawPicture(PictureButton):
    """A law's curve over its trade name."""

    def __init__(self, law: LawName, theme: Theme) -> None:
        super().__init__(law, theme, 42)
        self.law: LawName = law
        self.setAccessibleName(f"{law} steering")
        self.setToolTip(f"{LAWS[law].says} (L goes on to the next law)")

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        left = room.center().x() - WIDTH / 2
        points = [QPointF(left + WIDTH * x, room.bottom() - room.height() * y) for x, y in LAWS[self.law].shape]
        painter.setPen(pen(self.theme.rust if self.isChecked() else self.theme.second, 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(points))
