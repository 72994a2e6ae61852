"""A checkable button that is a small picture over a name."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QSizePolicy

from irontrail.app.theme import Theme, font


class PictureButton(QAbstractButton):
    """What is chosen has a rust frame on a card; the subclass draws the picture."""

    def __init__(self, text: str, theme: Theme, height: int) -> None:
        super().__init__()
        self.theme = theme
        self.setText(text)
        self.setCheckable(True)
        self.setFixedHeight(height)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(90, self.height())

    def draw_picture(self, painter: QPainter, room: QRectF) -> None:
        """Draw the picture in the room it has."""
        raise NotImplementedError

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        theme, painter = self.theme, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        chosen = self.isChecked()
        painter.setPen(QPen(QColor(theme.rust if chosen else theme.edge), 1.2 if chosen else 1.0))
        painter.setBrush(QColor(theme.card if chosen else theme.sheet))
        painter.drawRoundedRect(box, 6, 6)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.rust), 1.0, Qt.PenStyle.DotLine))
            painter.drawRoundedRect(box.adjusted(3, 3, -3, -3), 4, 4)
        self.draw_picture(painter, box.adjusted(8, 7, -8, -22))
        painter.setFont(font(11, chosen))
        painter.setPen(QColor(theme.ink if chosen else theme.second))
        words = QRectF(box.left(), box.bottom() - 20, box.width(), 16)
        shown = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, int(words.width()) - 4)
        painter.drawText(words, Qt.AlignmentFlag.AlignCenter, shown)
