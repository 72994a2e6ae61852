"""The Mat stop: tape laid and dragged on the mat, things on the table, the shelf."""

import threading
import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton

from irontrail.app.stops.mat.line_editor import ASIDE_MM
from irontrail.app.stops.mat.tape import IN_A_ROW
from irontrail.app.theme import LIGHT
from irontrail.app.widgets.mat_scene import draw_over_tape
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.route import piece_joints, piece_lengths, stroke_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Straight, Stroke, Wiggle
from irontrail.files import mat_file, project_file
from tests.said import as_recorded
from tests.seen import seen
from tests.support import StopTest, pixels_near

LEFT = Qt.MouseButton.LeftButton
CTRL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


class MatTest(StopTest):
    STOP = "Mat"
    SHEET = "Tape"

    def setUp(self) -> None:
        super().setUp()
        self.sheet = self.turn_to(self.SHEET)
        self.mat = self.window.stage.mat

    @property
    def line(self) -> Any:
        return self.session.setup.mat.line


class TapeTest(MatTest):
    def test_a_joint_is_dragged_and_the_run_follows_while_it_is_held(self) -> None:
        at, before = piece_joints(self.line)[1], self.session.view.run
        start = self.mat.to_px().map(QPointF(at[0], at[1]))
        self.drag_along(self.mat, [start, start + QPointF(12, 0), start + QPointF(25, 0)], release=False)
        self.settle(self.session)
        self.assertIsNot(self.session.view.run, before)
        self.assertEqual(self.session.view.setup.mat, self.session.setup.mat)
        self.assertEqual(self.line.pieces[0].length_mm % 10.0, 0.0)
        self.assertGreater(self.line.pieces[0].length_mm, 180.0)
        self.assertTrue(stroke_route(self.line, "circuit").closed)
        self.painted(self.mat, "rust", least=40)  # its handles, and its measures beside them
        self.painted(self.mat, "card", least=200)
        QTest.mouseRelease(self.mat, LEFT, pos=(start + QPointF(25, 0)).toPoint())
        self.session.document.undo()
        self.assertEqual(self.session.setup.mat, DEMO_MATS["lighthouse"]())

    def test_while_a_run_is_on_its_way_the_ground_is_drawn_and_shown_with_it_together_with_what_is_held(self) -> None:
        work, go, drawn = self.session._worker._work, threading.Event(), []
        mat_was, place = self.session.setup.mat, self.sheet.hand.handles()["end", 0]
        start = self.mat.to_px().map(place)
        draw = self.sheet.hand.draw
        self.stage.timing.soon.setInterval(60_000)
        self.session.playback.pause()
        with (
            mock.patch.object(self.session._worker, "_work", lambda request: (go.wait(120.0), work(request))[1]),
            mock.patch.object(self.sheet.hand, "draw", lambda *args: (drawn.append(self.session.view), draw(*args))),
            mock.patch("irontrail.app.widgets.scene_picture.draw_over_tape", side_effect=draw_over_tape) as ground,
            mock.patch("irontrail.app.widgets.strip_ground._draw_shades") as shades,
        ):
            self.drag_along(self.mat, [start], release=False)
            held = len(drawn)
            ground.reset_mock()
            QTest.mouseMove(self.mat, (start + QPointF(12, 0)).toPoint())
            mat = self.session.setup.mat
            self.assertIsNot(mat, mat_was)
            self.wait_for(lambda: self.mat.scene.mat is mat)
            self.app.processEvents()
            before, grounds = self.session.view, (ground.call_count, shades.call_count)
            self.assertIsNot(before.setup.mat, mat)
            # With the press it is drawn as taken hold of; moved, it is seen once its run is, or that takes long.
            self.assertEqual(drawn[held:], [])
            self.stage.timing.soon.start(1)
            self.wait_for(lambda: drawn[held:] == [before])
            go.set()
            self.settle(self.session)
        self.assertIsNot(drawn[-1], before)
        self.assertEqual((grounds, ground.call_count, shades.call_count), ((1, 1), 1, 1))
        QTest.mouseRelease(self.mat, LEFT, pos=(start + QPointF(12, 0)).toPoint())

    def test_a_grid_is_seen_while_something_is_held(self) -> None:
        def darker() -> list[bool]:
            """Whether the mat is darker at places on it than a little beside them."""
            image, around = self.mat.grab().toImage(), [QPoint(x, y) for x in (-1, 0, 1) for y in (-1, 0, 1)]
            places = [self.mat.to_px().map(place).toPoint() for place in on]
            shades = [[image.pixelColor(at + each).lightness() for each in (*around, QPoint(6, 6))] for at in places]
            return [min(here) < beside - 8 for *here, beside in shades]

        # On lines that go up, and on one along; on bare mat.
        on = [QPointF(900.0, 630.0), QPointF(1100.0, 670.0), QPointF(950.0, 600.0)]
        for zoom in (1.0, 1.4):
            self.mat.zoom(zoom, self.mat.to_px().map(QPointF(1000.0, 600.0)))
            start = self.mat.to_px().map(self.sheet.hand.handles()["end", 0])
            self.assertEqual(darker(), [False] * 3)
            self.drag_along(self.mat, [start, start + QPointF(12, 0)], release=False)
            self.assertEqual(darker(), [True] * 3)
            QTest.mouseRelease(self.mat, LEFT, pos=(start + QPointF(12, 0)).toPoint())
            self.assertEqual(darker(), [False] * 3)
        self.settle(self.session)

    def test_the_chosen_piece_is_seen_but_not_while_words_cover_the_mat(self) -> None:
        def marked(piece: int) -> bool:
            at = self.mat.to_px().map(QPointF(*middles[piece])).toPoint()
            return pixels_near(self.mat.grab().toImage().copy(at.x() - 1, at.y() - 1, 3, 3), LIGHT.rust) > 0

        route, middles = stroke_route(self.line, "line"), {}
        for piece in (1, 5):
            start = sum(piece_lengths(self.line)[:piece])
            middles[piece] = route.at(start + 0.3 * piece_lengths(self.line)[piece])[:2]
        for piece, other in ((1, 5), (5, 1)):
            self.sheet.choose(0, piece)
            self.app.processEvents()
            self.assertEqual((marked(piece), marked(other)), (True, False))
        self.mat.set_words("A moment")
        self.assertFalse(marked(5))
        self.mat.set_words("")
        self.assertTrue(marked(5))

    def test_a_bends_middle_is_dragged_to_another_radius(self) -> None:
        self.sheet.choose(0, 9)
        place = self.sheet.hand.handles()["middle", 9]
        self.drag_on_mat((place.x(), place.y()), (place.x() + 40.0, place.y() - 40.0))
        self.settle(self.session)
        self.assertNotEqual(self.line.pieces[9].radius_mm, 100.0)
        self.assertEqual(self.line.pieces[9].radius_mm % 10.0, 0.0)

    def test_ctrl_lets_go_of_the_grid(self) -> None:
        at = piece_joints(self.line)[1]
        self.drag_on_mat((at[0], at[1]), (at[0] + 33.0, at[1]), CTRL)
        self.assertNotEqual(self.line.pieces[0].length_mm % 10.0, 0.0)

    def test_a_press_on_the_tape_chooses_its_piece(self) -> None:
        route = stroke_route(self.line, "line")
        x, y, _ = route.at(180.0 + 100.0)
        QTest.mouseClick(self.mat, LEFT, pos=self.mat.to_px().map(QPointF(x, y)).toPoint())
        self.assertEqual(self.sheet.name.text(), "Bend, 2 of 21")
        self.assertTrue(self.sheet.measures["bend", "radius_mm"].isVisible())
        self.assertFalse(self.sheet.measures["straight", "length_mm"].isVisible())

    def test_dials_of_a_piece(self) -> None:
        self.sheet.choose(0, 9)
        dial = self.sheet.measures["bend", "radius_mm"]
        dial.setFocus()
        QTest.keyClick(dial, Qt.Key.Key_Right)
        self.settle(self.session)
        self.assertEqual(self.line.pieces[9], Bend(105.0, 90.0))
        self.sheet.measures["bend", "angle_deg"].edit_to(0.0)
        self.assertNotEqual(self.line.pieces[9].angle_deg, 0.0)

    def test_keys_on_the_mat(self) -> None:
        self.mat.setFocus()
        first = self.sheet.piece_at
        QTest.keyClick(self.mat, Qt.Key.Key_PageDown)
        self.assertEqual(self.sheet.piece_at, (first + 1) % 21)
        self.sheet.choose(0, 0)
        QTest.keyClick(self.mat, Qt.Key.Key_Insert)
        self.assertEqual(self.line.pieces[:2], (Straight(180.0), Straight(180.0)))
        QTest.keyClick(self.mat, Qt.Key.Key_Delete)
        self.assertEqual(len(self.line.pieces), 21)
        x = self.line.x_mm
        QTest.keyClick(self.mat, Qt.Key.Key_Right, SHIFT)
        self.assertEqual(self.line.x_mm, x + 10.0)
        self.settle(self.session)

    def test_a_whole_line_is_dragged(self) -> None:
        route = stroke_route(self.line, "line")
        x, y, _ = route.at(90.0)
        self.drag_on_mat((x, y), (x + 50.0, y + 30.0))
        self.assertEqual((self.line.x_mm, self.line.y_mm), (510.0, 150.0))
        self.settle(self.session)

    def test_a_circuit_is_opened_laid_on_and_closed_again(self) -> None:
        self.sheet.choose(0, 20)
        self.assertEqual(self.sheet.editor.close_up.text(), "Open the circuit")
        self.assertFalse(self.sheet.editor.take_up.isEnabled())  # the only line
        self.press(self.sheet.editor.close_up)
        self.assertFalse(self.line.closed)
        # Its end zone lies against its start zone: the names do not run together.
        shown = seen(self.mat)
        self.assertGreater(shown.word("start").y, shown.word("finish").y + 16.0)
        self.assertEqual(self.sheet.editor.close_up.text(), "Close to a circuit")
        for kind, made in (("bend left", Bend), ("corner", Corner), ("wiggle", Wiggle), ("gap", Gap)):
            self.press(self.sheet.kinds[kind])
            self.assertIsInstance(self.line.pieces[-1], made)
        for side, way in (("left", 1.0), ("right", -1.0)):
            self.press(self.sheet.kinds[f"bend {side}"])
            self.assertGreater(way * self.line.pieces[-1].angle_deg, 0.0)
            self.sheet.take_up()
        self.assertEqual(self.sheet.where.text(), "Lay at the open end")
        for _ in range(4):
            self.sheet.take_up()
        self.press(self.sheet.editor.close_up)
        self.assertTrue(self.line.closed)
        self.assertTrue(stroke_route(self.line, "again").closed)
        # Its open end dragged onto its start closes it too; dragged elsewhere it stays open.
        self.press(self.sheet.editor.close_up)
        self.sheet.choose(0, len(self.line.pieces) - 1)
        end_x, end_y, _ = piece_joints(self.line)[-1]
        self.drag_on_mat((end_x, end_y), (end_x - 100.0, end_y))
        self.assertFalse(self.line.closed)
        (x, y, _), *_, (end_x, end_y, _) = piece_joints(self.line)
        self.assertGreater(abs(end_x - x), 50.0)
        self.drag_on_mat((end_x, end_y), (x, y))
        self.settle(self.session)
        self.assertTrue(self.line.closed)

    def test_what_is_not_good_about_a_way_back_is_told(self) -> None:
        mat = self.session.setup.mat
        rim = Stroke(60.0, 60.0, 0.0, (Straight(1800.0), Bend(60.0, 90.0), Straight(100.0)))
        self.session.choose_mat(replace(mat, line=rim))
        self.press(self.sheet.editor.close_up)
        self.assertTrue(self.line.closed)
        self.assertIn("Its way back", self.window.notice.words.text())

    def test_what_cannot_be_is_told_and_nothing_changes(self) -> None:
        self.press(self.window.panel("Mat").names["Shelf"])
        self.press(self.window.panel("Mat").sheet("Shelf").thumbnails["blank"])
        self.turn_to("Tape")
        before = self.line
        self.sheet.take_up()
        self.assertEqual(self.line, before)
        self.assertIn("at least one piece", self.window.notice.words.text())

    def test_width_colour_and_border(self) -> None:
        self.sheet.editor.measures["width_mm"].edit_to(30.0)
        self.assertFalse(self.sheet.editor.border.isVisible())
        self.sheet.editor.measures["border_mm"].edit_to(12.0)
        self.assertTrue(self.sheet.editor.border.isVisible())
        self.sheet.editor.border.field.setText("#fedcba")
        self.sheet.editor.border.field.editingFinished.emit()
        self.assertEqual((self.line.border_colour, self.line.colour), ("#fedcba", "#2a2b2d"))
        row = self.sheet.editor.colour.row
        QTest.mouseClick(row, LEFT, pos=row.at(3).center().toPoint())
        self.settle(self.session)
        self.assertEqual((self.line.width_mm, self.line.border_mm), (30.0, 12.0))
        self.assertNotEqual(self.line.colour, "#2a2b2d")
        shown = self.sheet.editor.colour.row.colour, self.sheet.editor.border.row.colour
        self.assertEqual(shown, (self.line.colour, "#fedcba"))
        self.sheet.editor.colour.field.setText("#123456")
        self.sheet.editor.colour.field.editingFinished.emit()
        self.assertEqual(self.line.colour, "#123456")
        self.sheet.editor.colour.field.setText("blue-ish")
        self.sheet.editor.colour.field.editingFinished.emit()
        self.assertEqual(self.line.colour, "#123456")

    def test_what_is_being_typed_is_of_the_piece_it_was_typed_for(self) -> None:
        # A circuit changes its other pieces to stay one.
        self.press(self.sheet.editor.close_up)
        for act in (
            lambda: self.sheet.choose(0, 4),
            lambda: self.sheet.kinds["straight"].click(),
            lambda: self.sheet.on.click(),
        ):
            self.sheet.choose(0, 0)
            dial = self.sheet.measures["straight", "length_mm"]
            dial.setFocus()
            QTest.keyClicks(dial, "3")
            QTest.keyClicks(QApplication.focusWidget(), "33")
            act()
            self.app.processEvents()
            self.assertEqual(self.line.pieces[0].length_mm, 333.0)
            self.assertNotIn(333.0, [getattr(piece, "length_mm", 0.0) for piece in self.line.pieces[1:]])
        self.settle(self.session)


