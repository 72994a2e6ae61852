"""Every sheet says of some projects what it said when somebody last looked."""

import json
import re
import unittest
from pathlib import Path

from tests import said


class SaidTest(said.Reader):
    def test_every_sheet_says_what_is_recorded(self) -> None:
        for name, looked_at in said.projects().items():
            with self.subTest(name):
                recorded = json.loads(said.path_of(name).read_text())
                self.assertEqual(said.changes(recorded, self.read(*looked_at)), [])

    def test_no_record_is_left_over(self) -> None:
        texts = [path.read_text() for path in Path(said.__file__).parent.rglob("test_*.py")]
        done = {name for text in texts for name in re.findall(r'as_recorded\(\s*self, "([^"]+)"', text)}
        known = {said.path_of(name).name for name in (*said.projects(), *done)}
        self.assertEqual({path.name for path in said.FOLDER.glob("*.json")}, known)


class AlikeTest(unittest.TestCase):
    def test_figures_and_words_that_change_places_are_another_thing_and_a_last_digit_is_not(self) -> None:
        said_so = "Speed 50 → 62 %, 19 of 20, 1,740 runs"
        self.assertTrue(said.alike(said_so, "Speed 50 → 62 %, 20 of 20, 1,752 runs"))
        for other in (
            "Speed 62 → 50 %, 19 of 20, 1,740 runs",
            "Speed 50 → 62 %, 19 of 20, 1,940 runs",
            "Speed 50 → 62 %, 19 of 20",
            "Gain 50 → 62 %, 19 of 20, 1,740 runs",
        ):
            self.assertFalse(said.alike(said_so, other), other)
        for was, now in (("Dial | Speed | 50 %", "Dial | Speed | 51 %"), ("Label | 3 pieces", "Label | 4 pieces")):
            self.assertFalse(said.alike(was, now), was)
        self.assertEqual(said.changes({"Mat": ["a", "b"]}, {"Mat": ["a"]}), ["Mat: 'b' is now ''"])


if __name__ == "__main__":
    unittest.main()
