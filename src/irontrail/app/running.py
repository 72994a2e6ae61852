"""A window that is open already takes what a second start is given."""

import json
import logging
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtNetwork import QLocalServer, QLocalSocket

from irontrail.files import places

log = logging.getLogger(__name__)

MOST_BYTES = 64 * 1024


class Running(QObject):
    """Listens, unless another window does; says `asked(path)`. Nobody but the user can speak to it."""

    asked = Signal(Path)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        self._server.newConnection.connect(self._on_connected)
        self._listen()

    @property
    def listens(self) -> bool:
        return self._server.isListening()

    def _listen(self) -> None:
        name = str(places.socket())
        try:
            places.socket().parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            log.warning("no second start can be heard: %s", error)
            return
        other = QLocalSocket()
        other.connectToServer(name)
        if other.waitForConnected(500):
            other.disconnectFromServer()
            return
        # Whoever may have listened there is gone without a word.
        QLocalServer.removeServer(name)
        self._server.listen(name)

    def close(self) -> None:
        """Listen no more."""
        self._server.close()

    def _on_connected(self) -> None:
        caller = self._server.nextPendingConnection()
        caller.readyRead.connect(lambda: self._read(caller))
        caller.disconnected.connect(caller.deleteLater)

    def _read(self, caller: QLocalSocket) -> None:
        if caller.bytesAvailable() > MOST_BYTES:
            caller.abort()
            return
        if not caller.canReadLine():
            return
        try:
            path = Path(json.loads(bytes(caller.readLine().data()))["open"])
        except (ValueError, KeyError, TypeError):
            caller.abort()
            return
        caller.write(b"taken\n")
        caller.flush()
        self.asked.emit(path)
