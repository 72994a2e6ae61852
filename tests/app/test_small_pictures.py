"""Small pictures that move or answer, read back; what stands still on the others is recorded (`tests/drawings.py`)."""

import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from PySide6.QtCore import QEvent, QPoint, QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QHelpEvent, QPainter, QPolygonF, QTransform
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from irontrail.app.kept_runs import MAX_SHOWN
from irontrail.app.theme import KEPT_DASHES, LIGHT
from tests.app.test_pictures import climbing
from tests.seen import Seen, seen
from tests.support import WindowTest, lighthouse, pixels_near

LEFT = Qt.MouseButton.LeftButton


class SmallPictureTest(WindowTest):
    """Each with numbers made up."""

    def setUp(self) -> None:
        super().setUp()
        from irontrail.app.theme import worn

        self.theme = worn(LIGHT)

    def drawn(self, view: Any, width: int = 300, height: int | None = None) -> Seen:
        view.resize(QSize(width, height or view.height()))
        return seen(view)

    def test_trade_offs_have_time_rightward_swing_upward_and_now(self) -> None:
        from irontrail.app.widgets.trade_off_picture import Point, TradeOffPicture

        view = TradeOffPicture(self.theme)
        self.assertEqual(self.drawn(view).texts, ["time, s", "swing, mm"], "nothing is numbered before it is found")
        points = (Point(10.0, 6.0, "PID"), Point(12.0, 3.0, "bands", 1))
        view.set_points(points, Point(11.0, 9.0), joined=False)
        picture = self.drawn(view)
        places = [view.place(point) for point in points]
        self.assertTrue(places[0].x() < places[1].x() and places[0].y() < places[1].y())
        self.assertLess(picture.word("PID").x, picture.word("bands").x)
        self.assertLess(picture.word("now").y, picture.word("PID").y)
        self.assertIn("time, s", picture.texts)
        self.assertIn("swing, mm", picture.texts)
        shapes = [len(line.points) for line in picture.lines if line.fill.lower() == LIGHT.slate.lower()]
        self.assertEqual(len(set(shapes)), 2, "laws differ by shape")
        self.assertEqual(view.value_told(), "PID 10.00 s, 6.0 mm; bands 12.00 s, 3.0 mm")
        view.at = 1
        self.assertEqual(view.value_told(), "bands 12.00 s, 3.0 mm")
        view.at = -1
        ways = [line for line in picture.of_colour(LIGHT.slate) if not line.fill]
        self.assertEqual(ways, [], "nothing joins what was not found one after the other")
        view.set_points(points, Point(11.0, 9.0), joined=True)
        (way,) = [line for line in self.drawn(view).of_colour(LIGHT.slate) if not line.fill]
        np.testing.assert_allclose(way.points, [(place.x(), place.y()) for place in places], atol=0.1)
        for i, point in enumerate(places):
            chosen: list[int] = []
            view.chosen.connect(chosen.append)
            QTest.mouseClick(view, LEFT, pos=point.toPoint())
            view.chosen.disconnect()
            self.assertEqual(chosen, [i])

    def test_strain_bars(self) -> None:
        from irontrail.app.widgets.strain_bars import StrainBars
        from irontrail.core.tune.robustness import Strain, StrainResult

        strain = Strain("battery", "robot.drive.battery", "%", -0.2, 0.2, 100.0, True)
        held = StrainResult(strain, (-0.2, 0.0, 0.2), (6, 20, 12), 20)
        view = StrainBars(self.theme)
        view.set_held((held,))
        self.assertIn("battery −20 %: 6 of 20 finish (truly 12 to 54 %)", view.accessibleDescription())
        picture = self.drawn(view, 330, 44)
        self.assertLess(picture.word("−20 %").x, picture.word("+20 %").x)
        squares = [picture.of_colour(colour, fill=True)[0] for colour in (LIGHT.rust, LIGHT.good, LIGHT.brass)]
        self.assertTrue(squares[0].middle[0] < squares[1].middle[0] < squares[2].middle[0])
        sides = [square.box[2] - square.box[0] for square in squares]
        self.assertTrue(sides[0] < sides[2] < sides[1], "the fuller, the more often it finishes")
        framed = [line for line in picture.of_colour(LIGHT.rust) if not line.fill]
        self.assertAlmostEqual(framed[0].middle[0], squares[1].middle[0], delta=1.0)
        with mock.patch("irontrail.app.widgets.strain_bars.QToolTip.showText") as shown:
            for at in (QPoint(round(squares[0].middle[0]), 20), QPoint(2, 20)):
                QApplication.sendEvent(view, QHelpEvent(QEvent.Type.ToolTip, at, at))
        self.assertEqual([call.args[1] for call in shown.call_args_list], [held.says(0), ""])

    def test_keys_on_the_side_view_raise_the_sensor_and_its_shield(self) -> None:
        from irontrail.app.widgets.side_view import SideView

        side = SideView(self.theme)
        side.set_sensor(10.0, 0.3, 5.0)
        moved: list[tuple[float, bool]] = []
        up, down, height, shield = Qt.Key.Key_Up, Qt.Key.Key_Down, side.height_dragged, side.shield_dragged
        for signal, key, value in ((height, up, 10.5), (height, down, 9.5), (shield, up, 0.25), (shield, down, 0.35)):
            side.chosen = "height" if signal is height else "shield"
            moved.clear()
            signal.connect(lambda value, settled: moved.append((value, settled)))
            QTest.keyClick(side, key)
            signal.disconnect()
            self.assertAlmostEqual(moved[0][0], value)

    def test_a_map_counts_both_ways_and_draws_its_cliff(self) -> None:
        from irontrail.app.widgets.map_picture import MapPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.grid import GridSpec, explore

        setup = lighthouse()
        spec = GridSpec(setup, axis(setup, "program.speed"), axis(setup, "program.proportional.gain"), 6, 1)
        made = explore(spec)
        view = MapPicture(self.theme)
        view.resize(320, view.height())
        view.set_map(made, "time_s")
        picture = seen(view)
        self.assertTrue(climbing(picture, [spec.x.shown(spec.x.at(share)) for share in (0.0, 0.25, 0.5, 0.75)], "x"))
        self.assertTrue(climbing(picture, [spec.y.shown(spec.y.at(share)) for share in (0.25, 0.5, 0.75)], "y"))
        self.assertIn("speed, %", picture.texts)
        _, share = made.shown("time_s")
        good = share >= 0.5
        edges = int((good[:, 1:] != good[:, :-1]).sum() + (good[1:] != good[:-1]).sum())
        lines = [line for line in picture.of_colour(LIGHT.ink) if len(line.points) == 2]
        room = view.room()
        inside = [line for line in lines if room.contains(QRectF(room.center(), QSize(1, 1)))]
        self.assertGreater(edges, 2)
        self.assertGreaterEqual(len(inside), edges)
        chosen: list[tuple[int, int]] = []
        view.chosen.connect(lambda i, j: chosen.append((i, j)))
        QTest.mouseClick(view, LEFT, pos=view.cell_rect(4, 1).center().toPoint())
        self.assertEqual(chosen, [(4, 1)])
        view.at, told = None, "speed across, gain up, 36 cells"
        self.assertEqual(view.value_told(), told)
        values, share = made.shown("time_s")
        j, i = (int(place) for place in np.unravel_index(np.nanargmin(values), values.shape))
        view.at = (i, j)
        at = f"{spec.x.shown(spec.value(spec.x, i))} and {spec.y.shown(spec.value(spec.y, j))}"
        does = f"finishes {100 * share[j, i]:.0f} %, {values[j, i]:.2f} s"
        self.assertEqual(view.value_told(), f"{told}; at {at}: {does}")
        view.set_map(replace(made, done=np.zeros_like(made.done)), "time_s")
        self.assertEqual(view.value_told(), f"speed across, gain up, 0 cells; at {at}: not run yet")

    def test_racers_point_ahead_and_bear_their_numbers(self) -> None:
        from PySide6.QtCore import QObject
        from PySide6.QtGui import QPolygonF, QTransform

        from irontrail.app.widgets.mat_hand import MatHand
        from irontrail.app.widgets.mat_scene import KEPT_ON_MAT
        from irontrail.app.widgets.race_hand import RaceHand, Racer, Won

        class Shown(QWidget):
            def __init__(self, hand: MatHand) -> None:
                super().__init__()
                self.hand = hand
                self.resize(300, 200)

            def paintEvent(self, _event: object) -> None:
                from PySide6.QtGui import QPainter

                self.hand.draw(QPainter(self), LIGHT, QTransform(1.0, 0.0, 0.0, -1.0, 0.0, 200.0))

        holder = QObject()
        hand = RaceHand(holder)
        hand.set_racers((Racer("7", lighthouse().robot, 150.0, 100.0, 0.5 * np.pi, 1),))
        picture = seen(Shown(hand))
        body = picture.of_colour(KEPT_ON_MAT[1])[0]
        nose = body.points[np.argmin(body.points[:, 1])]
        self.assertAlmostEqual(nose[0], 150.0, delta=1.0)
        self.assertAlmostEqual(nose[1], 100.0 - 75.0, delta=1.0)
        self.assertAlmostEqual(picture.word("7").x, 150.0, delta=10.0)
        way = QPolygonF([QPointF(20.0, 20.0), QPointF(60.0, 20.0), QPointF(90.0, 20.0)])
        for gained, colour, dashed in ((0.4, LIGHT.good, False), (-0.4, LIGHT.rust, True)):
            hand.set_racers(())
            hand.set_stretches((Won(way, gained),))
            picture = seen(Shown(hand))
            word = picture.words[0]
            self.assertEqual(word.text, "−0.40 s" if gained > 0 else "+0.40 s")
            self.assertEqual(word.colour.lower(), colour.lower())
            self.assertEqual(picture.of_colour(colour)[0].dashed, dashed)

    def test_the_work_line_tells_how_far_each_stop_has_come(self) -> None:
        from irontrail.app.widgets.work_line import State, WorkLine

        line = WorkLine(("Mat", "Robot", "Light", "Pit"), self.theme)
        line.resize(92, 280)
        line.set_states(
            {
                "Mat": (State.READY, ""), "Robot": (State.READY, ""), "Light": (State.ATTENTION, "not calibrated"),
                "Pit": (State.EMPTY, ""),
            }
        )  # fmt: skip
        line.set_current("Robot")
        picture = seen(line)
        self.assertTrue(climbing(picture, ["Pit", "Light", "Robot", "Mat"], "y"))
        words = picture.word("not calibrated")
        self.assertEqual(words.colour.lower(), LIGHT.rust.lower())
        self.assertTrue(picture.word("Light").y < words.y < picture.word("Pit").y)
        inks = {name: picture.word(name).colour.lower() for name in ("Mat", "Light", "Pit")}
        self.assertEqual(inks, {"Mat": LIGHT.ink.lower(), "Light": LIGHT.ink.lower(), "Pit": LIGHT.second.lower()})
        (here,) = picture.of_colour(LIGHT.rust, fill=True)
        self.assertAlmostEqual(here.middle[1], picture.word("Robot").y, delta=8.0)
        rings = {colour: [mark.middle[1] for mark in picture.of_colour(colour)] for colour in (LIGHT.rust, LIGHT.edge)}
        self.assertTrue(any(abs(y - picture.word("Light").y) < 8.0 for y in rings[LIGHT.rust]))
        self.assertTrue(any(abs(y - picture.word("Pit").y) < 8.0 for y in rings[LIGHT.edge]))
        self.assertFalse(any(abs(y - picture.word("Pit").y) < 8.0 for y in rings[LIGHT.rust]))

    def test_keys_go_from_colour_to_colour(self) -> None:
        from irontrail.app.widgets.colour_matrix import Cell, ColourMatrix

        view = ColourMatrix(self.theme)
        colours = (("black", "#202020"), ("red", "#cc2020"), ("white", "#ffffff"))
        view.set_cells(colours, tuple(tuple(Cell(10.0, "hardly") for _ in colours) for _ in colours))
        chosen: list[tuple[int, int]] = []
        view.chosen.connect(lambda line, surround: chosen.append((line, surround)))
        for key in (Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Down):
            QTest.keyClick(view, key)
        QTest.keyClick(view, Qt.Key.Key_Return)
        QTest.keyClick(view, Qt.Key.Key_Up)
        QTest.keyClick(view, Qt.Key.Key_Left)
        QTest.keyClick(view, Qt.Key.Key_Return)
        self.assertEqual(chosen, [(2, 2), (1, 1)])

    def test_the_robot_has_its_nose_ahead_and_tells_the_sensors_side(self) -> None:
        from PySide6.QtGui import QPainter

        from irontrail.app.widgets.robot_drawing import DARK_DISC, LIGHT_RING, draw_robot

        class Shown(QWidget):
            side: bool | None = True

            def paintEvent(self, _event: object) -> None:
                painter = QPainter(self)
                painter.translate(150.0, 100.0)
                draw_robot(painter, LIGHT, lighthouse().robot, 4.5, self.side, 1.0)

        view = Shown()
        view.resize(300, 200)
        picture = seen(view)
        nose = next(line for line in picture.of_colour("#23272b") if len(line.points) == 3 and not line.fill)
        self.assertGreater(nose.points[1, 0], nose.points[0, 0])
        ahead = 150.0 + lighthouse().robot.mount.ahead_mm
        ring = picture.of_colour(LIGHT_RING)[0]
        self.assertAlmostEqual(ring.middle[0], ahead, delta=0.5)
        self.assertEqual(picture.of_colour(DARK_DISC, fill=True), [])
        view.side = False
        picture = seen(view)
        self.assertEqual(picture.of_colour(LIGHT_RING), [])
        self.assertAlmostEqual(picture.of_colour(DARK_DISC, fill=True)[0].middle[0], ahead, delta=0.5)

    def test_signs_of_playing_point_their_way(self) -> None:
        from irontrail.app.widgets.playback_bar import SignButton

        for sign, ahead in (("back", False), ("forward", True), ("play", True)):
            view = SignButton(sign, sign, self.theme)
            shape = max(seen(view).lines, key=lambda line: len(np.unique(line.points, axis=0)) == 3)
            tip = shape.points[np.argmax(np.abs(shape.points[:, 1] - shape.points[:, 1].mean()) < 0.6)]
            self.assertEqual(tip[0] > shape.points[:, 0].mean(), ahead, sign)

    def test_letters_stand_outside_their_bends_and_shadows_have_their_name(self) -> None:
        from irontrail.app.pictures import marks_of
        from irontrail.app.widgets.mat_scene import Scene
        from irontrail.app.widgets.mat_view import MatView
        from irontrail.core import derive
        from irontrail.core.light.sensor import LightArea

        setup = lighthouse()
        areas = (LightArea(500.0, 500.0, 80.0, 60.0, 0.5), LightArea(1500.0, 500.0, 80.0, 60.0, 1.5))
        setup = replace(setup, light=replace(setup.light, areas=areas))
        route = derive.route(setup.mat, False)
        view = MatView(self.theme)
        view.resize(900, 460)
        view.set_scene(Scene(setup.mat, marks_of(setup, route), None, "", ()))
        picture = seen(view)
        for bend in route.bends:
            middle = 0.5 * (bend.start_mm + bend.end_mm)
            x, y, heading = route.at(middle)
            at, word = view.to_px().map(QPointF(x, y)), picture.word(bend.name)
            # To its left, in pixels, which grow downward.
            aside = -np.sin(heading) * (word.x + 4.0 - at.x()) - np.cos(heading) * (word.y - 4.0 - at.y())
            self.assertEqual(aside < 0.0, bend.turns_left, bend.name)
        self.assertLess(picture.word("shadow × 0.5").x, picture.word("glare × 1.5").x)

    def test_the_map_marks_today_and_darkens_what_takes_longer(self) -> None:
        from irontrail.app.widgets.map_drawing import TONES
        from irontrail.app.widgets.map_picture import MapPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.grid import GridSpec, explore

        setup = lighthouse()
        x, y = axis(setup, "program.speed", 30.0, 60.0), axis(setup, "program.proportional.gain", 0.2, 0.8)
        view = MapPicture(self.theme)
        view.resize(320, view.height())
        view.set_map(explore(GridSpec(setup, x, y, 4, 1)), "time_s")
        picture, room = seen(view), view.room()
        today = picture.of_colour(LIGHT.rust)[0]
        shares = (x.of(setup) - x.low) / (x.high - x.low), (y.of(setup) - y.low) / (y.high - y.low)
        self.assertAlmostEqual(today.middle[0], room.left() + shares[0] * room.width(), delta=0.5)
        self.assertAlmostEqual(today.middle[1], room.bottom() - shares[1] * room.height(), delta=0.5)
        image = view.grab().toImage()
        values, _ = view.map.shown("time_s")
        j, i = np.unravel_index(np.nanargmin(values), values.shape)
        quick = image.pixelColor(view.cell_rect(int(i), int(j)).center().toPoint())
        self.assertEqual(quick.name().upper(), TONES[0], "the quickest is the lightest")
        j, i = np.unravel_index(np.nanargmax(values), values.shape)
        slow = image.pixelColor(view.cell_rect(int(i), int(j)).center().toPoint())
        self.assertEqual(slow.name().upper(), TONES[-1], "the slowest is the darkest")
        self.assertGreater(pixels_near(image, TONES[0], 12), 50)

    def test_what_stands_over_the_three_lines_does_not_run_together(self) -> None:
        from PySide6.QtGui import QFontMetricsF

        from irontrail.app.theme import font
        from irontrail.app.widgets.nearby_picture import NearbyPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.nearby import Nearby

        view, values, often = NearbyPicture(self.theme), (1.0, 2.0, 3.0), (1.0, 1.0, 1.0)
        small, large = ((4.6, 5.0, 9.4), (47.0, 48.0, 52.0)), ((10.6, 11.0, 13.4), (98.0, 99.0, 120.0))
        for (swings, rooms), wide, size in ((small, 316, 10), (small, 292, 9), (large, 292, 9)):
            near = Nearby(axis(lighthouse(), "program.speed"), values, often, (20.07, 20.08, 20.09), swings, rooms)
            view.set_near(near)
            words = sorted(self.drawn(view, wide).words, key=lambda word: word.x)
            self.assertEqual(len(words), 3)
            widths = [QFontMetricsF(font(size)).horizontalAdvance(word.text) for word in words]
            # In letters of that size, with the room that is left shared among the three.
            starts = 8.0 + np.cumsum([0.0, *widths[:2]]) + np.arange(3) * (wide - 16.0 - sum(widths)) / 3
            np.testing.assert_allclose([word.x for word in words], starts, atol=0.6)
            ends = [word.x + width for word, width in zip(words, widths, strict=True)]
            self.assertTrue(all(end + 3.0 < after.x for end, after in zip(ends, words[1:], strict=False)), ends)
            self.assertLess(ends[-1], wide)

    def test_the_patch_is_drawn_as_it_lies_with_its_reading(self) -> None:
        from irontrail.app.widgets.patch_picture import PatchPicture

        mat = np.full((200, 200, 3), 0.9, np.float32)
        # Dark above and to the left of the probe.
        mat[100:, :100] = 0.02
        view = PatchPicture(self.theme)
        view.set_patch(mat, 100.0, 100.0, 4.5)
        view.set_words("47", ("raw 31 %", "dark side"))
        picture = self.drawn(view)
        self.assertTrue({"47", "raw 31 %", "dark side"} <= set(picture.texts))
        self.assertLess(picture.word("47").y, picture.word("raw 31 %").y)
        rings = sorted(line.box[2] - line.box[0] for line in picture.of_colour(LIGHT.rust))
        self.assertAlmostEqual(rings[1] / rings[0], 2.0, delta=0.02)
        image = view.grab().toImage()
        middle = picture.of_colour(LIGHT.rust)[0].middle
        tones = {
            (across, up): image.pixelColor(round(middle[0] + 6 * across), round(middle[1] - 6 * up)).lightness()
            for across in (-1, 1)
            for up in (-1, 1)
        }
        self.assertEqual(min(tones, key=lambda place: tones[place]), (-1, 1))

    def test_keys_move_the_weight_toward_either_sensor(self) -> None:
        from irontrail.app.widgets.weight_picture import Weighing, WeightPicture

        view = WeightPicture(self.theme)
        view.set_weighing(Weighing(90.0, 30.0, 0.75, 75.0))
        dragged: list[tuple[float, bool]] = []
        view.dragged.connect(lambda weight, settled: dragged.append((weight, settled)))
        QTest.keyClick(view, Qt.Key.Key_Right)
        QTest.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(dragged, [(0.76, True), (0.65, True)])

    def test_a_run_of_the_logbook_says_its_star_and_its_note(self) -> None:
        from irontrail.app.widgets.log_list import LogEntry, LogList

        log = LogList(self.theme)
        starred = LogEntry(7, "speed 50 → 60", "10.5 s", "quick", True, None, "")
        log.set_entries((starred, LogEntry(6, "first of all", "12.1 s", "", False, 0, "")))
        rows = [log.model().index(row, 0) for row in range(2)]
        said = [row.data(Qt.ItemDataRole.AccessibleTextRole) for row in rows]
        self.assertEqual(said, ["run 7, starred: speed 50 → 60; 10.5 s", "run 6: first of all; 12.1 s"])
        tips = [row.data(Qt.ItemDataRole.ToolTipRole) for row in rows]
        self.assertEqual(tips, ["speed 50 → 60\nquick", "first of all"])

    def test_alike_wheels_go_straight_on_or_stand(self) -> None:
        from irontrail.app.widgets.turn_picture import Turning, TurnPicture

        view = TurnPicture(self.theme)
        alike = [Turning(False, 12.0, power, power, 0.0) for power in (50.0, 0.0)]
        self.assertEqual([view.way(each) for each in alike], ["goes straight on", "stands"])

    def test_stretches_won_are_green_and_whole_and_those_lost_rust_and_dashed(self) -> None:
        from irontrail.app.widgets.race_hand import RaceHand, Won

        class Mat(QWidget):
            def paintEvent(self, _event: Any) -> None:
                hand.draw(QPainter(self), LIGHT, QTransform())

        hand = RaceHand(self.app)
        ways = [QPolygonF([QPointF(40.0 + 20.0 * i, y) for i in range(8)]) for y in (60.0, 160.0)]
        # The other took longer on the first, and less on the second.
        hand.set_stretches((Won(ways[0], 0.25), Won(ways[1], -0.5)))
        mat = Mat()
        picture = self.drawn(mat, 300, 240)
        for colour, dashed, words, y in ((LIGHT.good, False, "−0.25 s", 60.0), (LIGHT.rust, True, "+0.50 s", 160.0)):
            (line,) = (each for each in picture.of_colour(colour) if each.width == 4.0)
            self.assertEqual((line.dashed, line.middle[1]), (dashed, y))
            self.assertEqual(picture.word(words).colour.lower(), colour.lower())
            self.assertLess(abs(picture.word(words).y - y), 30.0)

    def test_the_colour_it_has_is_framed_and_arrows_go_on_from_it(self) -> None:
        from irontrail.app.widgets.swatches import Swatches
        from irontrail.core.light.contrast import COLOURS

        colours = [colour for _, colour in COLOURS]
        view = Swatches("Tape", self.theme)
        chosen: list[str] = []
        view.chosen.connect(chosen.append)
        for written in (colours[2], colours[2].upper()):
            view.set_colour(written)
            framed = self.drawn(view.row, view.row.width()).of_colour(LIGHT.rust)
            self.assertEqual([line.fill.lower() for line in framed], [colours[2]])
            QTest.keyClick(view.row, Qt.Key.Key_Right)
            QTest.keyClick(view.row, Qt.Key.Key_Left)
            self.assertEqual(chosen[-2:], [colours[3], colours[1]])
        view.set_colour("#123457")
        self.assertEqual(self.drawn(view.row, view.row.width()).of_colour(LIGHT.rust), [])

    def test_dashes_of_kept_runs_are_as_many_as_can_be_shown(self) -> None:
        self.assertEqual(len(set(KEPT_DASHES)), MAX_SHOWN)


if __name__ == "__main__":
    unittest.main()
