"""Stretches: they make up the route, and their times the run's."""

import unittest
from itertools import pairwise

import numpy as np

from irontrail.core import derive
from irontrail.core.project import demo_project
from irontrail.core.stretches import stretches
from tests.support import lighthouse


class StretchesTest(unittest.TestCase):
    def test_they_follow_one_another_and_their_times_add_up(self) -> None:
        run = derive.run(lighthouse())
        found = stretches(run)
        self.assertEqual([each.name for each in found if each.bend], list("ABCDEFGHIJK"))
        for before, after in pairwise(found):
            self.assertLess(after.start_mm - before.end_mm, 5.0)
        self.assertAlmostEqual(found[-1].end_mm, run.route.length_mm, places=6)
        self.assertAlmostEqual(sum(each.time_s for each in found), run.time_s, delta=0.05)

    def test_each_against_its_own_rows(self) -> None:
        run = derive.run(lighthouse())
        trace = run.trace
        for each in stretches(run):
            rows = [i for i, s in enumerate(trace.progress_mm) if each.start_mm <= s < each.end_mm]
            self.assertAlmostEqual(each.worst_edge_mm, max(abs(float(trace.edge_mm[i])) for i in rows), places=6)
            spent = trace.time_s[rows[-1]] - trace.time_s[rows[0]]
            self.assertAlmostEqual(each.time_s, spent, delta=0.021)
            self.assertAlmostEqual(each.mean_speed_mm_s, (each.end_mm - each.start_mm) / each.time_s, places=6)

    def test_the_tight_bends_are_where_it_strays(self) -> None:
        found = {each.name: each for each in stretches(derive.run(lighthouse()))}
        tight = np.mean([found[name].worst_edge_mm for name in "FGHI"])
        open_bends = np.mean([found[name].worst_edge_mm for name in "ACDEJK"])
        self.assertGreater(tight, 2.0 * open_bends)

    def test_a_run_that_is_lost_ends_in_an_unfinished_stretch(self) -> None:
        run = derive.run(lighthouse(program__speed=70.0))
        found = stretches(run)
        self.assertTrue(all(each.whole for each in found[:-1]))
        self.assertFalse(found[-1].whole)
        self.assertGreaterEqual(run.trace.progress_mm.max(), found[-1].start_mm)

    def test_an_open_line_with_corners(self) -> None:
        setup = demo_project("quarry").setup
        found = stretches(derive.run(setup))
        self.assertEqual(found[0].name, "start to A")
        self.assertEqual([each.name for each in found if each.bend], ["A", "F", "G", "H", "I"])


class EffortTest(unittest.TestCase):
    def test_on_off_works_harder_than_proportional(self) -> None:
        on_off, proportional = derive.figures(lighthouse(program__law="on-off")), derive.figures(lighthouse())
        self.assertGreater(on_off.steer_effort, 2.0 * proportional.steer_effort)
        trace = derive.run(lighthouse()).trace
        steps = [(b - a) / 0.01 for a, b in pairwise(trace.steer)]
        self.assertAlmostEqual(proportional.steer_effort, float(np.sqrt(np.mean(np.square(steps)))), places=6)

    def test_sliding_shows_on_little_grip_only(self) -> None:
        self.assertEqual(derive.figures(lighthouse()).slide_deg, 0.0)
        slippery = derive.figures(lighthouse(robot__drive__grip=0.06))
        self.assertGreater(slippery.slide_deg, 1.0)


if __name__ == "__main__":
    unittest.main()
