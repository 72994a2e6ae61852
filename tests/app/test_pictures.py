"""What a person sees: words where they belong, curves in their colours, axes that count up, noses that point."""

import unittest

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtTest import QTest

from irontrail.app.theme import DARK, LIGHT
from irontrail.app.widgets.curve_drawing import CurveDrawing
from irontrail.app.widgets.sentence_list import SentenceList
from irontrail.core.demos import demo_project
from irontrail.core.figures import FIGURES
from tests.seen import Line, Seen, seen
from tests.support import StopTest

LEFT = Qt.MouseButton.LeftButton


def rises(line: Line, along: int = 0) -> float:
    """How much a line falls in y (up is more) from its first to its last point, over how far it goes."""
    first, last = line.points[0], line.points[-1]
    return float((first[1] - last[1]) / (last[along] - first[along]))


def climbing(picture: Seen, texts: list[str], axis: str) -> bool:
    """Whether texts stand in this order along an axis, rightward or upward."""
    places = [getattr(picture.word(text), axis) for text in texts]
    return places == sorted(places, reverse=axis == "y")


class StagePictureTest(StopTest):
    def test_the_mat_has_its_line_under_the_trail_under_the_robot(self) -> None:
        self.stage.step(150)
        mat = self.stage.mat
        picture = seen(mat)
        line = self.session.setup.mat.line
        tape = picture.of_colour(line.colour)[0]
        self.assertAlmostEqual(tape.width, line.width_mm * mat.px_per_mm, delta=0.1)
        trail = picture.of_colour("#b3471d")[0]
        body = next(line for line in picture.lines if line.fill.lower() == LIGHT.card.lower() and len(line.points) > 8)
        order = [picture.lines.index(each) for each in (tape, trail, body)]
        self.assertEqual(order, sorted(order))
        now = mat.robot_hand.now
        at = mat.to_px().map(QPointF(now.x_mm, now.y_mm))
        self.assertLess(np.hypot(body.middle[0] - at.x(), body.middle[1] - at.y()), 0.5 * mat.px_per_mm * 60)
        # Its sensor is ahead of it, where it heads, and y grows upward on the mat.
        sensor = next(line for line in picture.of_colour(LIGHT.rust, fill=True) if len(line.points) == 16)
        ahead = np.array(sensor.middle) - (at.x(), at.y())
        self.assertGreater(ahead @ (np.cos(now.heading), -np.sin(now.heading)), 10.0)
        wheels = [line for line in picture.of_colour(LIGHT.ink, fill=True) if abs(line.middle[0] - at.x()) < 30][:2]
        self.assertEqual(len(wheels), 2)
        aside = [np.array(wheel.middle) - (at.x(), at.y()) for wheel in wheels]
        self.assertLess(float(aside[0] @ aside[1]), 0.0, "one wheel on either side")

    def test_the_trail_runs_where_the_robot_was_and_letters_stand_by_their_bends(self) -> None:
        mat, run = self.stage.mat, self.session.view.run
        picture = seen(mat)
        trail = picture.of_colour("#b3471d")[0].points
        trace = run.trace
        for share in (0.2, 0.5, 0.8):
            row = int(share * (len(trace) - 1))
            sensor = self.session.setup.robot.mount.ahead_mm
            x = trace.x_mm[row] + sensor * np.cos(trace.heading_rad[row])
            y = trace.y_mm[row] + sensor * np.sin(trace.heading_rad[row])
            place = mat.to_px().map(QPointF(float(x), float(y)))
            away = np.hypot(trail[:, 0] - place.x(), trail[:, 1] - place.y()).min()
            self.assertLess(away, 8.0, share)
        self.assertEqual(picture.texts[:11], list("ABCDEFGHIJK"))

    def test_start_and_finish_are_called_what_they_are(self) -> None:
        self.window.actions_of.named["demo orchard"].trigger()
        self.settle(self.session)
        picture = seen(self.stage.mat)
        self.assertLess(picture.word("start").x, picture.word("finish").x)
        self.session.turn_round()
        self.settle(self.session)
        turned = seen(self.stage.mat)
        self.assertGreater(turned.word("start").x, turned.word("finish").x)

    def test_kept_trails_are_dashed_under_the_run_and_differ(self) -> None:
        self.session.keep()
        self.edit("program.speed", 40.0)
        self.session.keep()
        self.edit("program.speed", 45.0)
        from irontrail.app.widgets.mat_scene import KEPT_ON_MAT

        picture = seen(self.stage.mat)
        kept = [picture.of_colour(colour)[0] for colour in KEPT_ON_MAT[:2]]
        self.assertTrue(all(line.dashed for line in kept))
        trail = picture.lines.index(picture.of_colour("#b3471d")[0])
        self.assertTrue(all(picture.lines.index(line) < trail for line in kept))

    def test_a_dark_mat_is_written_on_in_light(self) -> None:
        from irontrail.app.theme import contrast
        from irontrail.core.quantity import with_value

        for colour in ("#202224", "#7f7f7f", "#f3f1ea"):
            self.put(with_value(self.session.setup, "mat.colour", colour))
            letter = seen(self.stage.mat).word("A")
            self.assertGreaterEqual(contrast(letter.colour, colour), 4.5)

    def test_pins_stand_on_the_mat_where_a_finding_is(self) -> None:
        self.session.set_value("program.speed", 68.0)
        self.session.looking.go_to("Run")
        self.window.panel("Run").turn_to("Findings")
        self.settle(self.session)
        mat = self.stage.mat
        self.assertTrue(mat.pins)
        picture = seen(mat)
        for number, x, y in mat.pins:
            at = mat.to_px().map(QPointF(x, y))
            near = [word for word in picture.words if word.text == number and abs(word.x - at.x()) < 14]
            self.assertTrue(near and abs(near[0].y - at.y() - 17) < 14, number)

    def test_the_names_of_a_lanes_curves_do_not_run_into_its_numbers(self) -> None:
        from PySide6.QtGui import QFontMetricsF

        from irontrail.app.theme import font

        self.session.set_value("program.proportional.gain", 2.9)
        self.edit("program.speed", 30.0)
        self.stage.lanes.choose(("reading", "steer", "wheels", "off edge", "heading", "speeds"))
        words = seen(self.stage.strip)
        low, right = words.word("−500"), [word for word in words.words if word.text == "right"][-1]
        self.assertLess(abs(low.y - right.y), 12.0)
        self.assertLess(right.x + QFontMetricsF(font(10)).horizontalAdvance("right"), low.x)

    def test_the_target_is_a_line_through_the_readings(self) -> None:
        self.edit("program.target", 62.0)
        strip = self.stage.strip
        (line,) = [line for line in seen(strip).of_colour(LIGHT.brass) if line.dashed]
        self.assertAlmostEqual(line.middle[1], float(strip.axis.y_px(0, 62.0)), delta=0.6)
        self.assertEqual(strip.axis.lanes[0].name, "reading")

    def test_the_strips_axes_and_lanes(self) -> None:
        strip = self.stage.strip
        picture = seen(strip)
        self.assertTrue(climbing(picture, ["0 m", "1", "2", "3", "4", "5"], "x"))
        self.assertEqual(
            [text for text in picture.texts if text in ("reading", "steer", "wheels", "off edge")],
            ["reading", "steer", "wheels", "off edge"],
        )
        self.assertTrue(climbing(picture, ["off edge", "wheels", "steer", "reading"], "y"))
        trace = self.session.view.run.trace
        for row, (column, colour) in enumerate(
            (("reading", LIGHT.rust), ("steer", LIGHT.rust), ("left_power", LIGHT.rust))
        ):
            lane = strip.axis.lane(row)
            inside = [
                line
                for line in picture.of_colour(colour)
                if line.points.shape[0] > 20 and lane.top() - 1 <= line.box[1] and line.box[3] <= lane.bottom() + 1
            ]
            self.assertTrue(inside, column)
            points = inside[0].points
            values = getattr(trace, column)[: len(points)] if len(points) == len(trace) else None
            if values is not None:
                self.assertLess(np.corrcoef(points[:, 1], values)[0, 1], -0.99, f"{column} grows upward")
        self.assertTrue(climbing(picture, list("ABCDEFGHIJK"), "x"))

    def test_left_and_right_wheel_are_told_apart_by_dash_and_word(self) -> None:
        strip = self.stage.strip
        picture = seen(strip)
        lane = strip.axis.lane(2)
        left = [line for line in picture.of_colour(LIGHT.rust) if lane.top() <= line.middle[1] <= lane.bottom()]
        right = [line for line in picture.of_colour(LIGHT.ink) if lane.top() <= line.middle[1] <= lane.bottom()]
        whole, dashes = max(left, key=lambda line: len(line.points)), [line for line in right if len(line.points) > 1]
        self.assertGreater(len(dashes), 30, "the right wheel's curve is dashed")
        trace = self.session.view.run.trace
        row = int(np.argmax(trace.left_power - trace.right_power))
        x = float(strip.axis.x_px(strip.axis.x_of(strip.picture.run))[row])
        at_left = whole.points[np.argmin(np.abs(whole.points[:, 0] - x)), 1]
        nearest = min(dashes, key=lambda line: np.abs(line.points[:, 0] - x).min())
        at_right = nearest.points[np.argmin(np.abs(nearest.points[:, 0] - x)), 1]
        self.assertLess(at_left, at_right, "where the left wheel has more power, its curve is the higher one")
        self.assertEqual(picture.word("left").colour.lower(), LIGHT.rust.lower())
        self.assertEqual(picture.word("right").colour.lower(), LIGHT.ink.lower())

    def test_the_cursor_stands_at_the_playhead(self) -> None:
        strip = self.stage.strip
        xs = []
        for time in (2.0, 10.0):
            self.session.playback.seek(time)
            plot = strip.axis.plot
            cursor = next(
                line
                for line in reversed(seen(strip).of_colour(LIGHT.ink))
                if len(line.points) == 2 and abs(line.points[0, 0] - line.points[1, 0]) < 0.01 and line.box[3] > 100
            )
            xs.append(cursor.middle[0])
            self.assertTrue(plot.left() <= xs[-1] <= plot.right())
        self.assertLess(xs[0], xs[1])

    def test_the_bar_tells_time_swing_and_clipping_in_their_units(self) -> None:
        bar, figures = self.stage.bar, self.session.view.figures
        self.session.playback.seek(3.0)
        self.assertTrue(all(each.isVisible() for each in (bar.time, bar.rate, bar.outcome, bar.swing, bar.clipped)))
        self.assertEqual(seen(bar.time).texts, [f"3.00 / {self.session.view.run.time_s:.2f} s"])
        self.assertEqual(seen(bar.outcome).texts, ["finished in", f"{figures.time_s:.2f}", "s"])
        self.assertEqual(seen(bar.swing).texts, ["swing", f"{figures.wobble_mm:.1f}", "mm"])
        self.assertEqual(seen(bar.clipped).texts, ["clipped", f"{100 * figures.clipped_share:.1f}", "%"])
        handle = [line for line in seen(bar.scrubber).lines if line.colour.lower() == LIGHT.rust.lower()][-1]
        share = 3.0 / self.session.playback.duration_s
        self.assertAlmostEqual(handle.middle[0] / bar.scrubber.width(), share, delta=0.06)
        # At its end stands the time that it finished in, though its last loop goes on beyond that.
        self.edit("program.speed", 60.0)
        self.session.playback.seek(1000.0)
        self.assertEqual(seen(bar.time).texts, ["17.24 / 17.24 s"])
        self.assertIn("17.24", seen(bar.outcome).texts)

    def test_no_figure_of_the_bar_is_cut_off_and_a_difference_without_room_is_left_out(self) -> None:
        bar = self.stage.bar
        for view, value, kept in ((bar.outcome, 119.95, 8.0), (bar.swing, 150.2, 4.1), (bar.clipped, 1.0, 0.0)):
            view.set_figure(value, kept)
            self.assertEqual(seen(view).texts[-1], view.difference_text())
            image = view.grab().toImage()
            self.assertEqual(len({image.pixel(image.width() - 1, y) for y in range(image.height())}), 1)
        view.set_figure(10_000.0, 0.0)
        self.assertEqual(seen(view).texts[1:], [view.text(), "%"])

    def test_better_is_green_and_worse_is_rust(self) -> None:
        from irontrail.app.widgets.figure import FigureView

        for name, value, kept, better in (
            ("time_s", 10.0, 12.0, True), ("time_s", 12.0, 10.0, False), ("wobble_mm", 3.0, 2.0, False),
        ):  # fmt: skip
            view = FigureView(FIGURES[name], self.window.theme)
            view.resize(140, 40)
            view.set_figure(value, kept)
            word = next(word for word in seen(view).words if word.text[0] in "+−")
            self.assertEqual(word.text[0], "−" if value < kept else "+")
            self.assertEqual(word.colour.lower(), (LIGHT.good if better else LIGHT.rust).lower())

    def test_in_the_dark_theme_the_panel_is_dark_and_the_mat_is_white(self) -> None:
        self.window.wear("dark")
        self.app.processEvents()
        fills = [line.fill.lower() for line in seen(self.stage.mat).lines[:4]]
        self.assertEqual(fills[0], DARK.desk.lower())
        self.assertIn(self.session.setup.mat.colour.lower(), fills)
        self.assertEqual(seen(self.stage.strip).lines[0].fill.lower(), DARK.desk.lower())
        self.window.wear("light")


