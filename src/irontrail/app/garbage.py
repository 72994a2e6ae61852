"""Garbage that refers to itself is collected on the interface thread alone.

Python collects it in whatever thread happens to make objects. Where that is not the interface thread, taking down a
view's connections there waits for the interpreter while it holds a lock of Qt's, and the interface thread, which has
the interpreter, waits for that lock: both stand still for good.

A hand that drags would feel it: it waits until the button is let go. What is there when the window has shown a run and
all is loaded stays as long as the program, and is not looked at again.
"""

import gc

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtGui import QGuiApplication

EVERY_MS = 500
# So many objects more than were let go are not left to the end of a drag.
MOST_LEFT = 200_000


def keep_what_is_here() -> None:
    """Never look again at what has been made so far: a tenth of a second each time, of the window and its libraries."""
    gc.freeze()


class Garbage(QObject):
    """Looks now and then whether there is enough to collect."""

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._limits = gc.get_threshold()
        gc.disable()
        timer = QTimer(self)
        timer.timeout.connect(self._look)
        timer.start(EVERY_MS)

    def _look(self) -> None:
        counts = gc.get_count()
        held = QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton
        if counts[0] <= (MOST_LEFT if held else self._limits[0]):
            return
        generation = 0
        if counts[1] > self._limits[1]:
            generation = 2 if counts[2] > self._limits[2] else 1
        gc.collect(generation)
