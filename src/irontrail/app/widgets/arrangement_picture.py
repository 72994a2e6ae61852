"""An arrangement of two sensors to choose, shown by where they ride on the line."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core.steering.pair import ARRANGEMENTS, Arrangement

HEIGHT = 62
# Half the line's width as it is drawn, and how far aside of its middle each sensor rides, left positive.
HALF = 6.0
RIDES: dict[Arrangement, tuple[float, float]] = {
    "one": (HALF, -3.2 * HALF),
    "table": (1.9 * HALF, -1.9 * HALF),
    "difference": (HALF, -HALF),
    "each its side": (1.5 * HALF, -1.5 * HALF),
    "weighted": (HALF, HALF),
}


class ArrangementPicture(PictureButton):
    """The line from below to above, and both sensors; what the program does with them stands beside."""

    def __init__(self, arrangement: Arrangement, theme: Theme) -> None:
        super().__init__(arrangement, theme, HEIGHT)
        self.arrangement: Arrangement = arrangement
        self.setAccessibleName(f"two sensors: {arrangement}")
        self.setToolTip(ARRANGEMENTS[arrangement])

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        theme, middle = self.theme, room.center()
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.second))
        painter.drawRect(QRectF(middle.x() - HALF, room.top() - 3.0, 2.0 * HALF, room.height() + 5.0))
        first, second = RIDES[self.arrangement]
        apart = 9.0 if self.arrangement == "weighted" else 0.0
        colour = theme.rust if self.isChecked() else theme.ink
        for i, (left, ahead) in enumerate(((first, apart), (second, -apart))):
            at = QPointF(middle.x() - left, middle.y() - ahead)
            watches = self.arrangement == "one" and i == 1
            painter.setPen(pen(colour, 2.0))
            painter.setBrush(QColor(theme.card) if watches else QColor(colour))
            # The weight of each as its size.
            radius = 3.4 if apart and i == 1 else 5.0
            painter.drawEllipse(at, radius, radius)
        self._draw_sign(painter, middle, colour)

    def _draw_sign(self, painter: QPainter, middle: QPointF, colour: str) -> None:
        """What is done with the two."""
        painter.setPen(pen(colour, 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        right = middle + QPointF(31.0, 0.0)
        if self.arrangement == "table":
            for i, j in ((0, 0), (0, 1), (1, 0), (1, 1)):
                painter.drawRect(QRectF(right.x() - 7.0 + 8.0 * i, right.y() - 8.0 + 8.0 * j, 6.0, 6.0))
        elif self.arrangement == "each its side":
            for side in (-1.0, 1.0):
                start = middle + QPointF(side * 17.0, 7.0)
                painter.drawLine(start, start + QPointF(side * 9.0, -12.0))
        else:
            sign = {"difference": "−", "weighted": "+"}.get(self.arrangement, "")
            painter.setFont(font(14, True))
            painter.drawText(QRectF(right.x() - 10.0, right.y() - 10.0, 20.0, 20.0), Qt.AlignmentFlag.AlignCenter, sign)
