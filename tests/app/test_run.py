"""The Run stop: findings and their mends, figures by stretch, the logbook, luck."""

import time
import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from irontrail.app.long_work import LongWork
from irontrail.core import turns
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demos import quarry_switchback
from irontrail.core.project import KeptRun, Project, RealRun
from irontrail.files import project_file
from tests.said import as_recorded
from tests.support import StopTest, WindowTest, setup_with, stretches_of

LEFT = Qt.MouseButton.LeftButton
SPEED = "program.speed"


class RunTest(StopTest):
    STOP = "Run"

    def setUp(self) -> None:
        super().setUp()
        self.stage = self.window.stage

    def speed(self, value: float) -> None:
        """Drive at another speed."""
        self.edit(SPEED, value)

    def keep_two(self) -> None:
        """Run 1 at speed 50, run 2 at 40; now at 55."""
        self.session.keep()
        self.speed(40.0)
        self.session.keep()
        self.speed(55.0)


class FindingsTest(RunTest):
    def test_a_ring_shows_the_moment_on_mat_strip_and_bar(self) -> None:
        sheet = self.turn_to("Findings")
        self.speed(68.0)
        advice, view = self.session.adviser.advice, self.session.view
        self.assertIn("It had come 52 % of the way", sheet.outcome.text())
        self.assertIn("Left the line in bend F", sheet.list.said[0].says)
        QTest.mouseClick(sheet.list.rows[0].ring, LEFT)
        row = advice.findings[0].row
        self.assertAlmostEqual(self.session.playback.time_s, view.run.trace.time_s[row], places=6)
        self.assertEqual(self.stage.strip.row, row)
        self.assertAlmostEqual(self.stage.mat.robot_hand.now.x_mm, view.run.trace.x_mm[row], places=6)

    def test_pins_stand_on_the_mat_while_findings_are_looked_at(self) -> None:
        self.turn_to("Findings")
        self.edit("program.proportional.gain", 2.5)
        pins = self.stage.mat.pins
        count = len(self.session.adviser.advice.findings)
        self.assertGreater(count, 2)
        self.assertEqual([number for number, _, _ in pins], [str(i) for i in range(1, count + 1)])
        trail = self.stage.mat.scene.trail
        row = self.session.adviser.advice.findings[0].row
        self.assertEqual(pins[0][1:], (trail.x_mm[row], trail.y_mm[row]))
        self.turn_to("Figures")
        self.assertEqual(self.stage.mat.pins, ())
        self.turn_to("Findings")
        self.assertEqual(self.stage.mat.pins, pins)
        self.session.looking.go_to("Steer")
        self.assertEqual(self.stage.mat.pins, ())

    def test_the_cause_comes_first_with_what_it_was_tried_on_and_its_mend_holds(self) -> None:
        sheet = self.turn_to("Findings")
        self.edit("program.loop_time_s", 0.09)
        first = sheet.list.said[0]
        self.assertIn("Left the line in bend A after 1.0 s. Its loop takes 90 ms", first.says)
        self.assertIn("Without that 10 of 10 shaken starts go well; as it is 0.", first.says)
        self.assertEqual(first.mend, "Loop 10 ms")
        self.press(sheet.list.rows[0].mend)
        self.assertEqual(self.session.setup.program.loop_time_s, 0.01)
        self.assertNotIn("loop", " ".join(said.says for said in sheet.list.said))

    def test_where_it_ended_is_said_before_its_cause_is_known(self) -> None:
        sheet = self.turn_to("Findings")
        said = []
        self.session.adviser.changed.connect(lambda: said.append([each.says for each in sheet.list.said]))
        self.speed(68.0)
        self.assertEqual(len(said), 2)
        self.assertEqual(len(said[0]), 1)
        self.assertRegex(said[0][0], r"^Left the line in bend F after \d\.\d s\.$")
        self.assertTrue(said[1][0].startswith(f"{said[0][0]} It is too fast"))
        said.clear()
        self.speed(45.0)
        self.assertEqual(len(said), 1)

    def test_what_only_describes_offers_nothing_beside_a_cause(self) -> None:
        sheet = self.turn_to("Findings")
        self.edit("program.proportional.gain", 2.5)
        self.assertIn("Its gain 2.5 is too high", sheet.list.said[0].says)
        self.assertGreater(len(sheet.list.said), 2)
        self.assertEqual({said.mend for said in sheet.list.said[1:]}, {""})

    def test_a_mend_is_one_step_and_tells_what_it_did(self) -> None:
        sheet = self.turn_to("Findings")
        self.speed(68.0)
        self.press(sheet.list.rows[0].mend)
        self.assertEqual(self.session.view.figures.outcome, "finished")
        self.assertIn("it now finishes", self.window.notice.words.text())
        self.session.document.undo()
        self.assertEqual(self.session.setup.program.speed, 68.0)

    def test_advice_on_an_older_setup_changes_nothing_and_points_inside_the_run(self) -> None:
        sheet = self.turn_to("Findings")
        self.speed(85.0)
        stale = self.session.adviser.advice
        self.session.set_value(SPEED, 80.0)
        self.session.adviser.advice = stale
        sheet._mend(0)
        self.assertEqual(self.session.setup.program.speed, 80.0)
        self.settle(self.session)
        self.session.looking.show_row(10**6)
        last = float(self.session.view.run.trace.time_s[-1])
        self.assertAlmostEqual(self.session.playback.time_s, last)

    def test_only_what_is_looked_at_is_worked_out(self) -> None:
        self.turn_to("Findings")
        self.assertIsNone(self.session.adviser.advice.remarks)
        self.assertIsNotNone(self.session.adviser.advice.findings)
        self.turn_to("Figures")
        self.assertIsNone(self.session.adviser.advice.findings)

    def test_a_calm_run_has_nothing_more_to_say(self) -> None:
        sheet = self.turn_to("Findings")
        self.session.choose_law("PID")
        self.speed(60.0)
        self.assertEqual(sheet.list.said, ())
        self.assertTrue(sheet.quiet.isVisible())
        self.assertEqual(sheet.outcome.text(), "Finished.")


