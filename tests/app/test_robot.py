"""The Robot stop: wheels and sensor dragged on the plan, height and shield from the side, motors, bench tests."""

import unittest
from itertools import pairwise
from typing import Any

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from irontrail.app.stops.robot.plan import AHEAD
from irontrail.core.errors import OutOfRangeError
from irontrail.core.robot.wiring import Wiring
from irontrail.core.setup import with_second
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import swing
from irontrail.files import project_file
from tests.support import StopTest

LEFT = Qt.MouseButton.LeftButton


class RobotTest(StopTest):
    STOP = "Robot"


class PlanTest(RobotTest):
    def test_the_sensor_is_dragged_and_the_run_follows(self) -> None:
        plan = self.turn_to("Plan")
        before = self.session.view.figures
        _, scale = plan.plan.to_px(self.session.setup.robot)
        self.drag(plan.plan, plan.plan.handle_places()["sensor"], QPoint(round(-30 * scale), round(-10 * scale)))
        mount = self.session.setup.robot.mount
        self.assertAlmostEqual(mount.ahead_mm, 45.0, delta=1.0)
        self.assertAlmostEqual(mount.aside_mm, 10.0, delta=1.0)
        self.assertNotEqual(self.session.view.figures, before)
        small = swing(linear_loop(self.session.setup))
        self.assertIn(f"Small swings: {small.hertz:.2f} Hz", plan.says.text())
        self.session.document.undo()
        self.assertEqual(self.session.setup.robot.mount.ahead_mm, 75.0)

    def test_a_wheel_is_dragged_outward(self) -> None:
        plan = self.turn_to("Plan")
        _, scale = plan.plan.to_px(self.session.setup.robot)
        self.drag(plan.plan, plan.plan.handle_places()["track"], QPoint(0, round(10 * scale)))
        self.assertAlmostEqual(self.session.setup.robot.drive.track_width_mm, 130.0, delta=2.0)

    def test_height_and_shield_are_dragged_from_the_side(self) -> None:
        plan = self.turn_to("Plan")
        side = plan.side
        self.drag(side, side.height_handle(), QPoint(0, -12))
        self.assertAlmostEqual(self.session.setup.robot.mount.height_mm, 12.0, delta=0.6)
        self.drag(side, side.shield_handle(), QPoint(0, 12))
        self.assertGreater(self.session.setup.light.sensor.shield, 0.75)
        shielded = self.painted(side, "ink")
        self.edit("light.sensor.shield", 0.1)
        self.assertNotEqual(self.painted(side), shielded)

    def test_the_tightest_turn_is_drawn_against_the_hardest_bend(self) -> None:
        plan = self.turn_to("Plan")
        self.assertIn("Turns within 79 mm at full steer; bend H leaves 50 mm", plan.says.text())
        figures = self.session.view.figures
        swings = f"Swings {figures.wobble_mm:.1f} mm, the heading {figures.heading_swing_deg:.0f}°."
        self.assertTrue(plan.says.text().startswith(swings))
        self.assertEqual(plan.second.text(), "Mount a second sensor")
        self.assertIn("beside the first", plan.second.toolTip())
        for there in (True, False):
            self.press(plan.second)
            self.assertEqual(self.session.setup.second is not None, there)
            self.assertEqual(plan.second.text(), "Take it off" if there else "Mount a second sensor")
            self.assertEqual("alone" in plan.second.toolTip(), there)
            # One of two may trail.
            dial = plan.dials[AHEAD]
            QTest.mouseClick(dial, LEFT, pos=QPoint(14, dial.height() - 11))
            self.assertEqual(self.session.setup.robot.mount.ahead_mm < -50.0, there)
            self.session.document.undo()
        self.assertAlmostEqual(plan.plan.turns[0], 78.6, delta=1.0)
        self.edit("program.proportional.gain", 1.2)
        self.assertLess(plan.plan.turns[0], 50.0)


