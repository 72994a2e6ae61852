"""No more compute at a time than there are turns, who waits longest is next, and a window's thread goes first."""

import os
import threading
import time
import unittest
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from unittest import mock

from irontrail.core import turns
from irontrail.core.turns import MOMENT_S, PATIENCE_S, Turns, give_way, go_first


class Moments:
    """Time that passes only while someone sleeps; the thread that goes first is at work for so long of it."""

    def __init__(self, at_work_s: float) -> None:
        self.at_work_s, self.now = at_work_s, 0.0

    def monotonic(self) -> float:
        return self.now

    def pthread_getcpuclockid(self, _thread: int) -> int:
        return 0

    def clock_gettime(self, _clock: int) -> float:
        return min(self.now, self.at_work_s)

    def sleep(self, seconds: float) -> None:
        self.now += seconds

    def spent(self, act: Callable[[], None], threaded: bool = True) -> float:
        """How long it takes a thread, or this one, to act, that looks for the first time after a moment."""
        with mock.patch.object(turns, "time", self):
            # Looked at once by another thread.
            thread = threading.Thread(target=lambda: turns._first and turns._first.at_work())
            thread.start()
            thread.join(20.0)
            before = self.now = self.now + MOMENT_S
            if threaded:
                thread = threading.Thread(target=act)
                thread.start()
                thread.join(20.0)
            else:
                act()
        return self.now - before


class WayTest(unittest.TestCase):
    def setUp(self) -> None:
        self.enterContext(mock.patch.object(turns, "_first", None))

    def test_who_computes_waits_until_the_window_rests_but_not_for_ever(self) -> None:
        def take() -> None:
            with Turns(1).taken():
                pass

        self.assertEqual(Moments(9.0).spent(give_way), 0.0, "there is no window")
        go_first()
        for act in (give_way, take):
            for at_work_s, waits_s in ((0.0, 0.0), (0.05, 0.05), (9.0, PATIENCE_S)):
                self.assertAlmostEqual(Moments(at_work_s).spent(act), waits_s, delta=2.5 * MOMENT_S)
        self.assertEqual(Moments(9.0).spent(give_way, threaded=False), 0.0, "nobody waits for itself")

    def test_one_that_is_kept_waiting_is_at_work(self) -> None:
        """Beside one that computes it gets little of the processor, a moment at a time."""
        go_first()
        for times_a_ms, waits_s in ((5.0, PATIENCE_S), (0.1, 0.0)):
            moments = Moments(0.0)
            said = lambda *_, now=moments, times=times_a_ms: b"7 7 %d" % (1000.0 * now.now * times)  # noqa: E731
            with mock.patch.object(turns.os, "pread", said):
                self.assertAlmostEqual(moments.spent(give_way), waits_s, delta=2.5 * MOMENT_S)

    @unittest.skipUnless(os.access("/proc/thread-self/schedstat", os.R_OK), "this system does not count it")
    def test_how_often_it_has_gone_on_is_what_the_system_says(self) -> None:
        go_first()
        assert turns._first is not None
        before = turns._first._times_gone_on()
        for _ in range(40):
            time.sleep(1e-4)
        self.assertGreaterEqual(turns._first._times_gone_on() - before, 30)

    def test_the_thread_of_a_process_that_was_forked_is_its_own(self) -> None:
        go_first()
        pid = os.fork()
        if pid == 0:
            with ThreadPoolExecutor(1) as pool:
                os._exit(int(pool.submit(give_way).exception() is not None))
        self.assertEqual(os.waitpid(pid, 0)[1], 0)


class TurnsTest(unittest.TestCase):
    def test_so_many_at_a_time_and_each_comes_to_its_turn(self) -> None:
        turns, lock = Turns(2), threading.Lock()
        inside, most, came = 0, 0, 0

        def compute() -> None:
            nonlocal inside, most, came
            for _ in range(20):
                with turns.taken():
                    with lock:
                        inside += 1
                        most = max(most, inside)
                    time.sleep(0.0005)
                    with lock:
                        inside -= 1
                        came += 1

        threads = [threading.Thread(target=compute) for _ in range(5)]
        for each in threads:
            each.start()
        for each in threads:
            each.join(20.0)
        self.assertEqual((most, came, inside), (2, 100, 0))

    def test_who_waits_longest_is_next_even_where_the_last_asks_again_at_once(self) -> None:
        turns, order = Turns(1), list[str]()
        held = turns.taken()
        held.__enter__()

        def wait(name: str) -> None:
            with turns.taken():
                order.append(name)

        threads = []
        for number, name in enumerate(("first", "second"), 1):
            thread = threading.Thread(target=wait, args=(name,))
            thread.start()
            threads.append(thread)
            until = time.monotonic() + 20.0
            while len(turns._waiting) < number and time.monotonic() < until:
                time.sleep(0.001)
        held.__exit__(None, None, None)
        with turns.taken():
            order.append("again")
        for each in threads:
            each.join(20.0)
        self.assertEqual(order, ["first", "second", "again"])

    def test_one_that_fails_gives_its_turn_back(self) -> None:
        turns = Turns(1)
        for _ in range(2):
            with self.assertRaises(ValueError), turns.taken():
                raise ValueError
        with turns.taken():
            pass


if __name__ == "__main__":
    unittest.main()
