"""What the mat and the strip can be asked: trail colours, the close view, lanes, glancing, measuring."""

import threading
import unittest
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np
from bench.drag import Painted
from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, Qt
from PySide6.QtGui import QImage, QMouseEvent, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QPushButton, QWidget

from irontrail.app.ink import calmed
from irontrail.app.theme import LIGHT, contrast
from irontrail.app.widgets.close_view import Moment
from irontrail.app.widgets.mat_scene import draw_over_tape, run_strokes
from irontrail.app.widgets.scene_picture import ScenePicture
from irontrail.app.widgets.strip_picture import LANES, TERM_LANES, USUAL_LANES
from irontrail.app.widgets.strokes import Laid
from irontrail.app.widgets.trail_picture import TRAIL
from irontrail.app.widgets.trail_shade import SHADES
from irontrail.core import derive
from irontrail.core.mat.tape import Mat
from tests.app.test_views import roll
from tests.seen import seen
from tests.support import StopTest, lighthouse, pixels_near, rgb_of

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
SHIFT = Qt.KeyboardModifier.ShiftModifier


def hover(widget: QWidget, at: QPointF, keys: Any = Qt.KeyboardModifier.NoModifier, button: Any = NONE) -> None:
    """Move the pointer over a widget, with a button down or none."""
    move = QMouseEvent(QEvent.Type.MouseMove, at, widget.mapToGlobal(at), NONE, button, keys)
    QApplication.sendEvent(widget, move)


