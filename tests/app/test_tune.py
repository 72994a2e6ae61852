"""The Tune stop in the window: dials, map, rocking gain, search, the event."""

import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from irontrail.app.preloading import Preloading
from irontrail.app.stops.tune.dials import MOST_DIALS
from irontrail.app.stops.tune.event import CALIBRATED
from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.tune import robustness, search, search_spec, ultimate_gain
from irontrail.core.tune.axes import axis
from irontrail.core.tune.candidates import Limits
from irontrail.core.tune.event import Event
from irontrail.core.tune.grid import BestCell, GridSpec, Leeway, leeway_of
from irontrail.core.tune.tries import Tried
from tests.said import as_recorded
from tests.seen import seen
from tests.support import StopTest, two_bends

LEFT = Qt.MouseButton.LeftButton


class TuneTest(StopTest):
    STOP = "Tune"
    SHEET = "Map"
    LAW = "proportional"
    # On a line a third as long, where thousands of runs are driven.
    SHORT = False

    def setUp(self) -> None:
        super().setUp()
        if self.SHORT:
            self.session.choose_mat(two_bends().mat)
        self.session.choose_law(self.LAW)
        self.settle(self.session)
        self.sheet = self.turn_to(self.SHEET)

    def press(self, button: Any) -> None:
        QTest.mouseClick(button, LEFT)
        self.app.processEvents()

    def done(self) -> None:
        """Wait until the sheet's work has come to its end."""
        self.wait_for(lambda: not self.sheet.work.running)
        self.settle(self.session)


