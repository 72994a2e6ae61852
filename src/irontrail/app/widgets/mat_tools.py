"""The row of small buttons over the mat: what the trail is coloured by, the close view, following, the whole mat."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QAction, QActionGroup
from PySide6.QtWidgets import QHBoxLayout, QMenu, QWidget

from irontrail.app.widgets.tool_button import ToolButton
from irontrail.app.widgets.trail_shade import SHADES
from irontrail.core.capital import capital


class MatTools(QWidget):
    """Says `shaded(name)`, `close_asked(shown)`, `follow_asked(following)` and `whole_asked()`."""

    shaded = Signal(str)
    close_asked = Signal(bool)
    follow_asked = Signal(bool)
    whole_asked = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        self.trail = self._button(row, "Trail: plain", "What the trail is coloured by (C)")
        self.menu = QMenu("Colour the T&rail by", self)
        group = QActionGroup(self)
        self.actions_of: dict[str, QAction] = {}
        for name in SHADES:
            action = self.menu.addAction(capital(name))
            action.setCheckable(True)
            action.triggered.connect(lambda _checked=False, name=name: self.shaded.emit(name))
            group.addAction(action)
            self.actions_of[name] = action
        self.actions_of["plain"].setChecked(True)
        self.trail.clicked.connect(self._open)
        self.close_up = self._button(row, "Close up", "The wheels and the sensor, close up (W)")
        self.close_up.setCheckable(True)
        self.close_up.clicked.connect(lambda on: self.close_asked.emit(on))
        self.follow = self._button(row, "Follow", "Keep the robot in the middle (G)")
        self.follow.setCheckable(True)
        self.follow.clicked.connect(lambda on: self.follow_asked.emit(on))
        self.whole = self._button(row, "Whole mat", "Show the whole mat (F)")
        self.whole.clicked.connect(lambda _checked=False: self.whole_asked.emit())
        self.adjustSize()

    def _button(self, row: QHBoxLayout, text: str, tip: str) -> ToolButton:
        button = ToolButton(text)
        button.setToolTip(tip)
        button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        row.addWidget(button)
        return button

    def _open(self) -> None:
        self.menu.popup(self.trail.mapToGlobal(self.trail.rect().bottomLeft()))

    def set_shade(self, name: str) -> None:
        """Show what the trail is coloured by."""
        self.trail.setText(f"Trail: {name}")
        self.actions_of[name].setChecked(True)
        self.adjustSize()
