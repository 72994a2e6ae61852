"""What nobody foresaw: written to the log, told in one window with a text to copy, and never the end of the program."""

import logging
import logging.handlers
import platform
import sys
import threading
import traceback
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from types import TracebackType
from typing import Any

from PySide6 import __version__ as qt_version
from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import (
    QApplication,
    QDialog,
    QHBoxLayout,
    QLabel,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from irontrail import __version__
from irontrail.app.theme import dress
from irontrail.app.widgets.label import Label
from irontrail.files import places

log = logging.getLogger(__name__)

LOG_BYTES = 256 * 1024
# Different faults that one window tells of; the log has them all.
MOST_TOLD = 5


def log_file() -> Path:
    """Where the log is kept: in the user's state folder."""
    return places.state() / "irontrail.log"


def keep_log() -> None:
    """Write warnings and errors to the terminal and to the log, which is kept small; without one where none can be."""
    handlers: list[logging.Handler] = [logging.StreamHandler()]
    try:
        log_file().parent.mkdir(parents=True, exist_ok=True)
        handlers.append(
            logging.handlers.RotatingFileHandler(log_file(), maxBytes=LOG_BYTES, backupCount=1, encoding="utf-8")
        )
    except OSError as error:
        log.warning("no log is kept: %s", error)
    form = "%(asctime)s %(levelname)s %(name)s: %(message)s"
    logging.basicConfig(level=logging.WARNING, format=form, handlers=handlers, force=True)


class Trouble(QObject):
    """Takes what fails in slots, handlers and threads; tells each fault once.

    Parameters
    ----------
    kept : callable
        Says in a sentence what of the person's work has been put by; it is asked when the window is shown.
    """

    _crossed = Signal(str)

    def __init__(self, kept: Callable[[], str], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._kept = kept
        self._counts: Counter[str] = Counter()
        self.window: TroubleWindow | None = None
        # Told later, on the interface thread: a fault may be one of painting.
        self._crossed.connect(self._tell, Qt.ConnectionType.QueuedConnection)

    def watch(self) -> None:
        """Take everything that nobody else takes, in any thread."""
        sys.excepthook = self.take
        threading.excepthook = lambda told: self.take(told.exc_type, told.exc_value, told.exc_traceback)

    def take(self, kind: type[BaseException], error: BaseException | None, trace: TracebackType | None) -> None:
        """Log a fault and have it told."""
        if issubclass(kind, KeyboardInterrupt):
            QApplication.quit()
            return
        text = "".join(traceback.format_exception(kind, error, trace)).rstrip()
        log.error("%s", text)
        self._crossed.emit(text)

    def _tell(self, text: str) -> None:
        self._counts[text] += 1
        if self._counts[text] > 1 or len(self._counts) > MOST_TOLD:
            return
        if self.window is None:
            self.window = TroubleWindow(QApplication.activeWindow(), self._kept())
            self.window.finished.connect(self._on_closed)
            self.window.show()
        self.window.add(text)

    def _on_closed(self, _result: int) -> None:
        self.window = None
        self._counts.clear()


class TroubleWindow(QDialog):
    """What happened, what of the work is safe, and the text to send to whoever can mend it."""

    def __init__(self, parent: QWidget | None, kept: str) -> None:
        super().__init__(parent)
        self.setWindowTitle("Something went wrong")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(620, 380)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(8)
        self.happened = _words(
            "Something in Iron Trail failed that should not. You can go on; if what you see looks wrong, "
            "save, and start it again.",
        )
        self.saved = _words(kept)
        self.report = QPlainTextEdit()
        self.report.setReadOnly(True)
        self.report.setAccessibleName("report of what failed")
        self.report.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        for widget in (self.happened, self.saved, self.report):
            column.addWidget(widget)
        row = QHBoxLayout()
        row.addWidget(_words(f"It stands in the log, too:\n{log_file()}"), 1)
        copy = QPushButton("Copy the report")
        copy.clicked.connect(lambda: QGuiApplication.clipboard().setText(self.report.toPlainText()))
        go_on = QPushButton("Go on")
        go_on.setDefault(True)
        go_on.clicked.connect(self.accept)
        row.addWidget(copy)
        row.addWidget(go_on)
        column.addLayout(row)
        dress(self)
        self.buttons: dict[str, Any] = {"copy": copy, "go on": go_on}
        self.report.setPlainText(
            f"Iron Trail {__version__}, Python {platform.python_version()}, Qt {qt_version}, {platform.platform()}"
        )

    def add(self, text: str) -> None:
        """One more fault."""
        self.report.appendPlainText(f"\n{text}")


def _words(text: str) -> QLabel:
    label = Label(text)
    label.setWordWrap(True)
    label.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
    return label
