"""A ready mat to choose, as a small picture."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QTransform
from PySide6.QtWidgets import QAbstractButton, QSizePolicy

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.mat_ground import draw_surface, draw_tape
from irontrail.core.mat.route import Route
from irontrail.core.mat.tape import Mat

HEIGHT = 112


class MatThumbnail(QAbstractButton):
    """A checkable small picture of a mat over its name."""

    def __init__(self, mat: Mat, route: Route, theme: Theme) -> None:
        super().__init__()
        self.theme, self.mat, self._route = theme, mat, route
        self.setText(mat.name)
        self.setAccessibleName(f"mat {mat.name}")
        self.setCheckable(True)
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(146, HEIGHT)

    def set_theme(self, theme: Theme) -> None:
        """Wear another theme."""
        self.theme = theme
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        theme, painter = self.theme, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        chosen = self.isChecked()
        painter.setPen(QPen(QColor(theme.rust if chosen else theme.rule), 1.2 if chosen else 1.0))
        painter.setBrush(QColor(theme.card if chosen else theme.sheet))
        painter.drawRoundedRect(box, 6, 6)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.rust), 1.0, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(box.adjusted(3, 3, -3, -3), 4, 4)
        room = box.adjusted(8, 8, -8, -26)
        scale = min(room.width() / self.mat.width_mm, room.height() / self.mat.height_mm)
        left = room.center().x() - scale * self.mat.width_mm / 2
        low = room.center().y() + scale * self.mat.height_mm / 2
        to_px = QTransform(scale, 0.0, 0.0, -scale, left, low)
        draw_surface(painter, theme, self.mat, to_px)
        draw_tape(painter, self.mat, self._route, to_px)
        painter.setFont(font(11, chosen))
        painter.setPen(QColor(theme.ink if chosen else theme.second))
        words = QRectF(box.left(), box.bottom() - 21, box.width(), 16)
        painter.drawText(words, Qt.AlignmentFlag.AlignCenter, self.mat.name)
