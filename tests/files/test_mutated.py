"""Files that others might send: a few of each kind; `python -m tests.mutated` makes thousands."""

import unittest

from tests.mutated import KINDS, Mutating


class MutatedTest(unittest.TestCase):
    def check(self, kind: str, count: int, least_taken: int) -> None:
        make, use = KINDS[kind]
        taken = refused = 0
        for seed in range(1, count + 1):
            mutating = Mutating(seed)
            said = mutating.told(lambda mutating=mutating: make(mutating), use)
            # How long one takes is told apart: it depends on what else the machine does.
            if not said.startswith("it took"):
                self.assertEqual(said, "", f"{kind} {seed}")
            taken, refused = taken + mutating.taken, refused + mutating.refused
        self.assertGreaterEqual(taken, least_taken)
        self.assertGreater(refused, 0)

    def test_projects(self) -> None:
        self.check("project", 40, 7)

    def test_drawings(self) -> None:
        self.check("drawing", 24, 6)

    def test_cad(self) -> None:
        self.check("cad", 14, 2)

    def test_pictures(self) -> None:
        self.check("picture", 6, 1)

    def test_a_fault_is_told(self) -> None:
        def fails(_content: bytes) -> None:
            raise ValueError("broken")

        self.assertEqual(Mutating(1).told(lambda: b"", fails), "ValueError: broken")


if __name__ == "__main__":
    unittest.main()
