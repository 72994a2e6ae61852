"""Mat view, strip, steering curve, playback: what they show and what they say."""

import gc
import unittest
from dataclasses import replace
from itertools import pairwise
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPoint, QPointF, QRect, Qt
from PySide6.QtGui import QColor, QImage, QPainter, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from irontrail.app.pictures import trail_of
from irontrail.app.playback import Playback
from irontrail.app.theme import KEPT_DASHES, LIGHT
from irontrail.app.widgets.layer import Layer
from irontrail.app.widgets.painting import draw_handle
from irontrail.app.widgets.strip_curves import curves_of, kept_curves_of
from irontrail.app.widgets.strip_picture import StripRun
from irontrail.app.widgets.strokes import Stroke, pixels_of
from irontrail.app.worker import NewestWins
from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.tape import Patch, Zone
from tests.support import StopTest, WindowTest, lighthouse, pixels_near, setup_with, straight_mat


def roll(widget: QWidget, at: QPointF, notches: int) -> None:
    """Turn the wheel over a place of a widget."""
    event = QWheelEvent(
        at, widget.mapToGlobal(at), QPoint(), QPoint(0, 120 * notches), Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False,
    )  # fmt: skip
    QApplication.sendEvent(widget, event)


class StageTest(StopTest):
    def test_the_mat_fits_and_shows_tape_trail_and_robot(self) -> None:
        mat = self.stage.mat
        corner = mat.to_px().map(QPointF(0.0, 0.0))
        far = mat.to_px().map(QPointF(2000.0, 1000.0))
        self.assertTrue(0 < corner.x() < far.x() < mat.width() and 0 < far.y() < corner.y() < mat.height())
        image = mat.grab().toImage()
        self.assertGreater(pixels_near(image, "#2a2b2d"), 5000)
        self.assertGreater(pixels_near(image, "#B3471D", 60), 400)

    def test_what_is_said_over_the_mat_can_be_read_over_tape(self) -> None:
        self.session.choose_mat(straight_mat(width_mm=80.0))
        self.settle(self.session)
        mat, middle = self.stage.mat, QRect(0, 0, 90, 14)
        middle.moveCenter(mat.rect().center())
        shown = []
        for words in ("", "Setting the robot down …"):
            mat.set_words(words)
            shown.append(pixels_near(mat.grab(middle).toImage(), LIGHT.card))
        self.assertEqual(shown[0], 0)
        self.assertGreater(shown[1], 0.6 * middle.width() * middle.height())

    def test_shadows_darken_the_mat_and_zones_stand_where_they_are(self) -> None:
        mat = self.stage.mat
        bare = QColor(mat.grab().toImage().pixel(mat.to_px().map(QPointF(1000.0, 620.0)).toPoint()))
        shadow = LightArea(1000.0, 600.0, 200.0, 120.0, 0.1)
        setup = setup_with(self.session.setup, light__areas=(shadow,), mat__finish=Zone(300.0, 620.0, 120.0, 120.0))
        self.put(setup)
        image = mat.grab().toImage()
        dark, zone = (QColor(image.pixel(mat.to_px().map(QPointF(x, 620.0)).toPoint())) for x in (1000.0, 300.0))
        self.assertLess(dark.lightness(), bare.lightness() - 20)
        self.assertTrue(bare.lightness() - 40 < zone.lightness() < bare.lightness())

    def test_the_light_stop_says_what_the_sensor_gives(self) -> None:
        self.session.looking.go_to("Light")
        self.window.panel("Light").turn_to("Profile")
        panel = self.window.panel("Light").sheet("Profile")
        self.put(setup_with(self.session.setup, light__sensor__scale="counts"))
        self.assertRegex(panel.says.text(), r"counts from \d{3} to \d{4} of 4095")
        self.put(setup_with(self.session.setup, light__sensor__scale="colour names"))
        self.assertIn("grey, white", panel.says.text())
        self.window.panel("Light").turn_to("Probe")
        self.assertFalse(self.window.panel("Light").sheet("Probe").calibrate.isEnabled())

    def test_the_wheel_zooms_about_the_pointer(self) -> None:
        mat = self.stage.mat
        at = QPointF(600.0, 120.0)
        before, scale = mat.to_mm(at), mat.px_per_mm
        roll(mat, at, 3)
        after = mat.to_mm(at)
        self.assertGreater(mat.px_per_mm, 1.4 * scale)
        self.assertLess(abs(after.x() - before.x()) + abs(after.y() - before.y()), 0.01)
        QTest.mouseDClick(mat, Qt.MouseButton.LeftButton, pos=QPoint(300, 300))
        self.assertAlmostEqual(mat.px_per_mm, scale)

    def test_dragging_pans_and_arrow_keys_do(self) -> None:
        mat = self.stage.mat
        before = mat.to_mm(QPointF(100.0, 100.0))
        QTest.mousePress(mat, Qt.MouseButton.LeftButton, pos=QPoint(400, 200))
        for x in (410, 440, 460):
            QTest.mouseMove(mat, QPoint(x, 200))
        QTest.mouseRelease(mat, Qt.MouseButton.LeftButton, pos=QPoint(460, 200))
        moved = mat.to_mm(QPointF(160.0, 100.0))
        self.assertLess(abs(moved.x() - before.x()), 0.5)
        QTest.keyClick(mat, Qt.Key.Key_Right)
        self.assertGreater(mat.to_mm(QPointF(160.0, 100.0)).x(), moved.x() + 10.0)

    def test_following_keeps_the_robot_in_the_middle(self) -> None:
        mat, playback = self.stage.mat, self.session.playback
        self.window.actions_of.named["follow"].trigger()
        for time in (3.0, 9.0):
            playback.seek(time)
            row = self.stage.row_at(time)
            trace = self.session.view.run.trace
            place = mat.to_px().map(QPointF(trace.x_mm[row], trace.y_mm[row]))
            self.assertLess(abs(place.x() - mat.width() / 2) + abs(place.y() - mat.height() / 2), 8.0)
        self.assertTrue(self.window.actions_of.named["follow"].isChecked())
        self.window.actions_of.named["fit"].trigger()
        self.assertFalse(mat.following or self.window.actions_of.named["follow"].isChecked())

    def test_pressing_the_trail_goes_to_that_moment(self) -> None:
        trace = self.session.view.run.trace
        row = 900
        mount = self.session.setup.robot.mount
        x = trace.x_mm[row] + mount.ahead_mm * np.cos(trace.heading_rad[row])
        y = trace.y_mm[row] + mount.ahead_mm * np.sin(trace.heading_rad[row])
        place = self.stage.mat.to_px().map(QPointF(x, y)).toPoint()
        QTest.mouseClick(self.stage.mat, Qt.MouseButton.LeftButton, pos=place)
        self.assertAlmostEqual(self.session.playback.time_s, trace.time_s[row], delta=0.03)

    def test_pressing_and_dragging_the_strip_scrubs_everything(self) -> None:
        strip = self.stage.strip
        QTest.mousePress(strip, Qt.MouseButton.LeftButton, pos=QPoint(round(strip.axis.x_px(3.0)), 100))
        row = self.stage.row_at(self.session.playback.time_s)
        self.assertAlmostEqual(self.session.view.run.trace.progress_mm[row], 3000.0, delta=12.0)
        QTest.mouseMove(strip, QPoint(round(strip.axis.x_px(4.0)), 100))
        row = self.stage.row_at(self.session.playback.time_s)
        self.assertAlmostEqual(self.session.view.run.trace.progress_mm[row], 4000.0, delta=12.0)
        robot = self.stage.mat.robot_hand.now
        self.assertAlmostEqual(robot.x_mm, self.session.view.run.trace.x_mm[row], delta=3.0)
        self.assertIn(f"{self.session.playback.time_s:.2f}", self.stage.bar.time.accessibleName())

    def test_the_strip_zooms_about_the_pointer_and_shows_all_again(self) -> None:
        strip = self.stage.strip
        at = QPointF(strip.axis.x_px(2.0), 80.0)
        roll(strip, at, 4)
        self.assertLess(strip.axis.high - strip.axis.low, 3.5)
        self.assertAlmostEqual(strip.axis.value_at(at.x()), 2.0, delta=0.01)
        QTest.mouseDClick(strip, Qt.MouseButton.LeftButton, pos=QPoint(400, 100))
        self.assertEqual(strip.axis.low, 0.0)
        self.assertAlmostEqual(strip.axis.high, 5.14, delta=0.01)

    def test_kept_lanes_are_dashed_along_themselves_and_zoomed_into_as_far_as_one_likes(self) -> None:
        strip = self.stage.strip
        self.session.keep()
        self.edit("program.proportional.gain", 1.5)
        curves = kept_curves_of(strip.axis, strip.picture, strip.theme)
        self.assertEqual(len(curves), len(strip.axis.lanes))
        on, off = KEPT_DASHES[0]
        for curve in curves:
            ways = [part.toList() for part in curve.parts()]
            lengths = [sum(np.hypot(b.x() - a.x(), b.y() - a.y()) for a, b in pairwise(way)) for way in ways]
            self.assertAlmostEqual(float(np.median(lengths)), on, delta=1.0)
            self.assertAlmostEqual(float(np.mean(curve.shown)), on / (on + off), delta=0.02)
        self.session.keep()
        self.settle(self.session)
        both = kept_curves_of(strip.axis, strip.picture, strip.theme)
        self.assertEqual([both[0].colour, both[-1].colour], [strip.theme.kept[1], strip.theme.kept[0]])
        blue = pixels_near(self.painted(strip), strip.theme.kept[0], 60)
        self.assertGreater(blue, 300)
        for _ in range(60):
            strip.zoom(0.7, strip.axis.value_at(300.0))
        self.assertLess(strip.axis.high - strip.axis.low, 1e-6)
        self.painted(strip)
        strip.show_all()
        self.assertEqual(pixels_near(self.painted(strip), strip.theme.kept[0], 60), blue)

    def test_by_time_the_bends_stand_where_the_run_was_in_them(self) -> None:
        strip, run = self.stage.strip, self.session.view.run
        # What was zoomed into by place is none by time.
        strip.zoom(0.5, 2.0)
        self.window.actions_of.named["axis"].trigger()
        self.assertEqual(strip.axis.low, 0.0)
        self.assertAlmostEqual(strip.axis.high, run.trace.time_s[-1], delta=0.01)
        name, start, end = strip.axis.bends[5]
        self.assertEqual(name, "F")
        row_in, row_out = self.stage.row_at(start), self.stage.row_at(end)
        bend = run.route.bends[5]
        self.assertAlmostEqual(run.trace.progress_mm[row_in] + 20.0, bend.start_mm, delta=6.0)
        self.assertAlmostEqual(run.trace.progress_mm[row_out] + 20.0, bend.end_mm, delta=6.0)

    def test_lanes_show_the_runs_own_columns(self) -> None:
        trace, strip = self.session.view.run.trace, self.stage.strip
        for row, values in ((0, trace.reading), (3, trace.edge_mm)):
            curves = curves_of(strip.axis, strip.picture, strip.theme)
            (line,) = next(curve for curve in curves if curve.within == strip.axis.lane(row)).parts()
            self.assertGreater(line.size(), 500)
            box, (low, high) = strip.axis.lane(row), strip.axis.ranges[row]
            for i in range(0, line.size(), 50):
                place = 1000.0 * strip.axis.value_at(line.at(i).x())
                # The lane's range stands between 7/116 and 109/116 of its height.
                share = (box.bottom() - line.at(i).y()) / box.height() * 1.16 - 0.08
                at = int(np.argmin(np.abs(trace.progress_mm - place)))
                self.assertAlmostEqual(low + share * (high - low), values[at], delta=0.02 * (high - low))

    def test_qt_draws_in_one_thread(self) -> None:
        picture = QImage(2000, 2000, QImage.Format.Format_RGB32)
        painter = QPainter(picture)
        painter.drawImage(0, 0, QImage(picture))
        painter.end()
        names = [(each / "comm").read_text().strip() for each in Path("/proc/self/task").iterdir()]
        self.assertNotIn("Thread (pooled)", names)

    def test_what_is_kept_in_pixels_is_what_would_be_drawn_now(self) -> None:
        session = self.session
        session.looking.go_to("Steer")
        self.window.panel("Steer").turn_to("Law")
        curve = self.window.panel("Steer").sheet("Law").curve
        mat = session.setup.mat
        patched = replace(
            mat, patches=(Patch(1000.0, 500.0, 80.0, 60.0), Patch(460.0, 120.0, 60.0, 40.0, over_line=True))
        )
        for what, act in (
            ("", lambda: None),
            ("gain", lambda: session.set_value("program.proportional.gain", 1.6)),
            ("a ring", lambda: curve.set_rings((("1", 20.0),))),
            ("target", lambda: session.set_value("program.target", 40.0)),
            ("kept", session.keep),
            ("speed", lambda: session.set_value("program.speed", 42.0)),
            ("by time", lambda: self.stage.set_by_place(False)),
            ("levels", lambda: self.stage.set_shade("distance")),
            ("theme", lambda: self.window.wear("dark")),
            ("a patch", lambda: session.choose_mat(patched)),
            ("another sheet", lambda: session.choose_mat(replace(patched, colour="#b9c7d6"))),
        ):
            act()
            self.settle(session)
            for view in (self.stage.mat, self.stage.strip, curve):
                now, size = view.grab().toImage(), view.size()
                view.resize(size.width() + 1, size.height())
                view.grab()
                view.resize(size)
                self.assertEqual(now, view.grab().toImage(), f"{type(view).__name__} after {what}")

    def test_another_width_fits_again(self) -> None:
        self.window.resize(1000, 700)
        self.app.processEvents()
        far = self.stage.mat.to_px().map(QPointF(2000.0, 1000.0))
        self.assertLess(far.x(), self.stage.mat.width())
        strip = self.stage.strip
        self.assertAlmostEqual(strip.axis.x_px(strip.axis.high), strip.width() - 14, delta=1)

    def test_a_kept_run_of_another_project_with_the_same_number_is_drawn_as_its_own(self) -> None:
        self.session.keep()
        self.settle(self.session)
        first = self.stage.mat.scene.kept[0]
        kept = replace(self.session.project.kept[0], setup=lighthouse(program__speed=70.0, program__edge="right"))
        self.session.open(replace(self.session.project, kept=(kept,)), None)
        self.settle(self.session)
        (other,) = self.stage.mat.scene.kept
        self.assertEqual((kept.number, len(self.stage.strip.picture.kept)), (1, 1))
        trail = trail_of(kept.setup, derive.run(kept.setup))
        np.testing.assert_array_equal(other.x_mm, trail.x_mm)
        self.assertNotEqual(first.x_mm.size, other.x_mm.size)
        # What has not changed is not made anew.
        self.edit("program.speed", 51.0)
        self.assertIs(self.stage.mat.scene.kept[0], other)


