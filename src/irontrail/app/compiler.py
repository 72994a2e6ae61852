"""Fills the cache of compiled kernels from another process; the window stays alive meanwhile."""

import sys

from PySide6.QtCore import QObject, QProcess, QProcessEnvironment, Signal


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

    def _on_ended(self) -> None:
        if self._process is not None:
            self._process = None
            self.ended.emit()
