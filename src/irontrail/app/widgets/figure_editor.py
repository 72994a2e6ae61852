"""A field in a figure's place: typed, taken with Return or by leaving it, left as it was with Escape."""

import math

from PySide6.QtCore import QRect, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from irontrail.app.theme import font
from irontrail.core.quantity import Quantity


class FigureEditor(QLineEdit):
    """Says `done(take)` once: whether what stands in it is to be taken."""

    done = Signal(bool)

    def __init__(self, text: str, name: str, place: QRect, parent: QWidget) -> None:
        super().__init__(text, parent)
        self.setFont(font(14, True))
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setAccessibleName(name)
        self.setGeometry(place)
        self._ended = False

    def read(self, quantity: Quantity) -> float | None:
        """The value that stands in it, in the stored unit; None if that is no number."""
        text = self.text().strip().replace("−", "-").replace(",", ".").removesuffix(quantity.unit).strip()
        try:
            value = float(text) / quantity.shown_per_stored
        except ValueError:
            return None
        return value if math.isfinite(value) else None

    def end(self, take: bool) -> None:
        """Be done, unless it has been already."""
        if not self._ended:
            self._ended = True
            self.done.emit(take)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self.end(False)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.end(True)
        else:
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.end(True)


def take_typed(part: QWidget) -> None:
    """Take the figure that is being typed in the window of a part, before anything else is done there."""
    field = part.window().focusWidget()
    if isinstance(field, FigureEditor):
        field.end(True)
