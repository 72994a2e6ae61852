"""What cannot be done, or has come to something, is said where it was asked for."""

import unittest
from typing import Any
from unittest import mock

from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QMenu, QPushButton

from irontrail.app.adviser import Tried
from irontrail.app.widgets.strip_picture import MOST_LANES
from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.tune.axes import axis
from irontrail.core.tune.grid import GridSpec, explore
from tests.support import StopTest, lighthouse

LEFT = Qt.MouseButton.LeftButton


class NoticesTest(StopTest):
    def press(self, sheet: Any, words: str) -> None:
        """Press a sheet's button."""
        (button,) = (each for each in sheet.findChildren(QPushButton) if each.text() == words)
        QTest.mouseClick(button, LEFT)

    @property
    def said(self) -> str:
        return self.window.notice.words.text()

    # --- tune

    def test_without_a_map_none_is_saved_and_no_best_cell_taken(self) -> None:
        sheet, before = self.visit("Tune", "Map"), self.session.setup
        with mock.patch.object(QFileDialog, "getSaveFileName") as asked:
            self.press(sheet, "CSV …")
        asked.assert_not_called()
        self.assertEqual(self.said, "Draw the map first.")
        self.press(sheet, "Take the best")
        self.assertEqual(self.said, "There is no cell yet that holds together with all beside it.")
        self.assertEqual(self.session.setup, before)

    def test_a_cell_that_cannot_be_taken_is_told(self) -> None:
        sheet, setup = self.visit("Tune", "Map"), self.session.setup
        spec = GridSpec(setup, axis(setup, "program.speed"), axis(setup, "program.proportional.gain"), 2, 1)
        sheet.show_partial(explore(spec))
        with mock.patch("irontrail.app.stops.tune.map.put_all", side_effect=IronTrailError("too fast for that")):
            sheet.take(0, 0)
        self.assertEqual((self.said, self.session.setup), ("too fast for that", setup))

    def test_theory_that_knows_nothing_says_so_and_offers_nothing(self) -> None:
        sheet = self.visit("Tune", "Rocking")
        self.assertTrue(sheet.rows[0][2].isEnabled())
        self.session.set_value("program.speed", 49.0)
        self.assertFalse(sheet.ruler.idle, "what they do on this mat is on its way")
        self.put(lighthouse(light__sensor__scale="colour names"))
        self.wait_for(lambda: sheet.ruler.idle)
        self.assertTrue(sheet.theory_says.text().startswith("Theory says nothing here: "))
        for gains, does, take in sheet.rows:
            self.assertEqual((gains.text(), does.text(), take.isEnabled()), ("–", "", False))

    def test_a_search_at_the_event_is_chosen(self) -> None:
        sheet = self.visit("Tune", "Search")
        for goal, other in (("at the event", "here"), ("here", "at the event")):
            QTest.mouseClick(sheet.goals[goal], LEFT)
            self.assertTrue(sheet.goals[goal].isChecked() and not sheet.goals[other].isChecked())
        least = {button.text(): button for button in sheet.findChildren(QPushButton)}
        for name, other in (("swing", "time"), ("time", "swing")):
            QTest.mouseClick(least[name], LEFT)
            self.assertTrue(least[name].isChecked() and not least[other].isChecked())

    # --- run

    def test_real_times_that_tell_too_little(self) -> None:
        sheet = self.visit("Run", "Luck")
        for found, says in (
            ({"return_value": None}, "The real times tell too little: "),
            ({"side_effect": IronTrailError("that went wrong")}, "that went wrong"),
        ):
            self.session.notice("")
            with mock.patch("irontrail.app.stops.run.luck.real_spread", **found):
                sheet.as_real.click()
                self.assertFalse(sheet.as_real.isEnabled())
                self.wait_for(sheet.as_real.isEnabled)
            self.assertTrue(self.said.startswith(says), self.said)

    def test_what_a_change_did_in_a_sentence(self) -> None:
        before = derive.figures(lighthouse())
        tried = Tried("gain 0.7 → 0.8", lighthouse(), before)
        after = derive.figures(lighthouse(program__speed=55.0))
        x, y, swing = before.time_s, after.time_s, before.wobble_mm
        times, swings = (f"{x:.2f} → {y:.2f} s", f"{swing:.1f} → {after.wobble_mm:.1f} mm")
        self.assertEqual(tried.outcome(after), f"gain 0.7 → 0.8: {times}, swing {swings}. Undo takes it back.")
        lost = derive.figures(lighthouse(program__speed=95.0))
        self.assertEqual(lost.outcome, "lost")
        came, went = before.progress_mm / 1000.0, lost.progress_mm / 1000.0
        self.assertEqual(
            tried.outcome(lost),
            f"gain 0.7 → 0.8: lost after {went:.2f} m, {came:.2f} m before. Undo takes it back.",
        )
        mended = Tried("speed 95 → 50 %", lighthouse(), lost).outcome(before)
        self.assertEqual(
            mended, f"speed 95 → 50 %: it now finishes, in {before.time_s:.2f} s, with a swing of {swing:.1f} mm."
        )

    def test_a_run_that_cannot_be_kept_is_told(self) -> None:
        told: list[str] = []
        self.session.noticed.connect(told.append)
        with mock.patch.object(type(self.session.compiler), "running", True):
            self.session.set_value("program.speed", 51.0)
            self.session.keep()
            self.session.set_value("program.speed", 52.0)
        with mock.patch("irontrail.app.run_keeper.derive.figures", side_effect=IronTrailError("no way")):
            self.session._on_prepared()
            self.wait_for(lambda: self.session.idle)
        self.assertIn("There is no run to keep: no way", told)
        self.assertNotIn(51.0, [run.setup.program.speed for run in self.session.project.kept])

    # --- light and mat

    def test_what_cannot_be_read_laid_or_kept_is_told_and_nothing_changes(self) -> None:
        no_way, probe, mat = IronTrailError("no way"), "irontrail.app.stops.light.probe.", "irontrail.app.stops.mat."
        for stop, name, failing, pressed, begins in (
            ("Light", "Probe", probe + "from_held", lambda sheet: sheet.from_held, ""),
            ("Light", "Probe", probe + "midway_target", lambda sheet: sheet.midway, ""),
            ("Light", "Probe", probe + "calibrate_on", lambda sheet: sheet.calibrate, ""),
            (
                "Light", "Probe", probe + "derive.calibration_sweep", lambda sheet: sheet.sweep,
                "The sweep found no line: ",
            ),
            ("Mat", "Shelf", mat + "shelf.mat_file.put_on_shelf", lambda sheet: sheet.keep, ""),
            ("Mat", "Things", mat + "things.laid", lambda sheet: sheet.kinds["patch"], ""),
        ):  # fmt: skip
            sheet, before = self.visit(stop, name), self.session.setup
            self.session.notice("")
            button = pressed(sheet)
            button.setEnabled(True)
            with mock.patch(failing, side_effect=no_way):
                QTest.mouseClick(button, LEFT)
            self.assertEqual((self.said, self.session.setup), (f"{begins}no way", before), failing)

    def test_a_thing_that_cannot_be_laid_twice_and_a_way_back_that_there_is_not(self) -> None:
        sheet = self.visit("Mat", "Things")
        QTest.mouseClick(sheet.kinds["patch"], LEFT)
        before, no_way = self.session.setup, mock.Mock(side_effect=IronTrailError("no way"))
        with mock.patch("irontrail.app.stops.mat.things.doubled", no_way):
            sheet.double()
        self.assertEqual((self.said, self.session.setup), ("no way", before))
        self.session.notice("")
        self.visit("Mat", "Tape").editor.close_by(no_way)
        self.assertEqual((self.said, self.session.setup), ("no way", before))

    def test_a_picture_too_small_for_a_line(self) -> None:
        sheet = self.visit("Mat", "Files")
        sheet.take_image(QImage(10, 6, QImage.Format.Format_RGB888))
        self.assertEqual(self.said, "That picture is too small to see a line in it.")
        self.assertIsNone(sheet.tracing.work)

    # --- the rest

    def test_without_a_start_zone_it_is_said_where_one_is_laid(self) -> None:
        sheet = self.visit("Trip", "Legs")
        self.press(sheet, "in the zone")
        self.assertEqual(self.said, "This mat has no start zone: lay one down under Mat, Things.")

    def test_what_this_is(self) -> None:
        self.window.show_about()
        self.assertRegex(self.said, r"^Iron Trail [\d.]+: model a line-following robot, ")

    def test_lanes_are_ticked_and_no_more_than_there_is_room_for(self) -> None:
        lanes, menu = self.window.stage.lanes, QMenu(self.window)

        def listed() -> dict[str, Any]:
            lanes.fill(menu)
            return {action.text(): action for action in menu.actions()}

        shown = [action.text().lower() for action in listed().values() if action.isChecked()]
        self.assertEqual(shown, list(lanes.names))
        left_out = [name for name, action in listed().items() if not action.isChecked()]
        while len(lanes.names) < MOST_LANES:
            listed()[left_out.pop()].trigger()
        for action in listed().values():
            self.assertEqual(action.isEnabled(), action.isChecked(), action.text())
        first = lanes.names[0]
        listed()[first.capitalize()].trigger()
        self.assertNotIn(first, lanes.names)


if __name__ == "__main__":
    unittest.main()
