"""Measures of made-up signals with known answers."""

import unittest
from itertools import pairwise

import numpy as np

from irontrail.core import derive, measures
from tests.support import lighthouse

LOOP_S = 0.01
TIME = np.arange(2000) * LOOP_S


class WobbleTest(unittest.TestCase):
    def test_a_sine_has_its_own_height_and_frequency(self) -> None:
        for hertz, height in ((1.5, 3.0), (3.7, 12.0), (6.25, 0.8)):
            wobble = measures.wobbling(5.0 + height * np.sin(2 * np.pi * hertz * TIME), LOOP_S)
            self.assertAlmostEqual(measures.dominant_hz(wobble, LOOP_S), hertz, delta=0.01)
            # Taking off the mean over a second leaves a little more or less of a swing that does not fit it.
            self.assertAlmostEqual(measures.peak_to_peak(wobble) / (2 * height), 1.0, delta=0.25)

    def test_whole_swings_in_the_window_keep_their_height(self) -> None:
        wobble = measures.wobbling(4.0 * np.sin(2 * np.pi * 4.0 * TIME), LOOP_S)
        self.assertAlmostEqual(measures.peak_to_peak(wobble), 8.0, delta=0.15)

    def test_a_steady_offset_and_a_slow_drift_are_no_wobble(self) -> None:
        self.assertLess(measures.peak_to_peak(measures.wobbling(np.full(2000, 7.0), LOOP_S)), 1e-9)
        middle = measures.wobbling(0.5 * TIME, LOOP_S)[100:-100]
        self.assertLess(np.abs(middle).max(), 1e-9)
        self.assertEqual(measures.dominant_hz(np.zeros(2000), LOOP_S), 0.0)

    def test_the_window_against_a_plain_loop(self) -> None:
        values = np.random.default_rng(1).normal(size=300)
        slow = [values[i] - values[max(0, i - 50) : i + 51].mean() for i in range(300)]
        self.assertTrue(np.allclose(measures.wobbling(values, LOOP_S), slow))

    def test_runs_of_a_few_rows_have_figures_too(self) -> None:
        for rows in (1, 2, 3, 20):
            wobble = measures.wobbling(np.arange(rows, dtype=float), LOOP_S)
            self.assertTrue(np.isfinite([measures.peak_to_peak(wobble), measures.dominant_hz(wobble, LOOP_S)]).all())


class FiguresTest(unittest.TestCase):
    def test_the_figures_of_the_demo_against_its_trace(self) -> None:
        run = derive.run(lighthouse())
        found = derive.figures(lighthouse())
        trace = run.trace
        steps = [
            float(np.hypot(x1 - x0, y1 - y0))
            for x0, y0, x1, y1 in zip(trace.x_mm, trace.y_mm, trace.x_mm[1:], trace.y_mm[1:], strict=False)
        ]
        self.assertAlmostEqual(found.path_length_mm, sum(steps), places=6)
        self.assertAlmostEqual(found.worst_edge_mm, max(abs(float(e)) for e in trace.edge_mm), places=9)
        self.assertAlmostEqual(found.rms_edge_mm**2, sum(float(e) ** 2 for e in trace.edge_mm) / len(trace), places=9)
        sides = [bool(e >= 0) for e in trace.edge_mm]
        crossings = sum(a != b for a, b in pairwise(sides))
        self.assertAlmostEqual(found.crossings_per_m, 1000.0 * crossings / sum(steps), places=6)
        self.assertAlmostEqual(found.route_length_mm, 5139.7, delta=0.1)
        self.assertGreaterEqual(found.progress_mm, found.route_length_mm)

    def test_the_finish_is_timed_between_two_loops(self) -> None:
        run = derive.run(lighthouse())
        loops = run.time_s / 0.01
        self.assertGreater(abs(loops - round(loops)), 1e-6)
        self.assertTrue(run.trace.time_s[-2] < run.time_s <= run.trace.time_s[-1])

    def test_clipping_is_counted(self) -> None:
        self.assertEqual(derive.figures(lighthouse()).clipped_share, 0.0)
        trace = derive.run(lighthouse(program__proportional__gain=2.0)).trace
        wanted = np.abs(trace.steer) + 50.0 > 100.0
        self.assertTrue(np.array_equal(wanted, trace.clipped > 0.5))
        self.assertGreater(wanted.mean(), 0.5)


if __name__ == "__main__":
    unittest.main()
