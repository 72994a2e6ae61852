"""No more compute at a time than there are turns, and who waits longest is next."""

import threading
import time
import unittest

from irontrail.core.turns import Turns


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
