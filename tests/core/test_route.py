"""The route against closed forms."""

import unittest

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from irontrail.core.engine.pack import reach_of
from irontrail.core.engine.place import SEARCH_MM, SURE_MM
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.demands import demands
from irontrail.core.mat.demos import DEMO_MATS, lighthouse_loop, quarry_switchback
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Bend, Corner, Mat, Straight, Stroke, Wiggle
from tests.support import ring_mat, straight_mat

PIECES = st.one_of(
    st.builds(Straight, st.floats(1.0, 500.0)),
    st.builds(Bend, st.floats(10.0, 400.0), st.floats(-300.0, 300.0)),
    st.builds(Corner, st.floats(-150.0, 150.0)),
)


class RouteTest(unittest.TestCase):
    def test_length_of_straights_and_bends_is_the_sum_of_theirs(self) -> None:
        mat = Mat("m", Stroke(100.0, 100.0, 0.0, (Straight(300.0), Bend(200.0, 90.0), Straight(50.0))))
        route = make_route(mat)
        self.assertAlmostEqual(route.length_mm, 300.0 + np.pi / 2 * 200.0 + 50.0, places=9)
        self.assertAlmostEqual(route.x_mm[-1], 100.0 + 300.0 + 200.0, places=6)
        self.assertAlmostEqual(route.y_mm[-1], 100.0 + 200.0 + 50.0, places=6)
        self.assertAlmostEqual(route.heading[-1], np.pi / 2, places=9)

    def test_points_of_a_ring_lie_on_its_circle_and_its_curvature_is_one_over_the_radius(self) -> None:
        route = make_route(ring_mat(300.0))
        away = np.hypot(route.x_mm - 1000.0, route.y_mm - 500.0)
        self.assertLess(np.abs(away - 300.0).max(), 1e-9)
        self.assertTrue(np.allclose(route.curvature, 1 / 300.0))
        self.assertAlmostEqual(route.length_mm, 2 * np.pi * 300.0, places=9)

    def test_a_corner_turns_on_the_spot(self) -> None:
        route = make_route(Mat("m", Stroke(100.0, 100.0, 0.0, (Straight(100.0), Corner(-90.0), Straight(80.0)))))
        self.assertAlmostEqual(route.length_mm, 180.0)
        self.assertAlmostEqual(route.x_mm[-1], 200.0, places=6)
        self.assertAlmostEqual(route.y_mm[-1], 20.0, places=6)
        self.assertEqual([(bend.radius_mm, bend.turns_left) for bend in route.bends], [(0.0, False)])

    def test_the_demo_circuit_closes_without_a_seam(self) -> None:
        route = make_route(lighthouse_loop())
        self.assertLess(np.hypot(route.x_mm[-1] - route.x_mm[0], route.y_mm[-1] - route.y_mm[0]), 0.01)
        self.assertAlmostEqual(route.heading[-1] - route.heading[0], 2 * np.pi, places=6)
        steps = np.hypot(np.diff(route.x_mm), np.diff(route.y_mm))
        self.assertLess(np.abs(steps - route.step_mm).max(), 0.01)

    def test_demo_mats_keep_their_lines_well_inside(self) -> None:
        for make in DEMO_MATS.values():
            mat = make()
            route = make_route(mat)
            self.assertGreater(route.x_mm.min(), 80.0, mat.name)
            self.assertLess(route.x_mm.max(), mat.width_mm - 80.0, mat.name)
            self.assertGreater(route.y_mm.min(), 80.0, mat.name)
            self.assertLess(route.y_mm.max(), mat.height_mm - 80.0, mat.name)

    def test_the_way_back_is_the_same_way(self) -> None:
        for make in DEMO_MATS.values():
            there, back = make_route(make()), make_route(make(), reverse=True)
            self.assertTrue(np.allclose(there.x_mm[::-1], back.x_mm))
            self.assertTrue(np.allclose(there.curvature[::-1], -back.curvature))
            for ahead, behind in zip(there.bends, reversed(back.bends), strict=True):
                self.assertNotEqual(ahead.turns_left, behind.turns_left)
                self.assertAlmostEqual(ahead.start_mm, back.length_mm - behind.end_mm, places=6)

    def test_a_closed_line_whose_ends_do_not_meet_is_refused(self) -> None:
        for pieces in ((Straight(300.0),), (Bend(200.0, 350.0),), (Straight(300.0), Bend(100.0, 180.0))):
            with self.assertRaisesRegex(IronTrailError, "do not meet"):
                make_route(Mat("m", Stroke(500.0, 500.0, 0.0, pieces, closed=True)))

    def test_a_closed_line_that_lacks_a_last_straight_is_given_one(self) -> None:
        halves = (Straight(400.0), Bend(150.0, 180.0), Straight(400.0), Bend(150.0, 180.0))
        whole = make_route(Mat("m", Stroke(500.0, 300.0, 0.0, halves, closed=True)))
        shorter = (Straight(300.0), Bend(150.0, 180.0), Straight(400.0), Bend(150.0, 180.0))
        mended = make_route(Mat("m", Stroke(600.0, 300.0, 0.0, shorter, closed=True)))
        self.assertAlmostEqual(mended.length_mm, whole.length_mm, places=6)

    def test_a_line_of_corners_alone_is_refused(self) -> None:
        with self.assertRaisesRegex(IronTrailError, "^m: the line has no length"):
            make_route(Mat("m", Stroke(500.0, 500.0, 0.0, (Corner(90.0),))))

    @settings(max_examples=60, deadline=None)
    @given(st.lists(PIECES, min_size=1, max_size=8))
    # A corner a millionth of a thousandth after a point of the route.
    @example([Straight(1.0), Bend(44.0, 1.2628191365422859e-09), Corner(93.0), Straight(49.0)])
    def test_any_line_has_steps_of_about_a_millimetre_and_the_length_of_its_pieces(self, pieces: list) -> None:
        lengths = [
            piece.length_mm
            if isinstance(piece, Straight)
            else np.radians(abs(piece.angle_deg)) * piece.radius_mm
            if isinstance(piece, Bend)
            else 0.0
            for piece in pieces
        ]
        mat = Mat("m", Stroke(2000.0, 2000.0, 30.0, tuple(pieces)))
        if sum(lengths) < 1.0:
            self.assertRaises(IronTrailError, make_route, mat)
            return
        route = make_route(mat)
        self.assertAlmostEqual(route.length_mm, sum(lengths), places=6)
        self.assertTrue(0.5 <= route.step_mm <= 2.0)
        # No step along the way is longer than the way itself; corners and bends make the straight line shorter.
        steps = np.hypot(np.diff(route.x_mm), np.diff(route.y_mm))
        self.assertLessEqual(steps.max(), route.step_mm + 1e-9)


