"""Work that takes its time, off the interface thread: it says how far it is, and can be called off."""

import logging
import threading
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from PySide6.QtCore import Qt

from irontrail.app.compiler import AT_REST
from irontrail.app.worker import Crossing, hand_over
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.turns import give_way, step_back

log = logging.getLogger(__name__)

Proceed = Callable[[int], bool]
GivenT = TypeVar("GivenT")


class LongWork(Generic[GivenT]):
    """One piece of work at a time; a new one calls off the old.

    `progressed(done)` and then once `done(given)` or `failed(error)` are called on the interface thread, unless it was
    called off, of which nothing more is heard.
    """

    def __init__(
        self,
        progressed: Callable[[int], None],
        done: Callable[[GivenT], None],
        failed: Callable[[Exception], None],
    ) -> None:
        self._progressed, self._done, self._failed = progressed, done, failed
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="irontrail-long", initializer=step_back)
        self._current = 0
        self._off = threading.Event()
        self._running = False
        self._closed = False
        self._crossing = Crossing()
        self._crossing.crossed.connect(self._on_crossed, Qt.ConnectionType.QueuedConnection)

    @property
    def running(self) -> bool:
        return self._running

    def start(self, work: Callable[[Proceed], GivenT]) -> None:
        """Begin; `work` is given a function to tell how much is done, which says whether to go on."""
        if self._closed:
            return
        self.call_off()
        self._current += 1
        self._off = threading.Event()
        self._running = True
        hand_over(self._pool, self._run, work, self._current, self._off)

    def call_off(self) -> None:
        """Stop as soon as the work asks whether to go on."""
        self._off.set()
        self._running = False
        self._current += 1

    def close(self) -> None:
        """Call off, let the thread come to its end in its own time, and tell nothing more."""
        self.call_off()
        self._closed = True
        self._progressed = self._failed = _say_nothing
        self._done = _say_nothing
        self._pool.shutdown(wait=False, cancel_futures=True)

    def _run(self, work: Callable[[Proceed], GivenT], number: int, off: threading.Event) -> None:
        def proceed(done: int) -> bool:
            if off.is_set():
                return False
            self._crossing.crossed.emit(_Told(number, done=done))
            give_way()
            return not off.is_set()

        AT_REST.wait()
        if off.is_set():
            return
        told: _Told[GivenT]
        try:
            told = _Told(number, ended=True, given=work(proceed))
        except CalledOff:
            return
        except IronTrailError as refusal:
            told = _Told(number, ended=True, error=refusal)
        except Exception as unforeseen:
            if off.is_set():
                return
            log.exception("long work failed")
            told = _Told(number, ended=True, error=unforeseen)
        if not off.is_set():
            self._crossing.crossed.emit(told)

    def _on_crossed(self, told: Any) -> None:
        if told.number != self._current:
            return
        if not told.ended:
            self._progressed(told.done)
            return
        self._running = False
        if told.error is not None:
            self._failed(told.error)
        else:
            self._done(told.given)


def _say_nothing(_told: object) -> None:
    """Nobody listens any more."""


@dataclass(frozen=True, eq=False)
class _Told(Generic[GivenT]):
    """What a thread tells of one piece of work: how much is done, or how it ended."""

    number: int
    done: int = 0
    ended: bool = False
    given: GivenT | None = None
    error: Exception | None = None
