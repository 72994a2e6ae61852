"""Threads that compute beside a window: it goes first, and no more of them run at a time than there are cores.

Each thread that computes wants the interpreter now and then, and a window's own waits for it in a row with all of them:
with four pieces of long work on two cores, half a second for a picture. So between one piece of work and the next they
wait until the window rests.
"""

import os
import threading
import time
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from threading import Lock

# How much less urgent these threads are than others (nice).
STEP_BACK = 10
# A window is at work whose thread takes more than this share of a moment, or is kept waiting: it goes on more often
# than so many times a millisecond, and so many times more. At rest it does a few dozen times a second; waiting for the
# interpreter beside one that computes, five thousand. The longest others then wait at a time.
AT_WORK, ONCE_MORE_A_MS, AND_TIMES = 0.3, 1.0, 2
MOMENT_S, PATIENCE_S = 0.005, 0.1


def go_first() -> None:
    """Have the thread that calls this, a window's, go first from now on."""
    global _first
    _first = _First()


def give_way() -> None:
    """Let a window's thread go first, if it is at work; to be called between one piece of work and the next."""
    patient = time.monotonic() + PATIENCE_S
    while _first is not None and _first.at_work() and time.monotonic() < patient:
        time.sleep(MOMENT_S)


class _First:
    """The thread that made this, and how busy it has been since another last looked."""

    def __init__(self) -> None:
        self._thread = threading.get_ident()
        self._last, self._last_gone_on = (0.0, 0.0), (0.0, 0)
        # Kept open: to look costs the interpreter, which is what there is too little of.
        self._told = -1
        with suppress(OSError):
            self._told = os.open("/proc/thread-self/schedstat", os.O_RDONLY)

    def at_work(self) -> bool:
        """Whether it is, and whoever asks is another."""
        return self._thread != threading.get_ident() and (self._works() or self._is_kept_waiting())

    def _works(self) -> bool:
        # Its clock is another one in a process that is forked.
        clock = time.pthread_getcpuclockid(self._thread)
        (before, had), self._last = self._last, (time.monotonic(), time.clock_gettime(clock))
        now, has = self._last
        return has - had > AT_WORK * (now - before)

    def _is_kept_waiting(self) -> bool:
        (before, had), self._last_gone_on = self._last_gone_on, (time.monotonic(), self._times_gone_on())
        now, has = self._last_gone_on
        return has - had > AND_TIMES + 1000.0 * ONCE_MORE_A_MS * (now - before)

    def _times_gone_on(self) -> int:
        """How often it has been given a processor; 0 if the system does not say."""
        try:
            return int(os.pread(self._told, 100, 0).split()[2])
        except (OSError, IndexError, ValueError):
            return 0


_first: _First | None = None


class Turns:
    """So many turns at a time: first come, first served."""

    def __init__(self, at_once: int) -> None:
        self._free = at_once
        self._waiting: deque[Lock] = deque()
        self._lock = Lock()

    @contextmanager
    def taken(self) -> Iterator[None]:
        """A turn, waited for and given back; who has one does not ask for another."""
        give_way()
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
