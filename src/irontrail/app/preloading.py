"""What takes long to import is imported before it is asked for, one package at a time, while nothing is dragged.

Importing holds the interpreter. In a thread that has been asked for something it would have the window stand still for
half a second and more, in the midst of work; here each step is a tenth of a second or two, just after the start: once
there is a run, or while the engine is being compiled. A sheet that needs any of it at once waits for that.
"""

import sys
from collections.abc import Callable
from importlib import import_module
from typing import ClassVar

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QGuiApplication
from shiboken6 import isValid

from irontrail.app.garbage import keep_what_is_here
from irontrail.app.session import Session
from irontrail.app.stops import MODULES

# What sheets wait for; those before are needed by those that follow, ".*" with every name in it: a class of Qt is made
# when it is first asked for, and the plots' library asks for all of them.
PACKAGES = (
    "llvmlite.binding",
    "numba",
    "numba.cpython.unicode",
    "numba.np.linalg",
    "numba.typed.typedlist",
    "scipy.special",
    "scipy.sparse.linalg",
    "scipy.spatial",
    "scipy.ndimage",
    "scipy.fft",
    "scipy.optimize",
    "PySide6.QtCore.*",
    "PySide6.QtGui.*",
    "PySide6.QtWidgets.*",
    "pyqtgraph",
)
# What would have whoever opens a project wait, and whoever opens a stop, traces a picture or saves pages.
FIRST = ("pydantic.type_adapter", "irontrail.files.project_schema")
LATER = (*MODULES, "irontrail.core.mat.trace", "jinja2")
EVERY_MS = 100


class Preloading(QObject):
    """Says `ended` when what sheets wait for has been imported, or as much of it as can be, and the engine is there.

    It says `imported` when all has been; the engine may still be compiled then.
    """

    ended = Signal()
    imported = Signal()
    under_way: ClassVar["Preloading | None"] = None

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._left = [*FIRST, *PACKAGES, *LATER]
        self._engine = False
        self._waiting: dict[QObject, Callable[[], None]] = {}
        self._to_read: dict[QObject, Callable[[], None]] = {}
        self._timer = QTimer(self)
        self._timer.timeout.connect(self._next)
        # Until the engine is there nothing that needs it is worked out either: it would be compiled in the midst of it.
        Preloading.under_way = self

    def follow(self, session: Session) -> None:
        """Begin once a session has a run, or at once while it waits for the engine; keep what has come of it."""
        if session.preparing:
            self.start()
        session.view_changed.connect(self.engine_is_there, Qt.ConnectionType.SingleShotConnection)
        # Whoever opens another one meanwhile has thought better of it.
        session.opened.connect(self._to_read.clear)
        self.imported.connect(keep_what_is_here)
        self.ended.connect(keep_what_is_here)

    def start(self) -> None:
        """Begin to import."""
        self._timer.start(EVERY_MS)

    def engine_is_there(self) -> None:
        """There is a run: go on, or begin."""
        self._engine = True
        self.start()

    def _next(self) -> None:
        if QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton:
            return
        if self._to_read and not self.reading_left:
            # In a turn of its own: it takes as long as one of these.
            who, act = self._to_read.popitem()
            if isValid(who):
                act()
            return
        # The first run imports some of it too, in its own thread.
        self._left = [name for name in self._left if name not in sys.modules]
        try:
            if self._left:
                load(self._left.pop(0))
        finally:
            if self._engine and Preloading.under_way is self and not set(self._left) & set(PACKAGES):
                self._end()
            if not self._left and not self._to_read:
                self._timer.stop()
                self.imported.emit()

    def _end(self) -> None:
        Preloading.under_way = None
        self.ended.emit()
        for who, act in self._waiting.items():
            if isValid(who):
                act()

    @property
    def reading_left(self) -> bool:
        """Some of what reads a project has still to be imported."""
        return any(name in self._left and name not in sys.modules for name in FIRST)

    def read(self, who: QObject, act: Callable[[], None]) -> None:
        """Have something done for somebody once what reads a project is imported; of what one asks for, the last."""
        self._to_read[who] = act
        self.start()

    def wait(self, who: QObject, act: Callable[[], None]) -> None:
        """Have something done for somebody once it has ended; of what one asks for, the last."""
        self._waiting[who] = act


def load(name: str) -> None:
    """Import one of the packages."""
    module = import_module(name.removesuffix(".*"))
    if name.endswith(".*"):
        for each in dir(module):
            getattr(module, each)


def when_it_can_be_read(who: QObject, act: Callable[[], None]) -> None:
    """Have something done for somebody that reads a project: now, or in a moment, when what reads one is there."""
    loading = Preloading.under_way
    if loading is not None and isValid(loading) and loading.reading_left:
        loading.read(who, act)
    else:
        act()


def when_loaded(who: QObject, act: Callable[[], None]) -> bool:
    """Have something done that needs any of it, or the engine: now, or when it is there; whether it has been done."""
    loading = Preloading.under_way
    # It goes with its window.
    if loading is not None and isValid(loading):
        loading.wait(who, act)
        return False
    act()
    return True
