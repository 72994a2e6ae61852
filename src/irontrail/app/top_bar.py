"""The bar over everything: menus, the project's name, and whether it is saved."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from irontrail.app import theme
from irontrail.app.actions import Actions
from irontrail.app.widgets.label import Label


class TopBar(QWidget):
    """Menus at the left, the project's name in the middle, its state at the right."""

    def __init__(self, actions: Actions, made: theme.Theme) -> None:
        super().__init__()
        self._theme = made
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 14, 1)
        row.addWidget(actions.bar)
        row.addStretch(1)
        self.state = Label()
        self.state.setProperty("role", "quiet")
        row.addWidget(self.state)
        self.name = Label(parent=self)
        self.name.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.name.setFont(theme.font(12, True))
        self.name.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)

    def set_words(self, name: str, state: str) -> None:
        """Show the project's name and state."""
        self.name.setText(name)
        self.state.setText(state)
        self._place()

    def resizeEvent(self, event: QResizeEvent) -> None:
        self._place()
        super().resizeEvent(event)

    def _place(self) -> None:
        width = min(self.name.sizeHint().width() + 8, max(self.width() - 720, 120))
        self.name.setGeometry((self.width() - width) // 2, 0, width, self.height())

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self._theme.sheet))
        painter.setPen(QColor(self._theme.rule))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)
