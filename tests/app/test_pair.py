"""A second sensor in the window: mounted, dragged, looked at, and steered by; nothing of it with one."""

import unittest
from threading import current_thread, main_thread
from typing import Any
from unittest import mock

from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from irontrail.app.preloading import Preloading
from irontrail.core import derive
from irontrail.core.advice.proofread_pair import proofread_pair
from irontrail.core.advice.remark import Remark
from irontrail.core.errors import IronTrailError
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.setup import Setup, with_one, with_second
from irontrail.core.steering.laws.table import Table
from irontrail.core.steering.legs import AfterDistance, AtMark, CreepLeg, FollowLeg, Trip
from irontrail.core.steering.pair import Pair
from irontrail.core.theory.pair import pair_point
from irontrail.core.tune.axes import axis
from irontrail.files import project_file
from tests.core.test_pair import pair
from tests.seen import seen
from tests.support import StopTest, lighthouse, setup_with


def words_of(widget: QWidget) -> list[str]:
    return seen(widget).texts


class PairWindowTest(StopTest):
    DEMO = "ropewalk"

    def go(self, stop: str, sheet: str) -> Any:
        """Visit a sheet."""
        self.session.looking.go_to(stop)
        panel = self.window.panel(stop)
        if sheet in panel.names and not panel.names[sheet].isHidden():
            self.press(panel.names[sheet])
        return panel.sheet(sheet)


class OneSensorTest(PairWindowTest):
    DEMO = "lighthouse"

    def test_with_one_sensor_nothing_is_asked_of_which(self) -> None:
        for stop, sheet in (("Robot", "Plan"), ("Light", "Probe"), ("Light", "Profile"), ("Light", "Rooms"),
                            ("Light", "Colours")):  # fmt: skip
            made = self.go(stop, sheet)
            self.assertFalse(made._sensor_row.isVisible(), sheet)
        self.assertTrue(self.window.panel("Steer").names["Pair"].isHidden())
        self.assertFalse(any(row.isVisible() for row in self.go("Robot", "Drive").input_rows))
        self.assertFalse(self.go("Compare", "Duel").between_row.isVisible())
        first = self.window.stage.strip.picture.lanes[0]
        self.assertEqual((first.name, first.columns, first.curves), ("reading", ("reading",), ()))

    def test_a_second_one_is_mounted_and_taken_off_by_the_mouse_and_by_keys(self) -> None:
        sheet = self.go("Robot", "Plan")
        self.press(sheet.second)
        setup = self.session.setup
        assert setup.second is not None
        self.assertEqual((setup.program.arrangement, setup.second.sensor), ("one", setup.light.sensor))
        self.assertEqual(self.session.view.run.sensors, 2)
        self.go("Steer", "Law")
        self.assertTrue(self.window.panel("Steer").names["Pair"].isVisible())
        self.go("Robot", "Plan")
        self.assertTrue(sheet._sensor_row.isVisible())
        self.press(sheet.second)
        self.assertIsNone(self.session.setup.second)
        self.session.document.undo()
        self.assertEqual(self.session.setup.second, setup.second)
        sheet.plan.setFocus()
        QTest.keyClick(sheet.plan, Qt.Key.Key_Delete)
        self.assertIsNone(self.session.setup.second)
        QTest.keyClick(sheet.plan, Qt.Key.Key_Delete)
        QTest.keyClick(sheet.plan, Qt.Key.Key_Insert)
        self.assertEqual(self.session.setup.second, setup.second)

    def test_taking_it_off_while_its_sheet_is_in_sight_turns_to_the_law(self) -> None:
        self.put(with_second(self.session.setup))
        self.go("Steer", "Pair")
        self.assertEqual(self.window.panel("Steer").current, "Pair")
        self.session.document.undo()
        self.settle(self.session)
        self.assertEqual(self.window.panel("Steer").current, "Law")
        self.assertNotIn("Pair", self.window.panel("Steer").there)