class StripRunTest(unittest.TestCase):
    def test_lanes_make_room_for_what_is_known_and_not_for_the_excursion_of_a_run_that_was_lost(self) -> None:
        swing, long = np.array([-7.0, 1.0, 3.0]), np.concatenate((np.full(99, -2.0), [90.0]))
        columns = {
            "both": swing, "some": np.array([np.nan, -4.0, 2.0]), "none": np.full(3, np.nan), "nothing": np.zeros(0)
        }  # fmt: skip
        run = StripRun.of(swing, swing, columns, finished=True)
        self.assertEqual(run.least, {"both": -7.0, "some": -4.0, "none": 0.0, "nothing": 0.0})
        self.assertEqual(run.reach, {"both": 7.0, "some": 4.0, "none": 0.0, "nothing": 0.0})
        self.assertEqual(StripRun.of(long, long, {"long": long}, finished=False).reach, {"long": 2.0})


class PlaybackTest(WindowTest):
    def setUp(self) -> None:
        super().setUp()
        self.playback = Playback()
        self.playback.set_duration(10.0)
        self.addCleanup(self.playback.pause)

    def test_it_moves_by_the_playing_speed_and_starts_over(self) -> None:
        self.playback.set_rate(2.0)
        self.playback.advance(3.0)
        self.assertEqual(self.playback.time_s, 6.0)
        self.playback.advance(3.0)
        self.assertEqual(self.playback.time_s, 0.0)

    def test_without_looping_it_stops_at_the_end_and_plays_again_from_the_start(self) -> None:
        self.playback.set_loops(False)
        self.playback.play()
        self.playback.advance(11.0)
        self.assertEqual((self.playback.time_s, self.playback.playing), (10.0, False))
        self.playback.play()
        self.assertEqual((self.playback.time_s, self.playback.playing), (0.0, True))

    def test_playing_moves_it_by_the_clock(self) -> None:
        self.playback.play()
        self.wait_for(lambda: self.playback.time_s > 0.1)
        self.playback.pause()
        stands = self.playback.time_s
        QTest.qWait(80)
        self.assertEqual(self.playback.time_s, stands)

    def test_speeds_go_from_an_eighth_to_eightfold(self) -> None:
        self.playback.change_rate(-20)
        self.assertEqual(self.playback.rate, 0.125)
        self.playback.change_rate(20)
        self.assertEqual(self.playback.rate, 8.0)

    def test_seeking_stays_inside_and_a_shorter_run_pulls_it_back(self) -> None:
        self.playback.seek(99.0)
        self.assertEqual(self.playback.time_s, 10.0)
        self.playback.set_duration(4.0)
        self.assertEqual(self.playback.time_s, 4.0)
        self.playback.step(-9.0)
        self.assertEqual(self.playback.time_s, 0.0)


