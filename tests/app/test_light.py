"""The Light stop: its sheets, the lamp, the scale, and the matrix of colours."""

import re
import unittest
from dataclasses import replace
from statistics import fmean
from unittest import mock

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from irontrail.app.preloading import Preloading
from irontrail.core import derive
from irontrail.core.advice.rooms import calibrated_anew, in_brief, setup_in
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.contrast import COLOURS, told_apart
from irontrail.core.light.sensor import Calibration
from irontrail.files import project_file
from tests.said import as_recorded
from tests.seen import seen
from tests.support import StopTest, setup_with

LEFT = Qt.MouseButton.LeftButton


class LightTest(StopTest):
    STOP = "Light"


class ColoursTest(LightTest):
    def setUp(self) -> None:
        super().setUp()
        self.colours = self.turn_to("Colours")

    def test_the_matrix_follows_lamp_height_and_noise(self) -> None:
        matrix = self.colours.matrix
        names = [name for name, _ in COLOURS]
        red, white = names.index("red"), names.index("white")
        before = matrix.cells[red][white]
        self.press(self.colours.lamps["red"])
        self.assertLess(matrix.cells[red][white].apart, 0.7 * before.apart)
        light, height = self.session.setup.light, self.session.setup.robot.mount.height_mm
        pair = told_apart(light, height, COLOURS[red][1], COLOURS[white][1])
        self.assertEqual((matrix.cells[red][white].apart, matrix.cells[red][white].verdict), (pair.apart, pair.verdict))
        self.edit("light.sensor.noise", 8.0)
        self.assertNotEqual(matrix.cells[red][white].verdict, "yes")
        noisy = self.painted(matrix)
        self.edit("light.sensor.noise", 0.4)
        self.assertNotEqual(self.painted(matrix), noisy)

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
        self.assertFalse(self.colours.dials["light.sensor.highest_count"].isVisible())
        QTest.mouseClick(self.colours.scales["counts"], LEFT)
        self.assertTrue(self.colours.dials["light.sensor.highest_count"].isVisible())
        QTest.mouseClick(self.colours.ways["dark"], LEFT)
        sensor = self.session.setup.light.sensor
        self.assertEqual((sensor.scale, sensor.reads_high_on), ("counts", "dark"))
        self.press(self.colours.scales["names"])
        self.assertFalse(self.colours.lamps["red"].isEnabled())
        QTest.mouseClick(self.colours.scales["percent"], LEFT)
        QTest.mouseClick(self.colours.lamps["blue"], LEFT)
        QTest.mouseClick(self.colours.scales["names"], LEFT)
        self.assertIn("white lamp", self.window.notice.words.text())
        self.assertEqual(self.session.setup.light.sensor.scale, "percent")
        self.assertTrue(self.colours.scales["percent"].isChecked())

    def test_no_sheet_is_wider_or_higher_than_the_panel(self) -> None:
        for stop in ("Mat", "Robot", "Light", "Steer", "Run", "Compare", "Tune"):
            self.session.looking.go_to(stop)
            panel = self.window.panel(stop)
            for name in getattr(panel, "names", {"": None}):
                if name:
                    panel.turn_to(name)
                self.settle(self.session)
                self.assertLessEqual(panel.minimumSizeHint().width(), 332, (stop, name))
                self.assertEqual(self.window.stack.areas[stop].verticalScrollBar().maximum(), 0, (stop, name))


