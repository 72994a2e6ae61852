"""From pictures and points to tape: fits, traces of drawn mats, photos at an angle, papers to print on."""

import unittest
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage
from scipy.spatial import cKDTree

from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.fit import fit_stroke
from irontrail.core.mat.perspective import check_corners, mapped, rectified, scaled_to, to_mat
from irontrail.core.mat.raster import hidden_by, make_raster
from irontrail.core.mat.reflectance import srgb
from irontrail.core.mat.route import make_route, stroke_route
from irontrail.core.mat.spread import closed, opened, shrunk, spread
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Straight, Stroke
from irontrail.core.mat.tiles import PAPERS, cut, one_sheet
from irontrail.core.mat.trace import trace


def as_seen(mat: Mat, noise: float = 0.0, mm_per_px: float = 1.0) -> NDArray[np.float32]:
    """A mat as a camera above it sees it: sRGB, brighter at one side, with grain."""
    seen = srgb(make_raster(mat, mm_per_px))
    lamp = 0.65 + 0.35 * np.arange(seen.shape[1]) / seen.shape[1]
    grain = np.random.default_rng(5).normal(0.0, noise, seen.shape)
    return np.clip(seen * lamp[None, :, None] + grain, 0.0, 1.0).astype(np.float32)


def farthest(mat: Mat, stroke: Stroke) -> float:
    """How far the route of a mat strays from a stroke's, in mm."""
    way, other = make_route(mat), stroke_route(stroke, "found")
    away, _ = cKDTree(np.column_stack((other.x_mm, other.y_mm))).query(np.column_stack((way.x_mm, way.y_mm)))
    return float(away.max())


class SpreadTest(unittest.TestCase):
    def test_masks_grow_and_shrink_as_scipys_do_up_to_the_rim(self) -> None:
        of = np.random.default_rng(3)
        masks = [of.random(shape) < share for shape in ((40, 61), (2, 7), (1, 1), (9, 3)) for share in (0.1, 0.7, 1.0)]
        for mask in masks:
            before = mask.copy()
            for steps in (1, 2, 3):
                for ours, theirs in (
                    (spread, ndimage.binary_dilation), (shrunk, ndimage.binary_erosion),
                    (opened, ndimage.binary_opening), (closed, ndimage.binary_closing),
                ):  # fmt: skip
                    np.testing.assert_array_equal(ours(mask, steps), theirs(mask, iterations=steps))
            np.testing.assert_array_equal(mask, before)


class FitTest(unittest.TestCase):
    def test_points_along_a_demo_give_its_pieces_back(self) -> None:
        for name, pieces in (("lighthouse", 21), ("quarry", 23), ("ferry", 7)):
            mat = DEMO_MATS[name]()
            way = make_route(mat)
            points = np.column_stack((way.x_mm, way.y_mm))[: -1 if way.closed else None]
            fit = fit_stroke(points[::2], way.closed, 0.1)
            self.assertEqual(len(fit.stroke.pieces), pieces, name)
            self.assertEqual([piece.kind for piece in fit.stroke.pieces], [piece.kind for piece in mat.line.pieces])
            self.assertLess(farthest(mat, fit.stroke), 1.2, name)

    def test_corners_are_found_to_a_degree(self) -> None:
        way = make_route(DEMO_MATS["quarry"]())
        fit = fit_stroke(np.column_stack((way.x_mm, way.y_mm)), False, 0.1)
        corners = [piece.angle_deg for piece in fit.stroke.pieces if isinstance(piece, Corner)]
        for found, laid in zip(corners, (-90.0, -90.0, 45.0, 45.0, -60.0, 60.0), strict=True):
            self.assertLess(abs(found - laid), 1.0)

    def test_too_few_points_are_refused(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "too few"):
            fit_stroke(np.array([[100.0, 100.0], [103.0, 100.0]]), False)


class TraceTest(unittest.TestCase):
    def test_a_circuit_in_uneven_light(self) -> None:
        mat = DEMO_MATS["lighthouse"]()
        found = trace(as_seen(mat, 0.03), 1.0)
        self.assertTrue(found.fits[0].stroke.closed)
        self.assertEqual(len(found.fits), 1)
        self.assertLess(farthest(mat, found.fits[0].stroke), 4.0)
        self.assertLess(abs(found.width_mm - 20.0), 2.0)
        laid = found.mat("found", 2000.0, 1000.0)
        self.assertEqual(make_route(laid).closed, True)

    def test_a_short_line_seen_coarsely_is_fitted(self) -> None:
        """What smooths its points would reach far beyond both ends."""
        line = np.column_stack((np.linspace(690.0, 820.0, 8), np.full(8, 330.0)))
        made = fit_stroke(line, False, 8.0)
        self.assertEqual(len(made.stroke.pieces), 1)
        self.assertLess(made.worst_mm, 8.0)

    def test_a_gap_a_crossing_and_a_fork(self) -> None:
        step = 1.6
        orchard = trace(as_seen(DEMO_MATS["orchard"](), 0.0, step), step).fits[0].stroke
        gaps = [piece.length_mm for piece in orchard.pieces if isinstance(piece, Gap)]
        self.assertEqual(len(gaps), 1)
        self.assertLess(abs(gaps[0] - 12.0), 3.0)
        ferry = trace(as_seen(DEMO_MATS["ferry"](), 0.02, step), step)
        self.assertEqual(len(ferry.fits), 3)
        self.assertEqual(sorted(len(fit.stroke.pieces) for fit in ferry.fits)[0], 1)
        ways = [farthest(replace(DEMO_MATS["ferry"](), goal=goal), ferry.fits[0].stroke) for goal in (0, 1)]
        self.assertLess(min(ways), 8.0)

    def test_a_line_by_its_colour(self) -> None:
        mat = Mat("red", Stroke(200.0, 300.0, 0.0, (Bend(400.0, 90.0),), colour="#c8302a"), 800.0, 800.0)
        black = Stroke(100.0, 100.0, 0.0, DEMO_MATS["orchard"]().line.pieces[:1])
        both = as_seen(Mat("both", mat.line, 800.0, 800.0, other_lines=(black,)))
        asked: list[float | None] = []
        found = trace(both, 1.0, "#b02a24", 0.6, lambda share=None: asked.append(share))
        # At every step along a line and of its fit it can be called off.
        self.assertGreater(len(asked), 500)
        self.assertEqual(len(found.fits), 1)
        self.assertLess(farthest(mat, found.fits[0].stroke), 6.0)

    def test_a_bare_mat_has_no_line(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "stands out"):
            trace(np.full((300, 500, 3), 0.9, np.float32), 1.0)