class DriveTest(RobotTest):
    def test_a_mirrored_motor_is_set_the_other_way(self) -> None:
        drive = self.turn_to("Drive")
        left, right = drive.picture.motors
        self.assertEqual((left.says(), right.says()), ("output 1: −50", "output 2: +50"))
        QTest.mouseClick(drive.left_way["as it is"], LEFT)
        self.assertEqual(drive.picture.motors[0].says(), "output 1: +50")
        QTest.mouseClick(drive.right_way["mirrored"], LEFT)
        self.assertEqual(drive.picture.motors[1].says(), "output 2: −50")
        for ways, way in ((drive.left_way, "as it is"), (drive.right_way, "mirrored")):
            self.assertEqual([name for name, button in ways.items() if button.isChecked()], [way])
        QTest.mouseClick(drive.right_way["as it is"], LEFT)
        QTest.mouseClick(drive.moves["left"], LEFT)
        left, right = drive.picture.motors
        self.assertEqual((left.command, right.command), (-30.0, 30.0))

    def test_taking_the_other_wheels_output_exchanges_them(self) -> None:
        drive = self.turn_to("Drive")
        QTest.mouseClick(drive.left["2"], LEFT)
        wiring = self.session.setup.robot.wiring
        self.assertEqual((wiring.left_output, wiring.right_output), (2, 1))
        QTest.mouseClick(drive.right["4"], LEFT)
        self.assertEqual(self.session.setup.robot.wiring.right_output, 4)
        path = self.folder / "wired.irontrail"
        project_file.write(path, self.session.project)
        self.assertEqual(project_file.read(path), self.session.project)
        self.session.document.undo()
        self.assertEqual(self.session.setup.robot.wiring.right_output, 1)

    def test_inputs_are_chosen_where_there_are_two_sensors(self) -> None:
        drive = self.turn_to("Drive")
        self.assertFalse(any(row.isVisible() for row in drive.input_rows))
        self.session.edit("a second sensor", with_second(self.session.setup))
        self.assertTrue(all(row.isVisible() for row in drive.input_rows))
        QTest.mouseClick(drive.inputs["first"]["2"], LEFT)
        wiring = self.session.setup.robot.wiring
        self.assertEqual((wiring.first_input, wiring.second_input), (2, 1))
        self.settle(self.session)

    def test_two_wheels_on_one_output_are_refused(self) -> None:
        self.assertRaises(OutOfRangeError, Wiring, 3, 3)
        self.assertRaises(OutOfRangeError, Wiring, 5, 1)
        self.assertEqual(Wiring(3, 1, False, True).commands(20.0, 40.0), {3: 20.0, 1: -40.0})


class BenchTest(RobotTest):
    def number(self, bench: Any, test: str, name: str, value: float) -> None:
        """Set a number of the present try."""
        bench.asked[test][name].edited.emit(value, True)

    def test_tries_are_added_and_their_mean_taken(self) -> None:
        bench = self.turn_to("Bench")
        self.assertFalse(bench.clear.isEnabled())
        self.assertIn(". Now 480.", bench.says.text())
        for came in (950.0, 990.0, 970.0):
            self.number(bench, "top speed", "distance_mm", came)
            QTest.mouseClick(bench.add, LEFT)
        # A standard deviation of 20 mm: by Student 4.30 × 20 / √3 mm, in 3.94 s of driving at half power.
        self.assertIn(", give or take 25.22 (3 tries, 19 times in 20)", bench.says.text())
        self.assertTrue(bench.clear.isEnabled())
        self.press(bench.take)
        expected = 970.0 / (4.0 - 0.06) * 2.0
        self.assertAlmostEqual(self.session.setup.robot.drive.top_speed_mm_s, expected, delta=0.005)
        self.assertIn("Top speed: 480 → 492.39 mm/s", self.window.notice.words.text())
        self.session.document.undo()
        self.assertEqual(self.session.setup.robot.drive.top_speed_mm_s, 480.0)

    def test_every_test_is_drawn_with_its_numbers_and_gives_a_result(self) -> None:
        bench, drawn = self.turn_to("Bench"), []
        for name, button in bench.tests.items():
            QTest.mouseClick(button, LEFT)
            shown = [dial.objectName() for dials in bench.asked.values() for dial in dials.values() if dial.isVisible()]
            self.assertTrue(shown and all(each.startswith(name) for each in shown), name)
            self.assertTrue(bench.take.isEnabled(), (name, bench.says.text()))
            dials = bench.asked[name].values()
            numbers = [f"{dial.quantity.shown(dial.value)} {dial.quantity.unit}".strip() for dial in dials]
            self.assertEqual(bench.picture.accessibleDescription(), f"{name}: {', '.join(numbers)}")
            drawn.append(self.painted(bench.picture, "ink"))
        self.assertTrue(all(one != other for one, other in pairwise(drawn)))

    def test_the_usual_numbers_are_those_of_pip(self) -> None:
        bench = self.turn_to("Bench")
        for name, gives, delta in (("wheel diameter", 56.0, 0.1), ("track width", 110.0, 0.1)):
            bench.choose(name)
            found, _ = bench.measured_now()
            self.assertAlmostEqual(found.value, gives, delta=delta, msg=name)

    def test_what_cannot_be_is_said_and_not_taken(self) -> None:
        bench = self.turn_to("Bench")
        bench.choose("grip")
        self.number(bench, "grip", "distance_mm", 10.0)
        self.assertIn("rolls without slipping", bench.says.text())
        self.assertFalse(bench.take.isEnabled())
        bench.choose("top speed")
        QTest.mouseClick(bench.add, LEFT)
        self.assertIn("one try does not tell how sure", bench.says.text())
        QTest.mouseClick(bench.clear, LEFT)
        self.assertIn("by this try", bench.says.text())

    def test_every_sheet_fits_the_window_without_a_bar(self) -> None:
        for name in ("Plan", "Drive", "Bench"):
            self.turn_to(name)
            self.assertEqual(self.window.stack.areas["Robot"].verticalScrollBar().maximum(), 0, name)


if __name__ == "__main__":
    unittest.main()
