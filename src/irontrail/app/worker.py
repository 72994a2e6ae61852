"""Work off the interface thread: each in its turn or the newest alone; each ends once, nothing is swallowed."""

import logging
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache, partial
from typing import Any, Generic, TypeVar

from PySide6.QtCore import QObject, Qt, Signal

from irontrail.core.errors import CalledOff, IronTrailError

log = logging.getLogger(__name__)

AskedT = TypeVar("AskedT")
GivenT = TypeVar("GivenT")


@dataclass(frozen=True, eq=False)
class _Ended(Generic[AskedT, GivenT]):
    """How a request ended: with what it gives, or with an error."""

    request: AskedT
    given: GivenT | None = None
    error: Exception | None = None


class Crossing(QObject):
    """Brings what a thread has to tell to the interface thread."""

    crossed = Signal(object)


def hand_over(pool: ThreadPoolExecutor, act: Callable[..., None], *given: object) -> None:
    """Have a thread act; what it acts with is let go of on the interface thread, from which this is called.

    Were the thread the last to hold something that Qt is connected with (the sheet that asked is gone by now), it would
    take the connections down: it waits for the interpreter then while it holds a lock of Qt's, and the interface
    thread, which has the interpreter, may wait for that lock. Both would stand still for good.
    """
    pool.submit(_act, [partial(act, *given)], _returned())


def _act(held: list[Callable[[], None]], returned: Crossing) -> None:
    try:
        # Held by the list alone, which the interface thread empties.
        held[0]()
    finally:
        returned.crossed.emit(held)


@cache
def _returned() -> Crossing:
    crossing = Crossing()
    crossing.crossed.connect(_let_go, Qt.ConnectionType.QueuedConnection)
    return crossing


def _let_go(held: Any) -> None:
    held.clear()


class EachInTurn(Generic[AskedT, GivenT]):
    """Runs a pure function on requests in a thread of its own, one after the other; none is dropped.

    `done(request, given)` or `failed(request, error)` is called on the interface thread, in the order of the requests:
    who has work done must say what becomes of an error.
    """

    def __init__(
        self,
        work: Callable[[AskedT], GivenT],
        done: Callable[[AskedT, GivenT], None],
        failed: Callable[[AskedT, Exception], None],
    ) -> None:
        self._work, self._done, self._failed = work, done, failed
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="irontrail-run")
        self._closed = False
        self._crossing = Crossing()
        self._crossing.crossed.connect(self._on_crossed, Qt.ConnectionType.QueuedConnection)

    def request(self, request: AskedT) -> None:
        """Ask for the work on a request."""
        if not self._closed:
            hand_over(self._pool, self._run, request)

    def close(self) -> None:
        """Ask for nothing more and tell nothing more; what has been asked for comes to its end in its own time."""
        self._closed = True
        self._done = self._failed = _say_nothing
        self._pool.shutdown(wait=False)

    def _run(self, request: AskedT) -> None:
        ended: _Ended[AskedT, GivenT]
        try:
            ended = _Ended(request, self._work(request))
        except (IronTrailError, CalledOff) as error:
            ended = _Ended(request, error=error)
        except Exception as error:
            # A program that ends takes the ground from under what is still at work.
            if not self._closed:
                log.exception("a run failed")
            ended = _Ended(request, error=error)
        if not self._closed:
            self._crossing.crossed.emit(ended)

    def _on_crossed(self, ended: Any) -> None:
        if self._closed or isinstance(ended.error, CalledOff):
            return
        if ended.error is not None:
            self._failed(ended.request, ended.error)
        else:
            self._done(ended.request, ended.given)


class NewestWins(EachInTurn[AskedT, GivenT]):
    """Of the requests that wait while one is being worked on, only the newest is kept.

    Work that takes long asks `wanted` whether to go on.
    """

    _waiting: AskedT | None = None
    _busy = False

    @property
    def idle(self) -> bool:
        """Nothing is being worked on and nothing waits."""
        return not self._busy

    @property
    def wanted(self) -> bool:
        """What is being worked on is still asked for; may be read from any thread."""
        return not self._closed and self._waiting is None

    def request(self, request: AskedT) -> None:
        """Ask for the work on a request; it replaces one that waits."""
        if self._closed:
            return
        if self._busy:
            self._waiting = request
            return
        self._busy = True
        super().request(request)

    def close(self) -> None:
        """Drop what waits as well."""
        super().close()
        self._waiting = None

    def _on_crossed(self, ended: Any) -> None:
        if self._closed:
            return
        waiting, self._waiting = self._waiting, None
        self._busy = waiting is not None
        if waiting is not None:
            super().request(waiting)
        super()._on_crossed(ended)


def _say_nothing(*_told: object) -> None:
    """Nobody listens any more."""
