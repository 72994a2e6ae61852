"""The Steer stop: its sheets, what it says before a run, words that light up, letting go, pulling the robot."""

import unittest

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from irontrail.core.advice.step_response import step_response
from irontrail.core.quantity import with_value
from irontrail.core.steering.registry import LAWS
from irontrail.core.steering.words import in_words
from tests.support import StopTest, setup_with

LEFT = Qt.MouseButton.LeftButton


class SheetTest(StopTest):
    def setUp(self) -> None:
        super().setUp()
        self.steer = self.window.panel("Steer")

    def turn_to(self, name: str) -> QWidget:
        """Turn to a sheet with the mouse."""
        self.press(self.steer.names[name])
        return self.steer.sheet(name)

    def change(self, **values: object) -> None:
        """Change the setup as from elsewhere, and wait for its run."""
        self.put(setup_with(self.session.setup, **values))

    # --- sheets

    def test_one_sheet_is_in_sight_and_the_stop_remembers_which(self) -> None:
        for name in ("Loop", "Words", "Let go", "Law"):
            sheet = self.turn_to(name)
            self.assertTrue(sheet.isVisible())
            self.assertEqual([n for n, b in self.steer.names.items() if b.isChecked()], [name])
        self.turn_to("Words")
        self.session.looking.go_to("Run")
        self.session.looking.go_to("Steer")
        self.assertTrue(self.steer.sheet("Words").isVisible())

    def test_every_sheet_fits_the_window_without_a_bar(self) -> None:
        for name in ("Law", "Loop", "Words", "Let go"):
            self.turn_to(name)
            for law in ("PID", "on-off", "proportional"):
                self.session.choose_law(law)
                self.settle(self.session)
                bar = self.window.stack.areas["Steer"].verticalScrollBar()
                self.assertEqual(bar.maximum(), 0, (name, law))

    # --- proofreading

    def test_a_remark_stands_under_the_curve_with_its_ring_on_it(self) -> None:
        law = self.steer.sheet("Law")
        self.assertFalse(law.remarks.isVisible())
        self.change(program__law="on-off", program__on_off__dark_inner=2.0)
        self.assertTrue(law.remarks.isVisible())
        self.assertIn("dead band", law.remarks.said[0].says)
        self.assertEqual(law.curve.picture.rings, (("1", 25.0),))

    def test_trying_a_mend_is_one_step_and_says_what_it_did(self) -> None:
        law = self.steer.sheet("Law")
        self.change(program__proportional__gain=0.1)
        self.assertEqual(self.session.view.figures.outcome, "lost")
        before = self.session.setup
        place = next(i for i, said in enumerate(law.remarks.said) if "is too tight" in said.says)
        self.press(law.remarks.rows[place].mend)
        self.assertEqual(self.session.setup.program.proportional.gain, 0.6)
        self.assertIn("Gain 0.6: it now finishes", self.window.notice.words.text())
        self.session.document.undo()
        self.assertEqual(self.session.setup, before)

    def test_a_mend_that_does_not_hold_is_not_offered(self) -> None:
        law = self.steer.sheet("Law")
        self.change(program__speed=95.0)
        # Both remarks are true, and slowing down as they would have it does not keep it on its line.
        self.assertEqual(len(law.remarks.said), 2)
        self.assertEqual([said.mend for said in law.remarks.said], ["", ""])

    def test_bands_can_be_more_or_fewer(self) -> None:
        law = self.steer.sheet("Law")
        self.session.choose_law("bands")
        self.settle(self.session)
        more, fewer = (
            next(each for each in law.findChildren(QPushButton) if each.text() == f"One band {which}")
            for which in ("more", "fewer")
        )
        for button, count in ((more, 6), (fewer, 5), (fewer, 4)):
            self.press(button)
            self.assertEqual(len(self.session.setup.program.bands.steps), count)
            self.assertEqual(len([h for h in law.curve.picture.handles if "left" in h.name]), count)

    def test_sides_are_set_by_themselves_only_by_laws_that_have_two(self) -> None:
        law = self.turn_to("Law")
        self.assertFalse(law.each_side.isChecked())
        for name, spec in LAWS.items():
            self.session.choose_law(name)
            self.assertEqual(law.each_side.isVisible(), spec.alike is not None, name)
        self.assertEqual(len({spec.alike is None for spec in LAWS.values()}), 2)

    def test_each_side_of_a_slope_by_itself(self) -> None:
        law = self.steer.sheet("Law")
        ratio = law.dials["program.proportional.dark_ratio"]
        self.assertFalse(ratio.isVisible())
        law.each_side.click()
        self.assertTrue(ratio.isVisible())
        dark = next(handle for handle in law.curve.picture.handles if handle.name == "dark gain")
        place = law.curve.place_of(dark.reading, dark.power).toPoint()
        QTest.mousePress(law.curve, LEFT, pos=place)
        QTest.mouseMove(law.curve, place + QPoint(0, -12))
        QTest.mouseRelease(law.curve, LEFT, pos=place + QPoint(0, -12))
        self.settle(self.session)
        law_now = self.session.setup.program.proportional
        self.assertEqual(law_now.gain, 0.7)
        self.assertLess(law_now.dark_ratio, 0.9)
        law.each_side.click()
        self.assertEqual(self.session.setup.program.proportional.dark_ratio, 1.0)

    # --- PID, per second and per loop

    def test_per_loop_gains_follow_the_loop_time_and_can_be_set(self) -> None:
        self.session.choose_law("PID")
        self.settle(self.session)
        law = self.steer.sheet("Law")
        dial = law.findChild(QWidget, "per loop kd")
        self.assertTrue(dial.isVisible())
        self.assertAlmostEqual(dial.value, 3.0)
        self.assertEqual(law.per_loop_heading.text(), "As a hand-written loop of 10 ms has them")
        self.change(program__loop_time_s=0.02)
        self.assertAlmostEqual(dial.value, 1.5)
        self.assertEqual(law.per_loop_heading.text(), "As a hand-written loop of 20 ms has them")
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Up)
        self.settle(self.session)
        self.assertAlmostEqual(self.session.setup.program.pid.kd, (1.5 + 0.1) * 0.02)
        self.assertAlmostEqual(law.findChild(QWidget, "per loop ki").value, 0.2 * 0.02)

    # --- the loop

    def test_the_two_robots_turn_back_to_their_edge(self) -> None:
        loop = self.turn_to("Loop")
        for edge, ways in (("left", ("turns left", "turns right")), ("right", ("turns right", "turns left"))):
            self.press(loop.edges[edge])
            dark, light = loop.turns.scene.both
            self.assertEqual((loop.turns.way(dark), loop.turns.way(light)), ways)
            self.assertFalse(dark.light)
            self.assertTrue(light.light)
            # Off the tape it is on the side of its edge.
            self.assertEqual(light.aside_mm > 0.0, edge == "left")
            self.assertLess(abs(dark.aside_mm), abs(light.aside_mm))
        self.press(loop.lines["light"])
        dark, _ = loop.turns.scene.both
        self.assertEqual(loop.turns.way(dark), "turns left")

    def test_which_way_the_line_is_driven_is_shown_and_chosen(self) -> None:
        loop = self.turn_to("Loop")
        for name, turned in (("turned round", True), ("as laid", False)):
            self.press(loop.ways[name])
            self.assertEqual(self.session.setup.trial.reverse, turned)
            self.assertEqual({each for each, button in loop.ways.items() if button.isChecked()}, {name})
            # Pressed once more it stays chosen.
            QTest.mouseClick(loop.ways[name], LEFT)
            self.assertTrue(loop.ways[name].isChecked())
        self.change(trial__reverse=True)
        self.assertEqual({each for each, button in loop.ways.items() if button.isChecked()}, {"turned round"})
        self.change(trial__reverse=False)
        self.assertEqual({each for each, button in loop.ways.items() if button.isChecked()}, {"as laid"})

    def test_mixing_is_chosen_for_slopes_only(self) -> None:
        loop = self.turn_to("Loop")
        self.press(loop.mixings["inner"])
        self.assertEqual(self.session.setup.program.mixing, "inner wheel only")
        dark, light = loop.turns.scene.both
        self.assertEqual(max(dark.left, dark.right, light.left, light.right), self.session.setup.program.speed)
        self.assertTrue(loop.dials["program.ease_off"].isEnabled())
        self.session.choose_law("on-off")
        self.assertFalse(loop.mixings["both"].isEnabled())
        self.assertFalse(loop.dials["program.ease_off"].isEnabled())

    def test_the_loop_says_how_old_its_light_is(self) -> None:
        loop = self.turn_to("Loop")
        self.change(program__decision_loops=5)
        self.assertIn("65 ms, 16 mm ago", loop.loop.says())
        self.change(robot__drive__battery=0.5)
        self.assertIn("65 ms, 8 mm ago", loop.loop.says())

    def test_a_rule_to_stop_by_ends_the_run(self) -> None:
        loop = self.turn_to("Loop")
        dial = loop.dials["program.stop.time_s"]
        dial.edited.emit(2.0, True)
        self.settle(self.session)
        self.assertEqual(self.session.view.figures.outcome, "stopped")
        self.assertAlmostEqual(self.session.view.figures.time_s, 2.0, delta=0.02)

    # --- words

    def test_the_sentence_that_decides_is_lit_and_its_sign_is_over_the_robot(self) -> None:
        words = self.turn_to("Words")
        self.session.choose_law("on-off")
        self.settle(self.session)
        trace = self.session.view.run.trace
        for side, place in ((1.0, 1), (0.0, 2)):
            row = int(np.flatnonzero(trace.side[100:] == side)[0]) + 100
            self.session.playback.seek(float(trace.time_s[row]))
            self.assertEqual(words.sentences.lit, place)
            self.assertEqual(self.window.stage.mat.robot_hand.now.rule, str(place + 1))
        light, dark = words.sentences.lines[1:3]
        self.assertAlmostEqual(light.share + dark.share, 1.0)
        self.assertAlmostEqual(light.share, trace.side.mean())
        self.assertEqual((light.light, dark.light), (True, False))

    def test_a_run_of_more_rows_is_shown_where_the_playhead_was(self) -> None:
        self.change(program__loop_time_s=0.02)
        self.session.playback.seek(15.0)
        self.change(program__loop_time_s=0.01)
        self.assertEqual(self.window.stage.row_at(15.0), 1500)
        self.assertEqual(self.window.stage.mat.robot_hand.now.rule, "3")

    def test_a_rule_that_never_came_up_is_told(self) -> None:
        words = self.turn_to("Words")
        self.change(program__law="bands", robot__mount__height_mm=20.0, light__sensor__noise=0.0)
        self.assertEqual(words.sentences.lines[-1].share, 0.0)

    def test_the_words_can_be_copied(self) -> None:
        words = self.turn_to("Words")
        QTest.mouseClick(words.copy, LEFT)
        said = [f"{i}. {each.says}" for i, each in enumerate(in_words(self.session.setup.program), 1)]
        self.assertEqual(QApplication.clipboard().text().splitlines(), said)

    def test_pid_shows_what_each_term_steers(self) -> None:
        words = self.turn_to("Words")
        self.assertFalse(words.terms.isVisible())
        self.session.choose_law("PID")
        self.settle(self.session)
        self.assertTrue(words.terms.isVisible())
        trace = self.session.view.run.trace
        self.assertAlmostEqual(words.terms.sizes()[2], float(np.sqrt(np.mean(trace.d_term**2))))

    # --- letting go

    def test_letting_go_shows_both_ways_back_and_theory(self) -> None:
        self.session.keep()
        self.change(program__proportional__gain=0.4)
        sheet = self.turn_to("Let go")
        way = step_response(self.session.setup, 10.0)
        shown = {row[0].text(): (row[1].text(), row[2].text()) for row in sheet.cells[1:]}
        self.assertEqual([cell.text() for cell in sheet.cells[0]], ["", "now", "run 1"])
        self.assertEqual(shown["goes past by"][0], f"{way.overshoot_mm:.1f} mm")
        self.assertEqual(shown["swings past"][0], f"{way.swings} times")
        self.assertEqual(shown["theory, small swings"][0], f"{way.theory.hertz:.2f} Hz")
        self.assertNotEqual(*shown["theory"])
        np.testing.assert_array_equal(sheet.picture.now.edge_mm, way.edge_mm)
        before = step_response(self.session.kept_runs.reference.setup, 10.0)
        np.testing.assert_array_equal(sheet.picture.kept.edge_mm, before.edge_mm)
        sheet.off.edited.emit(-6.0, True)
        self.settle(self.session)
        self.assertAlmostEqual(float(sheet.picture.now.edge_mm[0]), -6.0, delta=0.1)

    def test_what_a_way_back_comes_to_is_said_by_how_it_is_damped(self) -> None:
        sheet = self.turn_to("Let go")
        for gain, damping, says in (
            (1.0, (-1.0, 0.0), "By theory every swing is higher than the one before"),
            (0.68, (0.0, 0.1), "Each swing is hardly lower than the one before"),
            (0.4, (0.1, 0.7), "It comes back in a few swings"),
        ):
            self.change(program__proportional__gain=gain)
            low, high = damping
            self.assertTrue(low < step_response(self.session.setup, 10.0).theory.damping_ratio < high)
            self.assertTrue(sheet.says.text().startswith(says), sheet.says.text())
        for kd, swings, how in ((0.03, 0, "without swinging"), (0.01, 1, "with hardly a swing")):
            self.change(program__law="PID", program__pid__kp=0.15, program__pid__ki=0.0, program__pid__kd=kd)
            way = step_response(self.session.setup, 10.0)
            self.assertGreater(way.theory.damping_ratio, 0.7)
            self.assertEqual(way.swings, swings)
            self.assertEqual(sheet.says.text(), f"It comes back {how}, in {way.settle_s:.2f} s.")
        sheet.off.edited.emit(0.1, True)
        self.settle(self.session)
        self.assertIsNone(step_response(self.session.setup, 0.1).settle_s)
        self.assertRegex(sheet.says.text(), r"^It comes back with(out swinging| hardly a swing)\.$")
        sheet.off.edited.emit(10.0, True)
        self.change(program__law="on-off")
        self.assertIn("no small swings to reckon with", sheet.says.text())

    def test_the_robot_is_pulled_off_its_line_and_the_run_goes_on_from_there(self) -> None:
        mat, playback = self.window.stage.mat, self.session.playback
        playback.seek(5.0)
        before = self.session.view.run.trace
        robot = mat.robot_hand.now
        grip = mat.to_px().map(QPointF(robot.x_mm, robot.y_mm)).toPoint()
        aside = QPoint(0, -round(12.0 * mat.px_per_mm))
        QTest.mousePress(mat, LEFT, pos=grip)
        for share in (1, 2, 3):
            QTest.mouseMove(mat, grip + aside * share)
        self.settle(self.session)
        pull = self.session.setup.trial.pull
        self.assertAlmostEqual(pull.time_s, 5.0, delta=0.011)
        QTest.mouseRelease(mat, LEFT, pos=grip + aside * 3)
        self.settle(self.session)
        self.assertTrue(playback.playing)
        playback.pause()
        after = self.session.view.run.trace
        row = round(pull.time_s / 0.01)
        self.assertTrue(np.array_equal(before.x_mm[:row], after.x_mm[:row]))
        self.assertGreater(after.y_mm[row] - before.y_mm[row], 20.0)
        self.session.document.undo()
        self.assertIsNone(self.session.setup.trial.pull)
        self.session.document.redo()
        sheet = self.turn_to("Let go")
        QTest.mouseClick(sheet.back, LEFT)
        self.assertIsNone(self.session.setup.trial.pull)
        self.assertFalse(sheet.back.isEnabled())

    def test_shift_turns_the_robot_on_the_spot(self) -> None:
        mat = self.window.stage.mat
        self.session.playback.seek(2.0)
        robot = mat.robot_hand.now
        grip = mat.to_px().map(QPointF(robot.x_mm, robot.y_mm)).toPoint()
        shift = Qt.KeyboardModifier.ShiftModifier
        QTest.mousePress(mat, LEFT, shift, grip)
        heard = []
        mat.robot_hand.pulled.connect(lambda *told: heard.append(told))
        mat._pulling = True
        from PySide6.QtGui import QMouseEvent

        at = QPointF(grip) + QPointF(0.0, -40.0)
        move = QMouseEvent(QMouseEvent.Type.MouseMove, at, mat.mapToGlobal(at), LEFT, LEFT, shift)
        QApplication.sendEvent(mat, move)
        x, _, heading, settled = heard[-1]
        self.assertAlmostEqual(x, robot.x_mm)
        self.assertAlmostEqual(heading, np.pi / 2, delta=0.05)
        self.assertFalse(settled)
        QTest.mouseRelease(mat, LEFT, shift, grip)
        self.settle(self.session)

    def test_keys_pull_the_robot_too(self) -> None:
        mat = self.window.stage.mat
        self.session.playback.seek(2.0)
        before = mat.robot_hand.now
        mat.setFocus()
        QTest.keyClick(mat, Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier)
        self.settle(self.session)
        pull = self.session.setup.trial.pull
        self.assertAlmostEqual(pull.y_mm, before.y_mm + 2.0, places=6)
        QTest.keyClick(mat, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        pull = self.session.setup.trial.pull
        self.assertAlmostEqual(pull.x_mm, before.x_mm - 20.0, places=6)
        self.assertAlmostEqual(pull.y_mm, before.y_mm + 2.0, places=6)

    def test_a_robot_that_has_turned_many_times_can_be_pulled(self) -> None:
        self.window.stage._on_pulled(1000.0, 500.0, 2.0 * np.pi * 150.0 + 0.5, False)
        self.settle(self.session)
        self.assertAlmostEqual(self.session.setup.trial.pull.heading_deg, np.degrees(0.5), places=6)

    def test_dragging_the_curve_of_an_inverted_sensor_used_raw_keeps_the_line(self) -> None:
        self.change(light__calibrate=False, light__sensor__reads_high_on="dark", program__target=57.0)
        curve = self.steer.sheet("Law").curve
        speed = next(handle for handle in curve.picture.handles if handle.name == "speed")
        place = curve.place_of(speed.reading, speed.power).toPoint()
        QTest.mousePress(curve, LEFT, pos=place)
        QTest.mouseMove(curve, place + QPoint(0, 10))
        QTest.mouseRelease(curve, LEFT, pos=place + QPoint(0, 10))
        program = self.session.setup.program
        self.assertLess(program.speed, 50.0)
        self.assertEqual(program.line, "dark")

    def test_a_click_on_the_robot_pulls_nothing(self) -> None:
        mat = self.window.stage.mat
        robot = mat.robot_hand.now
        grip = mat.to_px().map(QPointF(robot.x_mm, robot.y_mm)).toPoint()
        QTest.mouseClick(mat, LEFT, pos=grip)
        self.assertIsNone(self.session.setup.trial.pull)
        self.assertEqual(with_value(self.session.setup, "trial.pull", None), self.session.setup)


if __name__ == "__main__":
    unittest.main()