class SteerPictureTest(StopTest):
    def setUp(self) -> None:
        super().setUp()
        self.curve = self.window.panel("Steer").sheet("Law").curve

    def test_the_curves_axes_count_rightward_and_upward(self) -> None:
        picture = seen(self.curve)
        plot = [word for word in picture.words if word.text in ("25", "75", "100")]
        bottom = max(word.y for word in plot)
        along = {word.text: word.x for word in picture.words if abs(word.y - bottom) < 2}
        self.assertTrue(along["25"] < along["50"] < along["75"] < along["100"])
        self.assertLess(picture.word("dark side").x, picture.word("target 50").x)
        self.assertLess(picture.word("target 50").x, picture.word("light side").x)
        up = sorted((word for word in picture.words if word.x < 30), key=lambda word: word.y)
        self.assertEqual([word.text for word in up[:3]], ["100", "50", "0"])

    def test_the_left_wheel_is_rust_and_rises_on_the_light_side(self) -> None:
        picture = seen(self.curve)
        left = max(picture.of_colour(LIGHT.rust), key=lambda line: line.box[2] - line.box[0])
        right = max(picture.of_colour(LIGHT.ink), key=lambda line: line.box[2] - line.box[0])
        self.assertGreater(min(left.width, right.width), 1.5)
        # On the left edge of a dark line light lies to the left: the left wheel then is the faster one.
        self.assertGreater(rises(left), 0.3)
        self.assertLess(rises(right), -0.3)
        self.assertEqual(picture.word("left").colour.lower(), LIGHT.rust.lower())
        self.assertEqual(picture.word("right").colour.lower(), LIGHT.ink.lower())
        self.assertLess(picture.word("left").y, picture.word("right").y)
        self.session.swap_edge()
        self.settle(self.session)
        swapped = seen(self.curve)
        left = max(swapped.of_colour(LIGHT.rust), key=lambda line: line.box[2] - line.box[0])
        self.assertLess(rises(left), -0.3)

    def test_dark_lies_left_of_the_target_and_readings_are_counted_where_they_were(self) -> None:
        self.session.set_values({"program.target": 40.0, "program.proportional.gain": 2.0})
        self.settle(self.session)
        picture, shown = seen(self.curve), self.curve.picture
        plot = CurveDrawing(shown, self.window.theme, QRectF(self.curve.rect())).plot
        target = self.curve.place_of(40.0, 0.0).x()
        for wash, left, right in ((LIGHT.slate_wash, plot.left(), target), (LIGHT.brass_wash, target, plot.right())):
            side = max(picture.of_colour(wash, fill=True), key=lambda line: line.box[2] - line.box[0])
            self.assertAlmostEqual(side.box[0], left, delta=0.6)
            self.assertAlmostEqual(side.box[2], right, delta=0.6)
        bars = {
            colour: [line for line in picture.of_colour(colour, fill=True) if line.box[2] - line.box[0] < 8.0]
            for colour in (LIGHT.slate, LIGHT.brass)
        }
        width = plot.width() / 50
        self.assertTrue(all(bar.middle[0] < target + width for bar in bars[LIGHT.slate]))
        self.assertTrue(all(bar.middle[0] > target - width for bar in bars[LIGHT.brass]))
        readings = self.session.view.run.trace.reading
        highest = max((bar for some in bars.values() for bar in some), key=lambda bar: bar.box[3] - bar.box[1])
        counts, edges = np.histogram(readings, bins=50, range=(0.0, 100.0))
        most = 0.5 * (edges[np.argmax(counts)] + edges[np.argmax(counts) + 1])
        self.assertAlmostEqual(highest.middle[0], self.curve.place_of(float(most), 0.0).x(), delta=width)
        clipped = shown.clipped
        self.assertTrue(clipped.any())
        over = [line for line in picture.of_colour(LIGHT.rust, fill=True) if line.box[1] < plot.top() - 3.0]
        self.assertTrue(over)
        first = float(shown.reading[np.flatnonzero(clipped)[0]])
        self.assertAlmostEqual(min(bar.box[0] for bar in over), self.curve.place_of(first, 0.0).x(), delta=1.0)

    def test_handles_lie_on_the_curve_and_the_robot_now_is_marked(self) -> None:
        self.window.stage.step(120)
        picture = seen(self.curve)
        for handle in self.curve.picture.handles:
            place = self.curve.place_of(handle.reading, handle.power)
            rings = [line for line in picture.of_colour(LIGHT.rust) if len(line.points) == 16]
            near = min(np.hypot(ring.middle[0] - place.x(), ring.middle[1] - place.y()) for ring in rings)
            self.assertLess(near, 1.0, handle.name)
        reading, left, right = self.curve.now
        dots = [line for line in picture.of_colour(LIGHT.ink, fill=True) if len(line.points) == 16]
        for power in (left, right):
            place = self.curve.place_of(reading, power)
            away = min(np.hypot(dot.middle[0] - place.x(), dot.middle[1] - place.y()) for dot in dots)
            self.assertLess(away, 1.5)

    def test_a_dial_shows_its_figure_unit_place_and_the_kept_value(self) -> None:
        from irontrail.app.widgets.dial import Dial
        from irontrail.core.quantity import quantities
        from irontrail.core.steering.program import Program

        dial = Dial(quantities(Program)["loop_time_s"], self.window.theme, 0.0, 0.1)
        dial.resize(300, 42)
        handles = []
        for value in (0.02, 0.08):
            dial.set_value(value)
            dial.set_kept(0.05)
            picture = seen(dial)
            self.assertEqual(picture.texts, ["Loop time", "ms", f"{1000 * value:.0f}"])
            handles.append(picture.of_colour(LIGHT.rust)[-1].middle[0])
            kept = picture.of_colour(LIGHT.slate, fill=True)[0]
            self.assertAlmostEqual(kept.middle[0], dial.face.position(0.05), delta=0.5)
        self.assertAlmostEqual(handles[0], dial.face.position(0.02), delta=0.5)
        self.assertAlmostEqual(handles[1] - handles[0], 0.6 * (300 - 16), delta=1.0)

    def test_words_say_which_sentence_decides(self) -> None:
        self.session.choose_law("on-off")
        self.session.looking.go_to("Steer")
        self.window.panel("Steer").turn_to("Words")
        self.settle(self.session)
        found = self.window.panel("Steer").sheet("Words").findChildren(SentenceList)[0]
        found.set_lit(1)
        picture = seen(found)
        bar = next(line for line in picture.of_colour(LIGHT.rust, fill=True) if line.box[2] - line.box[0] < 4)
        sign = next(word for word in picture.words if word.text == "2")
        self.assertTrue(bar.box[1] - 2 <= sign.y <= bar.box[3] + 6, "the bar stands by the second sentence")

    def test_the_way_back_has_light_above_and_time_rightward(self) -> None:
        self.session.looking.go_to("Steer")
        self.window.panel("Steer").turn_to("Let go")
        self.settle(self.session)
        sheet = self.window.panel("Steer").sheet("Let go")
        from irontrail.app.widgets.way_back import WayBack

        view = sheet.findChildren(WayBack)[0]
        picture = seen(view)
        self.assertLess(picture.word("light side, mm").y, picture.word("dark side, mm").y)
        self.assertTrue(climbing(picture, ["0 s", "1", "2", "3"], "x"))
        curve = max(picture.of_colour(LIGHT.rust), key=lambda line: len(line.points))
        middle = next(line for line in picture.of_colour(LIGHT.ink) if len(line.points) == 2).middle[1]
        started = view.now.edge_mm[0]
        self.assertEqual(curve.points[0, 1] < middle, started > 0.0)

    def test_the_loops_arrows_go_from_reading_to_the_wheels(self) -> None:
        from irontrail.app.widgets.loop_picture import LoopPicture, LoopTimes

        view = LoopPicture(self.window.theme)
        view.resize(300, 90)
        view.set_times(LoopTimes(0.01, 0.015, 2, 240.0))
        picture = seen(view)
        arrows = [line for line in picture.of_colour(LIGHT.ink) if len(line.points) == 2]
        self.assertGreaterEqual(len(arrows), 2)
        for arrow in arrows:
            (x0, y0), (x1, y1) = arrow.points
            self.assertTrue(x0 < x1 and y0 < y1, "later, and in the lower lane")
        self.assertLess(picture.word("reads").y, picture.word("wheels").y)
        self.assertIn("Acts on what was read up to 35 ms, 8 mm ago.", picture.texts)