class MapTest(TuneTest):
    SHORT = True

    def drawn(self) -> None:
        self.press(self.sheet.cell_buttons["10"])
        self.press(self.sheet.repeat_buttons["1×"])
        self.press(self.sheet.share_buttons["80 %"])
        self.press(self.sheet.button)
        self.assertEqual(self.sheet.button.text(), "Stop")
        self.done()

    def test_a_map_is_drawn_pointed_at_and_taken_from(self) -> None:
        self.drawn()
        self.assertTrue(self.sheet.map.done.all())
        self.assertEqual(self.sheet.button.text(), "Draw the map")
        by = self.sheet.leeway.to_cliff["x above"]
        self.assertIn(f"Alone, and still 80 % finish: speed may rise by {by:.0f} %", self.sheet.says.text())
        self.assertIn(f"{self.sheet.best.good} of 400 fresh starts", self.sheet.says.text())
        picture = self.sheet.picture
        as_recorded(self, "map drawn", self.sheet)
        i, j = self.sheet.best.cell
        at = picture.cell_rect(i, j).center().toPoint()
        QTest.mouseMove(picture, at)
        self.wait_for(lambda: self.sheet.trail_hand.trail is not None)
        self.assertIn("finishes 100 %", self.sheet.says.text())
        as_recorded(self, "map pointed at", self.sheet)
        figures = derive.figures(self.sheet.map.spec.setup_at(i, j))
        self.assertIn(f"{figures.time_s:.2f} s", seen(self.window.stage.mat).texts)
        shown = self.painted(self.window.stage.mat)
        # Pointed at no more, the cell's trail goes, and the map's own words come back.
        QApplication.sendEvent(picture, QEvent(QEvent.Type.Leave))
        self.assertNotEqual(self.painted(self.window.stage.mat), shown)
        self.assertIsNone(self.sheet.trail_hand.trail)
        self.assertTrue(self.sheet.says.text().startswith("Alone, and still"))
        QTest.mouseMove(picture, at + QPoint(1, 0))
        before = self.session.setup
        QTest.mouseClick(picture, LEFT, pos=at)
        self.settle(self.session)
        self.assertEqual(self.session.setup, self.sheet.map.spec.setup_at(i, j))
        self.assertEqual(self.session.view.run.outcome, "finished")
        self.session.document.undo()
        self.assertEqual(self.session.setup, before)
        (best,) = (each for each in self.sheet.findChildren(QPushButton) if each.text() == "Take the best")
        self.press(best)
        self.assertNotEqual(i, j)
        self.assertEqual(self.session.setup, self.sheet.map.spec.setup_at(i, j))
        self.session.document.undo()
        self.press(self.sheet.measure_buttons["swing"])
        self.done()
        self.assertEqual(picture.measure, "wobble_mm")
        self.assertEqual(self.sheet.map.holding("wobble_mm")[0], self.sheet.best.cell)
        by_swing = self.painted(picture, "rust")
        self.press(self.sheet.measure_buttons["time"])
        self.done()
        self.assertNotEqual(self.painted(picture), by_swing)

    def test_how_many_starts_the_best_came_through_is_told(self) -> None:
        found = BestCell((4, 6), 19.5, 397, 400)
        with mock.patch("irontrail.app.stops.tune.map.best_cell", return_value=found):
            self.drawn()
        self.assertTrue(self.sheet.says.text().endswith(": 19.50 s, 397 of 400 fresh starts."))

    def test_how_many_starts_todays_numbers_come_through_is_told_where_they_are_too_few(self) -> None:
        def few(spec: GridSpec, *_: object) -> Leeway:
            return replace(leeway_of(spec), today=0.37)

        with mock.patch("irontrail.app.stops.tune.map.leeway_of", side_effect=few):
            self.drawn()
        self.assertTrue(self.sheet.says.text().startswith("Today's numbers finish 37 % of 60 fresh starts."))

    def test_spots_are_a_tone_only_where_there_are_any(self) -> None:
        for demo, any_there in (("lighthouse", False), ("lantern", True)):
            self.session.open(demo_project(demo), None)
            self.settle(self.session)
            self.window.panel("Tune").turn_to("Map")
            buttons = self.window.panel("Tune").sheet("Map").measure_buttons
            self.assertTrue(buttons["swing"].isVisible())
            self.assertEqual([buttons[name].isVisible() for name in ("spots", "off spot")], [any_there] * 2)

    def test_today_off_the_map_is_told(self) -> None:
        self.edit("program.speed", 99.0)
        self.sheet.across.low.setText("40")
        self.sheet.across.high.setText("60")
        self.sheet.across.low.editingFinished.emit()
        self.drawn()
        self.assertIn("Today's speed 99 % lies off the map.", self.sheet.says.text())

    def test_how_often_a_cell_finishes_is_told_by_its_size(self) -> None:
        self.drawn()
        made = self.sheet.map
        often = np.full_like(made.finished, 1.0)
        often[5, 2], often[5, 7] = 0.25, 0.0
        values = {name: np.full_like(value, 20.0) for name, value in made.values.items()}
        picture = self.sheet.picture
        picture.set_map(replace(made, finished=often, values=values), "time_s")
        image = picture.grab().toImage()
        bare = image.pixelColor(picture.cell_rect(7, 5).center().toPoint())
        for i, inside, near_rim in ((2, True, False), (4, True, True), (7, False, False)):
            cell = picture.cell_rect(i, 5)
            rim = cell.topLeft() + QPointF(0.15 * cell.width(), 0.15 * cell.height())
            self.assertEqual(image.pixelColor(cell.center().toPoint()) != bare, inside, i)
            self.assertEqual(image.pixelColor(rim.toPoint()) != bare, near_rim, i)

    def test_by_keys(self) -> None:
        self.drawn()
        picture = self.sheet.picture
        picture.setFocus()
        for key in (Qt.Key.Key_Right, Qt.Key.Key_Up):
            QTest.keyClick(picture, key)
        self.assertEqual(picture.at, (6, 6))
        QTest.keyClick(picture, Qt.Key.Key_Return)
        self.assertEqual(self.session.setup, self.sheet.map.spec.setup_at(6, 6))
        self.settle(self.session)

    def test_other_numbers_and_ranges(self) -> None:
        self.sheet.up.choose("robot.mount.ahead_mm")
        self.sheet.up.low.setText("40")
        self.sheet.up.high.setText("120")
        self.sheet.up.high.editingFinished.emit()
        self.assertEqual((self.sheet.up.axis.low, self.sheet.up.axis.high), (40.0, 120.0))
        self.sheet.up.low.setText("much")
        self.sheet.up.low.editingFinished.emit()
        self.assertEqual(self.sheet.up.axis.low, 40.0)
        self.sheet.up.choose("program.speed")
        self.press(self.sheet.button)
        self.assertIn("two different numbers", self.window.notice.words.text())
        self.assertFalse(self.sheet.work.running)

    def test_it_is_called_off_and_saved(self) -> None:
        self.sheet.draw_map()
        self.wait_for(lambda: self.sheet.map is not None)
        self.press(self.sheet.button)
        self.assertFalse(self.sheet.work.running)
        self.assertIn("Called off", self.sheet.bar.words)
        self.sheet.save_csv(self.folder / "map.csv")
        self.assertEqual(len((self.folder / "map.csv").read_text().splitlines()), 1 + int(self.sheet.map.done.sum()))
        self.sheet.save_png(self.folder / "map.png")
        self.assertEqual((self.folder / "map.png").read_bytes()[1:4], b"PNG")
        self.sheet.save_csv(self.folder / "nowhere" / "map.csv")
        self.assertIn("cannot be written", self.window.notice.words.text())
        self.sheet.save_png(self.folder / "nowhere" / "map.png")
        self.assertIn("cannot be written", self.window.notice.words.text())