class AskTest(RunTest):
    def ask(self, begins: str) -> Any:
        sheet = self.turn_to("Ask")
        self.app.processEvents()
        button = next(button for asks, button in sheet.buttons.items() if asks.startswith(begins))
        QTest.mouseClick(button, LEFT)
        # It can be called off.
        self.assertTrue(sheet.button.isVisible())
        self.wait_for(lambda: sheet.answer is not None)
        self.app.processEvents()
        return sheet

    def test_a_question_is_answered_in_a_sentence_and_a_picture(self) -> None:
        sheet = self.ask("How slow")
        self.assertEqual(sheet.question.text(), "How slow may my loop be?")
        as_recorded(self, "question answered", sheet)
        self.assertRegex(sheet.says.text(), r"^Up to \d+ ms once round\. At \d+ ms \d+ of 10 shaken starts go well\.$")
        self.painted(sheet.picture, "rust", "slate", least=100)
        self.assertFalse(sheet.button.isVisible() or sheet.bar.isVisible())
        self.assertIn("10: 100 %", sheet.picture.value_told())
        self.assertEqual(sheet.under.text(), "Of ten shaken starts so many go well; today's in rust.")
        self.assertFalse(sheet.none.isVisible())

    def test_of_other_numbers_nothing_is_worked_out_any_more(self) -> None:
        sheet = self.turn_to("Ask")
        self.app.processEvents()
        QTest.mouseClick(next(iter(sheet.buttons.values())), LEFT)
        self.assertTrue(sheet.work.running)
        self.session.set_value("program.speed", 47.0)
        self.app.processEvents()
        self.assertFalse(sheet.work.running)
        self.settle(self.session)

    def test_an_answer_is_of_the_numbers_it_was_asked_for(self) -> None:
        sheet = self.ask("How crooked")
        self.speed(48.0)
        self.assertEqual((sheet.answer, sheet.says.text()), (None, ""))
        self.assertFalse(sheet.picture.isVisible())

    def test_another_question_takes_the_place_of_one_under_way(self) -> None:
        sheet = self.turn_to("Ask")
        self.app.processEvents()
        buttons = list(sheet.buttons.values())
        QTest.mouseClick(buttons[0], LEFT)
        QTest.mouseClick(buttons[1], LEFT)
        self.wait_for(lambda: sheet.answer is not None)
        self.assertEqual(sheet.question.text(), list(sheet.buttons)[1])

    def test_what_changed_between_any_two_runs(self) -> None:
        self.keep_two()
        self.session.set_value("program.loop_time_s", 0.09)
        self.speed(50.0)
        self.session.keep()
        sheet = self.turn_to("Ask")
        self.assertEqual((sheet.earlier.currentText(), sheet.later.currentText()), ("from run 2", "to run 3"))
        sheet.earlier.setCurrentIndex(0)
        QTest.mouseClick(sheet.between, LEFT)
        self.wait_for(lambda: sheet.answer is not None)
        self.assertEqual(sheet.question.text(), "What changed from run 1 to run 3?")
        self.assertIn("did it: without that", sheet.says.text())
        self.assertIn("10 → 90 ms", sheet.says.text())
        sheet.later.setCurrentIndex(0)
        self.speed(55.0)
        QTest.mouseClick(sheet.between, LEFT)
        self.wait_for(lambda: sheet.answer is not None)
        self.assertEqual(sheet.question.text(), "What changed from run 1 to now?")
        self.assertEqual(
            [(each.label, each.now) for each in sheet.picture.columns][:2], [("run 1", False), ("now", True)]
        )
        sheet.earlier.setCurrentIndex(1)
        QTest.mouseClick(sheet.between, LEFT)
        self.assertEqual(sheet.question.text(), "What changed from run 2 to now?")
        self.wait_for(lambda: sheet.answer is not None)
        self.assertEqual(sheet.picture.columns[0].label, "run 2")

    def test_what_changed_since_the_kept_run(self) -> None:
        sheet = self.turn_to("Ask")
        self.assertFalse(any(asks.startswith("What changed") for asks in sheet.buttons))
        self.session.keep()
        self.settle(self.session)
        self.speed(68.0)
        sheet = self.ask("What changed since run 1")
        self.assertIn("Speed 50 → 68 % did it", sheet.says.text())
        self.assertEqual(
            [(each.label, each.share) for each in sheet.picture.columns][:2], [("run 1", 1.0), ("now", 0.0)]
        )

    def test_the_terms_are_asked_about_where_there_are_any(self) -> None:
        sheet = self.turn_to("Ask")
        self.assertNotIn("Do D and I do anything?", sheet.buttons)
        self.session.choose_law("PID")
        self.settle(self.session)
        self.assertIn("Do D and I do anything?", sheet.buttons)


