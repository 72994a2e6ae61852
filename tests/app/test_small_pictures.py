"""Pictures of panels by themselves, read back: which words stand where, which mark has which colour and place."""

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

    def test_spread_bars(self) -> None:
        from irontrail.app.widgets.spread_bars import Spread, SpreadBars

        view = SpreadBars(self.theme)
        view.set_spreads(
            (Spread("time", "s", 2, 10.0, 11.0, 14.0, 13.0), Spread("swing", "mm", 1, 2.0, 3.0, 4.0, None))
        )
        picture = self.drawn(view)
        self.assertTrue(climbing(picture, ["10.00", "11.00 s"], "x"))
        self.assertEqual(picture.texts, ["time", "11.00 s", "10.00", "14.00", "swing", "3.0 mm", "2.0", "4.0"])
        bar = picture.of_colour(LIGHT.slate, fill=True)[0]
        middle = picture.of_colour(LIGHT.ink)[0]
        now = picture.of_colour(LIGHT.rust)[0]
        left, _, right, _ = bar.box
        self.assertAlmostEqual((middle.middle[0] - left) / (right - left), 0.25, delta=0.02)
        self.assertAlmostEqual((now.middle[0] - left) / (right - left), 0.75, delta=0.02)
        self.assertEqual(len(picture.of_colour(LIGHT.rust)), 1, "only one has a run in sight")

    def test_stretch_bars(self) -> None:
        from irontrail.app.widgets.stretch_bars import StretchBars, StretchRow

        view = StretchBars(self.theme)
        bend, straight = StretchRow("A", True, 2.0, 3.0, 1.5, True), StretchRow("A–B", False, 1.0, 2.0, 1.4, True)
        view.set_rows((bend, straight))
        picture = self.drawn(view, 330)
        bars = picture.of_colour(LIGHT.rust, fill=True)
        self.assertAlmostEqual((bars[0].box[2] - bars[0].box[0]) / (bars[1].box[2] - bars[1].box[0]), 2.0, delta=0.02)
        self.assertEqual(picture.word("+0.50").colour.lower(), LIGHT.rust.lower())
        self.assertEqual(picture.word("−0.40").colour.lower(), LIGHT.good.lower())
        self.assertIn("3.0 mm", picture.texts)
        left = bars[0].box[0]
        marks = [line.middle[0] - left for line in picture.of_colour(LIGHT.kept[0], fill=True)]
        wide = bars[0].box[2] - left
        self.assertAlmostEqual(marks[0] / wide, 0.75, delta=0.01)
        self.assertAlmostEqual(marks[1] / wide, 0.7, delta=0.01)
        view.set_rows((bend, replace(straight, whole=False)))
        self.assertNotIn("1.00", self.drawn(view, 330).texts)
        self.assertIn("—", self.drawn(view, 330).texts)
        self.assertLess(picture.word("A").y, picture.word("A–B").y)

    def test_gain_scale(self) -> None:
        from irontrail.app.widgets.gain_scale import GainScale

        view = GainScale(self.theme)
        view.set_gains(0.5, 1.0, 1.1)
        picture = self.drawn(view)
        now = picture.word("now 0.50")
        marks = [line for line in picture.of_colour(LIGHT.ink) if len(line.points) == 2]
        self.assertLess(now.x, marks[0].middle[0])
        self.assertLess(marks[0].middle[0], marks[1].middle[0])
        self.assertEqual([line.dashed for line in marks], [False, True])
        self.assertLess(picture.word("dies away").x, picture.word("rocks").x)
        share = (marks[0].middle[0] - 12.0) / (300 - 24.0)
        self.assertAlmostEqual(share, 1.0 / (1.6 * 1.1), delta=0.01)

    def test_target_picture(self) -> None:
        from irontrail.app.widgets.target_picture import TargetPicture

        view = TargetPicture(self.theme)
        view.set_scale(10.0, 80.0, {"was": 30.0, "is": 45.0, "should be": 60.0})
        picture = self.drawn(view)
        self.assertTrue(climbing(picture, ["dark 10", "is 45", "bright 80"], "x"))
        dark, light = picture.of_colour(LIGHT.slate, fill=True)[0], picture.of_colour(LIGHT.brass, fill=True)[0]
        self.assertLess(dark.middle[0], light.middle[0])
        self.assertTrue(next(line for line in picture.of_colour(LIGHT.second) if len(line.points) == 2).dashed)
        view.set_scale(80.0, 10.0, {"is": 45.0})
        turned = self.drawn(view)
        self.assertGreater(turned.word("dark 80").x, turned.word("bright 10").x)
        dark, light = turned.of_colour(LIGHT.slate, fill=True)[0], turned.of_colour(LIGHT.brass, fill=True)[0]
        self.assertGreater(dark.middle[0], light.middle[0])

    def test_course_of_a_search_falls(self) -> None:
        from irontrail.app.widgets.course_picture import CoursePicture

        view = CoursePicture(self.theme)
        view.set_course((float("nan"), 14.0, 13.0, 12.5), "s")
        picture = self.drawn(view)
        line = picture.of_colour(LIGHT.rust)[0]
        self.assertEqual(len(line.points), 3)
        self.assertTrue((np.diff(line.points[:, 0]) > 0).all() and (np.diff(line.points[:, 1]) > 0).all())
        self.assertLess(picture.word("14.00").y, picture.word("12.50").y)
        self.assertIn("best after each of 4 generations", picture.texts)

    def test_term_bars(self) -> None:
        from irontrail.app.widgets.term_bars import TermBars

        view = TermBars(self.theme)
        terms = (np.array([-20.0, 20.0]), np.array([5.0, 5.0]), np.array([0.0, -10.0]))
        view.set_terms(*terms)
        places = []
        for row in (0, 1):
            view.set_now(row)
            picture = self.drawn(view)
            places.append([line.middle[0] for line in picture.of_colour(LIGHT.rust)])
        self.assertIn("+20 %", picture.texts)
        self.assertIn("−10 %", picture.texts)
        self.assertLess(places[0][0], places[1][0], "a positive term lies to the right")
        self.assertLess(picture.word("steers left").x, picture.word("right").x)

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

    def test_side_view_and_plan(self) -> None:
        from irontrail.app.widgets.robot_plan import RobotPlan
        from irontrail.app.widgets.side_view import SideView

        side = SideView(self.theme)
        side.resize(300, 116)
        heights = []
        for height in (4.0, 16.0):
            side.set_sensor(height, 0.5, 4.5)
            picture = seen(side)
            self.assertIn(f"{height:g} mm", picture.texts)
            heights.append(side.height_handle().y())
        self.assertGreater(heights[0], heights[1], "higher is farther up")
        self.assertIn("shield 50 %", picture.texts)
        side.set_sensor(10.0, 0.3, 5.0)
        picture = seen(side)
        self.assertIn("shield 30 %", picture.texts)
        self.assertIn("sees a patch of 20 mm", picture.texts)
        mat_y = next(line for line in picture.of_colour("#23272b", fill=True) if line.box[2] - line.box[0] > 290).box[1]
        cone = picture.of_colour("#b07d16", fill=True)[0]
        per_mm = (mat_y - side.height_handle().y()) / 10.0
        self.assertAlmostEqual((cone.box[2] - cone.box[0]) / per_mm, 20.0, delta=0.1)
        skirts = picture.of_colour("#5c6268", fill=True)
        self.assertEqual(len(skirts), 2)
        for skirt in skirts:
            self.assertAlmostEqual((skirt.box[3] - skirt.box[1]) / per_mm, 3.0, delta=0.1)
        moved: list[tuple[float, bool]] = []
        up, down, height, shield = Qt.Key.Key_Up, Qt.Key.Key_Down, side.height_dragged, side.shield_dragged
        for signal, key, value in ((height, up, 10.5), (height, down, 9.5), (shield, up, 0.25), (shield, down, 0.35)):
            side.chosen = "height" if signal is height else "shield"
            moved.clear()
            signal.connect(lambda value, settled: moved.append((value, settled)))
            QTest.keyClick(side, key)
            signal.disconnect()
            self.assertAlmostEqual(moved[0][0], value)
        plan = RobotPlan(self.theme)
        plan.resize(300, 208)
        robot = lighthouse(robot__mount__aside_mm=20.0).robot
        plan.set_robot(robot, 4.5)
        picture = seen(plan)
        self.assertIn("110 mm", picture.texts)
        self.assertIn("75 mm", picture.texts)
        to_px, _ = plan.to_px(robot)
        sensor, axle = plan.handle_places()["sensor"], to_px.map(QPointF(0.0, 0.0))
        self.assertGreater(sensor.x(), axle.x(), "its front is to the right")
        self.assertLess(sensor.y(), axle.y(), "to the left is up")

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

    def test_a_colour_matrix_frames_what_can_be_followed(self) -> None:
        from irontrail.app.widgets.colour_matrix import Cell, ColourMatrix

        view = ColourMatrix(self.theme)
        colours = (("black", "#202020"), ("white", "#ffffff"))
        view.set_cells(colours, ((Cell(0.0, "no"), Cell(72.0, "yes")), (Cell(12.0, "hardly"), Cell(0.0, "no"))))
        picture = self.drawn(view)
        self.assertEqual(picture.word("72").colour.lower(), LIGHT.good.lower())
        self.assertEqual(picture.word("(12)").colour.lower(), LIGHT.brass_text.lower())
        frame = picture.of_colour(LIGHT.good)[0]
        self.assertTrue(view.cell_rect(0, 1).contains(QPointF(*frame.middle)))
        self.assertLess(picture.word("black").y, picture.word("white").y)

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

    def test_the_logbook_draws_stars_what_is_chosen_and_figures(self) -> None:
        from irontrail.app.widgets.log_list import LogEntry, LogList

        log = LogList(self.theme)
        log.resize(300, 240)
        entries = (
            LogEntry(7, "speed 50 → 60", "10.5 s", "quick", True, None, ""),
            LogEntry(6, "first of all", "12.1 s", "", False, 0, ""),
        )
        log.set_entries(entries)
        log.choose(6)
        self.app.processEvents()
        picture = seen(log.viewport())
        first, second = picture.word("7"), picture.word("6")
        self.assertLess(first.y, second.y)
        bars = [line for line in picture.of_colour(LIGHT.rust, fill=True) if line.box[2] - line.box[0] < 4.0]
        self.assertEqual(len(bars), 1)
        self.assertTrue(bars[0].box[1] < second.y < bars[0].box[3], "the bar stands by the chosen run")
        stars = [line for line in picture.lines if line.fill and len(line.points) >= 10 and line.box[2] < 24.0]
        self.assertEqual(len(stars), 1)
        self.assertAlmostEqual(stars[0].middle[1], first.y, delta=8.0)
        self.assertTrue({"speed 50 → 60", "first of all"} <= set(picture.texts))
        rows = [log.model().index(row, 0) for row in range(2)]
        self.assertEqual(
            [row.data(Qt.ItemDataRole.AccessibleTextRole) for row in rows],
            ["run 7, starred: speed 50 → 60; 10.5 s", "run 6: first of all; 12.1 s"],
        )
        tips = [row.data(Qt.ItemDataRole.ToolTipRole) for row in rows]
        self.assertEqual(tips, ["speed 50 → 60\nquick", "first of all"])

    def test_differences_lie_about_nought_with_their_intervals(self) -> None:
        from irontrail.app.widgets.difference_picture import Apart, DifferencePicture

        view = DifferencePicture(self.theme)
        sure, even = Apart("B", -0.8, -1.0, -0.6, True), Apart("C", 0.1, -0.3, 0.5, False)
        view.set_rows((sure, even), 0.2)
        picture = self.drawn(view, 320)
        self.assertLess(picture.word("← faster").x, picture.word("slower →").x)
        self.assertIn("−1.00 to −0.60 s", picture.texts)
        self.assertLess(view.x_of(-0.8), view.x_of(0.0))
        discs = {
            line.fill.lower(): line.middle[0]
            for line in picture.lines
            if line.fill and abs(line.box[2] - line.box[0] - 9.0) < 0.5
        }
        self.assertAlmostEqual(discs[LIGHT.ink.lower()], view.x_of(-0.8), delta=0.5)
        self.assertAlmostEqual(discs[LIGHT.sheet.lower()], view.x_of(0.1), delta=0.5)
        band = picture.of_colour(LIGHT.rule, fill=True)[0]
        self.assertAlmostEqual(band.box[0], view.x_of(-0.2), delta=0.5)
        self.assertAlmostEqual(band.box[2], view.x_of(0.2), delta=0.5)

    def test_what_is_won_lies_to_the_right_in_green(self) -> None:
        from irontrail.app.widgets.gain_bars import GainBars
        from irontrail.core.tune.race import Difference

        view = GainBars(self.theme)
        won, lost = Difference("A", True, 0.0, 9.0, 0.5, 1.0), Difference("B", False, 9.0, 20.0, -0.25, -2.0)
        view.set_rows((won, lost))
        picture = self.drawn(view, 320)
        middle = next(line for line in picture.of_colour(LIGHT.rule) if len(line.points) == 2).middle[0]
        (good,), (bad,) = (picture.of_colour(colour, fill=True) for colour in (LIGHT.good, LIGHT.rust))
        self.assertGreaterEqual(good.box[0], middle - 1.0)
        self.assertLessEqual(bad.box[2], middle + 1.0)
        self.assertAlmostEqual((good.box[2] - good.box[0]) / (bad.box[2] - bad.box[0]), 2.0, delta=0.05)
        self.assertEqual(picture.word("−0.50").colour.lower(), LIGHT.good.lower())
        self.assertEqual(picture.word("+0.25").colour.lower(), LIGHT.rust.lower())
        calmer, wilder = picture.of_colour(LIGHT.slate, fill=True)
        self.assertGreaterEqual(calmer.box[0], middle - 1.0)
        self.assertLessEqual(wilder.box[2], middle + 1.0)

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
        from irontrail.app.widgets.map_picture import TONES, MapPicture
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

    def test_motors_have_their_arrows_the_way_each_wheel_rolls(self) -> None:
        from irontrail.app.widgets.motor_picture import Motor, MotorPicture

        view = MotorPicture(self.theme)
        view.set_motors("left", Motor(2, True, -40.0, 40.0), Motor(1, False, 40.0, 40.0))
        picture = self.drawn(view)
        shafts = sorted(
            (line for line in picture.of_colour("#a8421a") if len(line.points) == 2), key=lambda line: line.middle[0]
        )
        backward, forward = (float(line.points[1, 1] - line.points[0, 1]) for line in shafts)
        self.assertTrue(forward < -20.0 < 20.0 < backward, "forward is up")
        self.assertLess(picture.word("output 2").x, picture.word("output 1").x)
        self.assertLess(picture.word("mirrored").x, picture.word("as it is").x)
        self.assertLess(picture.word("backward").x, picture.word("forward").x)
        self.assertEqual(picture.texts.count("+40 %"), 2)
        self.assertIn("left", picture.texts)

    def test_what_a_number_does_nearby_rises_and_is_crossed_where_it_fails(self) -> None:
        from irontrail.app.widgets.nearby_picture import NearbyPicture
        from irontrail.core.tune.axes import axis
        from irontrail.core.tune.nearby import Nearby

        view, nan = NearbyPicture(self.theme), float("nan")
        values, finished = (40.0, 50.0, 60.0, 70.0), (1.0, 1.0, 0.5, 0.0)
        speed = axis(lighthouse(), "program.speed")
        view.set_near(
            Nearby(speed, values, finished, (20.0, 16.0, 14.0, nan), (2.0, 3.0, 5.0, nan), (40.0, 30.0, 9.0, nan))
        )
        picture = self.drawn(view, 316)
        self.assertIn("time 14.00–20.00 s", picture.texts)
        self.assertTrue(
            climbing(
                picture, [next(t for t in picture.texts if t.startswith(w)) for w in ("time", "swing", "room")], "x"
            )
        )
        third = 110.0
        ways = [line for line in picture.of_colour(LIGHT.ink) if len(line.points) == 2 and line.box[2] < third]
        self.assertEqual(len(ways), 2, "three values that finish are joined by two lines")
        for way in ways:
            self.assertGreater(way.points[1, 1], way.points[0, 1], "less time is lower")
        crosses = [line.middle[0] for line in picture.of_colour(LIGHT.rust) if line.box[2] < third + 6.0]
        self.assertEqual(len(crosses), 4)
        self.assertGreater(min(crosses), ways[-1].points[0, 0])
        today = next(line for line in picture.of_colour(LIGHT.slate) if line.box[2] < third)
        step = float(ways[0].points[1, 0] - ways[0].points[0, 0])
        self.assertAlmostEqual(today.middle[0], ways[0].points[0, 0] + view.near.today * step, delta=0.6)
        self.assertTrue(today.dashed)

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

    def test_it_turns_toward_the_slower_wheel(self) -> None:
        from irontrail.app.widgets.turn_picture import Turning, TurnPicture, TurnScene
        from irontrail.core.robot.mount import Place

        robot = lighthouse().robot
        at_sensor = Place(robot.mount.ahead_mm, robot.mount.aside_mm)
        both = (Turning(False, 12.0, 70.0, 20.0, -4.0), Turning(True, 80.0, 20.0, 70.0, 12.0))
        view = TurnPicture(self.theme)
        view.set_scene(TurnScene(robot, 4.5, 20.0, "#23272b", "#f3f1ea", both, at_sensor))
        picture = self.drawn(view)
        dark, light = picture.word("reads 12: turns right"), picture.word("reads 80: turns left")
        self.assertLess(dark.x, light.x)
        self.assertTrue({"wheels 70 and 20 %", "wheels 20 and 70 %"} <= set(picture.texts))
        ways = sorted(
            (line for line in picture.of_colour("#b3471d") if len(line.points) > 10), key=lambda line: line.middle[0]
        )
        right, left = (float(line.points[-1, 0] - line.points[0, 0]) for line in ways)
        self.assertTrue(left < -3.0 < 3.0 < right)
        for line in ways:
            self.assertLess(line.points[-1, 1], line.points[0, 1], "it drives up the line")
        alike = [Turning(False, 12.0, power, power, 0.0) for power in (50.0, 0.0)]
        self.assertEqual([view.way(each) for each in alike], ["goes straight on", "stands"])

    def test_the_weight_hangs_nearer_to_the_sensor_that_has_more_of_it(self) -> None:
        from irontrail.app.widgets.weight_picture import Weighing, WeightPicture

        view = WeightPicture(self.theme)
        view.resize(300, view.height())
        view.set_weighing(Weighing(90.0, 30.0, 0.75, 75.0))
        picture = seen(view)
        second, first = picture.word("25 %"), picture.word("75 %")
        self.assertLess(second.x, first.x)
        self.assertLess(picture.word("30 mm").x, picture.word("90 mm").x)
        ends = [picture.word(number).x for number in ("2", "1")]
        share = (view.handle().x() - ends[0] - 3.0) / (ends[1] - ends[0])
        self.assertAlmostEqual(share, 0.75, delta=0.02)
        self.assertIn("as one at 75 mm", picture.texts)
        dragged: list[tuple[float, bool]] = []
        view.dragged.connect(lambda weight, settled: dragged.append((weight, settled)))
        QTest.keyClick(view, Qt.Key.Key_Right)
        QTest.keyClick(view, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
        self.assertEqual(dragged, [(0.76, True), (0.65, True)])
        self.assertNotIn("axle", picture.texts, "it is off the lever")
        view.set_weighing(Weighing(90.0, -30.0, 0.75, None))
        picture = seen(view)
        filled = picture.of_colour(LIGHT.ink, fill=True)
        (wedge,) = [line for line in filled if len(np.unique(line.points, axis=0)) == 3]
        ends = [picture.word(number).x + 3.0 for number in ("2", "1")]
        self.assertAlmostEqual((wedge.middle[0] - ends[0]) / (ends[1] - ends[0]), 0.25, delta=0.03)
        self.assertIn("axle", picture.texts)
        view.set_weighing(Weighing(30.0, 90.0, 0.75, None))
        self.assertLess(seen(view).word("75 %").x, seen(view).word("25 %").x)

    def test_bench_tests_show_their_numbers(self) -> None:
        from irontrail.app.widgets.bench_picture import RUST, BenchPicture

        view = BenchPicture(self.theme)
        lengths = []
        for power in ("15 %", "30 %"):
            view.set_test("dead band", (power,))
            picture = self.drawn(view)
            self.assertIn(f"just turns at {power}", picture.texts)
            bar = picture.of_colour(RUST, fill=True)[0]
            lengths.append(bar.box[2] - bar.box[0])
        self.assertAlmostEqual(lengths[1] / lengths[0], 2.0, delta=0.05)
        ends = []
        for drift in ("40 mm", "−40 mm"):
            view.set_test("mismatch", ("1000 mm", drift))
            picture = self.drawn(view)
            self.assertIn(f"{drift} aside", picture.texts)
            way = max(picture.of_colour(RUST), key=lambda line: len(line.points))
            ends.append(float(way.points[-1, 1] - way.points[0, 1]))
        self.assertTrue(ends[0] > 5.0 and ends[1] < -5.0, "to the right is down")
        view.set_test("track width", ("5 turns", "1800"))
        self.assertTrue({"5 turns", "1800 counts"} <= set(self.drawn(view).texts))

    def test_columns_are_as_high_as_values_go_well(self) -> None:
        from irontrail.app.widgets.answer_columns import AnswerColumns
        from irontrail.core.causes.questions import Column

        view = AnswerColumns(self.theme)
        view.set_columns((Column("4", 0.2, 9.0), Column("8", 1.0, 8.0, True), Column("12", 0.6, 9.0)))
        picture = self.drawn(view)
        self.assertTrue(climbing(picture, ["4", "8", "12"], "x"))
        (now,), others = (picture.of_colour(colour, fill=True) for colour in (LIGHT.rust, LIGHT.slate))
        self.assertTrue(others[0].middle[0] < now.middle[0] < others[1].middle[0])
        heights = [line.box[3] - line.box[1] for line in (others[0], now, others[1])]
        self.assertAlmostEqual(heights[0] / heights[1], 0.2, delta=0.01)
        self.assertAlmostEqual(heights[2] / heights[1], 0.6, delta=0.01)
        self.assertEqual(len({round(line.box[3]) for line in (now, *others)}), 1)
        self.assertTrue({"2", "10", "6"} <= set(picture.texts))

    def test_two_sensors_stand_as_each_arrangement_has_them(self) -> None:
        from irontrail.app.widgets.arrangement_picture import ArrangementPicture

        signs = {}
        for name in ("difference", "weighted"):
            view = ArrangementPicture(name, self.theme)
            picture = self.drawn(view, 96)
            discs = [line for line in picture.of_colour(LIGHT.ink, fill=True) if len(line.points) > 8]
            self.assertEqual(len(discs), 2)
            first, second = discs
            signs[name] = [text for text in picture.texts if len(text) == 1]
            if name == "weighted":
                self.assertGreater(first.box[2] - first.box[0], second.box[2] - second.box[0], "the first weighs more")
                self.assertLess(first.middle[1], second.middle[1], "and is ahead")
            else:
                self.assertAlmostEqual(first.middle[1], second.middle[1], delta=0.1)
                tape = picture.of_colour(LIGHT.second, fill=True)[0]
                self.assertAlmostEqual(first.middle[0] + second.middle[0], 2.0 * tape.middle[0], delta=0.5)
        self.assertEqual(signs, {"difference": ["−"], "weighted": ["+"]})

    def test_the_four_cases_show_the_line_the_sensors_and_the_powers(self) -> None:
        from irontrail.app.widgets.robot_drawing import DARK_DISC, LIGHT_RING
        from irontrail.app.widgets.table_cases import CasesPicture, TableCases

        table = lighthouse().program.table
        view = TableCases(self.theme)
        view.resize(320, view.height())
        view.set_picture(CasesPicture(table, "#202020", "#f0f0f0", True, "left"))
        picture = seen(view)
        self.assertEqual(picture.word("left on the line").colour.lower(), LIGHT.rust.lower())
        self.assertEqual(picture.word("right on the line").colour.lower(), LIGHT.ink.lower())

        def inside(case: str, lines: list[Any]) -> list[float]:
            """Where marks of a case are, across from its middle."""
            cell = view.cell(case)
            return sorted(
                round(line.middle[0] - cell.center().x()) for line in lines if cell.contains(QPointF(*line.middle))
            )

        dark, ring = picture.of_colour(DARK_DISC, fill=True), picture.of_colour(LIGHT_RING)
        self.assertEqual(
            [inside(case, dark) for case in ("neither", "left", "right", "both")], [[], [-17], [17], [-17, 17]]
        )
        self.assertEqual(
            [inside(case, ring) for case in ("neither", "left", "right", "both")], [[-17, 17], [17], [-17], []]
        )
        lines = [line for line in picture.of_colour("#202020", fill=True) if line.box[3] - line.box[1] > 30.0]
        self.assertEqual([inside(case, lines)[:1] for case in ("neither", "left", "right")], [[0], [-17], [17]])
        for case in ("left", "right"):
            powers = [float(getattr(getattr(table, case), wheel)) for wheel in ("left", "right")]
            heights = [view._zero(case, wheel).y() - view.handle(case, wheel).y() for wheel in ("left", "right")]
            self.assertGreater(abs(powers[0] - powers[1]), 1.0)
            self.assertEqual(powers[0] > powers[1], heights[0] > heights[1])
        view.set_picture(CasesPicture(table, "#f0f0f0", "#202020", False, None))
        turned = seen(view)
        self.assertEqual(inside("left", turned.of_colour(LIGHT_RING)), [-17])

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
