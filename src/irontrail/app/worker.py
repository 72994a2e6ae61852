"""Work off the interface thread: newest request wins, every request ends once, nothing is swallowed."""

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from irontrail.core.errors import IronTrailError

log = logging.getLogger(__name__)


@dataclass(frozen=True, eq=False)
class Ended:
    """How a request ended: with a result or with an error."""

    request: Any
    result: Any = None
    error: Exception | None = None


class NewestWins(QObject):
    """Runs a pure function on requests in a thread of its own; of those that wait, only the newest is kept.

    `ended` is emitted on the interface thread, in the order of the requests. While one is being worked on, a
    newer one waits; a still newer one takes its place.
    """

    ended = Signal(object)
    _crossed = Signal(object)

    def __init__(self, work: Callable[[Any], Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._work = work
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="irontrail-run")
        self._waiting: Any = None
        self._busy = False
        self._closed = False
        self._crossed.connect(self._on_crossed, Qt.ConnectionType.QueuedConnection)

    @property
    def idle(self) -> bool:
        """Nothing is being worked on and nothing waits."""
        return not self._busy

    def request(self, request: Any) -> None:
        """Ask for the work on a request; it replaces one that waits."""
        if self._closed:
            return
        if self._busy:
            self._waiting = request
            return
        self._busy = True
        self._pool.submit(self._run, request)

    def close(self) -> None:
        """Drop what waits, let what runs come to its end, and emit nothing more."""
        self._closed = True
        self._waiting = None
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _run(self, request: Any) -> None:
        try:
            ended = Ended(request, self._work(request))
        except IronTrailError as error:
            ended = Ended(request, error=error)
        except Exception as error:
            log.exception("a run failed")
            ended = Ended(request, error=error)
        if not self._closed:
            self._crossed.emit(ended)

    def _on_crossed(self, ended: Ended) -> None:
        if self._closed:
            return
        waiting, self._waiting = self._waiting, None
        if waiting is None:
            self._busy = False
        else:
            self._pool.submit(self._run, waiting)
        self.ended.emit(ended)