class FiguresTest(RunTest):
    def test_the_table_compares_with_the_newest_kept_run(self) -> None:
        self.keep_two()
        cells = self.turn_to("Figures").cells
        self.assertEqual([cell.text() for cell in cells[0]], ["", "now", "run 2", ""])
        kept = self.session.project.kept[1].figures
        self.assertEqual((cells[1][0].text(), cells[1][2].text()), ("time", f"{kept.time_s:.2f}"))
        self.assertEqual(cells[1][1].text(), f"{self.session.view.figures.time_s:.2f}")

    def test_each_stretch_has_its_time_beside_the_kept_ones(self) -> None:
        sheet = self.turn_to("Figures")
        self.assertTrue(all(row.kept_s is None for row in sheet.stretches.rows))
        self.keep_two()
        found = {row.name: row for row in sheet.stretches.rows}
        now, before = (stretches_of(s) for s in (self.session.setup, self.session.project.kept[1].setup))
        self.assertEqual(list(found), [each.name for each in now])
        for ours, theirs in zip(now, before, strict=True):
            row = found[ours.name]
            self.assertEqual((row.time_s, row.kept_s, row.bend), (ours.time_s, theirs.time_s, ours.bend))
            self.assertEqual((row.swing_mm, row.whole), (ours.wobble_mm, ours.whole))