class ProbeTest(LightTest):
    def setUp(self) -> None:
        super().setUp()
        self.sheet = self.turn_to("Probe")
        self.mat = self.window.stage.mat

    def carry(self, x: float, y: float) -> None:
        """Drag the probe to a place of the mat."""
        hand = self.sheet.probe_hand
        self.drag_on_mat((hand.x_mm, hand.y_mm), (x, y))

    def test_the_probe_is_dragged_and_reads_what_the_robot_would(self) -> None:
        self.carry(600.0, 120.0)
        self.assertEqual(self.sheet.patch.figure, f"{derive.probe(self.session.setup, *self.sheet.place).reading:.0f}")
        self.assertLess(float(self.sheet.patch.figure), 8.0)
        # The tape's left edge is at 130 mm here.
        self.assertRegex(", ".join(self.sheet.patch.lines), r"(9\.\d|10\.0) mm to the dark side")
        self.carry(600.0, 136.0)
        self.assertRegex(", ".join(self.sheet.patch.lines), r"[56]\.\d mm to the light side")
        self.carry(900.0, 500.0)
        self.assertGreater(float(self.sheet.patch.figure), 95.0)
        self.assertIn(self.sheet.patch.figure, seen(self.mat).texts)
        trace = self.session.view.run.trace
        quiet = setup_with(self.session.setup, light__sensor__noise=0.0, program__delay_s=0.0)
        there = derive.run(quiet).trace
        row = len(there) // 3
        heading, ahead = float(there.heading_rad[row]), quiet.robot.mount.ahead_mm
        place = there.x_mm[row] + ahead * np.cos(heading), there.y_mm[row] + ahead * np.sin(heading)
        probed = derive.probe(quiet, float(place[0]), float(place[1]))
        self.assertLess(abs(probed.reading - float(there.reading[row])), 2.0)
        self.assertLess(abs(probed.edge_mm - float(there.edge_mm[row])), 0.3)
        for at_s in (0.0, 3.0):
            self.session.playback.seek(at_s)
            row = int(trace.time_s.searchsorted(at_s))
            said = (
                f"The robot reads {trace.reading[row]:.0f} at {at_s:.2f} s, {trace.edge_mm[row]:.1f} mm off the edge."
            )
            self.assertEqual(self.sheet.robot_says.text(), said.replace("-", "−"))
        self.painted(self.mat, "rust", least=30)
        self.painted(self.sheet.patch, "ink", least=100)

    def test_keys_move_it_by_a_millimetre(self) -> None:
        before = self.sheet.place
        self.mat.setFocus()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Up):
            QTest.keyClick(self.mat, key, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(self.sheet.place, (before[0] + 1.0, before[1] + 2.0))

    def test_held_readings_make_a_calibration_and_a_target(self) -> None:
        for kind, places in (("dark", ((560.0, 120.0), (600.0, 120.0))), ("bright", ((900.0, 500.0), (700.0, 600.0)))):
            for place in places:
                self.carry(*place)
                QTest.mouseClick(self.sheet.hold_buttons[kind], LEFT)
        self.carry(580.0, 131.0)
        QTest.mouseClick(self.sheet.hold_buttons["edge"], LEFT)
        self.assertEqual(len(self.sheet.held), 5)
        told = [self.sheet._list.itemAtPosition(0, i).widget().text() for i in range(3)]
        x, y = self.sheet.held[0].probed.x_mm, self.sheet.held[0].probed.y_mm
        self.assertEqual(told, ["1  dark", f"{self.sheet.held[0].probed.raw:.1f} raw", f"at {x:.0f}, {y:.0f} mm"])
        self.assertEqual((round(x, -1), round(y, -1)), (560.0, 120.0))
        self.assertIn("over 2 spots", self.sheet.spread.text())
        dark, bright = fmean(self.sheet.raw_of("dark")), fmean(self.sheet.raw_of("bright"))
        edge = self.sheet.raw_of("edge")[0]
        self.session.set_values({"light.calibration.dark": 30.0, "program.target": 80.0})
        self.settle(self.session)
        self.press(self.sheet.from_held)
        calibration = self.session.setup.light.calibration
        self.assertEqual((calibration.dark, calibration.bright), (round(dark), round(bright)))
        share = 100.0 * (edge - calibration.dark) / (calibration.bright - calibration.dark)
        self.assertLess(abs(self.session.setup.program.target - share), 0.51)
        self.assertEqual(set(self.sheet.target.marks), {"was", "is", "should be"})
        as_recorded(self, "readings held", self.sheet)
        self.assertLess(abs(self.sheet.target.marks["was"] - (30.0 + 0.8 * 48.0)), 0.01)
        self.session.document.undo()
        self.assertEqual(self.session.setup.light.calibration.dark, 30.0)
        # The second is let go, and no other.
        first, _, *others = self.sheet.held
        QTest.mouseClick(self.sheet._list.itemAtPosition(1, 3).widget(), LEFT)
        self.assertEqual(self.sheet.held, [first, *others])
        self.painted(self.sheet.target, "rust", "ink")

    def test_the_last_readings_are_kept_on_the_mat_with_their_numbers_and_it_stays_on_the_mat(self) -> None:
        self.sheet.carry_to(4000.0, 4000.0)
        mat = self.session.setup.mat
        self.assertEqual(self.sheet.place, (mat.width_mm, mat.height_mm))
        for i in range(11):
            self.sheet.carry_to(100.0 + i, 500.0)
            self.sheet.hold("bright")
        self.assertEqual([held.probed.x_mm for held in self.sheet.held], [102.0 + i for i in range(9)])
        self.assertIn(" 1 2 3 4 5 6 7 8 9 ", f" {' '.join(seen(self.mat).texts)} ")

    def test_names_of_colours_are_neither_held_nor_calibrated(self) -> None:
        self.put(setup_with(self.session.setup, light__sensor__scale="colour names"))
        sheet = self.sheet
        for button in (sheet.calibrate, sheet.sweep, sheet.midway, *sheet.hold_buttons.values()):
            self.assertFalse(button.isEnabled(), button.text())

    def test_a_wrong_target_is_told(self) -> None:
        self.edit("program.target", 100.0)
        self.assertIn("cannot ride on it", self.sheet.target_says.text())
        dark, bright = self.sheet.target.ends
        self.assertAlmostEqual(self.sheet.target.marks["should be"], 0.5 * (dark + bright))
        self.assertGreater(self.sheet.target.marks["is"], bright - 2.0)
        self.edit("program.target", 70.0)
        self.assertIn("rides toward the mat", self.sheet.target_says.text())
        self.press(self.sheet.midway)
        self.assertIn("about midway", self.sheet.target_says.text())

    def test_line_and_mat_of_one_colour_have_no_target_and_the_window_says_so(self) -> None:
        mat = self.session.setup.mat
        self.session.choose_mat(replace(mat, line=replace(mat.line, colour=mat.colour)))
        self.settle(self.session)
        self.assertIn("read the same here", self.sheet.target_says.text())
        self.assertFalse(self.sheet.target.isVisible())
        for button in (self.sheet.midway, self.sheet.calibrate):
            QTest.mouseClick(button, LEFT)
        self.session.choose_mat(mat)
        self.settle(self.session)
        self.assertTrue(self.sheet.target.isVisible())

    def test_the_robot_sweeps_and_is_calibrated(self) -> None:
        self.session.set_values({"light.calibration.dark": 40.0, "light.calibration.bright": 60.0})
        self.settle(self.session)
        self.press(self.sheet.sweep)
        found = self.session.setup.light.calibration
        self.assertTrue(found.dark < 14.0 and found.bright > 72.0, found)
        self.assertEqual(
            self.window.notice.words.text(),
            f"Swept across the line: dark 40 → {found.dark:.0f}, bright 60 → {found.bright:.0f} of 100 raw.",
        )
        self.session.document.undo()
        self.assertEqual(self.session.setup.light.calibration.dark, 40.0)

    def test_dark_and_bright_that_would_be_the_same_are_told_of_and_dragged_past(self) -> None:
        self.session.set_values({"light.calibration.bright": 30.0, "light.calibration.dark": 29.0})
        self.settle(self.session)
        dial = self.sheet.dials["light.calibration.dark"]
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Up)
        self.assertEqual(
            self.window.notice.words.text(),
            "Bright (30) and dark (30) are the same. Read the light surface for bright and the line for dark.",
        )
        self.assertEqual((dial.value, self.session.setup.light.calibration.dark), (29.0, 29.0))
        self.window.notice.hide()
        for value in (30.0, 31.0):
            dial.edit_to(value, settled=False)
        self.assertEqual(self.session.setup.light.calibration, Calibration(31.0, 30.0))
        self.assertFalse(self.window.notice.isVisible())