class SearchTest(TuneTest):
    SHORT = True
    SHEET = "Search"
    LAW = "PID"

    def setUp(self) -> None:
        # How good what it finds is, is asked in the core's own tests and in bench/tuning.py.
        self.enterContext(mock.patch.multiple(search_spec, LOOKS=20, FOREMOST=4, MOST_CONFIRMED=2))
        self.enterContext(mock.patch.object(search, "PATIENCE", 3))
        super().setUp()

    def test_a_search_within_limits_is_taken_from(self) -> None:
        self.assertEqual(
            [picker.axis.path for picker in self.sheet.pickers],
            ["program.speed", "program.pid.kp", "program.pid.ki", "program.pid.kd", "program.target"],
        )
        for _ in range(4):
            self.press(self.sheet.fewer)
        self.assertFalse(self.sheet.fewer.isEnabled())
        self.press(self.sheet.more)
        self.assertFalse(self.sheet.best.isEnabled())
        self.assertEqual([picker.axis.path for picker in self.sheet.pickers], ["program.speed", "program.pid.kp"])
        self.session.choose_mat(two_bends().mat)
        self.settle(self.session)
        self.sheet.swing.edit_to(5.0)
        before = self.session.view.figures
        with mock.patch.object(self.sheet.bar, "set_progress", side_effect=self.sheet.bar.set_progress) as progress:
            self.press(self.sheet.button)
            self.done()
        found = self.sheet.found
        said = [call.args[1] for call in progress.call_args_list]
        self.assertEqual(said[0], f"0 of about {found.spec.runs:,} runs")
        # How many it takes is told anew as it is found out.
        self.assertGreater(len({each.partition(" of about ")[2].partition(" runs")[0] for each in said}), 1)
        self.assertIsNone(found.spec.event)
        self.assertEqual(found.spec.limits, Limits(0.95, swing_mm=5.0))
        self.assertTrue(self.sheet.best.isEnabled())
        self.assertEqual((self.sheet.picture.now.time_s, self.sheet.picture.now.up), (before.time_s, before.wobble_mm))
        self.assertGreaterEqual(found.best.finished, 0.95)
        self.assertLessEqual(found.best.figure("wobble_mm"), 5.0)
        sure = found.best.sure
        low, high = (100.0 * share for share in sure.share)
        words = f"{sure.good} of 1000 fresh starts finish ({low:.1f} to {high:.1f} %)"
        self.assertIn(words, self.sheet.says.text())
        self.sheet.picture.pointed.emit(0)
        self.assertIn("Press to take these numbers.", self.sheet.says.text())
        self.sheet.picture.pointed.emit(-1)
        self.assertIn(words, self.sheet.says.text())
        best = replace(found.best, sure=replace(sure, good=962))
        event = Event.of(self.session.project)
        with mock.patch("irontrail.app.stops.tune.search.cost_of_safety", return_value=(0.12, 3.4)):
            self.sheet.show_result(replace(found, best=best, spec=replace(found.spec, event=event)))
        self.assertIn("962 of 1000 fresh starts at the event finish", self.sheet.says.text())
        self.assertEqual(
            [point.up for point in self.sheet.picture.points], [100.0 * e.finished for e in found.trade_offs]
        )
        self.assertIn("From the fastest to the surest: 12 % more finish, for 3.40 s.", self.sheet.says.text())
        self.sheet.show_result(found)
        self.press(self.sheet.best)
        self.settle(self.session)
        self.assertLess(self.session.view.figures.time_s, before.time_s)
        self.assertAlmostEqual(
            axis(self.session.setup, "program.speed").of(self.session.setup), found.best.values[0], delta=0.005
        )
        point = self.sheet.picture.place(self.sheet.picture.points[-1]).toPoint()
        QTest.mouseClick(self.sheet.picture, LEFT, pos=point)
        self.settle(self.session)
        self.painted(self.sheet.picture, "rust")
        self.assertAlmostEqual(
            axis(self.session.setup, "program.speed").of(self.session.setup),
            found.trade_offs[-1].values[0],
            delta=0.005,
        )
        self.session.document.undo()
        self.session.document.undo()
        self.assertEqual(self.session.setup.program.speed, 50.0)

    def test_a_number_twice_is_refused(self) -> None:
        self.sheet.pickers[1].choose("program.speed")
        self.press(self.sheet.button)
        self.assertIn("stands twice", self.window.notice.words.text())
        self.assertFalse(self.sheet.work.running)

    def test_it_is_called_off(self) -> None:
        self.press(self.sheet.goals["at the event"])
        self.press(self.sheet.button)
        self.wait_for(lambda: self.sheet.found is not None and bool(self.sheet.found.course))
        self.assertIsNotNone(self.sheet.found.spec.event)
        self.press(self.sheet.button)
        self.assertFalse(self.sheet.work.running)
        self.assertIsNotNone(self.sheet.found.best)


