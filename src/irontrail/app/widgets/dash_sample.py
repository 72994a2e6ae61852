"""A short piece of a kept run's line, to tell which is which."""

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from irontrail.app.theme import KEPT_DASHES, Theme, pen


class DashSample(QWidget):
    """Shows the colour and dash of the kept run in a place, or nothing."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._place: int | None = None
        self.setFixedSize(30, 14)

    def sizeHint(self) -> QSize:
        return QSize(30, 14)

    def set_place(self, place: int | None) -> None:
        """Show another place's line."""
        self._place = place
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self._place is not None:
            painter = QPainter(self)
            painter.setPen(pen(self.theme.kept[self._place], 2.0, KEPT_DASHES[self._place]))
            painter.drawLine(0, 7, 30, 7)
