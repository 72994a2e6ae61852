"""A button with some lines of text, as wide as it is let be: what does not fit ends in dots, and is in its tip."""

from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QPaintEvent, QPalette
from PySide6.QtWidgets import QPushButton, QSizePolicy, QStyle, QStyleOptionButton, QStylePainter

from irontrail.app.widgets.label import plain_tip

PADDING = 8


class LinesButton(QPushButton):
    """Shows each line of its text as far as there is room."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        self.setToolTip(plain_tip(text))
        self.setAccessibleName(text.replace("\n", ", "))

    def sizeHint(self) -> QSize:
        lines = self.text().count("\n") + 1
        return QSize(80, lines * self.fontMetrics().lineSpacing() + PADDING)

    def minimumSizeHint(self) -> QSize:
        return self.sizeHint()

    def shown(self) -> str:
        """The text as it is painted."""
        room = self.width() - 2 * PADDING
        cut = (
            self.fontMetrics().elidedText(line, Qt.TextElideMode.ElideRight, room) for line in self.text().split("\n")
        )
        return "\n".join(cut)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, option = QStylePainter(self), QStyleOptionButton()
        self.initStyleOption(option)
        option.text = ""
        painter.drawControl(QStyle.ControlElement.CE_PushButton, option)
        group = QPalette.ColorGroup.Active if self.isEnabled() else QPalette.ColorGroup.Disabled
        painter.setPen(self.palette().color(group, QPalette.ColorRole.ButtonText))
        box = QRect(PADDING, 0, self.width() - 2 * PADDING, self.height())
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.shown())
