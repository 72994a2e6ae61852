"""Stretches: they make up the route, and their times the run's."""

import unittest
from itertools import pairwise

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.stretches import stretches
from tests.support import lighthouse, setup_with, straight_mat


class StretchesTest(unittest.TestCase):
    def test_they_follow_one_another_and_their_times_add_up(self) -> None:
        run = derive.run(lighthouse())
        found = stretches(run)
        self.assertEqual([each.name for each in found if each.bend], list("ABCDEFGHIJK"))
        self.assertEqual((found[0].name, found[-1].name), ("start to A", "K to end"))
        self.assertAlmostEqual(found[-1].end_mm, run.route.length_mm, places=6)

    def test_whatever_the_run_they_follow_one_another_and_their_times_add_up(self) -> None:
        quarry = demo_project("quarry").setup
        for setup in (
            lighthouse(), lighthouse(trial__laps=3), lighthouse(trial__start_mm=2600.0),
            lighthouse(program__speed=70.0),
            lighthouse(trial__reverse=True), lighthouse(trial__laps=2, trial__start_mm=2550.0), quarry,
            setup_with(quarry, trial__start_mm=1400.0), demo_project("orchard").setup, demo_project("tannery").setup,
            lighthouse(program__loop_time_s=0.1, program__speed=20.0), lighthouse(trial__time_limit_s=1.0),
        ):  # fmt: skip
            run = derive.run(setup)
            found = stretches(run)
            self.assertEqual(found[0].start_mm, 0.0)
            for before, after in pairwise(found):
                self.assertAlmostEqual(after.start_mm, before.end_mm, places=6)
            self.assertAlmostEqual(sum(each.time_s for each in found), run.time_s, places=9)
            self.assertEqual(len({each.name for each in found}), len(found))
            self.assertEqual([each.whole for each in found[:-1]], [True] * (len(found) - 1))
            self.assertEqual(found[-1].whole, run.outcome == "finished")

    def test_each_is_measured_by_its_own_rows(self) -> None:
        run = derive.run(lighthouse(program__speed=60.0))
        trace, until = run.trace, 0.0
        for each in stretches(run):
            rows = (trace.time_s >= until) & (trace.time_s < until + each.time_s)
            until += each.time_s
            edge = trace.edge_mm[rows]
            self.assertAlmostEqual(each.rms_edge_mm, float(np.sqrt(np.mean(edge**2))), delta=0.02)
            self.assertAlmostEqual(each.worst_edge_mm, float(np.abs(edge).max()), delta=0.1)
            self.assertAlmostEqual(each.mean_speed_mm_s, (each.end_mm - each.start_mm) / each.time_s, delta=0.5)

    def test_of_a_single_straight_the_swing_is_the_runs(self) -> None:
        setup = setup_with(lighthouse(), mat=straight_mat(1500.0), program__proportional__gain=0.65)
        (only,) = stretches(derive.run(setup))
        self.assertAlmostEqual(only.wobble_mm, derive.figures(setup).wobble_mm, delta=0.02)

    def test_later_laps_are_told_apart(self) -> None:
        found = stretches(derive.run(lighthouse(trial__laps=2)))
        self.assertEqual(
            [each.name for each in found if each.bend], [*"ABCDEFGHIJK", *(f"{c}, lap 2" for c in "ABCDEFGHIJK")]
        )
        by_name = {each.name: each for each in found}
        self.assertAlmostEqual(by_name["F, lap 2"].time_s, by_name["F"].time_s, delta=0.1)
        self.assertAlmostEqual(by_name["F, lap 2"].start_mm - by_name["F"].start_mm, 5139.78, delta=0.1)

    def test_set_down_in_a_bend_its_two_parts_are_its_rest_and_its_first_part(self) -> None:
        setup = lighthouse(trial__start_mm=2550.0)
        found = stretches(derive.run(setup))
        bend = next(bend for bend in derive.route(setup.mat, False).bends if bend.name == "F")
        self.assertEqual((found[0].name, found[-1].name), ("F (rest)", "F (first part)"))
        self.assertAlmostEqual(found[0].end_mm, bend.end_mm - 2550.0, places=6)
        self.assertAlmostEqual(found[-1].end_mm - found[-1].start_mm, 2550.0 - bend.start_mm, places=6)

    def test_the_last_one_of_an_open_line_ends_at_the_finish(self) -> None:
        setup = demo_project("quarry").setup
        run = derive.run(setup)
        last = stretches(run)[-1]
        self.assertTrue(last.whole)
        self.assertAlmostEqual(last.end_mm, run.route.length_mm - run.start_mm - setup.mat.zone_mm, delta=0.01)
        self.assertAlmostEqual(last.mean_speed_mm_s, (last.end_mm - last.start_mm) / last.time_s, places=6)

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