class DialsTest(TuneTest):
    SHORT = True
    SHEET = "Dials"

    def test_each_dial_shows_what_it_does_nearby(self) -> None:
        self.wait_for(lambda: all(picture.near is not None for _, picture in self.sheet.shown.values()))
        near = self.sheet.shown["program.speed"][1].near
        self.assertEqual(near.values[near.today], 50.0)
        dial = self.sheet.shown["program.speed"][0]
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Right)
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.speed, 51.0)
        self.wait_for(lambda: self.sheet.shown["program.speed"][1].near.values[2] == 51.0)
        self.painted(self.sheet.shown["program.speed"][1], "ink")

    def test_dials_are_chosen(self) -> None:
        i = self.sheet.others.findData("robot.drive.battery")
        self.sheet.others.setCurrentIndex(i)
        self.sheet.others.activated.emit(i)
        self.assertIn("robot.drive.battery", self.sheet.shown)
        self.assertEqual(self.sheet.others.findData("robot.drive.battery"), -1)
        self.press(self.sheet.drop)
        self.assertNotIn("robot.drive.battery", self.sheet.shown)
        self.assertNotEqual(self.sheet.others.findData("robot.drive.battery"), -1)
        # No more than there is room for: another takes the place of the last.
        for path in ("robot.drive.battery", "robot.drive.grip", "robot.drive.dead_band", "light.room_light"):
            i = self.sheet.others.findData(path)
            self.sheet.others.setCurrentIndex(i)
            self.sheet.others.activated.emit(i)
        self.assertEqual((len(self.sheet.shown), list(self.sheet.shown)[-1]), (MOST_DIALS, "light.room_light"))
        self.sheet.set_paths([*self.sheet.shown, "robot.drive.grip"])
        self.assertEqual(len(self.sheet.shown), MOST_DIALS)
        self.session.set_value("program.speed", 44.0)
        self.assertEqual(self.sheet.shown["program.speed"][0].value, 44.0)
        self.sheet.shown["program.speed"][0].edit_to(47.0)
        self.assertEqual(self.session.document.undo_label, "speed 47 %")
        for _ in range(MOST_DIALS - 1):
            self.press(self.sheet.drop)
        self.assertEqual((len(self.sheet.shown), self.sheet.drop.isEnabled()), (1, False))
        # What is shown is not offered once more, and the list stands at its heading.
        self.session.choose_law("on-off")
        self.assertEqual([self.sheet.others.findData(path) for path in self.sheet.shown], [-1] * len(self.sheet.shown))
        self.assertEqual(self.sheet.others.currentIndex(), 0)
        self.wait_for(lambda: self.sheet.looker.idle)

    def test_what_next_counts_a_failed_run_as_is_said(self) -> None:
        self.sheet.failed.edit_to(3.0)
        with mock.patch("irontrail.app.stops.tune.dials.what_next", return_value=()) as asked:
            self.press(self.sheet.button)
            self.done()
        self.assertEqual(asked.call_args.kwargs["failed_times"], 3.0)
        self.assertIn("surely makes today's runs better", self.sheet.says.text())
        self.wait_for(lambda: self.sheet.looker.idle)

    def test_what_to_change_next_is_tried(self) -> None:
        self.press(self.sheet.button)
        self.done()
        self.assertGreaterEqual(len(self.sheet.try_buttons), 1)
        before = self.session.view.figures.time_s
        self.press(self.sheet.try_buttons[0])
        self.settle(self.session)
        self.assertLess(self.session.view.figures.time_s, before)
        self.wait_for(lambda: self.sheet.looker.idle)
        advice = self.sheet.advice[0]

        def told(over: Tried) -> str:
            return f"{over.time_s:.2f} s, swing {over.swing_mm:.1f} mm, {over.of_starts} finish"

        changed, after, saves = self.sheet.try_buttons[0].text().split("\n")
        which, was, to = advice.changes[0]
        self.assertTrue(changed.startswith(f"{which.quantity.label} {which.shown(was)} → {which.shown(to)}"))
        self.assertEqual(after, told(advice.after))
        self.assertEqual(
            saves, f"saves {advice.saves.mean:.2f} s a run ({advice.saves.low:.2f} to {advice.saves.high:.2f})"
        )
        self.assertLess(advice.saves.low, advice.saves.high)
        self.assertEqual(self.sheet.says.text(), f"Now: {told(advice.before)}.")
        self.assertEqual(advice.before.starts, 200)