class NewestWinsTest(WindowTest):
    def worker(self, work: object) -> NewestWins:
        self.given: list[object] = []
        self.errors: list[Exception] = []
        worker = NewestWins(
            work, lambda _asked, given: self.given.append(given), lambda _asked, error: self.errors.append(error)
        )
        self.addCleanup(worker.close)
        return worker

    def test_of_many_requests_the_first_and_the_newest_are_worked_on(self) -> None:
        import threading

        gate, done = threading.Event(), []

        def work(request: int) -> int:
            gate.wait(10.0)
            done.append(request)
            return request * request

        worker = self.worker(work)
        for request in range(6):
            worker.request(request)
        self.assertFalse(worker.idle)
        gate.set()
        self.wait_for(lambda: worker.idle)
        self.assertEqual((done, self.given), ([0, 5], [0, 25]))

    def test_an_error_is_an_end_too_and_the_next_request_works(self) -> None:
        def work(request: int) -> float:
            if request == 0:
                raise IronTrailError("no line")
            return 1.0 / request

        worker = self.worker(work)
        for request in (0, 4):
            worker.request(request)
            self.wait_for(lambda: worker.idle)
        self.assertEqual([str(error) for error in self.errors], ["no line"])
        self.assertEqual(self.given, [0.25])

    def test_after_closing_nothing_is_heard_even_of_what_fails(self) -> None:
        import threading

        gate = threading.Event()
        worker = self.worker(lambda request: 1 // request if gate.wait(10.0) else None)
        with self.assertNoLogs("irontrail"):
            worker.request(0)
            worker.close()
            worker.request(2)
            gate.set()
            worker._pool.shutdown()
            self.app.processEvents()
        self.assertEqual((self.given, self.errors), ([], []))


class LayerTest(WindowTest):
    def test_a_painting_that_fails_lets_go_of_its_picture(self) -> None:

        def fails(_painter: QPainter) -> None:
            raise ValueError("no such line")

        view = QWidget()
        view.resize(40, 30)
        image = QImage(40, 30, QImage.Format.Format_ARGB32)
        painter = QPainter(image)
        with self.assertRaisesRegex(ValueError, "no such line"):
            Layer(fails).paint(painter, view)
        painter.end()
        # Qt would warn of a picture that goes while it is painted on; the window's own check sees that.
        gc.collect()
        self.assertEqual(self.warnings, [])

    def test_a_handle_stands_where_it_is_however_fine_the_screen_is(self) -> None:

        for ratio in (1.0, 1.5, 2.0):
            for x, y in ((20.0, 20.0), (21.3, 18.85), (19.49, 22.51)):
                image = QImage(int(40 * ratio), int(40 * ratio), QImage.Format.Format_RGB32)
                image.setDevicePixelRatio(ratio)
                image.fill(0xFFFFFFFF)
                painter = QPainter(image)
                draw_handle(painter, LIGHT, QPointF(x, y), True, 5.0)
                painter.end()
                ink = 255.0 - (pixels_of(image) & 0xFF)
                rows, columns = (np.arange(size) + 0.5 for size in ink.shape)
                middle = (ink @ columns).sum() / ink.sum(), (rows @ ink).sum() / ink.sum()
                self.assertLess(np.abs(np.array(middle) - ratio * np.array((x, y))).max(), 0.2, (ratio, x, y))
                # A disc of the radius and half its rim.
                self.assertAlmostEqual(ink.sum() / ink.max() / (np.pi * (6.0 * ratio) ** 2), 1.0, delta=0.06)

    def test_lines_over_a_layer_are_as_if_drawn_for_the_first_time(self) -> None:

        def ground(painter: QPainter) -> None:
            painter.fillRect(0, 0, 200, 100, QColor(shown["ground"]))

        def lines() -> list[Stroke]:
            x = np.arange(5.0, 95.0)
            return [Stroke(x, 30.0 + 9.0 * np.sin(x / at), "#B3471D", 2.0) for at in shown["lines"]]

        def seen(layer: Layer) -> QImage:
            return layer.image(view).copy()

        view, shown = QWidget(), {"ground": "#ffffff", "lines": (3.0, 5.0)}
        view.resize(100, 60)
        under = Layer(ground)
        layer = Layer(under=under, lines=lines)
        drawn = [seen(layer)]
        for change in ({"lines": (4.0,)}, {"ground": "#ddeeff"}, {"lines": ()}, {"lines": (2.0, 7.0)}, {"size": 70}):
            shown.update(change)
            view.resize(100, shown.get("size", 60))
            for each in (under, layer) if {"ground", "size"} & set(change) else (layer,):
                each.forget()
            drawn.append(seen(layer))
            self.assertEqual(drawn[-1], seen(Layer(under=Layer(ground), lines=lines)), change)
            self.assertNotEqual(drawn[-1], drawn[-2], change)
            # Begun before it is known what it is to show, and begun once more.
            layer.forget()
            layer.begin(view)
            layer.begin(view)
            self.assertEqual(seen(layer), drawn[-1], change)
            layer.forget()
            layer.begin(view)
            shown["ground"] = "#c0ffee"
            under.forget()
            self.assertEqual(seen(layer), seen(Layer(under=Layer(ground), lines=lines)), change)


if __name__ == "__main__":
    unittest.main()
