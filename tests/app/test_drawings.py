"""Small pictures are drawn as they were when somebody last looked at them."""

import json
import unittest

from tests import drawings
from tests.support import WindowTest


class DrawingsTest(WindowTest):
    def test_every_picture_is_drawn_as_recorded(self) -> None:
        for name, make in drawings.views().items():
            with self.subTest(name):
                self.assertEqual(drawings.record(make()), json.loads(drawings.path_of(name).read_text()))

    def test_no_record_is_left_over(self) -> None:
        known = {drawings.path_of(name).name for name in drawings.views()}
        self.assertEqual({path.name for path in drawings.FOLDER.glob("*.json")}, known)


if __name__ == "__main__":
    unittest.main()