class ForkTest(MatTest):
    DEMO = "ferry"

    def test_another_line_is_chosen_followed_and_taken_up(self) -> None:
        self.assertEqual([button.text() for button in self.sheet.line_buttons], ["1 ★", "2", "3"])
        self.assertEqual((self.sheet.goal.text(), self.sheet.goal.isEnabled()), ("Followed", False))
        self.press(self.sheet.line_buttons[1])
        self.assertEqual((self.sheet.goal.text(), self.sheet.goal.isEnabled()), ("Follow this line", True))
        self.assertEqual([button.isChecked() for button in self.sheet.line_buttons], [False, True, False])
        self.press(self.sheet.goal)
        self.assertEqual(self.session.setup.mat.goal, 1)
        self.assertEqual([button.text() for button in self.sheet.line_buttons], ["1", "2 ★", "3"])
        self.press(self.sheet.line_buttons[2])
        self.press(self.sheet.editor.take_up)
        self.assertEqual(len(self.session.setup.mat.lines), 2)

    def test_pieces_are_stepped_through_and_what_is_laid_next_to_is_told(self) -> None:
        self.sheet.choose(0, 1)
        count = len(self.line.pieces)
        self.assertEqual(self.sheet.where.text(), "Lay after piece 2")
        self.assertTrue(self.sheet.name.text().endswith(f", 2 of {count}"))
        on, back = self.sheet.on, self.sheet.back
        for button, at in ((on, 2), (back, 1), (back, 0), (back, count - 1)):
            self.press(button)
            self.assertEqual(self.sheet.piece_at, at)
        self.sheet.choose(0, 2)
        before = self.line
        self.press(self.sheet.kinds["straight"])
        self.assertEqual(self.sheet.piece_at, 3)
        self.sheet.take_up()
        self.assertEqual((self.sheet.piece_at, self.line), (2, before))

    def test_a_line_that_runs_off_the_mat_is_told(self) -> None:
        self.assertFalse(self.sheet.hint.text().startswith("This line"))
        self.session.set_value("mat.width_mm", 600.0)
        self.assertTrue(self.sheet.hint.text().startswith("This line runs off the mat."))

    def test_lines_come_and_go_to_a_single_one_and_back(self) -> None:
        for left in (2, 1):
            self.press(self.sheet.line_buttons[-1])
            self.press(self.sheet.editor.take_up)
            self.assertEqual(len(self.session.setup.mat.lines), left)
        self.assertEqual((self.sheet.line_buttons, self.sheet.goal), ([], None))
        self.sheet.editor.measures["width_mm"].edit_to(30.0)
        self.assertEqual(self.line.width_mm, 30.0)
        for _ in range(3):
            self.session.document.undo()
        self.assertEqual(len(self.sheet.line_buttons), 3)
        self.press(self.sheet.line_buttons[1])
        self.press(self.sheet.goal)
        self.assertEqual(self.session.setup.mat.goal, 1)

    def test_a_fork_and_a_crossing_are_laid(self) -> None:
        ink = pixels_near(self.painted(self.mat), self.line.colour)
        self.sheet.choose(0, 1)
        self.press(self.sheet.kinds["fork"])
        self.assertEqual(len(self.session.setup.mat.lines), 4)
        self.assertEqual(self.session.setup.mat.lines[3].pieces[:2], self.line.pieces[:2])
        # Where two lie over each other a press is on the one worked on.
        for line in (3, 0):
            self.sheet.choose(line, 2)
            x, y, _ = stroke_route(self.line, "line").at(0.6 * self.line.pieces[0].length_mm)
            QTest.mouseClick(self.mat, LEFT, pos=self.mat.to_px().map(QPointF(x, y)).toPoint())
            self.assertEqual((self.sheet.hand.line, self.sheet.hand.piece), (line, 0))
        self.sheet.choose(3, 1)
        self.press(self.sheet.kinds["crossing"])
        self.assertEqual(len(self.session.setup.mat.lines), 5)
        self.settle(self.session)
        as_recorded(self, "tape of a crossing", self.sheet)
        self.assertGreater(pixels_near(self.painted(self.mat), self.line.colour), ink + 500)

    def test_a_line_is_laid_twice_a_little_aside_and_many_stand_in_rows(self) -> None:
        for _ in range(IN_A_ROW - 2):
            self.sheet.editor.twice.click()
        self.settle(self.session)
        first, *_, last = lines = self.session.setup.mat.lines
        self.assertEqual(len(lines), IN_A_ROW + 1)
        # Each time the one that was laid last is worked on.
        aside = ASIDE_MM * (IN_A_ROW - 2)
        self.assertEqual((last.x_mm - first.x_mm, last.y_mm - first.y_mm), (aside, aside))
        places = [button.pos() for button in self.sheet.line_buttons]
        self.assertEqual({place.y() for place in places[:IN_A_ROW]}, {places[0].y()})
        self.assertEqual(places[IN_A_ROW].x(), places[0].x())
        self.assertGreater(places[IN_A_ROW].y(), places[0].y())

    def test_turned_round_the_same_piece_is_worked_on(self) -> None:
        self.sheet.choose(0, 1)
        pieces, count = self.line.pieces, len(self.line.pieces)
        turn = next(button for button in self.sheet.editor.findChildren(QPushButton) if button.text() == "Turn round")
        self.press(turn)
        self.assertEqual(self.sheet.piece_at, count - 2)
        self.assertIs(type(self.sheet.piece), type(pieces[1]))
        self.assertEqual(self.line.pieces[0].kind, pieces[-1].kind)

    def test_the_line_is_turned_by_its_stalk(self) -> None:
        handles = self.sheet.hand.handles()
        start, stalk = handles["start", 0], handles["turn", 0]
        self.drag_on_mat((stalk.x(), stalk.y()), (start.x() - 42.0, start.y() - 42.0))
        self.assertEqual(self.line.heading_deg, 45.0)
        self.settle(self.session)


