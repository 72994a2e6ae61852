"""One line of a drawing to choose, in rust among the others."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPen, QPolygonF

from irontrail.app.theme import Theme
from irontrail.app.widgets.label import plain_tip
from irontrail.app.widgets.picture_button import PictureButton
from irontrail.core import derive
from irontrail.core.mat.tape import Mat

MOST_PLACES = 200


class LineButton(PictureButton):
    """The lines of a mat to scale, the one it follows in rust, over what that is."""

    def __init__(self, mat: Mat, text: str, says: str, theme: Theme) -> None:
        super().__init__(text, theme, 76)
        self.mat = mat
        self.setAccessibleName(f"follow the {says}")
        self.setToolTip(plain_tip(f"Follow this line: {says}"))

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        mat = self.mat
        scale = min(room.width() / mat.width_mm, room.height() / mat.height_mm)
        left, low = room.center().x() - scale * mat.width_mm / 2, room.center().y() + scale * mat.height_mm / 2
        painter.setBrush(Qt.BrushStyle.NoBrush)
        lines = derive.lines(mat)
        for number, (_, route) in reversed(list(enumerate(lines))):
            some = np.linspace(0, route.x_mm.size - 1, min(route.x_mm.size, MOST_PLACES)).astype(np.intp)
            across, down = left + scale * route.x_mm[some], low - scale * route.y_mm[some]
            places = [QPointF(x, y) for x, y in zip(across, down, strict=True)]
            chosen = number == mat.goal
            painter.setPen(QPen(QColor(self.theme.rust if chosen else self.theme.edge), 2.2 if chosen else 1.4))
            painter.drawPolyline(QPolygonF(places))
