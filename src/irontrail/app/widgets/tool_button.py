"""A small button over a view that is painted anew often."""

from PySide6.QtCore import QEvent
from PySide6.QtGui import QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QPushButton, QStyle, QStyleOptionButton, QWidget

from irontrail.app.widgets.painting import in_pixels

# Looks that are kept: pressed, ticked, under the pointer, with the focus, and some of them together.
MOST_LOOKS = 16


class ToolButton(QPushButton):
    """Drawn once for each of its looks, and shown as a picture: its style takes longer than the trail under it."""

    def __init__(self, text: str, parent: QWidget | None = None) -> None:
        super().__init__(text, parent)
        self._looks: dict[tuple[object, ...], QPixmap] = {}
        self.setProperty("tool", "true")

    def changeEvent(self, event: QEvent) -> None:
        """In another style, font or language it looks otherwise."""
        self._looks.clear()
        super().changeEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        ratio = self.devicePixelRatioF()
        if not in_pixels(painter, ratio):
            self._draw(painter)
            return
        state = (self.isEnabled(), self.isDown(), self.isChecked(), self.underMouse(), self.hasFocus())
        key = (*state, self.isActiveWindow(), self.text(), self.width(), self.height(), ratio)
        if key not in self._looks:
            if len(self._looks) >= MOST_LOOKS:
                self._looks.clear()
            self._looks[key] = self._drawn(ratio)
        painter.drawPixmap(0, 0, self._looks[key])

    def _draw(self, painter: QPainter) -> None:
        option = QStyleOptionButton()
        self.initStyleOption(option)
        self.style().drawControl(QStyle.ControlElement.CE_PushButton, option, painter, self)

    def _drawn(self, ratio: float) -> QPixmap:
        picture = QPixmap(self.size() * ratio)
        picture.setDevicePixelRatio(ratio)
        picture.fill("transparent")
        painter = QPainter(picture)
        self._draw(painter)
        painter.end()
        return picture
