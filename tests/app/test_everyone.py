"""By keyboard, by ear, and in few pixels: what can be reached, what is told of it, and what fits."""

import importlib
import pkgutil
import re
import unittest
from typing import Any

from irontrail.app.theme import LIGHT
from irontrail.app.widgets.strokes import pixels_of
from tests.support import StopTest, WindowTest, pixels_near


class EverywhereTest(StopTest):
    """One walk through every stop and sheet, looking at each control."""

    def places(self) -> list[tuple[str, str]]:
        from irontrail.app.looking import STOPS
        from irontrail.app.sheets import SheetedPanel

        found = []
        for stop in STOPS:
            panel = self.window.panel(stop)
            found += [(stop, name) for name in panel.names] if isinstance(panel, SheetedPanel) else [(stop, "")]
        return found

    def go(self, stop: str, sheet: str) -> None:
        self.session.looking.go_to(stop)
        if sheet:
            self.window.panel(stop).turn_to(sheet)
        self.app.processEvents()

    def controls(self) -> list[Any]:
        from PySide6.QtCore import Qt
        from PySide6.QtWidgets import QWidget

        return [
            each
            for each in self.window.findChildren(QWidget)
            if each.isVisible() and each.isEnabled() and each.focusPolicy() & Qt.FocusPolicy.TabFocus
        ]

    def setUp(self) -> None:
        super().setUp()
        self.session.keep()
        self.session.choose_law("PID")
        self.settle(self.session)

    def test_a_picture_of_every_plot_can_be_copied(self) -> None:
        from PySide6.QtGui import QImage

        from irontrail.app.copying import picture_of, plots_in

        copied = {}
        for stop, sheet in self.places():
            self.go(stop, sheet)
            for name, plot in plots_in(self.window.panel(stop)).items():
                picture = picture_of(plot)
                self.assertEqual(picture.size(), plot.size() * 2)
                small = picture.convertToFormat(QImage.Format.Format_Indexed8)
                copied[stop, sheet, name] = small.colorCount()
        self.assertGreater(len(copied), 8)
        # Some plots wait for what they show.
        self.assertGreater(sum(colours > 100 for colours in copied.values()), 8, copied)
        profile = [colours for (stop, sheet, _), colours in copied.items() if (stop, sheet) == ("Light", "Profile")]
        self.assertGreater(profile[0], 100)

    def test_a_copy_is_drawn_finer_and_not_only_made_larger(self) -> None:
        from irontrail.app.copying import picture_of

        stage = self.window.stage
        stage.set_close_up(True)
        stage.set_shade("distance")
        self.go("Steer", "Law")
        law = self.window.panel("Steer").sheet("Law")
        self.settle(self.session)
        views = (stage.mat, stage.strip, stage.close_up, law.curve, stage.bar.swing, law.dials["program.target"])
        for view, least in zip(views, (0.3, 0.3, 0.3, 0.3, 0.25, 0.55), strict=True):
            picture = picture_of(view)
            pixels = pixels_of(picture)
            # Of a picture that is only made larger, all four pixels of a place are the same.
            fours = pixels[: pixels.shape[0] // 2 * 2, : pixels.shape[1] // 2 * 2]
            differ = (fours[::2, ::2] != fours[1::2, ::2]) | (fours[::2, ::2] != fours[::2, 1::2])
            changes = int((fours[:, 1:] != fours[:, :-1]).sum())
            self.assertGreater(differ.sum() / changes, least, type(view).__name__)

    def test_every_control_shows_its_focus_has_a_name_and_says_what_it_is(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtGui import QAccessible
        from PySide6.QtWidgets import QAbstractButton

        seen: set[tuple[str, ...]] = set()
        for place in self.places():
            self.go(*place)
            for control in self.controls():
                told = QAccessible.queryAccessibleInterface(control)
                name = told.text(QAccessible.Text.Name)
                key = (type(control).__name__, name)
                if key in seen:
                    continue
                seen.add(key)
                self.assertTrue(name, (place, control))
                if isinstance(control, QAbstractButton):
                    # Who speaks to it says what is written on it.
                    written = re.findall("[a-z]+", control.text().lower().replace("&", ""))
                    self.assertLessEqual(set(written), set(re.findall("[a-z]+", name.lower())), (place, key))
                self.assertTrue(control.toolTip(), (place, key))
                self.window.setFocus()
                self.app.processEvents()
                before = control.grab().toImage()
                control.setFocus(Qt.FocusReason.TabFocusReason)
                self.app.processEvents()
                self.assertNotEqual(control.grab().toImage(), before, f"{place} {key} shows no focus")
        self.assertGreater(len(seen), 150)

    def test_a_choice_shows_its_focus_under_the_pointer_too(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtWidgets import QComboBox

        self.go("Tune", "Map")
        combo = next(each for each in self.controls() if isinstance(each, QComboBox))
        combo.setAttribute(Qt.WidgetAttribute.WA_UnderMouse, True)
        self.window.setFocus()
        before, size = combo.grab().toImage(), combo.sizeHint()
        combo.setFocus(Qt.FocusReason.TabFocusReason)
        self.assertNotEqual(combo.grab().toImage(), before)
        self.assertEqual(combo.sizeHint(), size)
        # An arrow at its right end says that there is a list.
        right = before.copy(before.width() - 24, 4, 20, before.height() - 8)
        self.assertGreater(pixels_near(right, LIGHT.second), 5)

    def test_what_is_painted_tells_its_role_value_and_range(self) -> None:
        from PySide6.QtGui import QAccessible

        from irontrail.app.widgets.described import Described
        from irontrail.app.widgets.dial import Dial

        roles, texts = set(), set()
        for place in self.places():
            self.go(*place)
            for view in self.window.findChildren(Described):
                if not view.isVisible():
                    continue
                told = QAccessible.queryAccessibleInterface(view)
                roles.add(told.role())
                self.assertEqual(told.role(), view.ROLE)
                texts.add(told.text(QAccessible.Text.Value))
                number = told.valueInterface()
                if isinstance(view, Dial):
                    self.assertEqual(told.role(), QAccessible.Role.Slider)
                    self.assertEqual(told.text(QAccessible.Text.Value), view.value_told())
                    low, now, high = number.minimumValue(), number.currentValue(), number.maximumValue()
                    self.assertTrue(low <= now <= high, (view.name_told(), low, now, high))
                    self.assertAlmostEqual(now, view.value * view.quantity.shown_per_stored)
        for role in ("Slider", "Chart", "Graphic", "ColorChooser"):
            self.assertIn(getattr(QAccessible.Role, role), roles)
        self.assertGreater(len(texts), 60)
        self.settle(self.session)

    def test_a_screen_reader_can_turn_a_dial_and_hear_the_strip_and_the_mat(self) -> None:
        from PySide6.QtGui import QAccessible

        self.go("Steer", "Law")
        dial = self.window.panel("Steer").sheet("Law").dials["program.speed"]
        told = QAccessible.queryAccessibleInterface(dial)
        self.assertEqual(told.text(QAccessible.Text.Name), "Speed")
        told.valueInterface().setCurrentValue(44.0)
        self.assertEqual(self.session.setup.program.speed, 44.0)
        self.assertEqual(told.text(QAccessible.Text.Value), "44 %")
        self.settle(self.session)
        stage = self.window.stage
        stage.step(200)
        strip = QAccessible.queryAccessibleInterface(stage.strip).text(QAccessible.Text.Value)
        self.assertIn(f"{self.session.view.run.trace.time_s[stage.strip.row]:.2f} s; reading", strip)
        mat = QAccessible.queryAccessibleInterface(stage.mat).text(QAccessible.Text.Value)
        self.assertIn("Lighthouse Loop, 2000 by 1000 mm, 1 line; robot at", mat)
        curve = self.window.panel("Steer").sheet("Law").curve
        self.assertIn("target 50", QAccessible.queryAccessibleInterface(curve).text(QAccessible.Text.Value))
        scrubber = QAccessible.queryAccessibleInterface(stage.bar.scrubber)
        scrubber.valueInterface().setCurrentValue(3.0)
        self.assertAlmostEqual(self.session.playback.time_s, 3.0)
        self.assertTrue(scrubber.text(QAccessible.Text.Value).startswith("3.00 of"))

    def test_choices_are_radio_buttons_of_which_one_is_chosen(self) -> None:
        from PySide6.QtCore import Qt
        from PySide6.QtGui import QAccessible

        self.go("Steer", "Loop")
        loop = self.window.panel("Steer").sheet("Loop")
        for buttons in (loop.edges, loop.ways, self.window.panel("Steer").names, self.window.line.stops):
            told = [QAccessible.queryAccessibleInterface(button) for button in buttons.values()]
            self.assertEqual({each.role() for each in told}, {QAccessible.Role.RadioButton})
            self.assertEqual(sum(bool(each.state().checked) for each in told), 1)
            # Tab comes to the chosen one alone; the arrows go on from there.
            stops = [button for button in buttons.values() if button.focusPolicy() & Qt.FocusPolicy.TabFocus]
            self.assertEqual(stops, [button for button in buttons.values() if button.isChecked()])

    def test_f1_lists_every_key_that_anything_takes(self) -> None:
        from PySide6.QtWidgets import QLabel

        import irontrail.app
        from irontrail.app.widgets.key_sheet import TAKERS, key_rows
        from irontrail.app.widgets.keys import Keyed

        for module in pkgutil.walk_packages(irontrail.app.__path__, "irontrail.app."):
            importlib.import_module(module.name)
        takers = [each for each in Keyed.EVERY if each.__module__.startswith("irontrail")]
        self.assertEqual({each.__name__ for each in takers}, {each.__name__ for each in TAKERS})
        self.window.actions_of.named["keys"].trigger()
        texts = [label.text() for label in self.window._keys.findChildren(QLabel)]
        for where, rows in key_rows().items():
            self.assertIn(where, texts)
            for keys, says in rows:
                self.assertIn(keys, texts)
                self.assertIn(says, texts)
        for action in self.window.actions_of.named.values():
            if not action.shortcut().isEmpty():
                self.assertIn(action.shortcut().toString(), texts)
        self.window._keys.close()


class ByKeyTest(StopTest):
    """What the pointer can take hold of can be chosen and moved by keys."""

    def press(self, widget: Any, *keys: str) -> None:
        from PySide6.QtGui import QKeySequence
        from PySide6.QtTest import QTest

        widget.setFocus()
        for key in keys:
            pressed = QKeySequence(key)[0]
            QTest.keyClick(self.app.focusWidget(), pressed.key(), pressed.keyboardModifiers())
            self.app.processEvents()

    def test_the_robots_sensor_wheels_height_and_shield(self) -> None:
        sheet = self.visit("Robot", "Plan")
        before = self.session.setup
        self.press(sheet.plan, "Right", "Shift+Up")
        mount = self.session.setup.robot.mount
        self.assertEqual((mount.ahead_mm, mount.aside_mm), (before.robot.mount.ahead_mm + 1.0, 10.0))
        self.press(sheet.plan, "PgDown", "Up", "Shift+Up", "Left")
        self.assertEqual(self.session.setup.robot.drive.track_width_mm, before.robot.drive.track_width_mm + 10.0)
        self.press(sheet.side, "Up", "Up")
        self.assertEqual(self.session.setup.robot.mount.height_mm, before.robot.mount.height_mm + 1.0)
        self.press(sheet.side, "PgUp", "Down", "Shift+Down")
        self.assertAlmostEqual(self.session.setup.light.sensor.shield, before.light.sensor.shield + 0.25)
        self.settle(self.session)

    def test_tape_its_pieces_ends_middles_and_way(self) -> None:
        from irontrail.core.project import blank_project

        self.session.open(blank_project(), None)
        sheet = self.visit("Mat", "Tape")
        mat = self.window.stage.mat
        self.press(mat, "Return", "Shift+Right", "Shift+Right")
        self.assertEqual(sheet.stroke.pieces[0].length_mm, 420.0)
        sheet.lay("bend left")
        bend = sheet.piece
        self.press(mat, "Return", "Shift+Up")
        self.assertEqual(sheet.hand.grip, "middle")
        self.assertNotEqual(sheet.piece.radius_mm, bend.radius_mm)
        self.assertEqual(sheet.piece.angle_deg, bend.angle_deg)
        self.press(mat, "Return", "Shift+Up")
        self.assertEqual(sheet.hand.grip, "turn")
        self.assertNotEqual(sheet.stroke.heading_deg, 0.0)
        x, y = sheet.stroke.x_mm, sheet.stroke.y_mm
        self.press(mat, "Return", "Shift+Left", "Shift+Down")
        self.assertEqual(sheet.hand.grip, "line")
        self.assertEqual((sheet.stroke.x_mm, sheet.stroke.y_mm), (x - 10.0, y - 10.0))
        self.press(mat, "PgUp")
        self.assertEqual(sheet.piece_at, 0)
        self.press(mat, "Ins")
        self.assertEqual(len(sheet.stroke.pieces), 3)
        self.press(mat, "Del")
        self.assertEqual(len(sheet.stroke.pieces), 2)
        self.settle(self.session)

    def test_things_are_moved_and_stretched(self) -> None:
        sheet = self.visit("Mat", "Things")
        sheet.lay("patch")
        patch = self.session.setup.mat.patches[0]
        self.press(self.window.stage.mat, "Shift+Right", "Ctrl+Shift+Right", "Ctrl+Shift+Up")
        made = self.session.setup.mat.patches[0]
        self.assertEqual((made.width_mm, made.height_mm), (patch.width_mm + 10.0, patch.height_mm + 10.0))
        self.assertEqual((made.x_mm, made.y_mm), (patch.x_mm + 15.0, patch.y_mm + 5.0))
        self.settle(self.session)

    def test_the_robot_is_pulled_and_turned(self) -> None:
        import numpy as np

        stage = self.window.stage
        stage.step(300)
        now = stage.mat.robot_hand.now
        self.press(stage.mat, "Ctrl+Up", "Alt+Left")
        pull = self.session.setup.trial.pull
        self.assertAlmostEqual(pull.y_mm, now.y_mm + 2.0, places=1)
        self.assertAlmostEqual(np.degrees(np.radians(pull.heading_deg) - now.heading) % 360.0, 5.0, delta=0.2)
        self.settle(self.session)

    def test_a_dial_goes_to_its_ends_and_mat_and_strip_move_by_keys(self) -> None:
        dial = self.visit("Steer", "Law").dials["program.speed"]
        self.press(dial, "End")
        self.assertEqual(self.session.setup.program.speed, dial.range_told()[2])
        self.press(dial, "Home")
        self.assertEqual(self.session.setup.program.speed, dial._low)
        mat = self.window.stage.mat
        near = mat.px_per_mm
        self.press(mat, "+")
        self.assertGreater(mat.px_per_mm, near)
        centre = mat.camera.centre
        self.press(mat, "Right")
        self.assertGreater(mat.camera.centre.x(), centre.x())
        self.settle(self.session)
        row = self.window.stage.strip.row
        self.press(self.window.stage.strip, "Shift+Right")
        self.assertGreater(self.window.stage.strip.row, row)
        for key, time in (("End", self.session.playback.duration_s), ("Home", 0.0)):
            self.press(self.window.stage.bar.scrubber, key)
            self.assertAlmostEqual(self.session.playback.time_s, time)


class SmallScreenTest(WindowTest):
    def test_the_window_fits_small_and_finely_scaled_screens(self) -> None:
        window = self.open_window()
        from irontrail.app.looking import STOPS
        from irontrail.app.sheets import SheetedPanel

        # 1920 x 1080 at scale 2 is the least of them.
        for wide, high in ((1024, 700), (1366, 768), (960, 540)):
            window.resize(wide, high)
            self.app.processEvents()
            self.assertEqual((window.width(), window.height()), (wide, high))
            for widget in (window.stage.bar.keep, window.stage.bar.outcome, window.stage.strip, window.line):
                corner = widget.mapTo(window, widget.rect().bottomRight())
                self.assertTrue(corner.x() < wide and corner.y() < high, (wide, high, widget))
            self.assertGreater(window.stage.mat.height(), 170)
        for stop in STOPS:
            window.session.looking.go_to(stop)
            panel = window.panel(stop)
            for sheet in panel.names if isinstance(panel, SheetedPanel) else [""]:
                if sheet:
                    panel.turn_to(sheet)
                self.app.processEvents()
                room = window.stack.areas[stop].viewport().width()
                self.assertLessEqual(panel.minimumSizeHint().width(), room, (stop, sheet))
        self.settle(window.session)

    def test_long_buttons_are_cut_and_many_lines_break_their_row(self) -> None:
        from irontrail.app.widgets.lines_button import LinesButton

        button = LinesButton("a very long line of words that nobody could see the end of\nshort")
        button.resize(120, 40)
        self.assertTrue(button.shown().split("\n")[0].endswith("…"))
        self.assertEqual(button.shown().split("\n")[1], "short")
        self.assertLess(button.minimumSizeHint().width(), 120)
        window = self.open_window()
        window.session.looking.go_to("Mat")
        window.panel("Mat").turn_to("Tape")
        tape = window.panel("Mat").sheet("Tape")
        for _ in range(9):
            tape.editor.twice.click()
        self.app.processEvents()
        self.assertEqual(len(tape.line_buttons), 10)
        for button in tape.line_buttons:
            right = button.mapTo(window.panel("Mat"), button.rect().topRight()).x()
            self.assertLess(right, window.stack.areas["Mat"].viewport().width())
        self.settle(window.session)

    def test_letters_of_the_desktop_scale_everything(self) -> None:
        from irontrail.app.main import text_scale

        self.assertEqual([text_scale(points) for points in (8.0, 10.0, 15.0, 40.0)], [1.0, 1.0, 1.5, 2.0])


if __name__ == "__main__":
    unittest.main()
