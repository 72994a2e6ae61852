"""Set down beside the edge and let go: the way back, and theory's small swings beside it."""

import unittest

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.step_response import step_response, straight_setup
from irontrail.core.steering.registry import LAW_NAMES
from tests.support import lighthouse


class LetGoTest(unittest.TestCase):
    def test_it_starts_where_it_was_set_down_and_comes_back(self) -> None:
        for off in (-8.0, 6.0, 12.0):
            for law in LAW_NAMES:
                way = step_response(lighthouse(program__law=law), off)
                self.assertAlmostEqual(way.edge_mm[0], off, delta=0.1)
                self.assertTrue(way.back, (law, off))

    def test_a_gentle_gain_settles_and_says_where(self) -> None:
        setup = lighthouse(program__proportional__gain=0.3, light__sensor__noise=0.0)
        way = step_response(setup, 10.0)
        assert way.settle_s is not None and way.settle_mm is not None
        rest = np.median(way.edge_mm[-200:])
        after = np.abs(way.edge_mm[way.time_s >= way.settle_s] - rest)
        before = np.abs(way.edge_mm[way.time_s < way.settle_s] - rest)
        self.assertLessEqual(after.max(), 1.5)
        self.assertGreater(before[-1], 1.5)
        progress = derive.run(straight_setup(setup, 10.0)).trace.progress_mm
        self.assertAlmostEqual(way.settle_mm, progress[np.searchsorted(way.time_s, way.settle_s)], places=6)
        self.assertAlmostEqual(way.overshoot_mm, -(way.edge_mm.min() - rest), delta=1e-9)

    def test_the_swings_measured_are_those_of_theory_where_they_are_small(self) -> None:
        for gain in (0.45, 0.5, 0.6):
            setup = lighthouse(
                program__proportional__gain=gain, light__sensor__noise=0.0, light__sensor__reading_step=0.0,
                robot__drive__power_step=0.1,
            )  # fmt: skip
            way = step_response(setup, 5.0)
            assert way.theory is not None and way.hertz is not None and way.damping_ratio is not None
            self.assertAlmostEqual(way.hertz / way.theory.hertz, 1.0, delta=0.06)
            self.assertAlmostEqual(way.damping_ratio, way.theory.damping_ratio, delta=0.02)

    def test_more_gain_swings_more_often_and_damps_less(self) -> None:
        calm, lively = (step_response(lighthouse(program__proportional__gain=gain), 10.0) for gain in (0.3, 0.6))
        self.assertGreater(lively.swings, calm.swings + 3)
        assert calm.theory is not None and lively.theory is not None
        self.assertGreater(calm.theory.damping_ratio, lively.theory.damping_ratio)

    def test_on_off_never_settles_and_has_no_theory(self) -> None:
        way = step_response(lighthouse(program__law="on-off"), 10.0)
        self.assertIsNone(way.settle_s)
        self.assertIsNone(way.theory)
        self.assertGreater(way.swings, 20)

    def test_a_robot_that_turns_away_is_not_back(self) -> None:
        setup = lighthouse(program__proportional__gain=0.0)
        self.assertTrue(step_response(setup, 10.0).swings == 0)
        away = step_response(lighthouse(program__line="light", program__law="on-off"), 30.0)
        self.assertFalse(away.back)
        self.assertEqual(away.overshoot_mm, 0.0)

    def test_the_straight_has_the_mats_own_tape_and_surface(self) -> None:
        setup = straight_setup(lighthouse(mat__line__width_mm=33.0, mat__colour="#aabbcc"), 5.0)
        self.assertEqual((setup.mat.line.width_mm, setup.mat.colour), (33.0, "#aabbcc"))
        self.assertEqual(derive.route(setup.mat, False).bends, ())


if __name__ == "__main__":
    unittest.main()