class ThingsTest(MatTest):
    SHEET = "Things"
    DEMO = "orchard"

    def test_each_kind_is_laid_down_dragged_and_taken_away(self) -> None:
        at_first = [thing.path for thing in self.sheet.listed]
        for kind, button in self.sheet.kinds.items():
            self.press(button)
            self.assertEqual(self.sheet.chosen.kind, kind)
            if kind != "finish":
                self.assertTrue(self.sheet.listed[self.sheet.chosen].isChecked())
            before = self.session.setup
            self.drag_on_mat((1000.0, 500.0), (1100.0, 400.0))
            self.settle(self.session)
            self.assertNotEqual(self.session.setup, before)
            box = self.sheet.hand.boxes[self.sheet.chosen]
            self.assertEqual((box.x_mm, box.y_mm), (1100.0, 400.0), kind)
            self.press(self.sheet.away_button)
        # All are taken away again.
        self.assertEqual(
            [thing.path for thing in self.sheet.listed], [path for path in at_first if path != "mat.finish"]
        )
        # The first is chosen then, and not what has moved up.
        self.sheet.choose(list(self.sheet.listed)[1])
        self.press(self.sheet.away_button)
        self.assertEqual(self.sheet.chosen, next(iter(self.sheet.listed)))

    def test_a_corner_makes_it_larger_and_the_other_corner_stays(self) -> None:
        self.press(self.sheet.kinds["patch"])
        corner = self.sheet.hand.corner()
        self.drag_on_mat((corner.x(), corner.y()), (corner.x() + 100.0, corner.y() + 50.0))
        patch = self.session.setup.mat.patches[-1]
        self.assertEqual((patch.width_mm, patch.height_mm, patch.x_mm, patch.y_mm), (300.0, 200.0, 1050.0, 525.0))
        # Of those that lie over each other a press chooses the uppermost, but for the one worked on.
        self.press(self.sheet.kinds["patch"])
        *_, under, upper = (thing for thing in self.sheet.hand.boxes if thing.kind == "patch")
        middle = self.mat.to_px().map(QPointF(1000.0, 500.0)).toPoint()
        for chosen, pressed in ((under, under), (next(iter(self.sheet.hand.boxes)), upper)):
            self.sheet.choose(chosen)
            QTest.mouseClick(self.mat, LEFT, pos=middle)
            self.assertEqual(self.sheet.chosen, pressed)

    def test_keys_and_dials(self) -> None:
        self.press(self.sheet.kinds["shadow"])
        self.mat.setFocus()
        QTest.keyClick(self.mat, Qt.Key.Key_Left, SHIFT)
        self.assertEqual(self.session.setup.light.areas[0].x_mm, 990.0)
        QTest.keyClick(self.mat, Qt.Key.Key_Insert)
        self.assertEqual(len(self.session.setup.light.areas), 2)
        as_recorded(self, "things on the table", self.sheet)
        QTest.keyClick(self.mat, Qt.Key.Key_Delete)
        self.assertEqual(len(self.session.setup.light.areas), 1)
        self.sheet.listed[next(iter(self.sheet.listed))].click()
        width = self.sheet.numbers[type(self.session.setup.mat.patches[0]), "width_mm"]
        self.assertTrue(width.isVisible())
        width.edit_to(120.0)
        self.assertEqual(self.session.setup.mat.patches[0].width_mm, 120.0)
        self.settle(self.session)

    def test_a_patch_lies_over_the_line_or_under_it_in_a_colour_of_its_own(self) -> None:
        self.press(self.sheet.kinds["shadow"])
        self.assertFalse(self.sheet.over.isVisible() or self.sheet.colour.isVisible())
        self.press(self.sheet.kinds["patch"])
        patch = self.session.setup.mat.patches[-1]
        self.assertTrue(self.sheet.over.isVisible() and self.sheet.colour.isVisible())
        self.assertEqual((self.sheet.over.isChecked(), self.sheet.colour.row.colour), (patch.over_line, patch.colour))
        self.press(self.sheet.over)
        self.assertEqual(self.session.setup.mat.patches[-1].over_line, not patch.over_line)
        self.assertEqual(self.sheet.over.isChecked(), not patch.over_line)
        self.sheet.colour.field.setText("#123456")
        self.sheet.colour.field.editingFinished.emit()
        self.assertEqual(self.session.setup.mat.patches[-1].colour, "#123456")
        self.assertEqual(self.sheet.colour.row.colour, "#123456")

    def test_what_there_are_several_of_is_numbered_and_an_empty_table_is_told(self) -> None:
        for thing in tuple(self.sheet.listed):
            self.sheet.choose(thing)
            self.press(self.sheet.away_button)
        self.assertEqual(self.sheet.heading.text(), "Nothing lies on the table but the tape.")
        self.press(self.sheet.kinds["shadow"])
        self.assertEqual([button.text() for button in self.sheet.listed.values()], ["shadow"])
        self.assertEqual(self.sheet.heading.text(), "On the table")
        self.press(self.sheet.kinds["patch"])
        self.press(self.sheet.double_button)
        shown = [button.text() for button in self.sheet.listed.values()]
        self.assertEqual(sorted(shown), ["patch 1", "patch 2", "shadow"])
        self.assertEqual(self.sheet.listed[self.sheet.chosen].text(), "patch 2")
        for _ in range(2):
            self.sheet.double()
        self.settle(self.session)
        places = [button.pos() for button in self.sheet.listed.values()]
        self.assertEqual(places[4].x(), places[0].x())
        self.assertGreater(places[4].y(), places[0].y())

    def test_a_shadow_that_is_made_a_glare_stays_chosen(self) -> None:
        self.press(self.sheet.kinds["patch"])
        self.press(self.sheet.kinds["shadow"])
        self.sheet.numbers[LightArea, "factor"].edit_to(2.0)
        self.assertEqual((self.sheet.chosen.kind, self.sheet.chosen.path), ("glare", "light.areas.0"))
        self.assertTrue(self.sheet.listed[self.sheet.chosen].isChecked())

    def test_the_mats_own_colour_is_changed_and_shown(self) -> None:
        line = self.line.colour
        self.assertEqual(self.sheet.ground.row.colour, self.session.setup.mat.colour)
        self.sheet.ground.field.setText("#aabbcc")
        self.sheet.ground.field.editingFinished.emit()
        mat = self.session.setup.mat
        self.assertEqual((mat.colour, mat.line.colour), ("#aabbcc", line))
        self.assertEqual(self.sheet.ground.row.colour, "#aabbcc")

    def test_what_is_being_typed_is_of_the_thing_it_was_typed_for(self) -> None:
        self.press(self.sheet.kinds["shadow"])
        dial = self.sheet.numbers[LightArea, "half_width_mm"]
        dial.setFocus()
        QTest.keyClicks(dial, "7")
        QTest.keyClicks(QApplication.focusWidget(), "7")
        # Without the focus coming to it, as by what reads the screen.
        self.sheet.kinds["patch"].click()
        self.app.processEvents()
        self.assertEqual(self.session.setup.light.areas[0].half_width_mm, 77.0)
        self.assertEqual(self.sheet.chosen.kind, "patch")

    def test_what_was_typed_for_a_thing_that_went_otherwise_is_of_no_other(self) -> None:
        before = self.session.setup
        self.press(self.sheet.kinds["shadow"])
        laid, undo = self.session.setup, self.window.actions_of.named["undo"]
        # Taken first, what was typed is what is undone first; a step that goes back by itself takes it along.
        for name, back, stands in (("x_mm", undo.trigger, laid), ("soft_mm", self.session.document.undo, before)):
            dial = self.sheet.numbers[LightArea, name]
            dial.setFocus()
            QTest.keyClicks(dial, "9")
            back()
            self.settle(self.session)
            self.assertEqual(self.session.setup, stands, name)

    def test_surface_and_size_change_the_run(self) -> None:
        before = self.session.view.figures
        self.press(self.sheet.surfaces["wood"])
        self.assertNotEqual(self.session.view.figures, before)
        self.assertIn("grain", self.sheet.surface_says.text())
        self.press(self.sheet.surfaces["vinyl"])
        self.assertIn("Shines", self.sheet.surface_says.text())
        self.press(self.sheet.surfaces["paper"])
        self.assertIn("Matt", self.sheet.surface_says.text())
        self.sheet.dials["mat.height_mm"].edit_to(800.0)
        self.settle(self.session)
        self.assertEqual(self.session.view.setup.mat.height_mm, 800.0)
        below, above = (self.mat.to_px().map(QPointF(1000.0, y)) for y in (0.0, 800.0))
        self.assertAlmostEqual(below.y() - above.y(), 800.0 * self.mat.px_per_mm, delta=1.0)