class RockingTest(TuneTest):
    SHEET = "Rocking"

    def test_both_are_told_and_a_rule_is_tried(self) -> None:
        theory = self.sheet.theory
        often = f"{1.0 / theory.period_s:.2f} times a second."
        self.assertEqual(self.sheet.theory_says.text(), f"Theory: gain 0.709, {often}")
        self.press(self.sheet.button)
        self.done()
        self.assertLess(abs(self.sheet.engine.gain / self.sheet.theory.gain - 1.0), 0.02)
        self.assertEqual(self.sheet.scale.marks, {"theory": theory.gain, "engine": self.sheet.engine.gain})
        side = "above" if self.sheet.engine.gain >= theory.gain else "below"
        self.assertRegex(self.sheet.engine_says.text(), rf"; 0\.\d % {side} theory")
        self.wait_for(lambda: self.sheet.ruler.idle and self.sheet.rows[1][1].text() != "")
        self.assertIn("On this mat", self.sheet.rows[1][1].text())
        as_recorded(self, "rocking told", self.sheet)
        start, rule = self.sheet.engine, ultimate_gain.RULES[1]
        kp, ki, kd = rule.gains(start.gain, start.period_s)
        self.assertEqual(self.sheet.rows[1][0].text(), f"proportional {kp:.2f}, integral {ki:.2f}, derivative {kd:.3f}")
        self.painted(self.sheet.scale, "rust", "ink")
        self.press(self.sheet.rows[1][2])
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.law, "PID")
        self.assertIn(f"{derive.figures(self.session.setup).time_s:.2f} s", self.sheet.rows[1][1].text())
        self.edit("program.speed", 60.0)
        self.assertIsNone(self.sheet.engine)
        self.wait_for(lambda: self.sheet.ruler.idle)

    def test_while_what_theory_needs_is_loaded_nothing_is_told_of_other_settings(self) -> None:
        told = self.sheet.theory_says.text()
        # As it is from the start on, while the engine is compiled too.
        self.addCleanup(setattr, Preloading, "under_way", None)
        loading = Preloading(self.window)
        self.session.set_value("program.speed", 60.0)
        self.assertEqual(self.sheet.theory_says.text(), "")
        self.assertFalse(any(take.isEnabled() for _, _, take in self.sheet.rows))
        loading.engine_is_there()
        self.wait_for(lambda: self.sheet.theory_says.text() != "")
        self.assertNotEqual(self.sheet.theory_says.text(), told)
        self.assertTrue(all(take.isEnabled() for _, _, take in self.sheet.rows))
        self.wait_for(lambda: self.sheet.ruler.idle)

    def test_a_robot_that_never_rocks_is_told(self) -> None:
        with mock.patch("irontrail.app.stops.tune.rocking.from_engine", lambda _setup, _tell: None):
            self.press(self.sheet.button)
            self.done()
        self.assertEqual(self.sheet.engine_says.text(), "Engine: it did not rock at any gain up to 20.")

    def test_what_rocks_at_any_gain_or_too_slowly_is_told_so(self) -> None:
        for path, value in (("robot.mount.ahead_mm", 27.4), ("robot.drive.response_time_s", 0.113)):
            self.session.set_value(path, value)
        self.assertEqual(self.sheet.theory_says.text(), "Theory: it rocks at any gain, however small.")
        self.press(self.sheet.button)
        self.done()
        said = "Engine says nothing here: too few swings on 3.6 m of line to tell whether they die."
        self.assertEqual(self.sheet.engine_says.text(), said)
        self.assertFalse(any(take.isEnabled() for _, _, take in self.sheet.rows))
        self.session.set_value("robot.mount.ahead_mm", 80.0)
        self.assertRegex(self.sheet.theory_says.text(), "^Theory: gain [0-9.]+, ")
        self.assertEqual(self.sheet.engine_says.text(), "Engine: not raised yet for these settings.")
        self.wait_for(lambda: self.sheet.ruler.idle)


