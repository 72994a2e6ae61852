"""What takes long to import is imported before it is asked for, one package at a time, while nothing is dragged.

Importing holds the interpreter. In a thread that has been asked for something it would have the window stand still for
half a second and more, in the midst of work; here each step is a third of a second at most, just after the start.
"""

from importlib import import_module

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QGuiApplication

# Those before are needed by those that follow.
PACKAGES = (
    "scipy.special",
    "scipy.sparse.linalg",
    "scipy.spatial",
    "scipy.ndimage",
    "scipy.optimize",
    "pyqtgraph",
)
EVERY_MS = 200


class Preloading(QObject):
    """Says `ended` when all has been imported."""

    ended = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._left = list(PACKAGES)
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._next)

    def start(self) -> None:
        """Begin."""
        self._timer.start(EVERY_MS)

    def _next(self) -> None:
        if QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton:
            return
        name = self._left.pop(0)
        if not self._left:
            # Before the last is imported: one that cannot be is told of once.
            self._timer.stop()
        import_module(name)
        if not self._left:
            self.ended.emit()