class ToolsTest(StopTest):
    def setUp(self) -> None:
        super().setUp()
        self.mat, self.strip = self.stage.mat, self.stage.strip

    def strip_px(self, row: int) -> QPointF:
        """Where a row of the trace stands on the strip."""
        axis, run = self.strip.axis, self.strip.picture.run
        return QPointF(float(axis.x_px(float(axis.x_of(run)[row]))), 120.0)

    # --- a mat that changes

    def other_mat(self) -> Mat:
        setup = self.session.setup
        return replace(setup.mat, line=replace(setup.mat.line, width_mm=setup.mat.line.width_mm + 6.0))

    def test_a_changed_mat_is_drawn_once_and_shown_with_its_run(self) -> None:
        self.session.playback.pause()
        mat, trail, shown = self.other_mat(), self.mat.scene.trail, []
        # However slow the machine is, the run is there before the mat is shown without it.
        self.stage.timing.soon.setInterval(60_000)
        with (
            mock.patch("irontrail.app.widgets.scene_picture.draw_over_tape", side_effect=draw_over_tape) as ground,
            mock.patch(
                "irontrail.app.widgets.scene_picture.run_strokes",
                side_effect=lambda scene, _to_px: shown.append(scene) or [],
            ),
        ):
            self.session.choose_mat(mat)
            self.settle(self.session)
        self.assertEqual([call.args[1].mat is mat for call in ground.call_args_list], [True])
        self.assertEqual([each.mat is mat for each in shown], [True])
        self.assertIsNot(shown[0].trail, trail)
        self.assertFalse(self.stage.timing.soon.isActive())

    def test_tape_is_seen_before_there_is_a_run_and_with_it(self) -> None:
        shown, dark = ScenePicture(self.mat, self.window.theme, self.mat.to_px), []
        for scene in (replace(self.mat.scene, trail=None), self.mat.scene):
            shown.show(scene)
            image = QImage(self.mat.size(), QImage.Format.Format_RGB32)
            painter = QPainter(image)
            shown.paint(painter)
            painter.end()
            dark.append(int((rgb_of(image).max(axis=2) < 70).sum()))
        self.assertGreater(dark[0], 15_000)
        # The trail hides a little of it.
        self.assertAlmostEqual(dark[1] / dark[0], 0.9, delta=0.1)

    def test_what_is_painted_before_a_run_is_there_shows_the_one_before(self) -> None:
        self.session.playback.pause()
        self.app.processEvents()
        work, go, views = self.session._worker._work, threading.Event(), (self.mat, self.strip)
        before = [rgb_of(view.grab().toImage()) for view in views]
        with mock.patch.object(self.session._worker, "_work", lambda request: (go.wait(120.0), work(request))[1]):
            self.session.set_value("program.proportional.gain", 2.0)
            with mock.patch.object(Laid, "take_back", autospec=True, side_effect=Laid.take_back) as taken:
                self.wait_for(lambda: taken.call_count == 2)
            for view, picture in zip(views, before, strict=True):
                self.assertTrue(np.array_equal(rgb_of(view.grab().toImage()), picture))
            go.set()
            self.settle(self.session)
        for view, picture in zip(views, before, strict=True):
            self.assertGreater(int((rgb_of(view.grab().toImage()) != picture).sum()), 500)

    def test_a_mat_whose_run_takes_long_is_drawn_before_it(self) -> None:
        self.stage.set_shade("distance")
        mat, trail = self.other_mat(), self.mat.scene.trail
        with mock.patch.object(self.session, "_request"):
            self.session.choose_mat(mat)
        self.assertIsNot(self.mat.scene.mat, mat)
        self.wait_for(lambda: self.mat.scene.mat is mat)
        np.testing.assert_array_equal(self.mat.scene.trail.x_mm, trail.x_mm)
        self.assertEqual(self.mat.scene.shade.levels[-1].says, "8 mm or more")

    def test_a_button_over_the_mat_looks_as_any_other_does_in_each_of_its_states(self) -> None:
        button = self.stage.tools.close_up
        usual = QPushButton(button.text(), button.parentWidget())
        usual.setProperty("tool", "true")
        usual.setCheckable(True)
        usual.setGeometry(button.geometry())

        def both() -> list[np.ndarray]:
            return [rgb_of(each.grab().toImage()) for each in (button, usual)]

        looks = set()
        for theme in ("light", "dark"):
            self.window.wear(theme)
            for ticked, down, there in (
                (False, False, True),
                (True, False, True),
                (True, True, True),
                (False, False, False),
            ):
                for each in (button, usual):
                    each.setChecked(ticked)
                    each.setDown(down)
                    each.setEnabled(there)
                ours, theirs = both()
                # But for how the last bit of a see-through corner is rounded.
                self.assertLess(int(np.abs(ours - theirs).max()), 4)
                np.testing.assert_array_equal(both()[0], ours)
                looks.add(ours.tobytes())
        self.window.wear("light")
        # Ticked or not, in either theme.
        self.assertGreaterEqual(len(looks), 4)

    def test_playhead_and_time_are_painted_anew_where_they_change(self) -> None:
        bar, playback = self.stage.bar, self.session.playback
        playback.pause()
        painted = Painted([bar.scrubber, bar.time])
        for time_s, moves in ((4.0, True), (4.0, False), (0.0, True)):
            self.app.processEvents()
            painted.expect()
            playback.seek(time_s)
            self.app.processEvents()
            self.assertEqual(bool(painted.missing), not moves, time_s)

    def test_the_robot_waits_while_its_run_is_driven_anew(self) -> None:
        self.session.playback.pause()
        self.session.playback.seek(2.0)
        now = self.mat.robot_hand.now
        with mock.patch.object(type(self.session), "idle", False):
            self.session.playback.play()
            self.session.playback.advance(1.0)
            self.assertEqual(self.mat.robot_hand.now, now)
        self.session.playback.advance(0.1)
        self.assertNotEqual(self.mat.robot_hand.now, now)

    # --- the trail's colours

    def test_the_trail_is_coloured_by_what_is_asked(self) -> None:
        plain = pixels_near(self.mat.grab().toImage(), "#A8421A", 40)
        for name in list(SHADES)[1:]:
            self.stage.tools.actions_of[name].trigger()
            self.assertEqual(self.stage.tools.trail.text(), f"Trail: {name}")
            self.assertIsNotNone(self.mat.scene.shade)
        self.stage.set_shade("side")
        image = self.mat.grab().toImage()
        self.assertGreater(pixels_near(image, "#4A74B8", 40), 300)
        self.assertGreater(pixels_near(image, "#C98A12", 40), 300)
        self.assertGreater(plain, 300)
        self.mat.zoom(6.0, self.mat.to_px().map(QPointF(700.0, 120.0)))
        close = self.mat.grab().toImage()
        self.assertGreater(pixels_near(close, "#4A74B8", 40), 300)
        self.assertGreater(pixels_near(close, "#C98A12", 40), 300)
        self.mat.fit()
        QTest.keyClick(self.window, Qt.Key.Key_C)
        self.assertEqual(self.stage.shade, "distance")

    def test_the_dark_side_is_told_by_dashes_too(self) -> None:
        self.stage.set_shade("side")
        dark, light = run_strokes(self.mat.scene, self.mat.to_px())
        self.assertGreater(len(dark.parts()), 2 * len(light.parts()))
        shown, level = float(np.mean(dark.shown)), float(np.mean(self.mat.scene.shade.level == 0))
        self.assertAlmostEqual(shown, 0.5 * level, delta=0.1)

    def test_dark_levels_go_along_in_light_rims_as_the_tape_is_dark(self) -> None:
        self.edit("program.proportional.gain", 1.4)
        below = QRect(0, 60, self.mat.width(), self.mat.height() - 60)
        plain = pixels_near(self.mat.grab(below).toImage(), LIGHT.card, 4)
        self.stage.set_shade("steer")
        self.assertGreater(pixels_near(self.mat.grab(below).toImage(), LIGHT.card, 4), plain + 300)
        strokes, tape = run_strokes(self.mat.scene, self.mat.to_px()), self.session.setup.mat.line.colour
        rims = [each for each in strokes if each.colour == LIGHT.card]
        looks = strokes[len(rims) :]
        dark = [look for look in looks if contrast(look.colour, tape) < 2.0]
        self.assertEqual(dark, looks[-len(rims) :])
        for rim, look in zip(rims, dark, strict=True):
            self.assertGreater(rim.width, look.width + 2.0)
            self.assertTrue(np.array_equal(rim.shown, look.shown))
        # Of a level that the run is never in there is no line.
        self.assertTrue(all(look.shown.any() for look in looks))
        levels = np.unique(SHADES["steer"](self.session.view.run.trace).level)
        self.assertTrue(1 <= len(rims) < len(looks) <= levels.size)

    def test_levels_cover_the_run_and_mean_what_they_say(self) -> None:
        trace = derive.run(lighthouse(program__proportional__gain=1.4)).trace
        for name, make in SHADES.items():
            if make is None:
                continue
            shade = make(trace)
            self.assertEqual(shade.level.size, len(trace), name)
            self.assertTrue(((shade.level >= 0) & (shade.level < len(shade.levels))).all(), name)
        self.assertTrue(np.array_equal(SHADES["clipped"](trace).level, trace.clipped))
        distance = SHADES["distance"](trace)
        far = np.abs(trace.edge_mm)
        step = float(distance.levels[0].says.split("–")[1].split()[0])
        self.assertTrue(np.array_equal(distance.level, np.minimum((far / step).astype(int), 4)))

    def test_levels_of_speed_lie_between_the_slowest_and_the_fastest(self) -> None:
        trace = derive.run(lighthouse(program__proportional__gain=1.4)).trace
        shade = SHADES["speed"](trace)
        speed = np.abs(0.5 * (trace.left_speed_mm_s + trace.right_speed_mm_s))
        under, *between, above = (look.says for look in shade.levels)
        bounds = [float(under.removeprefix("under ")), *(float(says.split("–")[1]) for says in between)]
        self.assertEqual(above, f"{bounds[-1]:g} mm/s or more")
        self.assertTrue(np.array_equal(shade.level, np.searchsorted(bounds, speed, "right")))
        # Most of a run is not of one colour.
        self.assertLess(np.bincount(shade.level).max(), 0.6 * speed.size)
        standing = replace(trace, left_speed_mm_s=np.zeros(len(trace)), right_speed_mm_s=np.zeros(len(trace)))
        self.assertEqual(SHADES["speed"](standing).levels[0].says, "0–2")

    def test_stretches_too_short_to_see_are_drawn_as_the_one_before(self) -> None:
        level = np.array([3, 1, 1, 1, 1, 2, 2, 1, 1, 1, 1, 0, 0, 0, 2])
        way = 2.0 * np.arange(level.size)
        self.assertEqual(calmed(level, way, 5.0).tolist(), [3, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0, 0, 0])
        self.assertEqual(calmed(level, way, 0.0).tolist(), level.tolist())
        # Two rows are a long stretch where the robot went far between them.
        way[6:] += 4.0
        self.assertEqual(calmed(level, way, 5.0).tolist(), [3, 1, 1, 1, 1, 2, 2, 1, 1, 1, 1, 0, 0, 0, 0])
        self.assertEqual(calmed(np.array([2]), np.zeros(1), 5.0).tolist(), [2])

    def test_the_levels_of_a_colour_are_told_from_the_least_to_the_most(self) -> None:
        self.stage.set_shade("distance")
        self.app.processEvents()
        says = [look.says for look in self.mat.scene.shade.levels]
        picture = seen(self.mat)
        places = [picture.word(each).x for each in says]
        self.assertGreater(len(places), 2)
        self.assertEqual(places, sorted(places))

    def test_no_level_stands_behind_the_buttons_in_a_small_window_either(self) -> None:
        for size, shade, beside in (((1366, 768), "distance", True), ((948, 700), "speed", False)):
            self.window.resize(*size)
            self.stage.set_shade(shade)
            self.app.processEvents()
            buttons, picture = self.stage.tools.geometry(), seen(self.mat)
            for look in self.mat.scene.shade.levels:
                word = picture.word(look.says)
                self.assertGreater(word.x, 30.0)
                # Beside them with its line before it, or wholly below them.
                self.assertEqual(word.y < buttons.bottom(), beside, look.says)
                self.assertTrue(
                    word.x - 30.0 > buttons.right() if beside else word.y - 10.0 > buttons.bottom(), look.says
                )

    def test_a_run_that_is_lost_is_crossed_where_it_ended(self) -> None:
        self.edit("program.speed", 95.0)
        self.assertEqual(self.session.view.run.outcome, "lost")
        trail = self.mat.scene.trail
        end = self.mat.to_px().map(QPointF(float(trail.x_mm[-1]), float(trail.y_mm[-1])))
        picture = seen(self.mat)
        strokes = [line for line in picture.of_colour(TRAIL) if len(line.points) == 2 and 2.2 < line.width < 2.6]
        self.assertEqual(len(strokes), 2)
        for line in strokes:
            self.assertLess(np.hypot(line.middle[0] - end.x(), line.middle[1] - end.y()), 1.0)
        word = picture.word("line lost")
        self.assertLess(np.hypot(word.x - end.x(), word.y - end.y()), 120.0)

    # --- the close view

    def test_the_close_view_shows_powers_speeds_and_the_reading(self) -> None:
        view = self.stage.close_up
        self.assertFalse(view.isVisible())
        QTest.keyClick(self.window, Qt.Key.Key_W)
        self.settle(self.session)
        self.assertTrue(view.isVisible() and self.stage.tools.close_up.isChecked())
        self.session.playback.seek(9.0)
        row, trace = self.stage.row_at(9.0), self.session.view.run.trace
        self.assertEqual((view.moment.left_power, view.moment.reading), (trace.left_power[row], trace.reading[row]))
        self.assertAlmostEqual(view.moment.right_speed * 480.0, trace.right_speed_mm_s[row])
        self.assertIn(f"left {trace.left_power[row]:.0f} %", view.says())
        for colour in ("#1f7fb0", "#7f3fb0"):
            setup = self.session.setup
            line = replace(setup.mat.line, colour=colour)
            self.put(replace(setup, mat=replace(setup.mat, line=line)))
            self.assertGreater(pixels_near(view.grab().toImage(), colour), 400)
        QTest.mouseClick(self.stage.tools.close_up, LEFT)
        self.assertFalse(view.isVisible())

    def test_the_close_view_draws_each_wheels_power_and_speed_on_its_own_side(self) -> None:
        self.stage.set_close_up(True)
        view, robot = self.stage.close_up, self.session.setup.robot
        made = Moment(0.0, 0.0, 0.0, 80.0, -20.0, 0.5, -0.25, False, 37.0, True)
        view.set_moment(made)
        drawn = seen(view)
        arrows = [line for line in drawn.of_colour("#a8421a") if line.width > 4.0]
        left, right = sorted(arrows, key=lambda line: line.middle[0])
        self.assertAlmostEqual(left.middle[0] + right.middle[0], view.width(), delta=1.0)
        lengths = [float(line.points[1, 1] - line.points[0, 1]) for line in (left, right)]
        # The robot heads up: what drives forward points up, four times as far as the other back.
        self.assertLess(lengths[0], -40.0)
        self.assertAlmostEqual(lengths[0] / lengths[1], -4.0, delta=0.01)
        axle = float(left.points[0, 1])
        bars = [
            line for line in drawn.of_colour("#23272b")
            if 1.5 < line.width < 2.5 and not line.fill and abs(line.middle[0] - view.width() / 2) > 0.4 * (
                robot.drive.track_width_mm
            )
        ]  # fmt: skip
        bars = sorted(bars, key=lambda line: line.middle[0])
        self.assertEqual(len(bars), 2)
        self.assertAlmostEqual((axle - bars[0].middle[1]) / (axle - bars[1].middle[1]), -2.0, delta=0.01)
        self.assertLess(bars[0].middle[1], axle)
        self.assertIn("reads 37; arrow: power, bar: speed", drawn.texts)
        self.assertIn("left 80 %, right −20 %", drawn.texts)
        self.assertEqual(drawn.of_colour("#c2300f"), [])
        view.set_moment(replace(made, slipping=True))
        zigzags = seen(view).of_colour("#c2300f")
        self.assertEqual(len({round(line.middle[0]) for line in zigzags}), 2)
        self.assertTrue(all(line.middle[1] > axle for line in zigzags))

    def test_slipping_wheels_are_drawn_and_said(self) -> None:
        self.stage.set_close_up(True)
        self.edit("robot.drive.grip", 0.05)
        slipping = np.flatnonzero(self.session.view.run.trace.skidding > 0.5)
        self.session.playback.seek(float(self.session.view.run.trace.time_s[slipping[3]]))
        self.assertIn("slipping", self.stage.close_up.says())

    # --- following and the whole mat

    def test_buttons_follow_the_robot_and_show_the_whole_mat(self) -> None:
        scale = self.mat.px_per_mm
        QTest.mouseClick(self.stage.tools.follow, LEFT)
        self.assertTrue(self.mat.following)
        QTest.mouseClick(self.stage.tools.whole, LEFT)
        self.assertEqual((self.mat.following, self.stage.tools.follow.isChecked()), (False, False))
        self.assertAlmostEqual(self.mat.px_per_mm, scale)

    # --- lanes

    def test_lanes_are_chosen_and_one_always_stays(self) -> None:
        self.assertEqual(tuple(lane.name for lane in self.strip.axis.lanes), USUAL_LANES)
        # What is never below 0 stands on it; the rest goes both ways alike.
        self.stage.lanes.show_lane("speeds", True)
        (low, high), (least, most) = self.strip.axis.ranges[1], self.strip.axis.ranges[4]
        self.assertEqual((low, least), (-high, 0.0))
        self.assertGreater(most, 0.0)
        self.stage.lanes.show_lane("speeds", False)
        self.stage.lanes.show_lane("terms", True)
        self.stage.lanes.show_lane("steer", False)
        self.assertEqual([lane.name for lane in self.strip.axis.lanes], ["reading", "wheels", "off edge", "terms"])
        for name in LANES:
            self.stage.lanes.show_lane(name, True)
        self.assertEqual(len(self.strip.axis.lanes), 6)
        for name in LANES:
            self.stage.lanes.show_lane(name, False)
        self.assertEqual(len(self.strip.axis.lanes), 1)

    def test_pid_shows_its_terms_unless_other_lanes_were_chosen(self) -> None:
        self.session.keep()
        for law, lanes in (("PID", TERM_LANES), ("on-off", USUAL_LANES), ("PID", TERM_LANES)):
            self.session.choose_law(law)
            self.settle(self.session)
            self.assertEqual(tuple(lane.name for lane in self.strip.axis.lanes), lanes)
            self.assertIn(lanes[1].replace("terms", "p_term"), self.strip.picture.kept[0].columns)
        self.stage.lanes.choose(("reading", "skid"))
        self.session.choose_law("on-off")
        self.settle(self.session)
        self.assertEqual(tuple(lane.name for lane in self.strip.axis.lanes), ("reading", "skid"))

    def test_lanes_show_the_traces_own_columns(self) -> None:
        self.session.choose_law("PID")
        self.settle(self.session)
        self.session.keep()
        self.settle(self.session)
        self.stage.lanes.choose(("heading", "terms", "speeds", "skid"))
        trace, columns = self.session.view.run.trace, self.strip.picture.run.columns
        self.assertTrue(np.allclose(columns["angle_deg"], np.degrees(trace.angle_rad)))
        for name in ("p_term", "i_term", "d_term", "left_speed_mm_s", "skidding"):
            self.assertTrue(np.array_equal(columns[name], getattr(trace, name)), name)
            self.assertTrue(np.array_equal(self.strip.picture.kept[0].columns[name], getattr(trace, name)), name)
        self.painted(self.strip, "rust", least=100)
        self.painted(self.strip, "ink", least=100)

    # --- glancing

    def test_hovering_the_strip_shows_the_moment_everywhere_and_leaves_the_playhead(self) -> None:
        self.session.playback.seek(2.0)
        hover(self.strip, self.strip_px(900))
        trace = self.session.view.run.trace
        self.assertEqual(self.strip.row, 900)
        self.assertAlmostEqual(self.mat.robot_hand.now.x_mm, trace.x_mm[900], places=6)
        curve = self.window.panel("Steer").sheet("Law").curve
        self.assertEqual(curve.now[0], trace.reading[900])
        self.assertEqual(self.session.playback.time_s, 2.0)
        QApplication.sendEvent(self.strip, QEvent(QEvent.Type.Leave))
        self.assertEqual(self.strip.row, self.stage.row_at(2.0))

    def test_hovering_the_trail_does_too(self) -> None:
        self.session.playback.seek(2.0)
        trail = self.mat.scene.trail
        hover(self.mat, self.mat.to_px().map(QPointF(float(trail.x_mm[1200]), float(trail.y_mm[1200]))))
        self.assertLess(abs(self.strip.row - 1200), 12)
        hover(self.mat, QPointF(self.mat.width() / 2, self.mat.height() * 0.42))
        self.assertEqual(self.strip.row, self.stage.row_at(2.0))

    def test_a_playing_robot_is_not_glanced_away(self) -> None:
        self.session.playback.play()
        row = self.strip.row
        hover(self.strip, self.strip_px(1500))
        self.assertLess(abs(self.strip.row - row), 100)
        self.session.playback.pause()

    # --- measuring

    def test_a_span_dragged_with_shift_is_measured(self) -> None:
        start, end = self.strip_px(1600), self.strip_px(1720)
        QTest.mousePress(self.strip, LEFT, SHIFT, start.toPoint())
        hover(self.strip, end, SHIFT, LEFT)
        QTest.mouseRelease(self.strip, LEFT, SHIFT, end.toPoint())
        span = self.strip.measured()
        apart_mm = 1000.0 * (span.places_m[1] - span.places_m[0])
        self.assertGreater(apart_mm, 1.0)
        self.assertTrue(span.says().startswith(f"{span.seconds:.2f} s, {apart_mm:.0f} mm, "), span.says())
        trace = self.session.view.run.trace
        first, last = sorted(self.strip.marks)
        self.assertLess(abs(first - 1600) + abs(last - 1720), 16)
        self.assertAlmostEqual(span.seconds, (last - first) * 0.01, places=6)
        self.assertAlmostEqual(span.height_mm, np.ptp(trace.edge_mm[first : last + 1]))
        # It swings at about 3.6 Hz there.
        self.assertAlmostEqual(span.swings / span.seconds, self.session.view.figures.wobble_hz, delta=0.5)
        self.assertIn("Hz", self.strip.accessibleDescription())
        marked = self.painted(self.strip)
        self.strip.set_marks(None)
        self.assertNotEqual(self.painted(self.strip), marked)

    def test_marks_by_key(self) -> None:
        self.session.playback.seek(5.0)
        QTest.keyClick(self.window, Qt.Key.Key_M)
        self.assertIn("mark the other end", self.strip.measured().says())
        self.session.playback.seek(5.28)
        QTest.keyClick(self.window, Qt.Key.Key_M)
        self.assertAlmostEqual(self.strip.measured().seconds, 0.28, places=6)
        QTest.keyClick(self.window, Qt.Key.Key_M)
        self.assertIsNone(self.strip.measured())

    def test_marks_stay_inside_a_shorter_run(self) -> None:
        self.strip.set_marks((100, 1900))
        self.edit("program.speed", 68.0)
        self.assertLess(max(self.strip.marks), len(self.session.view.run.trace))

    # --- moving along the strip

    def test_the_stretch_shown_is_moved_by_wheel_middle_button_and_keys(self) -> None:
        roll(self.strip, QPointF(500.0, 100.0), 6)
        low, high = self.strip.axis.low, self.strip.axis.high
        self.assertLess(high - low, 3.0)
        QTest.mousePress(self.strip, Qt.MouseButton.MiddleButton, pos=QPoint(600, 100))
        hover(self.strip, QPointF(500.0, 100.0), button=Qt.MouseButton.MiddleButton)
        QTest.mouseRelease(self.strip, Qt.MouseButton.MiddleButton, pos=QPoint(500, 100))
        self.assertGreater(self.strip.axis.low, low + 0.05)
        self.assertAlmostEqual(self.strip.axis.high - self.strip.axis.low, high - low)
        before = self.strip.axis.low
        QTest.keyClick(self.strip, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
        self.assertLess(self.strip.axis.low, before)
        for _ in range(40):
            QTest.keyClick(self.strip, Qt.Key.Key_Right, Qt.KeyboardModifier.ControlModifier)
        self.assertAlmostEqual(self.strip.axis.high, self.strip.picture.length_m)

    def test_arrow_keys_step_and_plus_zooms(self) -> None:
        self.session.playback.seek(3.0)
        self.strip.setFocus()
        QTest.keyClick(self.strip, Qt.Key.Key_Right)
        self.assertAlmostEqual(self.session.playback.time_s, 3.01)
        QTest.keyClick(self.strip, Qt.Key.Key_Left, SHIFT)
        self.assertAlmostEqual(self.session.playback.time_s, 2.91)
        wide = self.strip.axis.high - self.strip.axis.low
        QTest.keyClick(self.strip, Qt.Key.Key_Plus)
        self.assertAlmostEqual(self.strip.axis.high - self.strip.axis.low, 0.8 * wide)


if __name__ == "__main__":
    unittest.main()
