"""Signals of the system (Ctrl+C in the terminal, a shutdown) brought to Qt's loop, where they are acted on in order.

Python runs a signal's handler wherever the interpreter happens to be, which may be in the midst of painting.
"""

import signal
import socket

from PySide6.QtCore import QObject, QSocketNotifier, Signal

CAUGHT = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class SystemSignals(QObject):
    """Says `caught(number)` from the event loop."""

    caught = Signal(int)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._out, self._into = socket.socketpair()
        self._out.setblocking(False)
        self._into.setblocking(False)
        self._notifier = QSocketNotifier(self._out.fileno(), QSocketNotifier.Type.Read, self)
        self._notifier.activated.connect(self._read)
        signal.set_wakeup_fd(self._into.fileno(), warn_on_full_buffer=False)
        for number in CAUGHT:
            signal.signal(number, lambda _number, _frame: None)

    def close(self) -> None:
        """Let signals do what they did."""
        signal.set_wakeup_fd(-1)
        for number in CAUGHT:
            signal.signal(number, signal.SIG_DFL)
        self._notifier.setEnabled(False)
        self._out.close()
        self._into.close()

    def _read(self) -> None:
        for number in self._out.recv(64):
            if number in CAUGHT:
                self.caught.emit(number)
