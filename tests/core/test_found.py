"""What the core works out for some setups and mats is what was found when somebody last looked."""

import json
import unittest

from tests import found
from tests.said import changes


class FoundTest(unittest.TestCase):
    def test_all_that_is_asked_is_answered_as_recorded(self) -> None:
        names = set()
        for name, answers in found.found():
            names.add(f"{name}.json")
            with self.subTest(name):
                recorded = json.loads(found.path_of(name).read_text())
                self.assertEqual(changes(recorded, answers), [])
        self.assertEqual(names, {path.name for path in found.FOLDER.iterdir()})


if __name__ == "__main__":
    unittest.main()