class EventTest(TuneTest):
    SHORT = True
    SHEET = "Event"

    def setUp(self) -> None:
        # What it comes to over so many starts as a team is told is asked in the core's own tests.
        self.enterContext(mock.patch.multiple(robustness, TRIES=4, TOGETHER=40, MORE_SETS=1))
        super().setUp()

    def test_strains_are_shown_and_a_worst_case_is_watched(self) -> None:
        self.edit("program.speed", 82.0)
        headings = (self.sheet.strains_heading, self.sheet.bought_heading, self.sheet.worst_heading)
        self.assertFalse(any(heading.isVisible() for heading in headings))
        self.press(self.sheet.button)
        self.done()
        self.assertTrue(all(heading.isVisible() for heading in headings))
        self.assertTrue(self.sheet.holds.event.calibrated)
        as_recorded(self, "event worked out", self.sheet)
        self.assertFalse(self.sheet.says.isVisible())
        self.press(self.sheet.choices[CALIBRATED[1]])
        self.assertFalse(self.sheet.event_there.calibrated)
        self.assertTrue(self.sheet.says.isVisible())
        self.press(self.sheet.choices[CALIBRATED[0]])
        self.assertEqual(len(self.sheet.bars.held), 7)
        self.painted(self.sheet.bars, "rust", "ink")
        texts = [self.sheet._places.itemAt(i).widget().text() for i in range(self.sheet._places.count())]
        place = self.sheet.holds.places[2]
        self.assertIn(place.name, texts)
        self.assertIn(f"{100 * place.share[1]:.0f} to {100 * place.share[2]:.0f} %", texts)
        self.assertEqual(self.sheet.bars.level_at(QPointF(self.sheet.bars.width() - 3.0, 50.0)), (1, 6))
        self.assertLessEqual(self.sheet.minimumSizeHint().width(), self.window.panel("Tune").width())
        faster = self.session.setup
        self.assertTrue(self.sheet.bought_buttons[0].text().startswith("Speed "))
        against = next(each.against for each in self.sheet.holds.bought if each.against.finishing == "better")
        self.assertIn(
            f"{against.other.of_starts} come through, {against.one.good} without", self.sheet.bought_buttons[0].text()
        )
        for button, case in zip(self.sheet.worst_buttons, self.sheet.holds.worst, strict=False):
            lost = f"lost after {case.progress_mm / 1000:.1f} m"
            self.assertTrue(button.text().startswith(f"{case.time_s:.1f} s" if case.finished else lost))
        self.press(self.sheet.bought_buttons[0])
        self.assertLess(self.session.setup.program.speed, 82.0)
        self.session.document.undo()
        self.assertEqual(self.session.setup, faster)
        before = self.session.setup
        self.session.playback.seek(5.0)
        self.press(self.sheet.worst_buttons[0])
        self.assertLess(self.session.playback.time_s, 2.0)
        self.settle(self.session)
        self.assertTrue(self.session.playback.playing)
        self.assertNotEqual(self.session.view.run.outcome, "finished")
        self.assertIn("before the last change", self.sheet.says.text())
        self.session.playback.pause()
        # What was found of other settings is not mixed with these.
        worst = self.session.setup
        self.press(self.sheet.bought_buttons[0])
        self.assertIn("You have changed something since; ask again", self.window.notice.words.text())
        self.assertEqual(self.session.setup, worst)
        self.session.document.undo()
        self.assertEqual(self.session.setup, before)


if __name__ == "__main__":
    unittest.main()
