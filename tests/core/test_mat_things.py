"""What lies on a mat besides its line: borders, gaps, patches, markers, other lines, wandering edges."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from irontrail.core import derive
from irontrail.core.errors import OutOfRangeError
from irontrail.core.mat import raster
from irontrail.core.mat.laid import TapeRun, tape_runs
from irontrail.core.mat.raster import make_raster
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Bend, Corner, Gap, Mat, Patch, Straight, Stroke
from irontrail.core.setup import Setup
from tests.support import lighthouse, setup_with, straight_mat


def share_of(raster: np.ndarray, colour: str, ground: str) -> float:
    """How many square millimetres of a two-coloured picture have a colour."""
    on, off = linear_light(colour)[0], linear_light(ground)[0]
    return float(((raster[:, :, 0].astype(float) - off) / (on - off)).sum())


class RasterTest(unittest.TestCase):
    def test_a_border_lies_on_both_sides_under_the_tape(self) -> None:
        raster = make_raster(straight_mat(1000.0, border_mm=15.0, border_colour="#ffffff"))
        self.assertTrue(np.allclose(raster[500, 700], linear_light("#2a2b2d")))
        for y in (512, 523, 488, 477):
            self.assertTrue(np.allclose(raster[y, 700], linear_light("#ffffff")), y)
        self.assertTrue(np.allclose(raster[527, 700], linear_light("#f3f1ea")))

    def test_a_gap_has_no_tape_and_square_ends(self) -> None:
        line = Stroke(200.0, 500.0, 0.0, (Straight(400.0), Gap(80.0), Straight(400.0)))
        raster = make_raster(Mat("gap", line))
        self.assertAlmostEqual(share_of(raster, "#2a2b2d", "#f3f1ea") / (800.0 * 20.0), 1.0, delta=0.002)
        self.assertTrue(np.allclose(raster[500, 640], linear_light("#f3f1ea")))
        self.assertTrue(np.allclose(raster[508, 598], linear_light("#2a2b2d"), atol=1e-3))
        self.assertEqual(make_route(Mat("gap", line)).gaps, ((400.0, 480.0),))
        self.assertEqual(make_route(Mat("gap", line), reverse=True).gaps, ((400.0, 480.0),))

    def test_at_a_corner_two_strips_overlap_and_meet_in_a_point_outside(self) -> None:
        for turn, outside in ((-90.0, (606.0, 508.0)), (90.0, (606.0, 492.0))):
            line = Stroke(200.0, 500.0, 0.0, (Straight(400.0), Corner(turn), Straight(300.0)))
            raster = make_raster(Mat("corner", line))
            x, y = outside
            self.assertTrue(np.allclose(raster[int(y), int(x)], linear_light("#2a2b2d"), atol=0.02), turn)
            # Two strips 20 wide with a square corner: 410 and 310 long, less the square they share.
            covered = share_of(raster, "#2a2b2d", "#f3f1ea")
            self.assertAlmostEqual(covered / (410.0 * 20.0 + 310.0 * 20.0 - 400.0), 1.0, delta=0.004)

    def test_straights_laid_in_one_piece_lie_as_millimetre_by_millimetre(self) -> None:
        def every_point(run: TapeRun) -> tuple[np.ndarray, ...]:
            return run.x_mm, run.y_mm, run.left_mm, run.right_mm

        way = (Straight(310.0), Bend(12.0, 75.0), Straight(120.0), Corner(-110.0), Straight(260.0), Bend(300.0, 40.0))
        for turned in (0.0, 37.0, 90.0, 200.0):
            for line in (
                Stroke(420.0, 400.0, turned, way, width_mm=23.0, border_mm=8.0),
                Stroke(420.0, 400.0, turned, way, width_mm=31.0, unevenness_mm=1.2),
            ):
                mat = Mat("straights", line, 900.0, 810.0)
                quick = make_raster(mat, 0.7)
                with mock.patch.object(raster, "_as_few", every_point):
                    np.testing.assert_array_equal(make_raster(mat, 0.7), quick)
                # Every pixel of tape has the tape's colour, so none was left out with its cell.
                self.assertGreater(int((quick[:, :, 0] < 0.1).sum()), 0.9 * 700.0 * line.width_mm)

    def test_a_line_of_a_few_millimetres_covers_its_area(self) -> None:
        for length in (1.2, 2.0, 3.0, 4.0, 7.0):
            drawn = make_raster(Mat("short", Stroke(50.0, 50.0, 30.0, (Straight(length),)), 300.0, 300.0))
            self.assertAlmostEqual(share_of(drawn, "#2a2b2d", "#f3f1ea") / (20.0 * length), 1.0, delta=0.15)

    def test_patches_lie_under_the_line_and_markers_may_lie_over_it_and_shine(self) -> None:
        under = Patch(700.0, 500.0, 200.0, 100.0, "#7fb7d6")
        over = Patch(1200.5, 500.0, 40.0, 60.0, "#ffffff", shine=1.4, over_line=True)
        raster = make_raster(replace(straight_mat(1600.0), patches=(under, over)))
        self.assertTrue(np.allclose(raster[530, 700], linear_light("#7fb7d6")))
        self.assertTrue(np.allclose(raster[500, 700], linear_light("#2a2b2d")))
        self.assertTrue(np.allclose(raster[500, 1200], 1.4, atol=1e-6))
        # Its rim lies half way over a pixel.
        self.assertTrue(np.allclose(raster[525, 1180], 0.5 * 1.4 + 0.5 * linear_light("#f3f1ea"), atol=1e-3))

    def test_wandering_edges_have_the_rms_said_and_keep_the_mean_width(self) -> None:
        stroke = Stroke(100.0, 500.0, 0.0, (Straight(1800.0),), unevenness_mm=1.2)
        mat = Mat("felt pen", stroke)
        (run,) = tape_runs(stroke, make_route(mat))
        for edge in (run.left_mm, run.right_mm):
            self.assertAlmostEqual(float(edge.std()), 1.2, delta=0.25)
            self.assertAlmostEqual(float(edge.mean()), 10.0, delta=0.3)
        self.assertLess(abs(float(np.corrcoef(run.left_mm, run.right_mm)[0, 1])), 0.4)
        covered = share_of(make_raster(mat), stroke.colour, mat.colour)
        self.assertAlmostEqual(covered / float((run.left_mm + run.right_mm).mean() * 1800.0), 1.0, delta=0.01)

    def test_a_goal_that_is_not_there_is_refused(self) -> None:
        with self.assertRaisesRegex(OutOfRangeError, "no line 1"):
            replace(straight_mat(), goal=1)


class FollowingTest(unittest.TestCase):
    def test_a_short_gap_is_driven_over_and_a_long_one_loses_the_line(self) -> None:
        outcomes = []
        for gap in (10.0, 150.0):
            line = Stroke(150.0, 500.0, 0.0, (Straight(700.0), Gap(gap), Straight(600.0)))
            setup = setup_with(Setup(Mat("gap", line)), program__proportional__gain=0.5, program__speed=40.0)
            outcomes.append(derive.figures(setup).outcome)
        self.assertEqual(outcomes, ["finished", "lost"])

    def test_a_crossing_line_is_driven_over_by_a_robot_that_is_quick_enough(self) -> None:
        across = Stroke(900.0, 300.0, 90.0, (Straight(400.0),), width_mm=10.0)
        setup = Setup(replace(straight_mat(1500.0), other_lines=(across,)))
        setup = setup_with(setup, program__speed=70.0, program__proportional__gain=0.3)
        self.assertEqual(derive.figures(setup).outcome, "finished")

    def test_a_program_stops_at_a_marker_brighter_than_the_mat(self) -> None:
        marker = Patch(1300.0, 530.0, 60.0, 80.0, "#ffffff", shine=1.3, over_line=True)
        setup = Setup(replace(straight_mat(1600.0), patches=(marker,)))
        setup = setup_with(setup, light__calibrate=False, program__target=43.0, program__proportional__gain=1.0)
        run = derive.run(setup_with(setup, program__stop__reading=84.0))
        self.assertEqual(run.outcome, "stopped")
        self.assertAlmostEqual(200.0 + 20.0 + run.trace.progress_mm[-1], 1270.0, delta=15.0)

    def test_light_borders_along_the_tape_are_followed_too(self) -> None:
        setup = lighthouse(mat__colour="#9aa38c", mat__line__border_mm=20.0)
        self.assertEqual(derive.figures(setup).outcome, "finished")


if __name__ == "__main__":
    unittest.main()
