"""Long lines laid over pixels look as a painter draws them, wherever they go and whatever is left out."""

import subprocess
import sys
import unittest
from dataclasses import replace

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PySide6.QtCore import QRectF
from PySide6.QtGui import QColor, QImage, QPainter, QTransform

from irontrail.app.widgets.curve_drawing import Bars
from irontrail.app.widgets.laid_tape import tapes
from irontrail.app.widgets.strokes import Laid, Line, Stroke, pixels_of
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Straight
from irontrail.core.mat.tape import Stroke as Laying
from tests.support import WindowTest

GROUND, RUST = "#E7E1D3", "#B3471D"
WIDE, HIGH = 120, 80
FINE = 10


def blank(ratio: float = 1.0) -> QImage:
    image = QImage(round(WIDE * ratio), round(HIGH * ratio), QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(ratio)
    image.fill(QColor(GROUND))
    return image


def laid(*strokes: Line, ratio: float = 1.0) -> np.ndarray:
    """How much of the way from the ground's red to rust's each pixel has gone, laid over it; shape (rows, columns)."""
    image = blank(ratio)
    lay(image, *strokes)
    return inked(image)


def lay(image: QImage, *strokes: Line) -> Laid:
    pixels = pixels_of(image)
    made = Laid(pixels.shape, image.devicePixelRatio())
    made.lay(pixels, strokes)
    return made


def exact(*strokes: Line, ratio: float = 1.0) -> np.ndarray:
    """What share of each pixel the lines run over: drawn by a painter FINE times as large, where that is right."""
    image = blank(FINE * ratio)
    painter = QPainter(image)
    for stroke in strokes:
        stroke.draw(painter)
    painter.end()
    return inked(image).reshape(round(ratio * HIGH), FINE, round(ratio * WIDE), FINE).mean(axis=(1, 3))


def inked(image: QImage) -> np.ndarray:
    blue = (pixels_of(image) & 0xFF).astype(float)
    return (QColor(GROUND).blue() - blue) / (QColor(GROUND).blue() - QColor(RUST).blue())


def line(*places: tuple[float, float], width: float = 1.0, **more) -> Stroke:
    x, y = np.array(places, float).T
    return Stroke(x, y, RUST, width, **more)


def wave(period: float, height: float, width: float = 1.5, **more) -> Stroke:
    x = np.arange(4.0, WIDE - 4.0, 0.4)
    return Stroke(x, HIGH / 2 + height * np.sin(2.0 * np.pi * x / period), RUST, width, **more)


class LaidTest(WindowTest):
    def close(self, stroke: Stroke, ratio: float = 1.0) -> None:
        """As much ink as it covers, and where; its ends may be cut otherwise."""
        ours, true = laid(stroke, ratio=ratio), exact(stroke, ratio=ratio)
        for end in (0, -1):
            row, column = round(ratio * stroke.y[end]), round(ratio * stroke.x[end])
            for each in (ours, true):
                each[max(row - 6, 0) : row + 6, max(column - 6, 0) : column + 6] = 0.0
        self.assertGreater(true.sum(), 30.0)
        self.assertAlmostEqual(ours.sum() / true.sum(), 1.0, delta=0.1)
        self.assertLess(np.abs(ours - true).sum(), 0.3 * true.sum())
        self.assertLess(np.abs(ours - true).max(), 0.5)

    def test_straight_lines_cover_what_they_run_over_in_all_directions(self) -> None:
        for degrees in range(0, 360, 15):
            way = np.array([np.cos(np.radians(degrees)), np.sin(np.radians(degrees))])
            for width in (1.0, 1.8, 3.6)[degrees // 15 % 3 :: 3]:
                with self.subTest(degrees=degrees, width=width):
                    middle = np.array([60.37, 40.22])
                    self.close(line(tuple(middle - 30.0 * way), tuple(middle + 30.0 * way), width=width))

    def test_curves_flat_and_steep_and_round_cover_what_they_run_over(self) -> None:
        for period, height, width in ((60.0, 5.0, 1.5), (30.0, 20.0, 3.0), (30.0, 20.0, 1.0), (12.0, 30.0, 1.5)):
            with self.subTest(period=period, width=width):
                self.close(wave(period, height, width))
        self.close(wave(30.0, 20.0), ratio=2.0)
        turn = np.linspace(0.0, 2.0 * np.pi, 300)
        for way in (1.0, -1.0):
            self.close(Stroke(60.0 + 25.0 * np.cos(turn), 40.0 + 25.0 * way * np.sin(turn), RUST, 3.6))

    def test_no_notch_is_left_where_a_wide_line_turns(self) -> None:
        turn = np.linspace(0.0, 2.0 * np.pi, 17)
        for way in (1.0, -1.0):
            for begins in range(16):
                around = np.roll(turn[:16], begins)[:9]
                stroke = Stroke(60.0 + 25.0 * np.cos(around), 40.0 + 25.0 * way * np.sin(around), RUST, 7.0)
                ours = laid(stroke)
                for x, y in zip(stroke.x[1:-1], stroke.y[1:-1], strict=True):
                    for aside in (-2.2, 0.0, 2.2):
                        row = int(y + aside * (y - 40.0) / 25.0)
                        column = int(x + aside * (x - 60.0) / 25.0)
                        self.assertGreater(ours[row, column], 0.9, (way, begins, x, y, aside))

    def test_no_hole_is_left_where_a_thin_line_trembles(self) -> None:
        random = np.random.default_rng(3)
        for tremble in (0.15, 0.5, 1.2):
            x = np.arange(5.0, 115.0, 0.24)
            ours = laid(Stroke(x, 40.3 + tremble * random.standard_normal(x.size), RUST, 1.0))
            self.assertGreater(float(ours[:, 7:112].sum(axis=0).min()), 0.8, tremble)

    def test_a_painter_draws_the_same_in_lines(self) -> None:
        image, stroke = blank(), wave(30.0, 20.0, 2.0, within=QRectF(0.0, 0.0, 60.0, HIGH))
        painter = QPainter(image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        stroke.draw(painter)
        painter.end()
        self.assertLess(np.abs(inked(image) - laid(stroke)).sum(), 0.2 * laid(stroke).sum())
        faint = replace(stroke, opacity=0.5)
        painter = QPainter(image := blank())
        faint.draw(painter)
        painter.end()
        self.assertAlmostEqual(float(inked(image).max()), 0.5, delta=0.01)

    def test_tape_is_laid_as_a_painter_draws_it(self) -> None:
        ring = (Straight(120.0), Bend(40.0, 180.0), Straight(120.0), Bend(40.0, 180.0))
        hook = (Straight(60.0), Corner(100.0), Straight(50.0), Gap(20.0), Bend(60.0, -120.0))
        for line in (
            Laying(60.0, 60.0, 0.0, ring, closed=True),
            Laying(40.0, 50.0, 25.0, hook),
            Laying(40.0, 50.0, 25.0, hook, border_mm=6.0, border_colour=RUST, unevenness_mm=1.5),
        ):
            mat = Mat("m", replace(line, colour=RUST), 240.0, 200.0)
            # Strips that overlap are darker there by a painter, if they are seen through.
            opacity = 0.55 if line.closed else 1.0
            for ratio, scale, turned in ((1.0, 0.4, 0.0), (2.0, 0.5, 0.0), (1.0, 2.4, 0.0), (1.0, 0.4, 143.0)):
                to_px = QTransform(scale, 0.0, 0.0, -scale, 60.3, 40.4).rotate(turned).translate(-100.0, -80.0)
                seen = tapes(mat, to_px, opacity=opacity)
                ours, true = laid(*seen, ratio=ratio), exact(*seen, ratio=ratio)
                self.assertGreater(true.sum(), 300.0)
                self.assertAlmostEqual(ours.sum() / true.sum(), 1.0, delta=0.02)
                self.assertLess(np.abs(ours - true).sum(), 0.03 * true.sum(), (line, ratio, scale))

    def test_bars_stand_on_whole_pixels_each_in_its_colour(self) -> None:
        bars = Bars(np.array([10.0, 20.2, 30.6]), 4.1, np.array([12.3, 0.2, 30.0]), 70.0, 2, (RUST, GROUND))
        ours = laid(bars)
        self.assertEqual([*np.unique(np.argwhere(ours > 0.1)[:, 1])], [10, 11, 12, 13])
        self.assertEqual(np.flatnonzero(ours[:, 12] > 0.1).tolist(), [*range(58, 70)])
        self.assertAlmostEqual(float(ours[65, 12]), 0.33, delta=0.01)
        self.assertAlmostEqual(ours.sum(), exact(bars).sum(), delta=0.12 * ours.sum())
        other = laid(replace(bars, first_other=1, colours=(GROUND, RUST)))
        self.assertEqual([*np.unique(np.argwhere(other > 0.1)[:, 1])], [31, 32, 33, 34])

    def test_a_line_that_crosses_or_repeats_itself_is_not_darker_there(self) -> None:
        once = laid(line((10.0, 40.0), (110.0, 40.0)))
        again = laid(line((10.0, 40.0), (110.0, 40.0), (10.0, 40.0), (110.0, 40.0)))
        self.assertAlmostEqual(float(again[:, 20:100].max()), float(once.max()), delta=0.01)
        self.assertAlmostEqual(float(once[39:41, 60].sum()), 1.0, delta=0.02)
        faint = laid(wave(20.0, 20.0, opacity=0.5))
        self.assertAlmostEqual(float(faint.max()), 0.5, delta=0.01)

    def test_what_is_not_shown_or_not_known_is_left_out(self) -> None:
        x, y = np.arange(10.0, 110.0, 0.5), np.full(200, 40.5)
        half = laid(Stroke(x, y, RUST, shown=x < 50.0)).max(axis=0)
        self.assertTrue((half[11:49] > 0.95).all())
        self.assertTrue((half[52:] == 0.0).all())
        y[(x > 60.0) & (x < 70.0)] = np.nan
        known = laid(Stroke(x, y, RUST)).max(axis=0)
        self.assertTrue((known[62:69] == 0.0).all())
        self.assertTrue((known[11:59] > 0.95).all())
        self.assertTrue((known[72:108] > 0.95).all())
        self.assertEqual([part.size() > 20 for part in Stroke(x, y, RUST).parts()], [True, True])
        self.assertEqual(laid(Stroke(x, np.full(200, np.nan), RUST)).max(), 0.0)

    def test_nothing_is_laid_outside_its_room(self) -> None:
        room = QRectF(20.0, 30.0, 50.0, 20.0)
        ours = laid(wave(12.0, 35.0, within=room))
        inside = ours[30:50, 20:70]
        self.assertGreater(inside.sum(), 50.0)
        self.assertAlmostEqual(float(ours.sum()), float(inside.sum()), places=9)

    def test_one_stroke_leaves_no_trace_in_the_next(self) -> None:
        image = blank()
        lay(image, wave(30.0, 20.0), Stroke(np.array([5.0, 50.0]), np.array([5.0, 5.0]), "#0000FF"))
        blue = np.argwhere((pixels_of(image) & 0xFF0000) == 0)
        self.assertTrue(blue.size == 0 or blue[:, 0].max() < 8)
        self.assertEqual(inked(image)[30:50].max().round(2), laid(wave(30.0, 20.0))[30:50].max().round(2))

    def test_it_is_compiled_for_one_kind_of_places(self) -> None:
        from irontrail.app.ink import lay_line

        for places in (np.arange(10, 100, 5), np.arange(10.0, 100.0, 5.0, np.float32), np.arange(10.0, 100.0)[::5]):
            row = laid(Stroke(places, np.full(places.size, 40), RUST, 2, shown=places % 2 == 0))[39]
            self.assertEqual(([*(row[11:14] > 0.9)], [*(row[16:19] > 0.9)]), ([True] * 3, [False] * 3))
        self.assertEqual(len(lay_line.signatures), 1)

    def test_it_is_there_once_a_run_is_known_and_not_waited_for_in_a_painting(self) -> None:
        code = (
            "from irontrail import kernel_cache\n"
            "kernel_cache.locate()\n"
            "from irontrail.app.view import Request, compute\n"
            "from irontrail.core.demos import demo_project\n"
            "compute(Request(demo_project('lighthouse').setup, ()))\n"
            "from irontrail.app.ink import lay_line\n"
            "print(len(lay_line.signatures))\n"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120)
        self.assertEqual((done.stdout.strip(), done.returncode), ("1", 0), done.stderr)

    @settings(max_examples=60, deadline=None, database=None)
    @given(
        st.lists(st.tuples(*(st.floats(-1e5, 1e5) | st.floats(-20.0, 140.0) | st.just(np.nan) for _ in range(2)))),
        st.floats(0.5, 6.0),
    )
    def test_any_places_are_laid_without_harm_and_taken_back(
        self, places: list[tuple[float, float]], width: float
    ) -> None:
        x, y = np.array(places, float).reshape(-1, 2).T
        image, before = blank(), blank()
        made = lay(image, Stroke(x.copy(), y.copy(), RUST, width))
        ours = inked(image)
        self.assertTrue(((ours > -0.01) & (ours < 1.01)).all())
        made.take_back(pixels_of(image), pixels_of(before))
        self.assertEqual(image, before)


if __name__ == "__main__":
    unittest.main()
