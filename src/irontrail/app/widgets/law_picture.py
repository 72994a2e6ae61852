"""A steering law to choose, shown by the shape of its curve."""

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PySide6.QtWidgets import QAbstractButton, QSizePolicy

from irontrail.app.theme import Theme, font, pen

SHAPES: dict[str, tuple[tuple[float, float], ...]] = {
    "on-off": ((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (1.0, 1.0)),
    "proportional": ((0.0, 0.0), (1.0, 1.0)),
}


class LawPicture(QAbstractButton):
    """A checkable picture of a law's curve over its trade name."""

    def __init__(self, law: str, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setText(law)
        self.setAccessibleName(f"{law} steering")
        self.setCheckable(True)
        self.setFixedHeight(52)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(90, 52)

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
        width, top, height = 44.0, 9.0, 17.0
        left = box.center().x() - width / 2
        line = QPolygonF([QPointF(left + width * x, top + height * (1 - y)) for x, y in SHAPES[self.text()]])
        painter.setPen(pen(theme.rust if chosen else theme.second, 2.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(line)
        painter.setFont(font(11, chosen))
        painter.setPen(QColor(theme.ink if chosen else theme.second))
        painter.drawText(QRectF(box.left(), 31, box.width(), 16), Qt.AlignmentFlag.AlignCenter, self.text())