class FirstVisitTest(LightTest):
    def test_what_a_sheet_shows_is_worked_out_once(self) -> None:
        with mock.patch.object(derive, "profile_along", side_effect=derive.profile_along) as worked_out:
            sheet = self.turn_to("Profile")
        self.assertEqual(worked_out.call_count, 1)
        self.assertRegex(sheet.says.text(), r"Reads \d+ to \d+")


class ProfileTest(LightTest):
    def setUp(self) -> None:
        super().setUp()
        self.sheet = self.turn_to("Profile")

    def test_a_cut_is_dragged_anywhere_and_the_profile_is_the_same_across_the_same_edge(self) -> None:
        first = self.sheet.profile_here(self.session.setup)
        start, end = self.sheet.cut_hand.ends
        middle = 0.5 * (start.x() + end.x()), 0.5 * (start.y() + end.y())
        self.drag_on_mat(middle, (middle[0] + 120.0, middle[1]))
        moved = self.sheet.profile_here(self.session.setup)
        self.assertNotEqual(self.sheet.cut_hand.ends[0], start)
        at = np.linspace(-8.0, 20.0, 30)
        values = [np.interp(at, curve.edge_mm, curve.reading) for curve in (first, moved)]
        self.assertLess(np.abs(values[0] - values[1]).max(), 2.5)
        self.painted(self.window.stage.mat, "rust", least=30)
        QTest.mouseClick(self.sheet.at_start, LEFT)
        self.assertEqual(self.sheet.cut_hand.ends[0], start)

    def test_names_are_told_with_their_narrowest_margin(self) -> None:
        self.put(setup_with(self.session.setup, light__sensor__scale="colour names"))
        margin = self.session.view.run.trace.margin
        self.assertIn(f"margin to another name was {100.0 * margin.min():.1f} %.", self.sheet.says.text())

    def test_keys_move_the_cut_or_one_of_its_ends(self) -> None:
        mat, hand = self.window.stage.mat, self.sheet.cut_hand
        mat.setFocus()
        start, end = hand.ends
        QTest.keyClick(mat, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual([(e.x(), e.y()) for e in hand.ends], [(e.x() + 1.0, e.y()) for e in (start, end)])
        QTest.keyClick(mat, Qt.Key.Key_PageDown)
        QTest.keyClick(mat, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual([e.x() for e in hand.ends], [start.x() + 2.0, end.x() + 1.0])

    def test_profiles_of_heights_are_compared(self) -> None:
        QTest.mouseClick(self.sheet.keep, LEFT)
        self.edit("robot.mount.height_mm", 18.0)
        _, high = self.sheet.kept[0].profile.usable_mm
        now = self.sheet.profile_here(self.session.setup).usable_mm
        self.assertGreater(now[1], high)
        self.assertIn("8 mm up", self.sheet.kept[0].says)
        self.assertEqual(len(self.sheet.plot.others), 1)
        QTest.mouseClick(self.sheet.keep, LEFT)
        self.assertEqual([kept.letter for kept in self.sheet.kept], ["A", "B"])
        as_recorded(self, "profiles kept", self.sheet)
        words = seen(self.window.stage.mat)
        # As a kept cut, beside the bends' own letters.
        self.assertEqual([words.texts.count(letter) for letter in "ABC"], [2, 2, 1])
        QTest.mouseClick(self.sheet._list.itemAtPosition(1, 1).widget(), LEFT)
        self.assertEqual([kept.letter for kept in self.sheet.kept], ["A"])
        self.sheet.let_go(0)
        self.assertEqual(self.sheet.plot.others, [])
        # The last are kept.
        for height in (4.0, 6.0, 9.0, 12.0):
            self.edit("robot.mount.height_mm", height)
            self.sheet.keep_profile()
        heights = [re.search(r"(\d+) mm up, room 40 %", kept.says)[1] for kept in self.sheet.kept]
        self.assertEqual(heights, ["4", "6", "9", "12"][-len(heights) :])
        self.assertEqual(len({kept.letter for kept in self.sheet.kept}), len(heights))

    def test_the_plot_waits_for_its_library_and_the_words_do_not(self) -> None:
        self.addCleanup(setattr, Preloading, "under_way", None)
        loading = Preloading(self.window)
        light = self.window.panel("Light")
        light.turn_to("Colours")
        light._sheets.pop("Profile").deleteLater()
        sheet = self.turn_to("Profile")
        self.app.processEvents()
        self.assertIsNone(sheet.plot)
        self.assertIn("it changes over", sheet.says.text())
        below = sheet.says.y()
        loading.engine_is_there()
        self.wait_for(lambda: sheet.plot is not None)
        self.app.processEvents()
        self.assertTrue(sheet.plot.isVisible())
        place = sheet.profile_here(self.session.setup).rides_at(self.session.setup.program.target)
        self.assertAlmostEqual(sheet.plot.rides.value(), place)
        self.assertEqual(sheet.says.y(), below)

    def test_where_the_target_has_it_ride_is_told(self) -> None:
        self.edit("program.target", 80.0)
        place = self.sheet.profile_here(self.session.setup).rides_at(80.0)
        self.assertGreater(place, 1.0)
        curve = self.sheet.profile_here(self.session.setup)
        low, high = curve.usable_mm
        self.assertGreater(place - low, high - place)
        self.assertEqual(
            self.sheet.says.text(),
            f"Reads {min(curve.reading):.0f} to {max(curve.reading):.0f}; it changes over {high - low:.0f} mm: all the "
            f"room that proportional steering has. At target 80 the sensor rides {place:.1f} mm off the line, with "
            f"{place - low:.0f} and {high - place:.0f} mm to go.",
        )
        self.assertAlmostEqual(self.sheet.plot.rides.value(), place)
        edge = self.session.view.run.trace.edge_mm
        self.assertLess(abs(float(np.median(edge)) - place), 1.5)


class RoomsTest(LightTest):
    def setUp(self) -> None:
        super().setUp()
        self.sheet = self.turn_to("Rooms")
        self.looked()

    def looked(self) -> None:
        self.settle(self.session)
        self.wait_for(lambda: self.sheet.looker.idle)
        self.app.processEvents()

    def test_while_the_engine_is_not_there_nothing_is_worked_out_with_it(self) -> None:
        told = self.sheet.cells["best, raw", "event"].text()
        # As it is until the first run, while the engine may still be compiled.
        self.addCleanup(setattr, Preloading, "under_way", None)
        loading = Preloading(self.window)
        with mock.patch.object(self.sheet.looker, "request", side_effect=self.sheet.looker.request) as request:
            self.sheet.room_dials["event", "height_mm"].edit_to(14.0)
            request.assert_not_called()
            loading.engine_is_there()
            self.wait_for(lambda: request.called)
        self.looked()
        self.assertNotEqual(self.sheet.cells["best, raw", "event"].text(), told)

    def test_the_hall_is_told_beside_the_practice_room(self) -> None:
        self.sheet.room_dials["event", "room_light"].edit_to(1.0)
        self.sheet.room_dials["event", "shield"].edit_to(0.0)
        self.looked()
        hall = setup_in(self.session.setup, self.session.project.event)
        again = calibrated_anew(self.session.setup, hall)
        told = [in_brief(derive.figures(each)) for each in (hall, again)]
        self.assertNotEqual(*told)
        self.assertEqual([self.sheet.cells[row, "event"].text() for row in ("as set now", "calibrated")], told)
        bright = [float(self.sheet.cells["bright, raw", which].text()) for which in ("practice", "event")]
        self.assertGreater(bright[1], bright[0])
        QTest.mouseClick(self.sheet.work_here["event"], LEFT)
        self.looked()
        self.assertEqual((self.session.setup.light.room_light, self.session.setup.light.sensor.shield), (1.0, 0.0))
        self.session.document.undo()
        self.assertEqual(self.session.setup.light.room_light, 0.4)

    def test_a_room_is_taken_as_it_is_now_and_saved(self) -> None:
        self.session.set_values({"light.room_light": 0.7, "robot.mount.height_mm": 12.0})
        QTest.mouseClick(self.sheet.as_now["practice"], LEFT)
        self.looked()
        self.assertEqual(self.session.project.practice.height_mm, 12.0)
        event = self.session.project.event
        self.assertNotEqual(event.height_mm, 12.0)
        QTest.mouseClick(self.sheet.as_now["event"], LEFT)
        self.looked()
        self.assertEqual((self.session.project.event.height_mm, self.session.project.event.room_light), (12.0, 0.7))
        self.session.document.undo()
        self.assertEqual(self.session.project.event, event)
        self.assertTrue(self.window.files.save_to(self.folder / "rooms.irontrail"))
        self.assertEqual(project_file.read(self.folder / "rooms.irontrail").practice.room_light, 0.7)

    def test_two_readings_are_taken_once_also_by_a_program_that_does_not_calibrate(self) -> None:
        self.assertEqual((self.sheet.dark.value, self.sheet.bright.value), (10.0, 70.0))
        self.session.edit("raw", setup_with(self.session.setup, light__calibrate=False))
        self.looked()
        self.sheet.dark.edit_to(15.0)
        self.sheet.bright.edit_to(60.0)
        self.sheet.take_readings()
        self.looked()
        target = self.session.setup.program.target
        self.assertLess(target, 50.0)
        self.sheet.take_readings()
        self.looked()
        self.assertEqual(self.session.setup.program.target, target)

    def test_two_readings_become_the_calibration(self) -> None:
        self.sheet.dark.edit_to(20.0)
        self.sheet.bright.edit_to(55.0)
        self.assertIn("target and gains stay", self.sheet.readings_say.text())
        QTest.mouseClick(self.sheet.take, LEFT)
        self.looked()
        self.assertEqual(self.session.setup.light.calibration, Calibration(20.0, 55.0))
        self.sheet.bright.edit_to(21.0)
        self.assertFalse(self.sheet.take.isEnabled())
        self.assertIn("too much alike", self.sheet.readings_say.text())

    def test_without_calibrating_target_and_gains_are_scaled(self) -> None:
        setup = setup_with(self.session.setup, light__calibrate=False, program__target=43.0)
        self.session.edit("raw", setup)
        self.looked()
        self.sheet.dark.edit_to(15.0)
        self.sheet.bright.edit_to(50.0)
        QTest.mouseClick(self.sheet.take, LEFT)
        self.looked()
        program = self.session.setup.program
        # As far between the new readings as it was between those of line and mat here.
        here = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
        share = (43.0 - here.dark) / (here.bright - here.dark)
        times = (here.bright - here.dark) / 35.0
        self.assertAlmostEqual(program.target, 15.0 + 35.0 * share)
        self.assertAlmostEqual(program.proportional.gain, setup.program.proportional.gain * times, places=6)
        self.assertIn(f"gains × {times:.2f}", self.window.notice.words.text())


if __name__ == "__main__":
    unittest.main()