class KeyEffectTest(StopTest):
    """Every key of the menus, and what is seen to come of it."""

    def setUp(self) -> None:
        super().setUp()
        self.stage.mat.setFocus()

    def press(self, name: str) -> None:
        shortcut = self.window.actions_of.named[name].shortcut()[0]
        QTest.keyClick(self.app.focusWidget() or self.window, shortcut.key(), shortcut.keyboardModifiers())
        self.app.processEvents()

    def test_editing_keys(self) -> None:
        setup = self.session.setup
        self.press("swap")
        self.assertEqual(self.session.setup.program.edge, "right")
        self.press("undo")
        self.assertEqual(self.session.setup, setup)
        self.press("redo")
        self.assertEqual(self.session.setup.program.edge, "right")
        self.press("turn")
        self.assertTrue(self.session.setup.trial.reverse)
        self.press("law")
        self.assertEqual(self.session.setup.program.law, "PID")
        self.settle(self.session)
        self.press("keep")
        self.assertEqual(len(self.session.project.kept), 1)
        self.assertEqual(self.session.project.kept[0].setup, self.session.setup)

    def test_playing_keys(self) -> None:
        playback = self.session.playback
        self.press("play")
        self.assertTrue(playback.playing)
        self.press("play")
        self.assertFalse(playback.playing)
        for name, moved in (("faster", 1), ("faster", 1), ("slower", -1)):
            before = playback.rate
            self.press(name)
            self.assertEqual(playback.rate, before * 2.0**moved, name)
        self.assertEqual(self.stage.bar.rate.text(), "2×")
        playback.seek(1.0)
        for name, by in (("forward", 0.01), ("forward", 0.01), ("back", -0.01)):
            before = playback.time_s
            self.press(name)
            self.assertAlmostEqual(playback.time_s, before + by, msg=name)
        self.press("end")
        self.assertEqual(playback.time_s, playback.duration_s)
        self.press("start")
        self.assertEqual(playback.time_s, 0.0)

    def test_looking_keys(self) -> None:
        mat, strip = self.stage.mat, self.stage.strip
        near = mat.px_per_mm
        self.press("zoom in")
        self.assertGreater(mat.px_per_mm, near)
        self.press("zoom out")
        self.press("zoom out")
        self.assertLess(mat.px_per_mm, near)
        self.press("fit")
        self.assertAlmostEqual(mat.px_per_mm, near)
        self.press("follow")
        self.assertTrue(mat.following)
        self.press("follow")
        self.press("close up")
        self.assertTrue(self.stage.close_up.isVisible())
        self.press("close up")
        self.assertFalse(self.stage.close_up.isVisible())
        shade = self.stage.shade
        self.press("shade")
        self.assertNotEqual(self.stage.shade, shade)
        self.assertIn(self.stage.shade, self.stage.tools.trail.text())
        self.press("axis")
        self.assertFalse(self.session.looking.by_place)
        self.assertIn("0 s", seen(strip).texts)
        self.press("axis")
        self.assertIn("0 m", seen(strip).texts)
        strip.zoom(0.5, 2.0)
        narrow = strip.axis.high - strip.axis.low
        self.press("strip all")
        self.assertGreater(strip.axis.high - strip.axis.low, 1.9 * narrow)
        self.press("mark")
        self.assertIsNotNone(strip.marks)

    def test_stop_and_file_keys(self) -> None:
        from unittest import mock

        from irontrail.app.looking import STOPS

        for stop in STOPS:
            self.press(f"stop {stop}")
            self.assertEqual(self.session.looking.stop, stop)
            self.assertTrue(self.window.panel(stop).isVisible())
        path = self.folder / "by-key.irontrail"
        with mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=(str(path), "")):
            self.press("save")
        self.assertTrue(path.exists())
        self.assertEqual(self.window.windowTitle(), "by-key.irontrail — Iron Trail")
        self.session.set_value("program.speed", 41.0)
        other = self.folder / "other.irontrail"
        with mock.patch("irontrail.app.asked_path.QFileDialog.getSaveFileName", return_value=(str(other), "")):
            self.press("save as")
        self.assertTrue(other.exists())
        with mock.patch("irontrail.app.files_desk.QFileDialog.getOpenFileName", return_value=(str(path), "")):
            self.press("open")
        self.assertEqual(self.session.path, path)
        self.assertEqual(self.session.project, demo_project("lighthouse"))

    def test_turning_a_piece_the_other_way_turns_it(self) -> None:
        from irontrail.core.mat.tape import Bend, Corner, Straight, Stroke, Wiggle
        from irontrail.core.project import blank_project
        from irontrail.core.quantity import with_value

        self.session.open(blank_project(), None)
        pieces = (Straight(200.0), Bend(150.0, 60.0), Corner(-40.0), Wiggle(2, 80.0, 30.0), Straight(100.0))
        line = Stroke(300.0, 500.0, 0.0, pieces)
        self.session.edit("pieces", with_value(self.session.setup, "mat.line", line))
        self.press("stop Mat")
        self.window.panel("Mat").turn_to("Tape")
        sheet = self.window.panel("Mat").sheet("Tape")
        from PySide6.QtWidgets import QPushButton

        other = next(button for button in sheet.findChildren(QPushButton) if button.text() == "Other way")
        for at, name in ((1, "angle_deg"), (2, "angle_deg"), (3, "swing_deg")):
            sheet.choose(0, at)
            before = getattr(sheet.piece, name)
            QTest.mouseClick(other, LEFT)
            self.assertEqual(getattr(sheet.piece, name), -before)
        self.settle(self.session)


if __name__ == "__main__":
    unittest.main()
