"""Work that takes its time, off the interface thread: it says how far it is, and can be called off."""

import logging
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any

from PySide6.QtCore import QObject, Qt, Signal

from irontrail.core.errors import IronTrailError

log = logging.getLogger(__name__)

Proceed = Callable[[int], bool]


class LongWork(QObject):
    """One piece of work at a time; a new one calls off the old.

    `progressed(done)` and then once `ended(result, error)` are emitted on the interface thread, unless it was called
    off, of which nothing more is heard.
    """

    progressed = Signal(int)
    ended = Signal(object, str)
    _crossed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="irontrail-long")
        self._current = 0
        self._off = threading.Event()
        self._running = False
        self._crossed.connect(self._on_crossed, Qt.ConnectionType.QueuedConnection)

    @property
    def running(self) -> bool:
        return self._running

    def start(self, work: Callable[[Proceed], Any]) -> None:
        """Begin; `work` is given a function to tell how much is done, which says whether to go on."""
        self.call_off()
        self._current += 1
        self._off = threading.Event()
        self._running = True
        self._pool.submit(self._run, work, self._current, self._off)

    def call_off(self) -> None:
        """Stop as soon as the work asks whether to go on."""
        self._off.set()
        self._running = False
        self._current += 1

    def close(self) -> None:
        """Call off, and wait for the thread to end."""
        self.call_off()
        self._pool.shutdown(wait=True, cancel_futures=True)

    def _run(self, work: Callable[[Proceed], Any], number: int, off: threading.Event) -> None:
        def proceed(done: int) -> bool:
            self._crossed.emit(_Told(number, done=done))
            return not off.is_set()

        try:
            result, error = work(proceed), ""
        except IronTrailError as refusal:
            result, error = None, str(refusal)
        except Exception as unforeseen:
            log.exception("long work failed")
            result, error = None, str(unforeseen)
        if not off.is_set():
            self._crossed.emit(_Told(number, result=result, error=error))

    def _on_crossed(self, told: "_Told") -> None:
        if told.number != self._current:
            return
        if told.done is not None:
            self.progressed.emit(told.done)
        else:
            self._running = False
            self.ended.emit(told.result, told.error)


@dataclass(frozen=True, eq=False)
class _Told:
    """What a thread tells of one piece of work: how much is done, or how it ended."""

    number: int
    done: int | None = None
    result: Any = None
    error: str = ""