class NearestTest(unittest.TestCase):
    def test_a_place_beside_a_point_is_nearest_to_it_and_of_two_alike_the_first_is_taken(self) -> None:
        for made in (lighthouse_loop(), quarry_switchback()):
            route = make_route(made)
            at = np.arange(40, route.x_mm.size - 40, 97)
            for aside in (-12.0, 0.0, 12.0):
                x = route.x_mm[at] - aside * np.sin(route.heading[at])
                y = route.y_mm[at] + aside * np.cos(route.heading[at])
                found = route.nearest(x, y)
                away, beside = (np.hypot(route.x_mm[i] - x, route.y_mm[i] - y) for i in (found, at))
                self.assertTrue((away <= beside + 1e-9).all())
                self.assertLess(float(np.median(np.abs(found - at))), 1.0)
        ring = make_route(ring_mat(200.0))
        # Its last point is its first one again.
        self.assertEqual(ring.nearest(ring.x_mm[-1:], ring.y_mm[-1:]).tolist(), [0])


class LeftOfTest(unittest.TestCase):
    def test_it_is_how_far_the_nearest_of_the_route_is_and_on_which_side(self) -> None:
        random = np.random.default_rng(4)
        for _ in range(40):
            angle = float(random.uniform(20.0, 165.0) * random.choice([-1.0, 1.0]))
            before, heading = float(random.uniform(150.0, 400.0)), float(random.uniform(-180.0, 180.0))
            line = Stroke(1000.0, 1000.0, heading, (Straight(before), Corner(angle), Straight(300.0)))
            route = make_route(Mat("m", line, 2000.0, 2000.0))
            x, y = random.uniform(500.0, 1500.0, 200), random.uniform(500.0, 1500.0, 200)
            ways, turned = np.radians([heading, heading + angle]), np.sign(angle)
            start, away, across = np.array([1000.0, 1000.0]), [], []
            for way, length in zip(ways, (before, 300.0), strict=True):
                to, off = np.array([np.cos(way), np.sin(way)]), np.stack((x, y), 1) - start
                away.append(np.hypot(*(off - np.clip(off @ to, 0.0, length)[:, None] * to).T))
                across.append(to[0] * off[:, 1] - to[1] * off[:, 0])
                start = start + length * to
            even = np.abs(away[0] - away[1]) < 1e-9
            # Outside a corner is the side that it turns away from.
            left = np.where(even, -turned, np.sign(np.where(away[0] < away[1], *across)))
            told = route.left_of(x, y)
            np.testing.assert_allclose(np.abs(told), np.minimum(*away), atol=1.0)
            clear = np.minimum(*away) > 2.0
            np.testing.assert_array_equal(np.sign(told)[clear], left[clear])
            self.assertTrue(even.any())

    def test_where_the_way_turns_back_on_the_spot_it_is_known(self) -> None:
        pieces = (Straight(400.5), Corner(90.0), Corner(90.0), Straight(300.5))
        told = make_route(Mat("m", Stroke(200.0, 500.0, 0.0, pieces), 2000.0, 1000.0)).left_of(
            np.array([600.5, 300.0, 150.0]), np.array([540.0, 520.0, 500.0])
        )
        np.testing.assert_allclose(np.abs(told), [40.0, 20.0, 50.0], atol=0.6)

    def test_on_a_circuit_it_is_that_at_the_seam_too(self) -> None:
        # It begins at a corner of 120 degrees.
        for heading in (-100.0, -20.0, 30.0, 75.0, 130.0):
            line = Stroke(1000.0, 500.0, heading, (Straight(300.0), Corner(120.0)) * 3, closed=True)
            route, ways = (
                make_route(Mat("m", line, 2000.0, 1000.0)),
                np.radians(heading + np.linspace(155.0, 265.0, 12)),
            )
            for off in (5.0, 40.0):
                told = route.left_of(1000.0 + off * np.cos(ways), 500.0 + off * np.sin(ways))
                np.testing.assert_allclose(told, -off, atol=0.01)


