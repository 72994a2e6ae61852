"""Threads that compute beside a window: it goes first, and no more of them run at a time than there are cores.

Each thread that computes wants the interpreter now and then, and a window's own waits for it in a row with all of them:
with four pieces of long work on two cores, half a second for a picture.
"""

import os
import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Lock

# How much less urgent these threads are than others (nice).
STEP_BACK = 10


class Turns:
    """So many turns at a time: first come, first served."""

    def __init__(self, at_once: int) -> None:
        self._free = at_once
        self._waiting: deque[Lock] = deque()
        self._lock = Lock()

    @contextmanager
    def taken(self) -> Iterator[None]:
        """A turn, waited for and given back; who has one does not ask for another."""
        self._wait()
        try:
            yield
        finally:
            self._pass_on()

    def _wait(self) -> None:
        with self._lock:
            if self._free > 0:
                self._free -= 1
                return
            gate = Lock()
            gate.acquire()
            self._waiting.append(gate)
        gate.acquire()

    def _pass_on(self) -> None:
        with self._lock:
            # To who waits longest, not to whoever asks first: that would be the one who has just had it.
            if self._waiting:
                self._waiting.popleft().release()
            else:
                self._free += 1


COMPUTING = Turns(os.cpu_count() or 1)


def step_back() -> None:
    """Let a window's thread go first where all cores are busy; a system that cannot is left as it is."""
    with suppress(OSError, AttributeError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), STEP_BACK)
