"""Lines laid over pixels: where, how much of each pixel, in which colour, and not beyond what they may."""

import unittest
from typing import Any

import numpy as np

from irontrail.core.line_pixels import lay_line

WHITE, BLACK = 0xFFFFFFFF, 0xFF000000
ROWS, COLUMNS = 60, 80


def laid(x: Any, y: Any, width: float = 1.0, colour: int = 0, **limits: Any) -> np.ndarray:
    """A white picture with a line."""
    pixels = np.full((ROWS, COLUMNS), WHITE, np.uint32)
    box = limits.get("box", (0, 0, COLUMNS, ROWS))
    x, y = np.array(x, np.float64), np.array(y, np.float64)
    lay_line(pixels, x, y, width, colour, box, limits.get("on", 1.0), limits.get("period", 1.0))
    return pixels


def cover(pixels: np.ndarray) -> np.ndarray:
    """How much of each pixel a black line covers."""
    return 1.0 - (pixels & 255) / 255.0


class LayLineTest(unittest.TestCase):
    def test_a_line_along_a_row_covers_it_and_between_two_half_of_each(self) -> None:
        for turned in (False, True):
            for across, rows in ((10.5, {10: 1.0}), (10.0, {9: 0.5, 10: 0.5}), (10.25, {9: 0.25, 10: 0.75})):
                ends = ((20.0, 50.0), (across, across))
                found = cover(laid(*(reversed(ends) if turned else ends)))
                found = found.T if turned else found
                for row, share in rows.items():
                    np.testing.assert_allclose(found[row, 20:50], share, atol=0.005)
                self.assertAlmostEqual(float(found[:, 20:50].sum()), 30.0, delta=0.3)
                self.assertEqual(float(found[:, :20].sum() + found[:, 51:].sum()), 0.0)

    def test_it_covers_its_length_times_its_width_whichever_way_it_goes(self) -> None:
        for angle in np.radians(np.arange(0.0, 360.0, 15.0)):
            for width in (1.0, 1.5, 3.6):
                x, y = (
                    40.0 + 18.0 * np.cos(angle) * np.array([-1.0, 1.0]),
                    30.0 + 18.0 * np.sin(angle) * np.array([-1.0, 1.0]),
                )
                self.assertAlmostEqual(cover(laid(x, y, width)).sum() / (36.0 * width), 1.0, delta=0.08)

    def test_it_lies_where_its_points_are(self) -> None:
        x, y = np.linspace(5.0, 75.0, 300), 30.0 + 20.0 * np.sin(np.linspace(0.0, 9.0, 300))
        share = cover(laid(x, y))
        rows, columns = np.nonzero(share > 0.0)
        for row, column in zip(rows + 0.5, columns + 0.5, strict=True):
            self.assertLess(np.hypot(x - column, y - row).min(), 1.3)
        for a, b in zip(x[:-1], y[:-1], strict=True):
            self.assertGreater(share[int(b) - 1 : int(b) + 2, int(a)].max(), 0.3)

    def test_the_same_line_backwards_and_in_many_pieces_is_the_same(self) -> None:
        x, y = np.array([7.0, 70.0]), np.array([8.0, 41.0])
        whole = laid(x, y, 2.0)
        np.testing.assert_array_equal(laid(x[::-1], y[::-1], 2.0), whole)
        many = laid(np.linspace(*x, 200), np.linspace(*y, 200), 2.0)
        self.assertLess(np.abs(cover(many) - cover(whole)).mean(), 0.002)

    def test_what_is_no_number_parts_it(self) -> None:
        found = cover(laid([5.0, 20.0, np.nan, 40.0, 60.0], [10.5, 10.5, 10.5, 10.5, 10.5]))[10]
        self.assertEqual((found[10], found[30], found[50]), (1.0, 0.0, 1.0))
        self.assertEqual(cover(laid([np.inf, 1.0, np.nan], [1.0, -np.inf, 2.0])).sum(), 0.0)
        self.assertEqual(cover(laid([], [])).sum() + cover(laid([3.0], [3.0])).sum(), 0.0)

    def test_nothing_is_laid_outside_its_box_however_far_it_goes(self) -> None:
        far = ([-1e7, 40.0, 1e7], [-1e7, 30.0, 1e7])
        found = cover(laid(*far, 3.0, box=(30, 20, 50, 40)))
        self.assertGreater(found[20:40, 30:50].sum(), 50.0)
        found[20:40, 30:50] = 0.0
        self.assertEqual(found.sum(), 0.0)
        self.assertEqual(cover(laid(*far, 3.0, box=(30, 20, 30, 40))).sum(), 0.0)

    def test_dashes_lie_along_the_upper_edge(self) -> None:
        found = cover(laid([0.0, 80.0], [10.5, 10.5], on=9.0, period=13.0))[10]
        np.testing.assert_array_equal(found > 0.5, np.arange(COLUMNS) % 13 < 9)

    def test_its_colour_is_mixed_with_what_lies_under_it(self) -> None:
        pixels = laid([0.0, 80.0], [10.0, 10.0], colour=0xC04080)
        self.assertEqual(hex(int(pixels[9, 40])), "0xffe0a0c0")
        self.assertEqual(hex(int(laid([0.0, 80.0], [10.5, 10.5], colour=0xC04080)[10, 40])), "0xffc04080")
        self.assertEqual(hex(int(pixels[20, 40])), "0xffffffff")


if __name__ == "__main__":
    unittest.main()