class RobotTest(PairWindowTest):
    def test_both_are_dragged_on_the_plan_and_moved_by_keys(self) -> None:
        sheet = self.go("Robot", "Plan")
        plan, before = sheet.plan, self.session.setup
        _, scale = plan.to_px(before.robot)
        self.drag(plan, plan.handle_places()["second"], QPoint(round(-20 * scale), round(10 * scale)))
        second = self.session.setup.second
        self.assertAlmostEqual(second.mount.ahead_mm, 55.0, delta=1.0)
        self.assertAlmostEqual(second.mount.aside_mm, -22.0, delta=1.0)
        self.assertEqual(self.session.setup.robot, before.robot)
        self.assertEqual(plan.second.mount, second.mount)
        self.assertEqual(sheet.second.text(), "Take it off")
        self.assertIn("with the first sensor alone", sheet.second.toolTip())
        self.session.document.undo()
        self.assertEqual(self.session.setup.second, before.second)
        self.settle(self.session)
        plan.setFocus()
        plan.chosen = "sensor"
        QTest.keyClick(plan, Qt.Key.Key_PageDown)
        self.assertIn("second sensor", plan.value_told())
        QTest.keyClick(plan, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        self.assertEqual(self.session.setup.second.mount.ahead_mm, 65.0)
        QTest.keyClick(plan, Qt.Key.Key_PageDown)
        self.assertIn("wheels", plan.value_told())

    def test_a_trailing_one_stays_in_the_picture(self) -> None:
        sheet = self.go("Robot", "Plan")
        self.put(setup_with(self.session.setup, second__mount__ahead_mm=-70.0, second__mount__aside_mm=90.0))
        for place in sheet.plan.handle_places().values():
            self.assertTrue(sheet.plan.rect().contains(place.toPoint()))
        self.assertTrue({"1", "2"} <= set(words_of(sheet.plan)))

    def test_side_view_and_dials_are_of_the_sensor_that_is_chosen(self) -> None:
        sheet = self.go("Robot", "Plan")
        self.put(setup_with(self.session.setup, second__mount__height_mm=12.0, second__sensor__shield=0.8))
        height = sheet.dials["robot.mount.height_mm"]
        self.assertEqual((height.value, sheet.side.accessibleDescription()), (8.0, "8 mm over the mat, shield 50 %"))
        self.press(sheet.sensors["second"])
        self.assertEqual((height.value, sheet.side.accessibleDescription()), (12.0, "12 mm over the mat, shield 80 %"))
        height.edited.emit(14.0, True)
        self.settle(self.session)
        setup = self.session.setup
        self.assertEqual((setup.second.mount.height_mm, setup.robot.mount.height_mm), (14.0, 8.0))
        sheet.side.setFocus()
        QTest.keyClick(sheet.side, Qt.Key.Key_Up)
        self.settle(self.session)
        self.assertEqual(self.session.setup.second.mount.height_mm, 14.5)
        # Light is about the same sensor.
        self.assertTrue(self.go("Light", "Profile").sensors["second"].isChecked())

    def test_inputs_are_exchanged_as_outputs_are(self) -> None:
        sheet = self.go("Robot", "Drive")
        self.press(sheet.inputs["first"]["2"])
        wiring = self.session.setup.robot.wiring
        self.assertEqual((wiring.first_input, wiring.second_input), (2, 1))
        self.press(sheet.inputs["second"]["4"])
        self.assertEqual(self.session.setup.robot.wiring.second_input, 4)
        self.assertEqual((wiring.left_output, wiring.right_output), (1, 2))


class LightTest(PairWindowTest):
    def test_each_is_calibrated_by_hand_by_a_sweep_and_from_spots(self) -> None:
        sheet = self.go("Light", "Probe")
        before = self.session.setup.light.calibration
        self.put(setup_with(self.session.setup, second__mount__height_mm=14.0))
        self.press(sheet.sensors["second"])
        self.press(sheet.calibrate)
        by_hand = self.session.setup.second.calibration
        self.assertNotEqual(by_hand, before)
        self.press(sheet.sweep)
        self.assertNotEqual(self.session.setup.second.calibration, by_hand)
        self.assertLess(abs(self.session.setup.second.calibration.bright - by_hand.bright), 6.0)
        for kind, (x, y) in (("dark", (240.0, 740.0)), ("bright", (240.0, 660.0)), ("bright", (700.0, 900.0))):
            sheet.carry_to(x, y)
            self.press(sheet.hold_buttons[kind])
        held = sheet.raw_of("bright")
        self.press(sheet.from_held)
        self.assertAlmostEqual(self.session.setup.second.calibration.bright, sum(held) / 2.0, delta=0.51)
        self.assertEqual(self.session.setup.light.calibration, before)
        # What is held of one sensor is not held of the other.
        self.press(sheet.sensors["first"])
        self.assertEqual((sheet.raw_of("bright"), sheet.held), ([], []))

    def test_the_probe_shows_what_the_chosen_one_reads(self) -> None:
        sheet = self.go("Light", "Probe")
        self.put(setup_with(self.session.setup, second__calibration__bright=60.0, second__sensor__spot_base_mm=6.0))
        self.press(sheet.sensors["second"])
        sheet.carry_to(700.0, 900.0)
        setup = self.session.setup
        probed = derive.probe(setup.seen_by("second"), 700.0, 900.0)
        self.assertIn(f"{probed.raw:.1f} raw", words_of(sheet.patch))
        self.assertAlmostEqual(sheet.probe_hand._sigma_mm, spot_sigma_mm(setup.second.sensor, 8.0))
        trace = self.session.view.run.trace
        self.assertIn(f"reads {trace.second_reading[0]:.0f} at 0.00 s", sheet.robot_says.text())
        self.assertIn("off the line's middle", sheet.robot_says.text())

    def test_a_threshold_takes_the_targets_place_where_each_has_one(self) -> None:
        sheet = self.go("Light", "Probe")
        self.assertFalse(sheet.dials["program.target"].isVisible())
        self.put(setup_with(self.session.setup, program__arrangement="table"))
        dial = sheet.dials["program.target"]
        self.assertTrue(dial.isVisible())
        self.press(sheet.sensors["second"])
        dial.edited.emit(35.0, True)
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.pair.right_threshold, 35.0)
        self.press(sheet.midway)
        self.assertEqual(self.session.setup.program.pair.right_threshold, 50.0)
        self.assertEqual(sheet.target_heading.text(), "The threshold, in raw readings")

    def test_profile_rooms_and_colours_are_of_the_chosen_one(self) -> None:
        profile = self.go("Light", "Profile")
        one = profile.says.text()
        self.put(setup_with(self.session.setup, second__calibration__bright=95.0))
        self.press(profile.sensors["second"])
        self.assertNotEqual(profile.says.text(), one)
        colours = self.go("Light", "Colours")
        self.press(colours.lamps["red"])
        setup = self.session.setup
        self.assertEqual((setup.second.sensor.lamp, setup.light.sensor.lamp), ("red", "white"))
        rooms = self.go("Light", "Rooms")
        rooms.room_dials["event", "height_mm"].edited.emit(11.0, True)
        self.settle(self.session)
        event = self.session.project.event
        self.assertEqual((event.second_height_mm, event.height_mm), (11.0, 8.0))
        self.press(rooms.work_here["event"])
        self.assertEqual(self.session.setup.second.mount.height_mm, 11.0)
        self.put(setup_with(self.session.setup, second__mount__height_mm=13.0))
        self.press(rooms.as_now["practice"])
        self.assertEqual(self.session.project.practice.second_height_mm, 13.0)
        rooms.dark.edited.emit(12.0, True)
        self.press(rooms.take)
        self.assertEqual(self.session.setup.light.calibration, setup.light.calibration)
        self.assertNotEqual(self.session.setup.second.calibration, setup.second.calibration)