class HiddenTest(unittest.TestCase):
    def test_tape_hides_what_lies_under_it_and_its_border(self) -> None:
        hidden = hidden_by([Stroke(100.0, 100.0, 0.0, (Straight(300.0),), border_mm=5.0)], (200, 600), 1.0)
        self.assertEqual(np.flatnonzero(hidden[:, 250]).tolist(), list(range(85, 115)))
        self.assertFalse(hidden[:, 50].any() or hidden[:, 450].any())


class PerspectiveTest(unittest.TestCase):
    CORNERS = np.array([[260.0, 240.0], [1340.0, 180.0], [1540.0, 1000.0], [90.0, 1060.0]])

    def test_the_corners_go_to_the_corners(self) -> None:
        goal = np.array([[0.0, 1000.0], [2000.0, 1000.0], [2000.0, 0.0], [0.0, 0.0]])
        self.assertLess(np.abs(mapped(to_mat(self.CORNERS, 2000.0, 1000.0), self.CORNERS) - goal).max(), 1e-6)

    def test_a_rectified_picture_has_the_mats_left_at_its_left_and_its_bottom_first(self) -> None:
        picture = np.zeros((100, 200, 3), np.uint8)
        picture[:50, :100] = 255
        flat = rectified(picture, np.array([[0.0, 0.0], [200.0, 0.0], [200.0, 100.0], [0.0, 100.0]]), 400.0, 200.0, 2.0)
        self.assertEqual(flat.shape, (100, 200, 3))
        self.assertEqual((flat[75, 50, 0], flat[25, 50, 0], flat[75, 150, 0]), (1.0, 0.0, 0.0))

    def test_seen_straight_from_above_every_pixel_stays_its_own(self) -> None:
        picture = np.random.default_rng(2).integers(0, 256, (12, 20, 3)).astype(np.uint8)
        corners = np.array([[0.0, 0.0], [20.0, 0.0], [20.0, 12.0], [0.0, 12.0]])
        flat = rectified(picture, corners, 20.0, 12.0, 1.0)
        np.testing.assert_allclose(flat[1:-1, 1:-1], picture[::-1][1:-1, 1:-1] / 255.0, atol=1e-3)
        # Beyond the picture is the colour of its rim.
        beyond = rectified(picture, corners - np.array([[8.0, 0.0]]), 20.0, 12.0, 1.0)
        np.testing.assert_allclose(beyond[1:-1, :8], np.repeat(picture[::-1][1:-1, :1], 8, axis=1) / 255.0, atol=2e-3)
        np.testing.assert_allclose(beyond[1:-1, 9:], picture[::-1][1:-1, 1:12] / 255.0, atol=1e-3)

    def test_a_known_length_sets_the_size(self) -> None:
        ends = mapped(np.linalg.inv(to_mat(self.CORNERS, 1.0, 0.5)), np.array([[0.1, 0.2], [0.4, 0.2]]))
        wide, high = scaled_to(self.CORNERS, (1234.0, 617.0), ends, 600.0)
        self.assertAlmostEqual(wide, 2000.0, places=6)
        self.assertAlmostEqual(high, 1000.0, places=6)

    def test_folded_corners_are_refused(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "cross or fold"):
            check_corners(self.CORNERS[[0, 2, 1, 3]])


class TilesTest(unittest.TestCase):
    def test_the_tiles_cover_the_mat_and_overlap(self) -> None:
        for paper in PAPERS:
            made = cut(2000.0, 1000.0, paper)
            cover = np.zeros((1000, 2000), int)
            for tile in made.tiles:
                low, left = round(tile.y_mm), round(tile.x_mm)
                cover[low : low + round(tile.height_mm), left : left + round(tile.width_mm)] += 1
                self.assertLessEqual(tile.width_mm, made.page_mm[0] - 20.0 + 1e-6)
            self.assertGreaterEqual(cover[1:-1, 1:-1].min(), 1, paper)
            self.assertEqual(len(made.tiles), made.rows * made.columns)
            self.assertEqual(made.tiles[0].name, "A1")
            beside = made.tiles[1]
            self.assertAlmostEqual(made.tiles[0].width_mm - beside.x_mm, 10.0)

    def test_a_small_mat_is_one_tile_and_a_huge_page_is_refused(self) -> None:
        self.assertEqual(len(cut(200.0, 150.0, "A4").tiles), 1)
        self.assertEqual(one_sheet(4000.0, 4000.0).page_mm, (4020.0, 4032.0))