class ShelfTest(MatTest):
    SHEET = "Shelf"

    def test_own_mats_stay_on_the_shelf(self) -> None:
        self.sheet.name.setText("Net loft")
        self.sheet.name.editingFinished.emit()
        self.assertEqual(self.session.setup.mat.name, "Net loft")
        self.press(self.sheet.keep)
        self.assertEqual(self.window.notice.words.text(), "“Net loft” is on the shelf, for every project.")
        self.assertEqual([shelved.mat.name for shelved in mat_file.shelf()], ["Net loft"])
        self.press(self.sheet.thumbnails["quarry"])
        self.assertEqual([name for name, each in self.sheet.thumbnails.items() if each.isChecked()], ["quarry"])
        self.assertFalse(self.sheet.forget.isEnabled())
        self.press(self.sheet.thumbnails["own net-loft.mat.json"])
        self.assertEqual(self.session.setup.mat.name, "Net loft")
        self.assertTrue(self.sheet.forget.isEnabled())
        self.press(self.sheet.forget)
        self.assertEqual(mat_file.shelf(), ())
        self.assertFalse(self.sheet.forget.isEnabled())

    def test_a_name_that_is_being_typed_stays_whatever_else_changes(self) -> None:
        self.sheet.name.setFocus()
        QTest.keyClicks(self.sheet.name, "Slip")
        typed = self.sheet.name.text()
        self.assertTrue(typed.endswith("Slip"))
        self.edit("program.speed", 51.0)
        self.assertEqual(self.sheet.name.text(), typed)

    def test_the_tightest_bend_of_each_edge_and_way_is_told_and_followed(self) -> None:
        texts = {key: button.text() for key, button in self.sheet.tightest.items()}
        # Bend H of 80 mm turns right: the right edge lies inside it, half a tape's width nearer to its middle.
        self.assertEqual(
            texts,
            {("left", False): "90 mm, F", ("right", False): "70 mm, H",
             ("left", True): "70 mm, D", ("right", True): "90 mm, C"},
        )  # fmt: skip
        line = self.session.setup.mat.line
        straight = sum(piece.length_mm for piece in line.pieces if isinstance(piece, Straight))
        length = stroke_route(line, "").length_mm
        self.assertEqual(
            self.sheet.asks.text(),
            f"{length / 1000.0:.2f} m of line on 2000 × 1000 mm, {100.0 * straight / length:.0f} % straight; 11 bends, "
            "0 corners.",
        )
        self.assertEqual({key for key, button in self.sheet.tightest.items() if button.isChecked()}, {("left", False)})
        self.press(self.sheet.tightest["right", True])
        self.assertEqual((self.session.setup.program.edge, self.session.setup.trial.reverse), ("right", True))
        self.assertEqual({key for key, button in self.sheet.tightest.items() if button.isChecked()}, {("right", True)})
        route, bend, aside, radius = self.sheet.demand_hand.drawn
        self.assertTrue(texts["right", True].endswith(bend.name))
        self.assertEqual((aside, f"{radius:.0f}"), (-10.0, texts["right", True].split()[0]))
        self.assertIs(route.closed, True)
        self.painted(self.mat, "rust", least=40)

    def test_laps_saved_are_laps_read(self) -> None:
        self.sheet.dials["trial.laps"].edit_to(2.0)
        self.assertTrue(self.window.files.save_to(self.folder / "laps.irontrail"))
        self.assertEqual(project_file.read(self.folder / "laps.irontrail").setup.trial.laps, 2)
        self.settle(self.session)

    def test_on_a_tiny_and_on_a_large_mat_the_tape_can_be_held(self) -> None:
        for wide, high in ((300.0, 200.0), (4000.0, 2500.0)):
            self.session.set_values({"mat.width_mm": wide, "mat.height_mm": high})
            self.settle(self.session)
            hand = self.turn_to("Tape").hand
            start = hand.handles()["start", 0]
            at = self.mat.to_px().map(start)
            self.assertTrue(np.isfinite([at.x(), at.y()]).all())
            self.painted(self.mat, self.session.setup.mat.colour, least=500)
            self.turn_to("Shelf")


if __name__ == "__main__":
    unittest.main()
