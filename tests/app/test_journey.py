"""An afternoon at the two stops: from on-off to a PID that is quicker and calmer, each step told by the screen."""

import unittest

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from tests.support import WindowTest

LEFT = Qt.MouseButton.LeftButton


class JourneyTest(WindowTest):
    def try_finding(self, part: str) -> None:
        """Press the mend of the finding that says something."""
        sheet = self.window.panel("Run").sheet("Findings")
        place = next(i for i, said in enumerate(sheet.list.said) if part in said.says)
        QTest.mouseClick(sheet.list.rows[place].mend, LEFT)
        self.settle(self.session)

    def test_from_on_off_to_a_pid_by_what_the_screen_says(self) -> None:
        self.window = self.open_window()
        self.session = self.window.session
        QTest.mouseClick(self.window.panel("Steer").sheet("Law").laws["on-off"], LEFT)
        self.settle(self.session)
        QTest.keyClick(self.window, Qt.Key.Key_K)
        first = self.session.view.figures
        QTest.mouseClick(self.window.line.stops["Run"], LEFT)
        self.settle(self.session)

        self.try_finding("went into swinging")
        self.assertEqual(self.session.setup.program.law, "proportional")
        self.assertIn("37.40 → 20.62 s", self.window.notice.words.text())
        self.try_finding("at which it rocks steadily")
        self.assertEqual(self.session.setup.program.law, "PID")

        QTest.keyClick(self.window, Qt.Key.Key_4, Qt.KeyboardModifier.ControlModifier)
        law = self.window.panel("Steer").sheet("Law")
        dial = law.dials["program.speed"]
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        last = self.session.view.figures
        self.assertEqual((last.outcome, self.session.setup.program.speed), ("finished", 60.0))
        self.assertLess(last.time_s, 0.75 * first.time_s)
        self.assertLess(last.wobble_mm, 0.5 * first.wobble_mm)
        for _ in range(3):
            QTest.keyClick(self.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual(self.session.setup.program.law, "on-off")


if __name__ == "__main__":
    unittest.main()