class SteerTest(PairWindowTest):
    def test_every_arrangement_is_chosen_by_its_picture(self) -> None:
        sheet = self.go("Steer", "Pair")
        self.assertTrue(sheet.pictures["difference"].isChecked())
        for name, picture in sheet.pictures.items():
            self.press(picture)
            self.assertEqual(self.session.setup.program.arrangement, name)
            self.assertEqual((sheet.cases.isVisible(), sheet.weight.isVisible()), (name == "table", name == "weighted"))
            self.assertEqual(sheet.curve.isVisible(), name not in ("one", "table"))
            self.assertEqual(sheet.edge_row.isVisible(), name == "weighted")
            law = self.go("Steer", "Law")
            self.assertEqual((law.table_says.isVisible(), law.curve.isVisible()), (name == "table", name != "table"))
            self.assertEqual(law.laws["on-off"].isEnabled(), name != "table")
            self.go("Steer", "Pair")

    def test_the_curve_is_over_the_error(self) -> None:
        sheet = self.go("Steer", "Pair")
        said = words_of(sheet.curve)
        for words in ("−100", "error 0", "line to the left", "line to the right"):
            self.assertIn(words, said)
        for line, first in (("light", "line to the right"), ("dark", "line to the left")):
            self.put(setup_with(self.session.setup, program__line=line))
            sides = [word for word in seen(sheet.curve).words if word.text.startswith("line to")]
            self.assertEqual(min(sides, key=lambda word: word.x).text, first)
        view, trace = self.session.view, self.session.view.run.trace
        self.session.playback.seek(6.0)
        row = self.window.stage.row_at(6.0)
        self.assertAlmostEqual(sheet.curve.now[0], trace.error[row] + 50.0)
        place = sheet.curve.place_of(50.0 + 40.0, 0.0)
        self.assertAlmostEqual(sheet.curve.point_at(place)[0], 90.0, places=6)
        gain = next(h for h in sheet.curve.picture.handles if h.name == "gain")
        self.drag(sheet.curve, sheet.curve.place_of(gain.reading, gain.power), QPoint(0, -15))
        self.assertGreater(self.session.setup.program.proportional.gain, view.setup.program.proportional.gain + 0.05)
        speed = next(h for h in sheet.curve.picture.handles if h.name == "speed")
        self.drag(sheet.curve, sheet.curve.place_of(speed.reading, speed.power), QPoint(20, -15))
        program = self.session.setup.program
        self.assertGreater(program.speed, 35.0)
        self.assertEqual(program.target, 50.0)

    def test_a_tables_powers_are_dragged_and_stepped_by_keys(self) -> None:
        sheet = self.go("Steer", "Pair")
        self.put(setup_with(self.session.setup, program__table=Table(), program__arrangement="table"))
        cases = sheet.cases
        self.drag(cases, cases.handle("right", "left"), QPoint(0, 17))
        self.assertAlmostEqual(self.session.setup.program.table.right.left, 45.0 - 50.0, delta=3.0)
        self.session.document.undo()
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.table.right.left, 45.0)
        cases.setFocus()
        cases._chosen = 0
        QTest.keyClick(cases, Qt.Key.Key_PageUp)
        self.assertEqual(cases.value_told(), "Both sensors on the line: right wheel 40 %")
        QTest.keyClick(cases, Qt.Key.Key_Up)
        QTest.keyClick(cases, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.table.both.right, 31.0)
        self.assertIn("31", words_of(cases))
        # The case that decides now is told apart.
        trace = self.session.view.run.trace
        row = int((trace.rule == 2.0).argmax())
        self.session.playback.seek(float(trace.time_s[row]) + 1e-4)
        self.assertEqual(cases.picture.now, "right")

    def test_the_weight_is_a_handle_and_a_slider(self) -> None:
        sheet = self.go("Steer", "Pair")
        setup = setup_with(self.session.setup, second__mount__ahead_mm=-25.0, second__mount__aside_mm=12.0)
        # What takes the engine waits for it.
        self.addCleanup(setattr, Preloading, "under_way", None)
        loading = Preloading(self.window)
        self.put(setup_with(setup, program__pair=Pair(), program__arrangement="weighted"))
        weight = sheet.weight
        self.assertIn("80 %", words_of(weight))
        self.assertNotIn("as one at", "".join(words_of(weight)))
        loading.engine_is_there()
        self.wait_for(lambda: weight.weighing.lever_mm is not None)
        slopes = pair_point(self.session.setup).slopes
        lever = (slopes[0] * 75.0 + slopes[1] * -25.0) / sum(slopes)
        self.assertIn(f"as one at {lever:.0f} mm", words_of(weight))
        wide = weight.width() - 68
        self.drag(weight, weight.handle(), QPoint(round(-0.2 * wide), 0))
        self.assertAlmostEqual(self.session.setup.program.pair.weight, 0.6, delta=0.03)
        weight.setFocus()
        before = self.session.setup.program.pair.weight
        QTest.keyClick(weight, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        self.assertAlmostEqual(self.session.setup.program.pair.weight, before + 0.1, places=6)
        weight.take_told(40.0)
        self.settle(self.session)
        self.assertEqual((self.session.setup.program.pair.weight, weight.range_told()[0]), (0.4, 40.0))
        self.press(sheet.edges["opposite"])
        self.assertEqual(self.session.setup.program.pair.edges, "opposite")

    def test_remarks_on_the_pair_are_mended_there(self) -> None:
        sheet = self.go("Steer", "Pair")
        wide = setup_with(self.session.setup, robot__mount__aside_mm=34.0, second__mount__aside_mm=-34.0)
        self.put(wide)
        self.wait_for(lambda: self.session.advised)
        advice = self.session.adviser.advice
        self.assertEqual([remark.kind for remark in advice.remarks][:1], ["gap"])
        sheet.said.mend(0)
        self.settle(self.session)
        mounts = self.session.setup.robot.mount.aside_mm, self.session.setup.second.mount.aside_mm
        self.assertEqual(mounts, (10.0, -10.0))

    def test_the_loop_shows_both_robots_with_both_sensors(self) -> None:
        sheet = self.go("Steer", "Loop")
        scene = sheet.turns.scene
        self.assertEqual(scene.second.mount, self.session.setup.second.mount)
        left, right = scene.both
        self.assertEqual((sheet.turns.way(left), sheet.turns.way(right)), ("turns left", "turns right"))
        self.assertLess(left.reading, -40.0)
        self.assertFalse(sheet.edges["left"].isEnabled())
        table = self.go("Steer", "Loop")
        self.put(setup_with(self.session.setup, program__arrangement="table"))
        self.assertEqual(table.turns.scene.both[1].left, self.session.setup.program.table.right.left)

    def test_there_is_no_edge_to_swap_astride(self) -> None:
        before = self.session.setup
        self.window.actions_of.named["swap"].trigger()
        self.assertEqual(self.session.setup, before)


class ShownTest(PairWindowTest):
    def test_the_strip_shows_both_readings_and_their_error(self) -> None:
        picture = self.window.stage.strip.picture
        self.assertEqual([lane.name for lane in picture.lanes], ["reading", "error", "wheels", "off middle"])
        self.assertEqual(picture.lanes[0].curves, ("first", "second"))
        trace = self.session.view.run.trace
        self.assertTrue((picture.run.columns["second_reading"] == trace.second_reading).all())
        # A kept run of a single sensor has no second curve.
        self.put(lighthouse())
        self.session.keep()
        self.put(pair("difference"))
        kept = self.window.stage.strip.picture.kept[0]
        self.assertTrue((kept.columns["second_reading"] != kept.columns["second_reading"]).all())

    def test_the_robot_is_drawn_with_both_each_by_what_it_sees(self) -> None:
        trace = self.session.view.run.trace
        row = int(((trace.reading < 40.0) & (trace.second_reading > 60.0)).argmax())
        self.session.playback.seek(float(trace.time_s[row]) + 1e-4)
        now = self.window.stage.mat.robot_hand.now
        self.assertEqual((now.first_light, now.second.light_side), (False, True))
        self.window.stage.set_close_up(True)
        self.settle(self.session)
        self.session.playback.seek(float(trace.time_s[row]) + 1e-4)
        said = f"reads {trace.reading[row]:.0f} and {trace.second_reading[row]:.0f}"
        self.assertTrue(any(said in words for words in words_of(self.window.stage.close_up)))

    def test_ends_and_creeps_name_the_sensor_they_look_at(self) -> None:
        ends = (AtMark(2, "crossing", 20.0, 5.0), AfterDistance(900.0))
        self.put(setup_with(self.session.setup, program__trip=Trip((FollowLeg(ends), CreepLeg()))))
        sheet = self.go("Trip", "Legs")
        holder, buttons = sheet.editor.ends["follow"][0].sensors["mark"]
        self.assertTrue(holder.isVisible())
        self.press(buttons["second"])
        self.assertEqual(self.session.setup.program.trip.legs[0].ends[0].sensor, "second")
        self.assertTrue(buttons["second"].isChecked())
        self.assertFalse(sheet.editor.ends["follow"][1].sensors["mark"][0].isVisible())
        sheet.choose(1)
        self.settle(self.session)
        _, options = sheet.editor.options[CreepLeg]
        self.press(options["second sensor"])
        self.assertEqual(self.session.setup.program.trip.legs[1].sensor, "second")
        # Astride there is no edge for a leg to choose.
        sheet.choose(0)
        self.assertFalse(sheet.editor.options[FollowLeg][0].isVisible())

    def test_numbers_of_a_sensor_that_has_gone_are_let_go(self) -> None:
        dials = self.go("Tune", "Dials")
        dials.set_paths(["program.speed", "second.mount.ahead_mm"])
        self.settle(self.session)
        drawn = self.go("Tune", "Map")
        drawn.up.choose("second.mount.ahead_mm")
        self.assertEqual(drawn.up.axis.quantity.label, "second ahead of the axle")
        way = axis(self.session.setup, "second.mount.ahead_mm")
        self.put(with_one(self.session.setup))
        self.assertNotEqual(drawn.up.axis.path, "second.mount.ahead_mm")
        self.assertRaises(IronTrailError, way.put, self.session.setup, 50.0)
        self.go("Tune", "Dials")
        self.assertNotIn("second.mount.ahead_mm", dials.paths)
        self.assertIn("program.proportional.gain", dials.paths)
        self.wait_for(lambda: dials.looker.idle)
        self.put(setup_with(with_second(self.session.setup), program__arrangement="table"))
        self.assertEqual(dials.paths[:2], ["table.speed", "table.steer"])
        self.wait_for(lambda: dials.looker.idle)

    def test_sensors_can_duel(self) -> None:
        sheet = self.go("Compare", "Duel")
        self.press(sheet.betweens["sensors"])
        self.assertIn("One sensor on either edge", sheet.about.text())
        self.assertTrue(sheet.of_sensors)
        # Which arrangements can work is not found out by the window's own thread.
        looked: list[str] = []

        def proofread(setup: Setup) -> tuple[Remark, ...]:
            looked.append(current_thread().name)
            return proofread_pair(setup)

        with mock.patch("irontrail.core.tune.duel.proofread_pair", proofread):
            QTest.mouseClick(sheet.button, Qt.MouseButton.LeftButton)
            self.wait_for(lambda: sheet.says.text().startswith("Tuning one, left edge"))
            QTest.mouseClick(sheet.button, Qt.MouseButton.LeftButton)
            self.wait_for(lambda: not sheet.work.running)
        self.assertTrue(looked)
        self.assertNotIn(main_thread().name, looked)
        self.put(lighthouse())
        self.assertFalse(sheet.of_sensors)
        self.assertIn("Each law", sheet.about.text())

    def test_it_is_saved_and_opened_again_with_both(self) -> None:
        path = self.folder / "both.json"
        project_file.write(path, self.session.project)
        again = project_file.read(path)
        self.assertEqual(again, self.session.project)
        text = path.read_text()
        self.assertIn('"second"', text)
        # Without a second sensor it is not spoken of.
        one = self.folder / "one.json"
        project_file.write(one, type(self.session.project)(lighthouse()))
        self.assertEqual(project_file.read(one).setup, lighthouse())


if __name__ == "__main__":
    unittest.main()