class SureReachTest(unittest.TestCase):
    def test_as_far_aside_as_is_sure_no_other_place_nearby_is_nearer(self) -> None:
        bent = Stroke(
            300.0, 300.0, 20.0, (Straight(90.0), Bend(25.0, 170.0), Wiggle(3, 40.0, 50.0), Corner(80.0), Straight(70.0))
        )
        around = (Straight(50.0), Bend(40.0, 180.0), Straight(50.0), Bend(40.0, 180.0))
        oval = Stroke(300.0, 300.0, 0.0, around, closed=True)
        for mat in (Mat("bent", bent), Mat("oval", oval), lighthouse_loop(), ring_mat(60.0), quarry_switchback()):
            route = make_route(mat)
            reach, last = reach_of(route), route.x_mm.size - 1
            window = int(2.0 * SEARCH_MM / route.step_mm)
            for i in range(2, last - 1, 7):
                if not 0.0 < reach[i] < 2000.0:
                    continue
                places = np.arange(i - window, i + window + 1)
                places = places % last if route.closed else places[(places >= 0) & (places <= last)]
                for side in (-0.999, 0.999):
                    x = route.x_mm[i] - side * reach[i] * np.sin(route.heading[i])
                    y = route.y_mm[i] + side * reach[i] * np.cos(route.heading[i])
                    nearest = places[np.argmin(np.hypot(route.x_mm[places] - x, route.y_mm[places] - y))]
                    self.assertLessEqual(abs((nearest - i + last // 2) % last - last // 2), 1, (mat.name, i, side))

    def test_it_goes_far_where_the_way_is_hardly_bent_and_nowhere_at_corners_and_open_ends(self) -> None:
        ring = reach_of(make_route(ring_mat(200.0)))
        self.assertGreater(ring.min(), 0.3 * 200.0)
        self.assertLess(ring.max(), 200.0)
        # Where the last point is the first one again it is as far as elsewhere.
        self.assertLess(np.ptp(ring), 0.005 * 200.0)
        cornered = make_route(Mat("m", Stroke(100.0, 100.0, 0.0, (Straight(100.0), Corner(90.0), Straight(100.0)))))
        reach = reach_of(cornered)
        self.assertEqual(reach[[0, 100, -1]].tolist(), [0.0] * 3)
        self.assertTrue((reach[1:100] > 0.0).all())
        # From a place before the corner the way after it is nearer than it beyond the bisector.
        self.assertAlmostEqual(float(reach[70]), 30.0, delta=3.0)
        self.assertEqual(reach_of(make_route(straight_mat(300.0)))[150], SURE_MM)


class DemandsTest(unittest.TestCase):
    def test_the_edge_inside_a_bend_is_tighter_by_half_the_tape(self) -> None:
        route = make_route(ring_mat(100.0))
        self.assertAlmostEqual(demands(route, 20.0, left_edge=True).tightest_mm, 90.0)
        self.assertAlmostEqual(demands(route, 20.0, left_edge=False).tightest_mm, 110.0)

    def test_the_loop_asks_for_its_tight_bends_and_the_quarry_for_corners(self) -> None:
        loop = demands(make_route(lighthouse_loop()), 20.0, left_edge=True)
        # Bend H turns right on 80 mm, so its left edge has 90; F and I turn left on 100, so theirs has 90 too.
        self.assertAlmostEqual(loop.tightest_mm, 90.0)
        self.assertEqual((loop.bends, loop.corners), (11, 0))
        quarry = demands(make_route(quarry_switchback()), 20.0, left_edge=True)
        self.assertEqual((quarry.tightest_mm, quarry.corners), (0.0, 6))
        self.assertGreater(quarry.straight_share, 0.5)


if __name__ == "__main__":
    unittest.main()
