"""Fills the cache of compiled kernels from another process; the window stays alive meanwhile.

No thread of the window's compiles beside it: whatever needed the engine next would wait for that.
"""

import sys
import threading

from PySide6.QtCore import QObject, QProcess, QProcessEnvironment, Signal

# Nothing is being compiled: threads of long work wait for that before they begin.
AT_REST = threading.Event()
AT_REST.set()


class Compiler(QObject):
    """Says `ended` when the process has ended, however it did."""

    ended = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._process: QProcess | None = None

    @property
    def running(self) -> bool:
        return self._process is not None

    def start(self) -> None:
        """Begin."""
        AT_REST.clear()
        self._process = QProcess(self)
        self._process.setProcessEnvironment(QProcessEnvironment.systemEnvironment())
        self._process.finished.connect(self._on_ended)
        self._process.errorOccurred.connect(self._on_ended)
        self._process.start(sys.executable, ["-m", "irontrail", "warm"])

    def close(self) -> None:
        """Stop, and say nothing more."""
        process, self._process = self._process, None
        if process is not None:
            process.finished.disconnect()
            process.kill()
            process.waitForFinished(2000)
            AT_REST.set()

    def _on_ended(self) -> None:
        if self._process is not None:
            self._process = None
            AT_REST.set()
            self.ended.emit()
