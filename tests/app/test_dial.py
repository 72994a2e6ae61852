"""A dial by mouse and keyboard."""

import unittest

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from irontrail.app.theme import LIGHT
from irontrail.app.widgets.dial import Dial
from irontrail.core.quantity import Quantity
from tests.seen import seen
from tests.support import WindowTest

SPEED = Quantity("speed", "%", 0.0, 100.0, 1.0)
LOOP = Quantity("loop time", "ms", 0.001, 0.5, 0.001, 1000.0)


class DialTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.dial = self.shown(SPEED, 0.0, 100.0, 50.0)

    def shown(self, quantity: Quantity, low: float, high: float, value: float) -> Dial:
        dial = Dial(quantity, LIGHT, low, high)
        dial.resize(300, 42)
        dial.set_value(value)
        self.heard: list[tuple[float, bool]] = []
        dial.edited.connect(lambda v, settled: self.heard.append((v, settled)))
        dial.show()
        self.addCleanup(dial.deleteLater)
        return dial

    def x_of(self, value: float) -> int:
        return round(8 + (300 - 16) * value / 100.0)

    def test_dragging_tells_every_move_and_then_that_it_is_settled(self) -> None:
        QTest.mousePress(self.dial, Qt.MouseButton.LeftButton, pos=QPoint(self.x_of(50), 31))
        QTest.mouseMove(self.dial, QPoint(self.x_of(70), 31))
        QTest.mouseMove(self.dial, QPoint(900, 31))
        QTest.mouseRelease(self.dial, Qt.MouseButton.LeftButton, pos=QPoint(900, 31))
        values = [value for value, _ in self.heard]
        self.assertIn(70.0, values)
        self.assertEqual(self.heard[-1], (100.0, True))
        self.assertTrue(all(not settled for _, settled in self.heard[:-1]))
        self.assertEqual(self.dial.value, 100.0)

    def test_it_can_be_called_something_else(self) -> None:
        self.dial.set_label("speed in bends")
        self.assertEqual(self.dial.accessibleName(), "Speed in bends 50 %")
        self.assertIn("Speed in bends", [word.text for word in seen(self.dial).words])

    def test_arrows_nudge_and_shift_nudges_tenfold(self) -> None:
        QTest.keyClick(self.dial, Qt.Key.Key_Up)
        QTest.keyClick(self.dial, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(self.dial, Qt.Key.Key_PageUp)
        QTest.keyClick(self.dial, Qt.Key.Key_PageDown)
        self.assertEqual(self.heard, [(51.0, True), (41.0, True), (51.0, True), (41.0, True)])

    def test_nudges_stop_at_the_ends_of_the_range(self) -> None:
        self.dial.set_value(96.0)
        QTest.keyClick(self.dial, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.dial.value, 100.0)

    def test_nudging_lands_on_whole_steps(self) -> None:
        dial = self.shown(LOOP, 0.001, 0.1, 0.0104)
        QTest.keyClick(dial, Qt.Key.Key_Up)
        self.assertEqual(dial.value, 0.011)

    def test_halving_and_doubling_by_key_and_by_button(self) -> None:
        QTest.keyClick(self.dial, Qt.Key.Key_Slash)
        QTest.keyClick(self.dial, Qt.Key.Key_Asterisk)
        self.dial.setFocus()
        self.dial._hovered = True
        QTest.mouseClick(self.dial, Qt.MouseButton.LeftButton, pos=self.dial.face.halve.center().toPoint())
        QTest.mouseClick(self.dial, Qt.MouseButton.LeftButton, pos=self.dial.face.double.center().toPoint())
        self.assertEqual([value for value, _ in self.heard], [25.0, 50.0, 25.0, 50.0])

    def editor(self, dial: Dial) -> QLineEdit:
        editor = dial.findChild(QLineEdit)
        self.assertIsNotNone(editor)
        return editor

    def test_typing_replaces_the_figure_in_place(self) -> None:
        QTest.keyClick(self.dial, Qt.Key.Key_6)
        QTest.keyClicks(self.editor(self.dial), "3.5")
        QTest.keyClick(self.editor(self.dial), Qt.Key.Key_Return)
        self.assertEqual(self.heard, [(63.5, True)])

    def test_the_field_stays_over_the_figure_as_the_dial_grows(self) -> None:
        QTest.keyClick(self.dial, Qt.Key.Key_6)
        before = self.editor(self.dial).geometry()
        self.dial.resize(self.dial.width() + 80, self.dial.height())
        self.assertEqual(self.editor(self.dial).geometry(), before.translated(80, 0))

    def test_clicking_the_figure_opens_it_and_escape_leaves_it(self) -> None:
        QTest.mouseClick(self.dial, Qt.MouseButton.LeftButton, pos=QPoint(250, 10))
        QTest.keyClicks(self.editor(self.dial), "77")
        QTest.keyClick(self.editor(self.dial), Qt.Key.Key_Escape)
        self.assertEqual((self.heard, self.dial.value), ([], 50.0))

    def test_typed_values_are_in_the_shown_unit_and_may_lie_beyond_the_track(self) -> None:
        dial = self.shown(LOOP, 0.001, 0.05, 0.01)
        dial.start_typing("120 ms")
        QTest.keyClick(self.editor(dial), Qt.Key.Key_Return)
        self.assertAlmostEqual(dial.value, 0.12)

    def test_what_is_no_number_changes_nothing_and_is_told(self) -> None:
        self.dial.start_typing("fast")
        QTest.keyClick(self.editor(self.dial), Qt.Key.Key_Return)
        self.assertEqual((self.heard, self.dial.value), ([], 50.0))
        self.assertIn("not a number", self.dial.accessibleDescription())

    def test_what_is_out_of_range_is_held_and_told(self) -> None:
        self.dial.start_typing("130")
        QTest.keyClick(self.editor(self.dial), Qt.Key.Key_Return)
        self.assertEqual(self.dial.value, 100.0)
        self.assertIn("0 to 100", self.dial.accessibleDescription())

    def wheel(self, notches: int) -> None:
        at = QPointF(100, 20)
        event = QWheelEvent(
            at, self.dial.mapToGlobal(at), QPoint(), QPoint(0, 120 * notches), Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
        )  # fmt: skip
        QApplication.sendEvent(self.dial, event)

    def test_the_wheel_nudges_only_a_dial_in_focus(self) -> None:
        self.dial.clearFocus()
        self.wheel(1)
        self.assertEqual(self.heard, [])
        self.dial.activateWindow()
        self.dial.setFocus()
        self.wait_for(self.dial.hasFocus)
        self.wheel(-2)
        self.assertEqual(self.heard, [(48.0, True)])

    def test_it_has_a_name_for_a_screen_reader(self) -> None:
        self.assertEqual(self.dial.accessibleName(), "Speed 50 %")


if __name__ == "__main__":
    unittest.main()
