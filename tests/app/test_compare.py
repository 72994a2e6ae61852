"""The Compare stop in the window: the race, stretches, chance, the duel."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from irontrail.app.stops.compare import duel as duel_sheet
from irontrail.app.theme import KEPT_DASHES, LIGHT
from irontrail.app.widgets.mat_scene import KEPT_ON_MAT
from irontrail.core.capital import capital
from irontrail.core.figures import FIGURES
from irontrail.core.tune import search_spec
from irontrail.core.tune.batch import MEASURES
from irontrail.core.tune.candidates import Candidate
from irontrail.core.tune.differences import paired
from irontrail.core.tune.duel import STARTS, Duel, Duellist, DuelSpec, in_words
from irontrail.core.tune.race import gap_s
from irontrail.core.tune.search_spec import Found
from irontrail.core.tune.tries import Tried
from tests.said import as_recorded
from tests.seen import seen
from tests.support import StopTest, two_bends

LEFT = Qt.MouseButton.LeftButton


class CompareTest(StopTest):
    STOP = "Compare"
    SHEET = "Race"

    def setUp(self) -> None:
        super().setUp()
        for speed in (44.0, 56.0):
            self.edit("program.speed", speed)
            self.session.keep()
        self.session.choose_law("PID")
        self.edit("program.speed", 62.0)
        self.sheet = self.turn_to(self.SHEET)


class RaceTest(CompareTest):
    def test_they_set_off_together_and_the_gaps_are_told(self) -> None:
        playback = self.session.playback
        self.assertAlmostEqual(playback.duration_s, max(each.run.time_s for each in self.session.view.kept))
        # From the beginning, wherever the playhead is.
        playback.seek(10.0)
        self.press(self.sheet.start)
        self.assertLess(playback.time_s, 5.0)
        self.wait_for(lambda: 0.2 < playback.time_s < 10.0)
        playback.pause()
        playback.seek(8.0)
        self.app.processEvents()
        view = self.session.view
        gaps = [gap_s(view.run, each.run, 8.0) for each in view.kept]
        self.assertEqual(
            self.sheet.gaps.text(), f"Here run 1 is {gaps[0]:.2f} s behind, run 2 is {gaps[1]:.2f} s behind."
        )
        racers = self.sheet.race_hand.racers
        as_recorded(self, "race under way", self.sheet)
        self.assertEqual([racer.number for racer in racers], ["1", "2"])
        trace = view.kept[0].run.trace
        row = int(trace.time_s.searchsorted(8.0))
        self.assertEqual(racers[0].x_mm, trace.x_mm[row])
        # Each in the colour and with the dash of its trail, its nose where it drives to.
        mat = self.window.stage.mat
        picture, to_px = seen(mat), mat.to_px()
        for racer, kept in zip(racers, view.kept, strict=True):
            place = self.sheet.samples[kept.kept.number]._place
            self.assertEqual(place, {1: 1, 2: 0}[kept.kept.number])
            bodies = [line for line in picture.of_colour(KEPT_ON_MAT[place]) if line.fill.lower() == LIGHT.card.lower()]
            (body,) = bodies
            at = to_px.map(QPointF(racer.x_mm, racer.y_mm))
            away = body.points - [at.x(), at.y()]
            nose = away[np.argmax(np.hypot(*away.T))]
            row = min(int(kept.run.trace.time_s.searchsorted(8.0)), len(kept.run.trace) - 1)
            heading = kept.run.trace.heading_rad[row]
            self.assertGreater(float(nose @ [np.cos(heading), -np.sin(heading)]), 0.99 * np.hypot(*nose))
        raced = self.painted(self.window.stage.mat)
        self.sheet.race_hand.set_racers(())
        self.assertNotEqual(self.painted(self.window.stage.mat), raced)
        self.session.looking.go_to("Run")
        self.assertAlmostEqual(playback.duration_s, float(view.run.trace.time_s[-1]))

    def test_the_table_marks_the_best_and_tells_what_differs(self) -> None:
        cells = self.sheet.cells
        self.assertTrue(cells["time_s", 1].text().startswith("★"))
        for (name, _), cell in cells.items():
            if name in FIGURES:
                self.assertEqual(cell.property("role"), "heading" if "★" in cell.text() else "words", name)
        self.assertEqual([cells["program.speed", column].text() for column in (1, 2, 3)], ["62", "44", "56"])
        self.assertEqual(cells["program.pid.kp", 2].text() if ("program.pid.kp", 2) in cells else "–", "–")
        self.assertIn("From 1 to now: law proportional → PID, speed 44 → 62 %.", self.sheet.changed.text())

    def test_who_races_is_chosen(self) -> None:
        self.press(self.sheet.runners[1])
        self.assertEqual([each.kept.number for each in self.session.view.kept], [2])
        self.press(self.sheet.runners[1])
        self.assertEqual([each.kept.number for each in self.session.view.kept], [1, 2])

    def test_six_can_race_each_with_a_dash_of_its_own_and_the_panel_is_no_wider(self) -> None:
        for speed in (40.0, 41.0, 42.0, 43.0, 45.0):
            self.edit("program.speed", speed)
            self.session.keep()
        self.settle(self.session)
        self.assertEqual([each.kept.number for each in self.session.view.kept], [5, 6, 7])
        for number in (1, 2, 3):
            self.press(self.sheet.runners[number])
        self.assertEqual([each.kept.number for each in self.session.view.kept], [1, 2, 3, 5, 6, 7])
        places = [self.sheet.samples[number]._place for number in (1, 2, 3, 5, 6, 7)]
        self.assertEqual(places, [5, 4, 3, 2, 1, 0])
        self.assertIsNone(self.sheet.samples[4]._place)
        self.assertEqual(len({KEPT_DASHES[place] for place in places}), 6)
        # A seventh takes the place of the one longest there.
        self.press(self.sheet.runners[4])
        self.assertEqual([each.kept.number for each in self.session.view.kept], [2, 3, 4, 5, 6, 7])
        panel = self.window.panel("Compare")
        self.assertLessEqual(self.sheet.minimumSizeHint().width(), panel.width())
        rows = self.sheet._table.rowCount()
        self.assertGreater(self.sheet.beside.height(), 12 * rows)

    def test_runs_on_another_mat_are_said_to_be(self) -> None:
        self.edit("mat.width_mm", 2100.0)
        self.assertEqual(self.sheet.elsewhere.text(), "On another mat, and so not in this race: 1, 2.")
        self.assertEqual((self.sheet.runners, self.sheet.elsewhere.isVisible()), ({}, True))
        self.assertFalse(self.sheet.start.isEnabled())
        # The last of many.
        old = self.session.project.kept[0]
        many = tuple(replace(old, number=number) for number in range(1, 12))
        self.session.document.apply("many", replace(self.session.project, kept=many))
        self.settle(self.session)
        self.assertTrue(self.sheet.elsewhere.text().endswith(": 4, 5, 6, 7, 8, 9, 10, 11."))


class StretchTest(CompareTest):
    SHEET = "Stretches"

    def test_where_time_is_won(self) -> None:
        rows = self.sheet.bars.rows
        view = self.session.view
        self.assertEqual(len(rows), len(view.stretches))
        self.assertLess(abs(sum(row.time_s for row in rows) - (view.kept[-1].run.time_s - view.run.time_s)), 0.1)
        won = sum(row.time_s for row in rows if row.time_s > 0.0)
        lost = sum(-row.time_s for row in rows if row.time_s < 0.0)
        most = max(rows, key=lambda row: abs(row.time_s))
        self.assertEqual(
            self.sheet.says.text(),
            f"Against run 2: {won:.2f} s won, {lost:.2f} s lost. Most at {most.name}: {abs(most.time_s):.2f} s "
            f"{'won' if most.time_s > 0.0 else 'lost'}.",
        )
        # The robot is faster now than in either, so that more is won than lost.
        self.assertGreater(won, lost)
        self.assertTrue(self.sheet.race_hand.stretches)
        self.press(self.sheet.against[1])
        self.assertIn("Against run 1", self.sheet.says.text())
        self.assertGreater(sum(row.time_s for row in self.sheet.bars.rows), sum(row.time_s for row in rows))
        for number in (1, 2):
            self.session.kept_runs.show(number, False)
        self.settle(self.session)
        self.assertIn("Keep a run on this mat", self.sheet.says.text())
        self.assertEqual((self.sheet.bars.rows, self.sheet.race_hand.stretches), ((), ()))
        self.session.kept_runs.show(1, True)
        self.settle(self.session)
        # Won stretches are told on the mat and in the bars alike.
        self.painted(self.window.stage.mat, "good", least=60)
        self.painted(self.sheet.bars, "good", least=60)


class ChanceTest(CompareTest):
    SHEET = "Chance"

    def test_better_is_told_from_lucky(self) -> None:
        QTest.mouseClick(self.sheet.button, LEFT)
        self.wait_for(lambda: not self.sheet.work.running)
        first, second = self.sheet.found
        self.assertEqual((first.verdict, second.verdict), ("better", "better"))
        as_recorded(self, "chance told", self.sheet)
        self.assertIn(f"Now is better than run 1: faster by {-first.time.mean:.2f} s", self.sheet.says.text())
        self.assertEqual([(row.name, row.told) for row in self.sheet.picture.rows], [("run 1", True), ("run 2", True)])
        self.assertLess(self.sheet.picture.x_of(first.time.mean), self.sheet.picture.x_of(second.time.mean))
        self.painted(self.sheet.picture, "ink", least=100)
        self.assertFalse(self.sheet.more.isVisible())
        # A mean left of nothing is of a run that is faster now.
        picture = seen(self.sheet.picture)
        self.assertLess(picture.word("← now is faster").x, picture.word("now is slower →").x)
        self.assertLess(self.sheet.picture.x_of(first.time.mean), self.sheet.picture.x_of(0.0))
        told = [
            [name, each.of_starts, f"{each.time_s:.2f} s", f"{each.swing_mm:.1f} mm"]
            for name, each in zip(("now", "run 1", "run 2"), self.sheet.tried, strict=True)
        ]
        table = self.sheet._table
        shown = [[table.itemAtPosition(row, i).widget().text() for i in range(4)] for row in range(4)]
        self.assertEqual(shown, [["", "come through", "time", "swing"], *told])

    def test_what_does_not_matter_and_what_is_not_known(self) -> None:
        self.edit("program.speed", 62.5)
        self.session.keep()
        self.edit("program.speed", 62.0)
        self.sheet.matters.set_value(0.7)
        self.sheet.matters.edited.emit(0.7, True)
        self.press(self.sheet.button)
        self.wait_for(lambda: not self.sheet.work.running)
        self.assertIn("Now and run 3: no difference worth naming", self.sheet.says.text())
        self.sheet.matters.edited.emit(0.01, True)
        self.assertIn("Now is worse than run 3", self.sheet.says.text())
        time = self.sheet.found[2].time
        self.sheet.matters.edited.emit(0.5 * (time.mean + time.high), True)
        self.assertIn("Now or run 3: not known yet", self.sheet.says.text())
        self.assertTrue(self.sheet.more.isVisible())
        QTest.mouseClick(self.sheet.more, LEFT)
        self.wait_for(lambda: not self.sheet.work.running)
        self.assertEqual(self.sheet.tried[0].starts, 80)
        # Who looks again must be surer: the interval is wider than that of one look alone.
        row, alone = self.sheet.picture.rows[2], paired(self.sheet.tried[3], self.sheet.tried[0])
        self.assertGreater(row.high - row.low, 1.3 * (alone.high - alone.low))

    def test_another_battery_set_by_hand_is_told(self) -> None:
        self.edit("robot.drive.battery", 0.8)
        self.press(self.sheet.button)
        self.wait_for(lambda: not self.sheet.work.running)
        self.assertIn("Not set alike: battery; what differs may be that.", self.sheet.says.text())
        self.edit("mat.width_mm", 2100.0)
        self.press(self.sheet.button)
        self.wait_for(lambda: not self.sheet.work.running)
        self.assertIn("On another mat, and so not compared: 1, 2.", self.sheet.says.text())


class DuelTest(CompareTest):
    SHEET = "Duel"

    def test_laws_duel_are_taken_and_kept(self) -> None:
        self.addCleanup(setattr, duel_sheet, "DuelSpec", DuelSpec)
        duel_sheet.DuelSpec = lambda setup, **rest: DuelSpec(setup, generations=4, repeats=3, rounds=1, **rest)
        self.enterContext(mock.patch.multiple(search_spec, LOOKS=20, FOREMOST=4, CONFIRMING=100, MOST_CONFIRMED=2))
        self.session.choose_mat(two_bends().mat)
        self.settle(self.session)
        self.assertFalse(self.sheet.keep.isEnabled())
        with mock.patch.object(self.sheet.bar, "set_progress", side_effect=self.sheet.bar.set_progress) as progress:
            QTest.mouseClick(self.sheet.button, LEFT)
            self.wait_for(lambda: not self.sheet.work.running)
        self.assertTrue(self.sheet.keep.isEnabled())
        made = self.sheet.duel
        runs = sum(each.found.runs for each in made.duellists) + 4 * STARTS
        said = [call.args[1] for call in progress.call_args_list]
        self.assertEqual(said[0], f"0 of about {made.spec.runs:,} runs")
        self.assertIn(f" of about {runs:,} runs", said[-1])
        self.assertEqual(set(self.sheet.take_buttons), {"on-off", "bands", "proportional", "PID"})
        self.assertEqual(list(self.sheet.take_buttons), [made.duellists[i].name for i in made.ranked])
        self.assertLessEqual(self.sheet.minimumSizeHint().width(), self.window.panel("Compare").width())
        self.assertTrue(self.sheet.says.text().startswith(capital(in_words(made))))
        for law, name in (("PID", "PID"), ("bands", "Bands")):
            self.press(self.sheet.take_buttons[law])
            self.assertRegex(self.sheet.says.text(), rf"^{name}: [a-z].* \d.*, .* \d")
        self.assertEqual(self.session.setup.program.law, "bands")
        self.assertEqual(self.session.setup.program, self.sheet.duel.duellists[1].setup.program)
        self.press(self.sheet.keep)
        self.assertEqual([kept.note for kept in self.session.project.kept[-2:]], ["duel: proportional", "duel: PID"])
        self.assertEqual(self.window.notice.words.text(), "Runs 3 to 6 are kept; see the race.")
        self.session.document.undo()
        self.assertEqual(len(self.session.project.kept), 2)
        self.painted(self.sheet, "rust", "ink", least=60)

    def test_the_table_tells_each_and_how_far_the_next_is_behind(self) -> None:
        spec = DuelSpec(self.session.setup)
        duellists, tried = [], []
        for name, time, finished in (("on-off", 15.0, 1.0), ("bands", 12.0, 0.5), ("PID", 13.0, 1.0)):
            of_one = spec.search_of(name)
            figures = tuple((each, {"time_s": time, "wobble_mm": 4.0}.get(each, 0.0)) for each in MEASURES)
            best = Candidate(tuple(each.of(of_one.setup) for each in of_one.axes), finished, 0.0, figures)
            found = Found(of_one, best, (), (), 1, "", True, True)
            duellists.append(Duellist(name, of_one.setup, found))
            tried.append(Tried(of_one.setup, time + np.linspace(-0.01, 0.01, 20), np.full(20, 4.0)))
        self.sheet.show_partial((Duel(spec, tuple(duellists)), "proportional"))
        self.assertEqual(self.sheet.says.text(), "Tuning proportional …")
        made = Duel(spec, tuple(duellists), tuple(tried))
        self.sheet.show_result(made)
        cells = [[self.sheet._table.itemAtPosition(row, i).widget() for i in range(5)] for row in (1, 2, 3)]
        gap = made.against(2, 0).time
        self.assertAlmostEqual(gap.mean, 2.0)
        self.assertEqual(
            [[each.text() for each in row] for row in cells],
            [
                ["PID", "100 %", "13.00", "4.0", f"{gap.mean:.2f} ± {gap.high - gap.mean:.2f} s"],
                ["on-off", "100 %", "15.00", "4.0", ""],
                ["bands", "100 %", "12.00", "4.0", "breaks a limit"],
            ],
        )
        roles = [{each.property("role") for each in row[1:]} for row in cells]
        self.assertEqual(roles, [{"heading"}, {"words"}, {"words"}])
        as_recorded(self, "duel told", self.sheet)


if __name__ == "__main__":
    unittest.main()