class LogbookTest(RunTest):
    def setUp(self) -> None:
        super().setUp()
        self.keep_two()
        self.log = self.turn_to("Logbook")

    def test_each_run_says_what_was_changed_since_the_one_before(self) -> None:
        newest, oldest = self.log.list.entries
        self.assertEqual((newest.number, oldest.number), (2, 1))
        self.assertEqual(newest.changed, "speed 50 → 40 %")
        self.assertIn("Lighthouse Loop, proportional", oldest.changed)
        figures = self.session.project.kept[1].figures
        self.assertEqual(newest.figures, f"{figures.time_s:.2f} s, {figures.wobble_mm:.1f} mm")
        self.assertIn("Since then: speed 40 → 55 %.", self.log.says.text())

    def test_settings_are_taken_back_and_runs_deleted_with_undo(self) -> None:
        self.log.list.choose(1)
        self.press(self.log.take)
        self.assertEqual(self.session.setup.program.speed, 50.0)
        self.assertIn("the settings you have now", self.log.says.text())
        self.log.list.choose(2)
        QTest.mouseClick(self.log.drop, LEFT)
        self.assertEqual([kept.number for kept in self.session.project.kept], [1])
        self.log.list.choose(1)
        QTest.mouseClick(self.log.drop, LEFT)
        self.assertEqual((self.log.says.text(), self.log.drop.isEnabled()), ("", False))
        self.session.document.undo()
        self.session.document.undo()
        self.assertEqual([kept.number for kept in self.session.project.kept], [1, 2])

    def test_all_of_it_by_keyboard(self) -> None:
        self.log.list.setFocus()
        QTest.keyClick(self.log.list, Qt.Key.Key_Down)
        self.assertEqual(self.log.list.current_number(), 1)
        QTest.keyClick(self.log.list, Qt.Key.Key_S)
        self.assertTrue(self.session.project.kept[0].star)
        QTest.keyClick(self.log.list, Qt.Key.Key_Return)
        self.assertEqual(self.session.setup.program.speed, 50.0)
        QTest.keyClick(self.log.list, Qt.Key.Key_Delete)
        self.assertEqual([kept.number for kept in self.session.project.kept], [2])

    def test_the_run_now_is_compared_with_the_one_chosen(self) -> None:
        self.log.list.choose(1)
        self.press(self.log.compare)
        self.assertEqual(self.log.compare.text(), "Compared")
        first = self.session.project.kept[0]
        self.assertEqual(self.session.kept_runs.reference, first)
        self.assertEqual([entry.dash for entry in self.log.list.entries], [1, 0])
        difference = self.session.view.figures.time_s - first.figures.time_s
        self.assertAlmostEqual(self.stage.bar.outcome.difference, difference)
        self.assertEqual(self.turn_to("Figures").cells[0][2].text(), "run 1")
        self.turn_to("Logbook")
        self.press(self.log.compare)
        self.assertEqual(self.session.kept_runs.reference.number, 2)

    def test_a_note_is_kept_with_its_run_and_saved(self) -> None:
        self.log.list.choose(1)
        self.log.note.setFocus()
        QTest.keyClicks(self.log.note, "before lunch")
        QTest.keyClick(self.log.note, Qt.Key.Key_Return)
        self.assertEqual(self.log.star.text(), "Star")
        QTest.mouseClick(self.log.star, LEFT)
        self.assertEqual(self.log.star.text(), "Unstar")
        run = self.session.project.kept[0]
        self.assertEqual((run.note, run.star, self.session.project.kept[1].note), ("before lunch", True, ""))
        self.assertEqual(self.log.list.entries[1].note, "before lunch")
        path = self.folder / "noted.irontrail"
        project_file.write(path, self.session.project)
        self.assertEqual(project_file.read(path), self.session.project)

    def test_a_note_half_typed_goes_to_the_run_it_was_typed_for(self) -> None:
        self.log.list.choose(1)
        self.log.note.setFocus()
        QTest.keyClicks(self.log.note, "wobbly")
        self.log.list.choose(2)
        self.assertEqual([run.note for run in self.session.project.kept], ["wobbly", ""])

    def test_a_hidden_run_leaves_mat_and_strip(self) -> None:
        self.assertEqual(len(self.stage.mat.scene.kept), 2)
        self.log.list.choose(2)
        self.assertEqual(self.log.show_run.text(), "Hide")
        QTest.mouseClick(self.log.show_run, LEFT)
        self.wait_for(lambda: self.session.idle and len(self.stage.mat.scene.kept) == 1)
        self.assertEqual(len(self.stage.strip.picture.kept), 1)
        self.assertEqual(self.log.show_run.text(), "Show")
        self.assertIsNone(self.log.list.entries[0].dash)
        self.assertEqual(self.turn_to("Figures").cells[0][2].text(), "run 1")

    def test_a_run_kept_on_another_mat_is_listed_but_not_drawn_on_this_one(self) -> None:
        self.session.choose_mat(quarry_switchback())
        self.settle(self.session)
        self.assertEqual((self.session.kept_runs.shown, self.stage.mat.scene.kept), ((), ()))
        self.assertEqual([entry.dash for entry in self.log.list.entries], [None, None])
        self.assertFalse(self.log.show_run.isEnabled() or self.log.compare.isEnabled())
        self.assertTrue(self.log.take.isEnabled())

    def test_a_fourth_run_takes_the_place_of_the_oldest_shown(self) -> None:
        for speed in (42.0, 44.0):
            self.speed(speed)
            self.session.keep()
            self.settle(self.session)
        self.assertEqual([kept.number for kept in self.session.kept_runs.shown], [2, 3, 4])
        self.assertEqual([entry.dash for entry in self.log.list.entries], [0, 1, 2, None])

    def test_figures_that_no_longer_hold_are_told(self) -> None:
        run = self.session.project.kept[0]
        other = replace(run, number=3, figures=replace(run.figures, time_s=run.figures.time_s + 1.0))
        self.session.document.apply("a run of another engine", replace(self.session.project, kept=(run, other)))
        self.settle(self.session)
        self.wait_for(lambda: self.log.list.entries[0].today != "")
        self.assertIn(f"{run.figures.time_s:.2f} s", self.log.list.entries[0].today)
        self.assertEqual(self.log.list.entries[1].today, "")
        self.log.list.choose(3)
        self.assertIn("the engine is another one", self.log.says.text())

    def test_all_runs_in_sight_are_looked_at_anew(self) -> None:
        run = self.session.project.kept[0]
        kept = tuple(replace(run, number=number) for number in range(1, 31))
        self.session.document.apply("many", replace(self.session.project, kept=kept))
        self.settle(self.session)
        self.assertGreater(len(self.log.list.visible_numbers()), 8)
        self.wait_for(lambda: set(self.log.list.visible_numbers()) <= self.log.checked)
        bar = self.log.list.verticalScrollBar()
        for place in (bar.maximum(), 0):
            bar.setValue(place)
            self.wait_for(lambda: set(self.log.list.visible_numbers()) <= self.log.checked)
        self.assertGreater(len(self.log.checked), len(self.log.list.visible_numbers()))

    def test_a_thousand_runs_are_listed_and_found_again(self) -> None:
        setup, figures = self.session.setup, self.session.project.kept[0].figures
        kept = tuple(
            KeptRun(i, setup_with(setup, program__speed=20.0 + i / 50.0), figures, note=f"try {i}")
            for i in range(1, 1001)
        )
        path = self.folder / "many.irontrail"
        project_file.write(path, Project(setup, kept))
        self.assertEqual(project_file.read(path).kept[640], kept[640])
        self.session.open(Project(setup, kept), None)
        self.settle(self.session)
        entries = self.log.list.entries
        self.assertEqual((len(entries), entries[0].number), (1000, 1000))
        self.assertEqual(entries[500].changed, "speed 29.98 → 30 %" if entries[500].number == 500 else "")
        self.assertEqual(self.log.list.current_number(), 2)
        self.log.list.choose(1)
        self.assertIn(1, self.log.list.visible_numbers())


