"""The Light stop: its sheets, the lamp, the scale, and the matrix of colours."""

import unittest
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from irontrail.core.light.contrast import COLOURS, told_apart
from tests.support import WindowTest

LEFT = Qt.MouseButton.LeftButton


class LightTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.window = self.open_window()
        self.session = self.window.session
        self.session.go_to("Light")
        self.colours = self.turn_to("Colours")

    def turn_to(self, name: str) -> Any:
        """Turn to a sheet with the mouse."""
        panel = self.window.panel("Light")
        QTest.mouseClick(panel.names[name], LEFT)
        self.settle(self.session)
        return panel.sheet(name)

    def test_the_matrix_follows_lamp_height_and_noise(self) -> None:
        matrix = self.colours.matrix
        names = [name for name, _ in COLOURS]
        red, white = names.index("red"), names.index("white")
        before = matrix.cells[red][white]
        QTest.mouseClick(self.colours.lamps["red"], LEFT)
        self.settle(self.session)
        self.assertLess(matrix.cells[red][white].apart, 0.7 * before.apart)
        light, height = self.session.setup.light, self.session.setup.robot.mount.height_mm
        pair = told_apart(light, height, COLOURS[red][1], COLOURS[white][1])
        self.assertEqual((matrix.cells[red][white].apart, matrix.cells[red][white].verdict), (pair.apart, pair.verdict))
        self.session.set_value("light.sensor.noise", 8.0)
        self.settle(self.session)
        self.assertNotEqual(matrix.cells[red][white].verdict, "yes")
        matrix.grab()

    def test_a_pressed_pair_is_laid_on_the_mat_and_undone(self) -> None:
        matrix = self.colours.matrix
        names = [name for name, _ in COLOURS]
        at = matrix.cell_rect(names.index("blue"), names.index("yellow")).center().toPoint()
        QTest.mouseClick(matrix, LEFT, pos=at)
        self.settle(self.session)
        mat = self.session.setup.mat
        self.assertEqual((mat.line.colour, mat.colour), (dict(COLOURS)["blue"], dict(COLOURS)["yellow"]))
        self.session.document.undo()
        self.assertEqual(self.session.setup.mat.colour, "#f3f1ea")

    def test_pairs_by_keyboard(self) -> None:
        matrix = self.colours.matrix
        matrix.setFocus()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down):
            QTest.keyClick(matrix, key)
        self.assertIn("grey line on white", matrix.accessibleDescription())
        QTest.keyClick(matrix, Qt.Key.Key_Return)
        self.assertEqual(self.session.setup.mat.line.colour, dict(COLOURS)["grey"])

    def test_scales_and_ways_up(self) -> None:
        QTest.mouseClick(self.colours.scales["counts"], LEFT)
        self.assertTrue(self.colours.dials["light.sensor.highest_count"].isVisible())
        QTest.mouseClick(self.colours.ways["dark"], LEFT)
        sensor = self.session.setup.light.sensor
        self.assertEqual((sensor.scale, sensor.reads_high_on), ("counts", "dark"))
        QTest.mouseClick(self.colours.scales["names"], LEFT)
        self.settle(self.session)
        self.assertFalse(self.colours.lamps["red"].isEnabled())
        QTest.mouseClick(self.colours.scales["percent"], LEFT)
        QTest.mouseClick(self.colours.lamps["blue"], LEFT)
        QTest.mouseClick(self.colours.scales["names"], LEFT)
        self.assertIn("white lamp", self.window._notice.words.text())
        self.assertEqual(self.session.setup.light.sensor.scale, "percent")
        self.assertTrue(self.colours.scales["percent"].isChecked())

    def test_the_robot_sweeps_and_is_calibrated(self) -> None:
        profile = self.turn_to("Profile")
        self.session.set_values({"light.calibration.dark": 40.0, "light.calibration.bright": 60.0})
        self.settle(self.session)
        QTest.mouseClick(profile.sweep, LEFT)
        self.settle(self.session)
        found = self.session.setup.light.calibration
        self.assertTrue(found.dark < 14.0 and found.bright > 72.0, found)
        self.assertIn("dark 40 →", self.window._notice.words.text())
        self.session.document.undo()
        self.assertEqual(self.session.setup.light.calibration.dark, 40.0)

    def test_no_sheet_is_wider_or_higher_than_the_panel(self) -> None:
        for stop in ("Mat", "Robot", "Light", "Steer", "Run"):
            self.session.go_to(stop)
            panel = self.window.panel(stop)
            for name in getattr(panel, "names", {"": None}):
                if name:
                    panel.turn_to(name)
                self.settle(self.session)
                self.assertLessEqual(panel.minimumSizeHint().width(), 332, (stop, name))
                self.assertEqual(self.window._areas[stop].verticalScrollBar().maximum(), 0, (stop, name))


if __name__ == "__main__":
    unittest.main()
