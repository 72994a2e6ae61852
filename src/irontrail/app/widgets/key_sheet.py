"""All keys on one sheet, beside the work."""

from collections.abc import Iterable

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QDialog, QGridLayout, QLabel, QWidget

DIAL_KEYS = (
    ("Arrows", "nudge a dial; with Shift tenfold"),
    ("/ and *", "halve and double a dial"),
    ("Digits, Enter", "type into a dial; Esc leaves it as it was"),
    ("Page Up, Page Down", "on the steering curve: choose a handle, arrows move it"),
)


class KeySheet(QDialog):
    """Shows the shortcut of each action, and the keys of a dial. It does not stand in the way of the window."""

    def __init__(self, parent: QWidget, actions: Iterable[QAction]) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        grid = QGridLayout(self)
        grid.setContentsMargins(18, 14, 18, 14)
        grid.setHorizontalSpacing(18)
        rows = [
            (action.shortcut().toString(), action.text().replace("&", "").removesuffix(" …"))
            for action in actions
            if not action.shortcut().isEmpty()
        ]
        rows += list(DIAL_KEYS)
        half = (len(rows) + 1) // 2
        for i, (keys, words) in enumerate(rows):
            column = 2 * (i // half)
            for j, text in enumerate((keys, words)):
                label = QLabel(text)
                label.setProperty("role", "heading" if j == 0 else "words")
                grid.addWidget(label, i % half, column + j)