class LuckTest(RunTest):
    def test_twenty_tries_leave_faint_trails_and_a_spread(self) -> None:
        sheet = self.turn_to("Luck")
        self.assertFalse(sheet.forget.isVisible())
        QTest.mouseClick(sheet.start, LEFT)
        self.assertEqual(sheet.start.text(), "Stop")
        self.wait_for(lambda: self.session.looking.luck is not None)
        self.app.processEvents()
        luck = self.session.looking.luck
        self.assertEqual(sheet.says.text(), f"{luck.finished} of 20 finished.")
        as_recorded(self, "luck told", sheet)
        self.assertEqual(len(self.stage.mat.scene.tries), 20)
        time = sheet.bars.spreads[0]
        self.assertEqual((time.low, time.middle, time.high), luck.spread("time_s"))
        self.assertEqual(time.now, self.session.view.figures.time_s)
        self.speed(55.0)
        self.assertIn("before the last change", sheet.says.text())
        self.assertIsNone(sheet.bars.spreads[0].now)
        self.assertTrue(sheet.forget.isVisible())
        QTest.mouseClick(sheet.forget, LEFT)
        self.assertEqual(self.stage.mat.scene.tries, ())
        self.assertFalse(sheet.forget.isVisible() or sheet.bars.isVisible())
        self.assertEqual(sheet.says.text(), "")

    def test_it_tells_how_many_of_them_finished(self) -> None:
        self.speed(62.0)
        sheet = self.turn_to("Luck")
        QTest.mouseClick(sheet.start, LEFT)
        self.wait_for(lambda: self.session.looking.luck is not None)
        finished = self.session.looking.luck.finished
        self.assertLess(finished, 20)
        self.assertEqual(sheet.says.text(), f"{finished} of 20 finished.")

    def test_how_much_starts_differ_is_set_here_and_for_the_event(self) -> None:
        sheet = self.turn_to("Luck")
        dial = sheet.shakers["off_mm"]
        QTest.keyClick(dial, Qt.Key.Key_Right)
        QTest.keyClick(dial, Qt.Key.Key_Right)
        self.assertEqual(self.session.setup.trial.shaken.off_mm, 6.0)
        self.assertIn("up to 6\u00a0mm aside", sheet.about.text())
        self.assertEqual([name for name, each in sheet.wheres.items() if each.isChecked()], ["here"])
        QTest.mouseClick(sheet.wheres["at the event"], LEFT)
        self.assertEqual([name for name, each in sheet.wheres.items() if each.isChecked()], ["at the event"])
        self.assertEqual(dial.value, 8.0)
        QTest.keyClick(dial, Qt.Key.Key_Left)
        self.assertEqual((self.session.project.at_event.off_mm, self.session.setup.trial.shaken.off_mm), (7.0, 6.0))
        self.assertEqual(self.session.document.undo_label, "set down aside 7 mm")
        self.session.document.undo()
        self.assertEqual((self.session.project.at_event.off_mm, dial.value), (8.0, 8.0))
        self.assertFalse(sheet.as_real.isVisible())

    def test_real_times_set_it(self) -> None:
        self.session.keep()
        project = self.session.project
        times = tuple(RealRun(20.0 + 0.4 * (-1) ** i) for i in range(8))
        kept = replace(project.kept[0], real=times)
        self.session.document.apply("real times", replace(project, kept=(kept,)))
        sheet = self.turn_to("Luck")
        self.assertTrue(sheet.as_real.isVisible())
        before = self.session.setup.trial.shaken
        QTest.mouseClick(sheet.as_real, LEFT)
        self.wait_for(lambda: self.session.setup.trial.shaken != before)
        self.assertIn("8 real times differ by 0.43 s", self.window.notice.words.text())
        self.assertLess(self.session.setup.trial.shaken.battery, before.battery)

    def test_it_can_be_called_off(self) -> None:
        sheet = self.turn_to("Luck")
        QTest.mouseClick(sheet.start, LEFT)
        QTest.mouseClick(sheet.start, LEFT)
        self.assertEqual((sheet.says.text(), sheet.start.text()), ("Called off.", "Run it 20 times"))
        self.assertFalse(self.window.panel("Run").sheet("Luck").work.running)


class LongWorkTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.heard: list[object] = []
        self.work: LongWork[object] = LongWork(
            self.heard.append,
            lambda given: self.heard.append((given, "")),
            lambda error: self.heard.append((None, str(error))),
        )

    def tearDown(self) -> None:
        self.work.close()
        super().tearDown()

    def test_it_tells_how_far_it_is_gives_way_each_time_and_how_it_ended(self) -> None:
        def window_works(*_slept: float, share: float = 9.0) -> None:
            turns.AT_WORK = share

        def job(proceed: Any) -> list[bool]:
            return [window_works(share=-1.0) or proceed(i) for i in (1, 2)]

        # Each time the window is at work, until it has been waited for; however long this one waits beside others.
        window = mock.patch.multiple(turns, AT_WORK=9.0, AND_TIMES=1e9, PATIENCE_S=20.0)
        with window, mock.patch.object(turns, "time", wraps=time) as clock:
            clock.sleep.side_effect = window_works
            self.work.start(job)
            self.wait_for(lambda: not self.work.running)
        self.assertEqual(clock.sleep.call_count, 2)
        self.assertEqual(self.heard, [1, 2, ([True, True], "")])

    def test_an_error_is_an_end_too(self) -> None:
        def fails(_proceed: object) -> None:
            raise IronTrailError("no way", "here")

        self.work.start(fails)
        self.wait_for(lambda: not self.work.running)
        self.assertIn("no way", self.heard[-1][1])

    def test_of_work_called_off_nothing_more_is_heard(self) -> None:
        answers: list[bool] = []

        def waits(proceed: Any) -> None:
            while proceed(0):
                pass
            answers.append(False)

        self.work.start(waits)
        self.wait_for(lambda: bool(self.heard))
        self.work.call_off()
        self.wait_for(lambda: bool(answers))
        heard = len(self.heard)
        self.work.start(lambda _proceed: "next")
        self.wait_for(lambda: not self.work.running)
        self.assertEqual([each for each in self.heard[heard:] if isinstance(each, tuple)], [("next", "")])
        self.assertEqual(np.count_nonzero(answers), 0)


class FitTest(RunTest):
    def test_every_sheet_fits_the_window_without_a_bar(self) -> None:
        self.keep_two()
        for name in ("Findings", "Figures", "Logbook", "Luck"):
            self.turn_to(name)
            for demo in ("lighthouse", "quarry"):
                self.put(demo_project(demo).setup)
                self.assertEqual(self.window.stack.areas["Run"].verticalScrollBar().maximum(), 0, (name, demo))


if __name__ == "__main__":
    unittest.main()
