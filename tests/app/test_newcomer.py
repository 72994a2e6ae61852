"""What a newcomer does in the window, by mouse and by keyboard, and what is shown then."""

import threading
import unittest
from pathlib import Path
from unittest import mock

from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QFileDialog, QLabel, QMenu, QMessageBox

from irontrail.app.looking import STOPS
from irontrail.app.top_bar import TopBar
from irontrail.app.widgets.mat_ground import Underlay
from irontrail.core.result import Trace
from irontrail.core.steering.handles import handles
from irontrail.files import project_file, trace_csv
from tests.support import StopTest

GAIN, SPEED, TARGET = "program.proportional.gain", "program.speed", "program.target"


class NewcomerTest(StopTest):
    def setUp(self) -> None:
        super().setUp()
        self.steer = self.window.panel("Steer").sheet("Law")

    def key(self, key: Qt.Key, modifiers: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """Press a key where a newcomer's keys go at first: the mat has the focus."""
        QTest.keyClick(self.stage.mat, key, modifiers)
        self.app.processEvents()

    def drag_dial(self, path: str, *values: float) -> None:
        """Drag a dial over some values; what is shown follows while the pointer is down."""
        dial = self.steer.dials[path]
        y = dial.height() - 11

        def at(value: float) -> QPoint:
            return QPoint(round(dial.face.position(value)), y)

        QTest.mousePress(dial, Qt.MouseButton.LeftButton, pos=at(dial.value))
        for value in values:
            QTest.mouseMove(dial, at(value))
            self.settle(self.session)
        self.dragging = self.session.view
        QTest.mouseRelease(dial, Qt.MouseButton.LeftButton, pos=at(values[-1]))

    def drag_curve(self, start: QPointF, *ends: QPointF) -> None:
        curve = self.steer.curve
        QTest.mousePress(curve, Qt.MouseButton.LeftButton, pos=start.toPoint())
        for end in ends:
            QTest.mouseMove(curve, end.toPoint())
            self.settle(self.session)
        QTest.mouseRelease(curve, Qt.MouseButton.LeftButton, pos=ends[-1].toPoint())

    def use_on_off(self) -> None:
        QTest.mouseClick(self.steer.laws["on-off"], Qt.MouseButton.LeftButton)
        self.settle(self.session)


class FirstLapTest(NewcomerTest):
    def test_pip_is_following_when_the_window_opens(self) -> None:
        from irontrail.app.session import Session
        from irontrail.app.window import Window
        from irontrail.core.demos import demo_project

        session = Session(demo_project("lighthouse"))
        window = Window(session, self.settings())
        self._windows.append(window)
        window.show()
        self.wait_for(lambda: session.playback.time_s > 0.2)
        self.assertTrue(session.playback.playing)
        self.assertEqual(session.view.figures.outcome, "finished")
        robot = window.stage.mat.robot_hand.now
        self.assertGreater(robot.x_mm, session.view.run.trace.x_mm[0])
        window = None

    def test_changing_the_law_shows_the_difference_at_once(self) -> None:
        swing, time = self.session.view.figures.wobble_mm, self.session.view.figures.time_s
        trail = self.stage.mat.scene.trail
        self.use_on_off()
        figures = self.session.view.figures
        self.assertGreater(figures.wobble_mm, 2 * swing)
        self.assertGreater(figures.time_s, 1.4 * time)
        self.assertIsNot(self.stage.mat.scene.trail, trail)
        self.assertEqual(self.stage.bar.outcome.text(), f"{figures.time_s:.2f}")
        self.assertEqual(self.stage.bar.swing.text(), f"{figures.wobble_mm:.1f}")
        for law in ("bands", "mixed", "proportional"):
            self.key(Qt.Key.Key_L)
            self.settle(self.session)
            self.assertEqual(self.session.view.setup.program.law, law)
        self.assertAlmostEqual(self.session.view.figures.wobble_mm, swing)
        self.assertTrue(self.steer.laws["proportional"].isChecked())

    def test_the_dials_shown_are_those_of_the_law(self) -> None:
        shown = {path for path, dial in self.steer.dials.items() if dial.isVisible()}
        self.assertEqual(shown, {SPEED, GAIN, TARGET})
        self.use_on_off()
        shown = {path for path, dial in self.steer.dials.items() if dial.isVisible()}
        self.assertEqual(shown, {"program.on_off.dark_outer", "program.on_off.dark_inner", TARGET})
        self.steer.findChild(QCheckBox).setChecked(True)
        shown = {path for path, dial in self.steer.dials.items() if dial.isVisible()}
        self.assertEqual(len(shown), 5)

    def test_dragging_the_gain_follows_while_the_pointer_is_down_and_is_one_step(self) -> None:
        self.drag_dial(GAIN, 0.9, 1.3, 1.6)
        self.assertGreater(self.dragging.figures.wobble_mm, 15.0)
        self.assertAlmostEqual(self.session.setup.program.proportional.gain, 1.6, delta=0.02)
        self.assertIn("swing", self.stage.bar.swing.accessibleName())
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.settle(self.session)
        self.assertEqual(self.session.setup.program.proportional.gain, 0.7)
        self.assertFalse(self.window.actions_of.named["undo"].isEnabled())
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        self.assertAlmostEqual(self.session.setup.program.proportional.gain, 1.6, delta=0.02)

    def test_two_drags_of_one_dial_or_handle_are_two_steps(self) -> None:
        self.drag_dial(GAIN, 0.8, 1.0)
        self.drag_dial(GAIN, 1.2, 1.5)
        curve = self.steer.curve
        self.drag_curve(curve.place_of(50.0, 50.0), curve.place_of(50.0, 56.0), curve.place_of(50.0, 60.0))
        self.drag_curve(curve.place_of(50.0, 60.0), curve.place_of(50.0, 65.0), curve.place_of(50.0, 70.0))
        seen = []
        for _ in range(4):
            self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
            program = self.session.setup.program
            seen.append((round(program.proportional.gain, 1), round(program.speed, -1)))
        self.assertEqual(seen, [(1.5, 60), (1.5, 50), (1.0, 50), (0.7, 50)])

    def test_too_much_speed_is_told_on_the_mat_the_bar_and_the_line(self) -> None:
        self.drag_dial(SPEED, 60.0, 72.0)
        self.assertEqual(self.session.view.figures.outcome, "lost")
        self.assertEqual(self.stage.mat.scene.trouble, "line lost")
        self.assertEqual(self.stage.bar.outcome.label, "line lost after")
        self.assertEqual(self.window.line.stops["Run"].words, "line lost")

    def test_dragging_the_target_and_the_two_wheel_powers(self) -> None:
        self.drag_dial(TARGET, 60.0, 70.0)
        self.assertEqual(self.session.setup.program.target, 70.0)
        self.assertEqual(self.window.line.stops["Light"].words, "set target")
        self.use_on_off()
        self.drag_dial("program.on_off.dark_outer", 60.0, 40.0)
        self.drag_dial("program.on_off.dark_inner", 10.0)
        on_off = self.session.setup.program.on_off
        self.assertEqual((on_off.dark_outer, on_off.light_outer), (40.0, 40.0))
        self.assertEqual((on_off.dark_inner, on_off.light_inner), (10.0, 10.0))

    def test_each_side_by_itself_and_alike_again(self) -> None:
        self.use_on_off()
        self.steer.each_side.click()
        self.drag_dial("program.on_off.light_outer", 70.0)
        on_off = self.session.setup.program.on_off
        self.assertEqual((on_off.dark_outer, on_off.light_outer), (55.0, 70.0))
        self.steer.each_side.click()
        self.assertEqual(self.session.setup.program.on_off.light_outer, 55.0)
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.steer.each_side.isChecked())

    def test_a_kept_run_stays_as_trail_lane_and_difference(self) -> None:
        self.use_on_off()
        kept = self.session.view.figures
        QTest.mouseClick(self.stage.bar.keep, Qt.MouseButton.LeftButton)
        self.settle(self.session)
        self.session.choose_law("proportional")
        self.settle(self.session)
        now = self.session.view.figures
        self.assertEqual(len(self.stage.mat.scene.kept), 1)
        self.assertEqual(len(self.stage.strip.picture.kept), 1)
        self.assertEqual(self.stage.bar.outcome.difference_text(), f"{now.time_s - kept.time_s:+.2f}".replace("-", "−"))
        self.assertTrue(self.stage.bar.swing.difference_text().startswith("−"))
        self.assertEqual(self.steer.dials[SPEED].kept, 50.0)
        # Of several it is the newest that is compared with.
        self.session.keep()
        self.drag_dial(SPEED, 40.0)
        slower = self.session.view.figures
        for figure, of in ((self.stage.bar.outcome, "time_s"), (self.stage.bar.swing, "wobble_mm")):
            self.assertEqual(figure.difference, getattr(slower, of) - getattr(now, of))

    def test_edge_and_direction_by_key_and_by_button(self) -> None:
        self.key(Qt.Key.Key_E)
        self.key(Qt.Key.Key_R)
        self.settle(self.session)
        setup = self.session.setup
        self.assertEqual((setup.program.edge, setup.trial.reverse), ("right", True))
        self.assertEqual(self.session.view.figures.outcome, "finished")
        self.window.panel("Steer").turn_to("Loop")
        loop = self.window.panel("Steer").sheet("Loop")
        QTest.mouseClick(loop.edges["left"], Qt.MouseButton.LeftButton)
        QTest.mouseClick(loop.ways["as laid"], Qt.MouseButton.LeftButton)
        setup = self.session.setup
        self.assertEqual((setup.program.edge, setup.trial.reverse), ("left", False))
        QTest.mouseClick(loop.edges["left"], Qt.MouseButton.LeftButton)
        self.assertTrue(loop.edges["left"].isChecked() and not loop.edges["right"].isChecked())

    def test_choosing_the_second_mat(self) -> None:
        QTest.mouseClick(self.window.line.stops["Mat"], Qt.MouseButton.LeftButton)
        panel = self.window.panel("Mat")
        self.assertTrue(panel.isVisible())
        QTest.mouseClick(panel.sheet("Shelf").thumbnails["quarry"], Qt.MouseButton.LeftButton)
        self.settle(self.session)
        self.assertEqual(self.stage.mat.scene.mat.name, "Quarry Switchback")
        self.assertIn("6 corners", panel.sheet("Shelf").asks.text())
        self.assertEqual(self.session.view.figures.outcome, "lost")
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.settle(self.session)
        self.assertIn("0 corners", panel.sheet("Shelf").asks.text())
        self.assertTrue(panel.sheet("Shelf").thumbnails["lighthouse"].isChecked())

    def test_play_pause_scrub_step_and_playing_speed(self) -> None:
        playback, bar = self.session.playback, self.stage.bar
        self.key(Qt.Key.Key_Space)
        self.assertTrue(playback.playing)
        self.wait_for(lambda: playback.time_s > 0.05)
        QTest.mouseClick(bar.play, Qt.MouseButton.LeftButton)
        self.assertFalse(playback.playing)
        QTest.mouseClick(bar.scrubber, Qt.MouseButton.LeftButton, pos=QPoint(bar.scrubber.width() // 2, 15))
        self.assertAlmostEqual(playback.time_s / playback.duration_s, 0.5, delta=0.02)
        before = playback.time_s
        self.key(Qt.Key.Key_Period)
        self.assertAlmostEqual(playback.time_s, before + 0.01)
        self.key(Qt.Key.Key_Comma)
        QTest.mouseClick(bar.back, Qt.MouseButton.LeftButton)
        self.assertAlmostEqual(playback.time_s, before - 0.01)
        self.key(Qt.Key.Key_BracketRight)
        self.assertEqual((playback.rate, bar.rate.text()), (2.0, "2×"))
        shown: list[QMenu] = []
        with mock.patch.object(QMenu, "popup", lambda menu, _place: shown.append(menu)):
            QTest.mouseClick(bar.rate, Qt.MouseButton.LeftButton)
        rates = shown[0].actions()
        self.assertEqual([action.text() for action in rates if action.isChecked()], ["2×"])
        rates[0].trigger()
        self.assertEqual(bar.rate.text(), rates[0].text())
        shown.clear()

    def test_typing_into_a_dial_does_not_press_shortcuts(self) -> None:
        dial = self.steer.dials[SPEED]
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Return)
        editor = self.window.focusWidget()
        QTest.keyClicks(editor, "4.")
        QTest.keyClick(editor, Qt.Key.Key_Backspace)
        QTest.keyClick(editor, Qt.Key.Key_5)
        QTest.keyClick(editor, Qt.Key.Key_Return)
        self.assertEqual(self.session.setup.program.speed, 45.0)
        self.assertEqual(self.session.playback.time_s, 0.0)


class CurveTest(NewcomerTest):
    def test_the_crossing_is_the_handle_of_speed_and_target(self) -> None:
        curve = self.steer.curve
        self.drag_curve(curve.place_of(50.0, 50.0), curve.place_of(46.0, 52.0), curve.place_of(42.0, 44.0))
        program = self.session.setup.program
        self.assertAlmostEqual(program.target, 42.0, delta=1.0)
        self.assertAlmostEqual(program.speed, 44.0, delta=1.0)
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        program = self.session.setup.program
        self.assertEqual((program.target, program.speed), (50.0, 50.0))

    def test_the_slope_is_the_handle_of_the_gain_on_either_edge(self) -> None:
        for edge, way in (("left", 1.0), ("right", -1.0)):
            if edge != self.session.setup.program.edge:
                self.session.swap_edge()
                self.settle(self.session)
            curve = self.steer.curve
            handle = next(h for h in curve.picture.handles if h.name == "gain")
            end = curve.place_of(handle.reading, 50.0 + way * 1.1 * (handle.reading - 50.0))
            self.drag_curve(curve.place_of(handle.reading, handle.power), end)
            self.assertAlmostEqual(self.session.setup.program.proportional.gain, 1.1, delta=0.05)

    def test_handles_lie_on_the_curve_at_any_setting(self) -> None:
        for speed, gain, target in ((50.0, 0.7, 50.0), (95.0, 2.5, 90.0), (5.0, 0.05, 10.0), (100.0, 0.0, 50.0)):
            self.session.set_values({SPEED: speed, GAIN: gain, TARGET: target})
            self.settle(self.session)
            picture = self.steer.curve.picture
            for handle in picture.handles:
                i = min(range(picture.reading.size), key=lambda i: abs(picture.reading[i] - handle.reading))
                self.assertAlmostEqual(float(picture.left[i]), handle.power, delta=1.5)
                place = self.steer.curve.place_of(handle.reading, handle.power)
                self.assertTrue(self.steer.curve.rect().contains(place.toPoint()))

    def test_on_off_steps_and_threshold_are_handles(self) -> None:
        self.use_on_off()
        curve = self.steer.curve
        self.drag_curve(curve.place_of(75.0, 55.0), curve.place_of(75.0, 70.0))
        on_off = self.session.setup.program.on_off
        self.assertAlmostEqual(on_off.light_outer, 70.0, delta=1.0)
        self.assertEqual(on_off.dark_outer, on_off.light_outer)
        self.drag_curve(curve.place_of(50.0, 90.0), curve.place_of(40.0, 90.0))
        self.assertAlmostEqual(self.session.setup.program.target, 40.0, delta=1.0)

    def test_handles_by_keyboard(self) -> None:
        curve = self.steer.curve
        curve.setFocus()
        QTest.keyClick(curve, Qt.Key.Key_Up)
        QTest.keyClick(curve, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.settle(self.session)
        program = self.session.setup.program
        self.assertEqual((program.speed, program.target), (51.0, 40.0))
        QTest.keyClick(curve, Qt.Key.Key_PageDown)
        QTest.keyClick(curve, Qt.Key.Key_Up)
        self.assertGreater(self.session.setup.program.proportional.gain, 0.7)

    def test_a_handle_of_another_law_that_is_still_in_sight_moves_nothing(self) -> None:
        curve = self.steer.curve
        for other in ("bands", "on-off", "proportional"):
            shown = {handle.name for handle in curve.picture.handles}
            self.session.choose_law(other)
            program = self.session.setup.program
            gone = shown - {handle.name for handle in handles(program)}
            self.assertTrue(gone)
            for name in gone:
                # The run of the other law is not in yet.
                curve.nudged.emit(name, 1.0, 1.0)
                curve.dragged.emit(name, 40.0, 30.0, True)
            self.assertEqual(self.session.setup.program, program)
            self.settle(self.session)

    def test_the_robots_present_point_moves_with_the_playhead(self) -> None:
        self.session.playback.seek(10.0)
        trace = self.session.view.run.trace
        row = self.stage.row_at(10.0)
        self.assertEqual(self.steer.curve.now[0], trace.reading[row])
        self.assertEqual(self.steer.curve.now[1:], (trace.left_power[row], trace.right_power[row]))


class FilesTest(NewcomerTest):
    def test_undo_says_what_it_takes_back_and_a_demo_that_it_is_one(self) -> None:
        undo, redo = (self.window.actions_of.named[name] for name in ("undo", "redo"))
        self.assertEqual(self.window.findChild(TopBar).state.text(), "demo")
        self.assertEqual((undo.text(), undo.isEnabled()), ("&Undo", False))
        self.session.set_value(SPEED, 54.0)
        self.assertEqual((undo.text(), undo.isEnabled(), redo.isEnabled()), ("&Undo: speed 54 %", True, False))
        self.key(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        self.assertEqual((redo.text(), undo.isEnabled()), ("&Redo: speed 54 %", False))

    def test_menus_mark_what_is_chosen(self) -> None:
        named = self.window.actions_of.named
        self.session.looking.go_to("Robot")
        named["shade speed"].trigger()
        named["theme dark"].trigger()
        for kind, now in (("stop", "Robot"), ("shade", "speed"), ("theme", "dark")):
            within = {name: action for name, action in named.items() if name.startswith(f"{kind} ")}
            menu = next(menu for menu in self.window.findChildren(QMenu) if named[f"{kind} {now}"] in menu.actions())
            for other in (*within, f"{kind} {now}"):
                within[other].trigger()
            if kind == "stop":
                menu.aboutToShow.emit()
            self.assertEqual([name for name, action in within.items() if action.isChecked()], [f"{kind} {now}"])
        self.key(Qt.Key.Key_C)
        self.assertFalse(named["shade speed"].isChecked())
        self.assertTrue(named[f"shade {self.stage.shade}"].isChecked())

    def test_a_picture_under_the_mat_goes_with_its_project(self) -> None:
        picture = QImage(20, 10, QImage.Format.Format_RGB32)
        self.session.lent.lay_under(Underlay(self.session.setup.mat.name, picture))
        self.window.actions_of.named["demo quarry"].trigger()
        self.settle(self.session)
        self.assertIsNone(self.session.lent.underlay)

    def test_the_next_law_is_the_next_on_the_sheet(self) -> None:
        laws = list(self.steer.laws)
        for law in (laws * 2)[laws.index("proportional") + 1 :][: len(laws)]:
            self.key(Qt.Key.Key_L)
            self.assertEqual(self.session.setup.program.law, law)

    def test_saved_closed_and_opened_again_all_is_as_it_was(self) -> None:
        self.use_on_off()
        self.session.keep()
        self.drag_dial("program.on_off.dark_outer", 60.0)
        self.key(Qt.Key.Key_E)
        path = self.folder / "pip"
        state = self.window.findChild(TopBar).state
        self.assertEqual(state.text(), "changed")
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")) as asked:
            self.key(Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(asked.call_args.args[2].endswith(f"/{self.session.setup.mat.name}.irontrail"))
        saved = path.with_suffix(".irontrail")
        self.assertTrue(self.session.document.is_saved)
        self.assertIn("pip.irontrail", self.window.windowTitle())
        self.assertEqual(state.text(), "saved")
        figures = self.session.project.kept[0].figures
        again = self.open_window(path=saved)
        self.assertEqual(again.session.project, self.session.project)
        self.assertEqual(again.session.view.figures, self.session.view.figures)
        self.assertEqual(again.session.project.kept[0].figures, figures)
        self.assertEqual(len(again.stage.mat.scene.kept), 1)

    def test_the_bar_over_all_names_the_project_and_tells_whether_it_is_saved(self) -> None:
        top = self.window.findChild(TopBar)

        def shown() -> list[str]:
            """The words of the bar from left to right."""
            labels = sorted(top.findChildren(QLabel), key=lambda label: label.geometry().center().x())
            return [label.text() for label in labels]

        name = self.session.setup.title
        self.assertEqual(shown(), [name, "demo"])
        self.session.set_value(SPEED, 61.0)
        self.assertEqual(shown(), [name, "changed"])
        self.assertTrue(self.window.files.save_to(self.folder / "pip.irontrail"))
        self.assertEqual(shown(), [name, "saved"])

    def test_saving_again_asks_nothing(self) -> None:
        path = self.folder / "pip.irontrail"
        self.assertTrue(self.window.files.save_to(path))
        self.session.set_value(SPEED, 61.0)
        with mock.patch.object(QFileDialog, "getSaveFileName", side_effect=AssertionError("asked")):
            self.window.actions_of.named["save"].trigger()
        self.assertEqual(project_file.read(path).setup.program.speed, 61.0)

    def test_a_file_that_cannot_be_opened_is_told_and_nothing_is_lost(self) -> None:
        self.session.set_value(SPEED, 61.0)
        broken = self.folder / "broken.irontrail"
        broken.write_text("{}")
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(broken), "")):
            self.key(Qt.Key.Key_O, Qt.KeyboardModifier.ControlModifier)
        self.assertTrue(self.window.notice.isVisible())
        self.assertIn("broken.irontrail", self.window.notice.words.text())
        self.assertEqual(self.session.setup.program.speed, 61.0)

    def test_a_save_that_fails_is_told_and_the_work_stays_unsaved(self) -> None:
        self.session.set_value(SPEED, 61.0)
        self.assertFalse(self.window.files.save_to(self.folder / "no" / "folder.irontrail"))
        self.assertIn("cannot be written", self.window.notice.words.text())
        self.assertFalse(self.session.document.is_saved)

    def answer(self, button: QMessageBox.StandardButton) -> object:
        return mock.patch.object(QMessageBox, "exec", return_value=button)

    def test_closing_with_changes_asks_and_cancel_keeps_the_window(self) -> None:
        self.session.set_value(SPEED, 61.0)
        asked: list[str] = []

        def cancel(box: QMessageBox) -> QMessageBox.StandardButton:
            asked.append(box.text())
            return QMessageBox.StandardButton.Cancel

        with mock.patch.object(QMessageBox, "exec", cancel):
            self.assertFalse(self.window.close())
        self.assertEqual(asked, [f"Save the changes to “{self.session.setup.title}”?"])
        self.assertTrue(self.window.isVisible())

    def test_opening_a_demo_over_changes_asks_and_discards_only_if_told_to(self) -> None:
        self.session.set_value(SPEED, 61.0)
        with self.answer(QMessageBox.StandardButton.Cancel):  # type: ignore[attr-defined]
            self.window.actions_of.named["demo quarry"].trigger()
        self.assertEqual(self.session.setup.mat.name, "Lighthouse Loop")
        with self.answer(QMessageBox.StandardButton.Discard):  # type: ignore[attr-defined]
            self.window.actions_of.named["demo quarry"].trigger()
        self.settle(self.session)
        self.assertEqual(self.session.setup.mat.name, "Quarry Switchback")
        self.assertTrue(self.session.document.is_saved)
        self.assertFalse(self.window.actions_of.named["undo"].isEnabled())

    def test_without_a_file_there_is_none_to_go_back_to(self) -> None:
        self.session.set_value(SPEED, 61.0)
        self.window.actions_of.named["revert"].trigger()
        self.assertIn("There is no file to go back to", self.window.notice.words.text())
        self.assertEqual(self.session.setup.program.speed, 61.0)

    def test_recent_files_are_offered(self) -> None:
        def offered() -> list:
            self.window.files.fill_recent(self.window.actions_of.recent)
            return self.window.actions_of.recent.actions()

        (none,) = offered()
        self.assertEqual((none.text(), none.isEnabled()), ("none yet", False))
        path = self.folder / "pip.irontrail"
        self.window.files.save_to(path)
        # The last first, each once; and asked for a file, its folder is looked in.
        other = self.folder / "there" / "tune & race.irontrail"
        other.parent.mkdir()
        for each in (other, path, other):
            self.window.files.save_to(each)
        self.assertEqual([each.text() for each in offered()], ["tune && race.irontrail", "pip.irontrail"])
        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=("", "")) as asked:
            self.window.actions_of.named["open"].trigger()
        self.assertEqual(asked.call_args.args[2], str(other.parent))
        self.window.files.open(path)
        entries = offered()
        self.assertEqual(entries[0].text(), "pip.irontrail")
        self.session.set_value(SPEED, 61.0)
        self.window.files.save()
        entries[0].trigger()
        self.assertEqual(self.session.setup.program.speed, 61.0)

    def export(self, path: Path) -> None:
        with mock.patch.object(QFileDialog, "getSaveFileName", return_value=(str(path), "")):
            self.window.actions_of.named["trace"].trigger()

    def test_the_trace_is_exported(self) -> None:
        path, rows = self.folder / "trace.csv", len(self.session.view.run.trace)
        self.export(path)
        self.wait_for(self.window.notice.isVisible)
        self.assertEqual(self.window.notice.words.text(), f"The trace is in {path}: {rows} rows.")
        self.assertEqual(len(path.read_text().splitlines()), rows + 1)
        self.export(self.folder / "none" / "trace.csv")
        self.wait_for(lambda: "none" in self.window.notice.words.text())
        self.assertFalse((self.folder / "none").exists())

    def test_traces_are_written_beside_the_window_each_of_them_and_of_the_run_that_was_shown(self) -> None:
        gate, written = threading.Event(), []

        def write(path: Path, trace: Trace, _sensors: int) -> None:
            gate.wait(10.0)
            written.append((path.name, trace))

        shown = self.session.view.run.trace
        with mock.patch.object(trace_csv, "write", write):
            for name in ("a.csv", "b.csv", "c.csv"):
                self.export(self.folder / name)
            self.edit(SPEED, 61.0)
            self.session.close()
            self.assertEqual(written, [])
            gate.set()
            self.wait_for(lambda: len(written) == 3)
        self.assertEqual(written, [("a.csv", shown), ("b.csv", shown), ("c.csv", shown)])


class StopsTest(NewcomerTest):
    def test_every_stop_can_be_visited_by_mouse_and_by_key(self) -> None:
        from irontrail.app.looking import STOPS

        for i, stop in enumerate(STOPS):
            QTest.mouseClick(self.window.line.stops[stop], Qt.MouseButton.LeftButton)
            self.assertTrue(self.window.panel(stop).isVisible(), stop)
            self.key(Qt.Key(Qt.Key.Key_1.value + (i + 1) % 8), Qt.KeyboardModifier.ControlModifier)
            self.assertTrue(self.window.panel(STOPS[(i + 1) % 8]).isVisible())
        line = self.window.line.stops
        QTest.keyClick(line["Robot"], Qt.Key.Key_Down)
        self.assertTrue(line["Light"].isChecked() and self.window.panel("Light").isVisible())

    def test_no_panel_is_wider_or_higher_than_its_room(self) -> None:
        from irontrail.app.looking import STOPS

        for stop in STOPS:
            self.session.looking.go_to(stop)
            panel = self.window.panel(stop)
            self.app.processEvents()
            self.assertLessEqual(panel.minimumSizeHint().width(), 332, stop)
            self.assertLessEqual(panel.minimumSizeHint().height(), 770, stop)

    def test_robot_and_light_change_the_run(self) -> None:
        self.session.looking.go_to("Robot")
        dial = self.window.panel("Robot").sheet("Plan").dials["robot.mount.ahead_mm"]
        before = self.session.view.figures
        dial.edit_to(30.0)
        self.settle(self.session)
        self.assertNotEqual(self.session.view.figures, before)
        self.assertEqual(self.window.panel("Robot").sheet("Plan").plan.robot.mount.ahead_mm, 30.0)
        self.session.looking.go_to("Light")
        light = self.window.panel("Light").sheet("Probe")
        self.session.set_value("light.room_light", 1.0)
        self.session.set_value("light.sensor.shield", 0.0)
        self.edit("robot.mount.height_mm", 20.0)
        self.assertEqual(self.window.line.stops["Light"].words, "calibrate")
        QTest.mouseClick(light.calibrate, Qt.MouseButton.LeftButton)
        self.settle(self.session)
        self.assertEqual(self.window.line.stops["Light"].words, "")
        self.session.set_value(TARGET, 20.0)
        QTest.mouseClick(light.midway, Qt.MouseButton.LeftButton)
        self.assertEqual(self.session.setup.program.target, 50.0)

    def test_themes_change_and_are_remembered(self) -> None:
        light = self.stage.strip.grab().toImage().pixelColor(5, 5).lightness()
        self.window.actions_of.named["theme dark"].trigger()
        self.app.processEvents()
        dark = self.stage.strip.grab().toImage().pixelColor(5, 5).lightness()
        self.assertGreater(light, 200)
        self.assertLess(dark, 60)
        self.assertEqual(self.open_window().theme.name, "dark")
        self.window.actions_of.named["theme light"].trigger()

    def test_menus_show_their_keys_and_no_two_share_one(self) -> None:
        keys = [a.shortcut().toString() for a in self.window.actions_of.named.values() if not a.shortcut().isEmpty()]
        self.assertEqual(len(keys), len(set(keys)))
        named = {name: action.shortcut().toString() for name, action in self.window.actions_of.named.items()}
        wanted = {
            "new": "Ctrl+N", "open": "Ctrl+O", "print": "Ctrl+P", "full screen": "F11",
            "sheet before": "Ctrl+PgUp", "save": "Ctrl+S", "save as": "Ctrl+Shift+S", "quit": "Ctrl+Q",
            "undo": "Ctrl+Z", "redo": "Ctrl+Shift+Z", "copy": "Ctrl+C", "paste": "Ctrl+V",
            "swap": "E", "turn": "R", "law": "L", "fit": "F", "zoom in": "Ctrl++",
            "zoom out": "Ctrl+-", "follow": "G", "close up": "W", "shade": "C", "mark": "M", "axis": "T",
            "strip all": "Shift+F", "sheet": "Ctrl+PgDown", "play": "Space", "forward": ".", "back": ",",
            "start": "Home", "end": "End", "faster": "]", "slower": "[", "keep": "K", "keys": "F1",
        }  # fmt: skip
        wanted |= {f"stop {stop}": f"Ctrl+{i}" for i, stop in enumerate(STOPS, 1)}
        self.assertEqual({name: key for name, key in named.items() if key}, wanted)
        for menu in ("&File", "&Edit", "&View", "&Run", "&Help"):
            self.assertIn(menu, [action.text() for action in self.window.actions_of.bar.actions()])

    def test_the_key_sheet_opens_beside_the_work(self) -> None:
        from irontrail.app.widgets.key_sheet import KeySheet

        self.key(Qt.Key.Key_F1)
        sheet = self.window.findChild(KeySheet)
        self.assertTrue(sheet.isVisible() and not sheet.isModal())
        shown = [label.text() for label in sheet.findChildren(QLabel)]
        for action in self.window.actions_of.named.values():
            if not action.shortcut().isEmpty():
                self.assertIn(action.shortcut().toString(), shown)
        self.assertLess(shown.index("F11"), shown.index("Esc"))
        QTest.keyClick(sheet, Qt.Key.Key_F1)
        self.assertFalse(sheet.isVisible())

    def test_every_control_has_a_name(self) -> None:
        from PySide6.QtWidgets import QAbstractButton, QWidget

        for widget in self.window.findChildren(QWidget):
            if widget.focusPolicy() & Qt.FocusPolicy.TabFocus and not widget.objectName().startswith("qt_"):
                named = widget.accessibleName() or (isinstance(widget, QAbstractButton) and widget.text())
                self.assertTrue(named, f"{widget} in {widget.parent()} has no name")

    def test_the_window_lives_while_the_engine_is_compiled_or_read(self) -> None:
        from irontrail import kernel_cache
        from irontrail.app.long_work import LongWork
        from irontrail.app.session import Session
        from irontrail.app.window import Window
        from irontrail.core.demos import demo_project

        for filled in (False, True):
            with mock.patch.object(kernel_cache, "is_filled", return_value=filled):
                session = Session(demo_project("lighthouse"))
            self.assertEqual(session.preparing, not filled)
            window = Window(session, self.settings())
            self._windows.append(window)
            window.show()
            self.assertEqual("Compiling" in window.stage.mat.words, not filled)
            # What needs the engine at once cannot be pressed, and long work waits until it is compiled: beside that, it
            # would be compiled once more, and the window stand still for as long.
            session.looking.go_to("Light")
            sweep, told = window.panel("Light").sheet("Probe").sweep, list[bool]()
            work = LongWork[bool](lambda _done: None, told.append, self.fail)
            work.start(lambda _proceed, session=session: session.preparing)
            self.assertFalse(sweep.isEnabled())
            session.set_value(SPEED, 44.0)
            self.settle(session)
            self.assertEqual(window.stage.mat.words, "")
            self.assertEqual(session.view.setup.program.speed, 44.0)
            self.assertTrue(sweep.isEnabled())
            self.wait_for(lambda told=told: bool(told))
            self.assertEqual(told, [False])
            work.close()
            window = None


if __name__ == "__main__":
    unittest.main()
