"""Findings: each fires on the run made to show it and is silent on the run without it; mends that are offered mend."""

import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings

from irontrail.core import derive
from irontrail.core.advice.case import Case, Finding
from irontrail.core.advice.findings import findings
from irontrail.core.demos import demo_project
from irontrail.core.light.sensor import LightArea
from irontrail.core.setup import Setup
from irontrail.core.stretches import stretches
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import ultimate_gain
from tests.core.test_any_setup import EXAMPLES, PAIRS, SETUPS, where_it_has_a_length
from tests.support import lighthouse, setup_with, straight_mat

OPEN_SKY: dict[str, Any] = {"light__room_light": 1.0, "light__sensor__shield": 0.0}


def gentle(**values: Any) -> Setup:
    """A calm program on a straight, which has nothing to be found."""
    return setup_with(
        Setup(straight_mat(1600.0)), program__proportional__gain=0.4, program__speed=40.0, **values
    )  # fmt: skip


class FindingTest(unittest.TestCase):
    def one(self, setup: Setup, kind: str) -> Finding:
        """The finding of a kind."""
        found = {each.kind: each for each in findings(Case.of(setup))}
        self.assertIn(kind, found, [each.says for each in found.values()])
        finding = found[kind]
        self.assertTrue(0 <= finding.row < len(derive.run(setup).trace))
        return finding

    def silent(self, setup: Setup, kind: str) -> None:
        """There is no finding of a kind."""
        self.assertNotIn(kind, [each.kind for each in findings(Case.of(setup))])

    def mends(self, finding: Finding) -> None:
        """Its mend finishes."""
        assert finding.mended is not None
        self.assertEqual(derive.figures(finding.mended).outcome, "finished")

    def test_a_calm_run_is_left_in_peace(self) -> None:
        self.assertEqual(findings(Case.of(gentle())), ())
        self.assertEqual(findings(Case.of(lighthouse(program__law="PID"))), ())


class AlongTheWayTest(FindingTest):
    def test_rocking_and_at_which_share(self) -> None:
        setup = demo_project("orchard").setup
        finding = self.one(setup, "rocking")
        rocking = ultimate_gain(linear_loop(setup))
        assert rocking is not None and finding.mended is not None
        self.assertIn(f"{100 * 0.7 / rocking.gain:.0f} % of {rocking.gain:.2f}", finding.says)
        before, after = derive.figures(setup), derive.figures(finding.mended)
        self.assertEqual(after.outcome, "finished")
        self.assertLess(after.wobble_mm, 0.9 * before.wobble_mm)
        self.silent(lighthouse(program__proportional__gain=0.5), "rocking")
        self.silent(lighthouse(program__law="on-off"), "rocking")

    def test_slow_from_one_side(self) -> None:
        finding = self.one(lighthouse(program__target=70.0), "one-sided")
        self.assertIn("Slow from the light side", finding.says)
        self.mends(finding)
        self.assertIn("Slow from the dark side", self.one(lighthouse(program__target=25.0), "one-sided").says)
        self.silent(lighthouse(program__target=55.0), "one-sided")

    def test_a_glare_that_pulls_it_aside_by_so_much(self) -> None:
        glare = (LightArea(1300.0, 100.0, 150.0, 100.0, 6.0),)
        finding = self.one(lighthouse(light__areas=glare, **OPEN_SKY), "light")
        self.assertIn("A glare pulls it", finding.says)
        self.mends(finding)
        self.silent(lighthouse(light__areas=glare, light__sensor__shield=1.0), "light")
        beside = (LightArea(1000.0, 900.0, 50.0, 30.0, 6.0),)
        self.silent(lighthouse(light__areas=beside, **OPEN_SKY), "light")

    def test_clipped_so_much_of_the_time(self) -> None:
        setup = lighthouse(program__proportional__gain=1.6)
        finding, figures = self.one(setup, "clipped"), derive.figures(setup)
        self.assertIn(f"Clipped {100 * figures.clipped_share:.0f} % of the time", finding.says)
        assert finding.mended is not None
        self.assertLess(derive.figures(finding.mended).clipped_share, 0.6 * figures.clipped_share)
        self.assertGreater(derive.run(setup).trace.clipped[finding.row], 0.5)
        self.silent(lighthouse(), "clipped")

    def test_wheels_that_slipped_on_a_run_that_finished(self) -> None:
        slippery = setup_with(gentle(), robot__drive__grip=0.06, program__speed=70.0)
        self.assertEqual(derive.run(slippery).outcome, "finished")
        finding = self.one(slippery, "skid")
        self.assertIn(f"over {derive.figures(slippery).skid_mm:.0f} mm", finding.says)
        self.silent(setup_with(slippery, robot__drive__grip=0.4), "skid")

    def test_the_way_that_went_into_swinging(self) -> None:
        finding = self.one(lighthouse(program__law="on-off"), "wasted")
        self.assertIn("19 % of the way", finding.says)
        self.assertEqual(finding.mend, "Steer in proportion")
        self.mends(finding)
        self.silent(lighthouse(), "wasted")
        self.silent(lighthouse(trial__reverse=True), "wasted")

    def test_stopped_by_its_own_rule(self) -> None:
        finding = self.one(lighthouse(program__stop__time_s=4.0), "stopped")
        self.assertIn("4 s were over", finding.says)
        self.mends(finding)
        self.assertIn("counted 700 mm", self.one(lighthouse(program__stop__distance_mm=700.0), "stopped").says)
        self.mends(self.one(lighthouse(trial__time_limit_s=10.0), "time-out"))
        self.silent(lighthouse(program__stop__time_s=60.0), "stopped")
        self.silent(lighthouse(trial__time_limit_s=30.0), "time-out")

    def test_the_stretch_that_costs_most_against_the_kept_run(self) -> None:
        kept, slow = lighthouse(), lighthouse(program__ease_off=0.8)
        found = {each.kind: each for each in findings(Case.of(slow), kept)}
        before = {each.name: each.time_s for each in stretches(derive.run(kept))}
        losses = {each.name: each.time_s - before[each.name] for each in stretches(derive.run(slow)) if each.whole}
        worst = max(losses, key=lambda name: losses[name])
        self.assertIn(worst, found["lost time"].says)
        self.assertIn(f"{losses[worst]:.2f} s longer", found["lost time"].says)
        self.assertNotIn("lost time", [each.kind for each in findings(Case.of(kept), kept)])
        self.assertNotIn("lost time", [each.kind for each in findings(Case.of(slow), demo_project("quarry").setup)])

    def test_what_is_gathered_about_a_row_is_so_in_a_run_shorter_than_that_too(self) -> None:
        case, values = Case.of(gentle()), np.array([1.0, 0.0, 0.0, 5.0])
        self.assertEqual(case.rows(1.0), 100)
        np.testing.assert_array_equal(case.gathered(values, 1.0), [1.0, 1.0, 6.0, 5.0])
        np.testing.assert_array_equal(case.gathered(values, 0.01), values)

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(SETUPS | PAIRS)
    @where_it_has_a_length()
    def test_any_run_can_be_looked_at(self, setup: Setup) -> None:
        found = findings(Case.of(setup))
        rows = len(derive.run(setup).trace)
        for finding in found:
            self.assertTrue(0 <= finding.row < rows)
            self.assertEqual(finding.mended is None, finding.mend == "")
            self.assertNotIn("nan", finding.says)


class WayTest(unittest.TestCase):
    def test_the_share_of_the_way_is_that_of_all_laps(self) -> None:
        lost = lighthouse(trial__laps=4, trial__time_limit_s=30.0)
        figures = derive.figures(lost)
        self.assertEqual(figures.outcome, "time-out")
        self.assertGreater(figures.progress_mm, figures.route_length_mm)
        self.assertAlmostEqual(derive.way_share(lost), figures.progress_mm / (4.0 * figures.route_length_mm), places=9)
        self.assertAlmostEqual(derive.way_share(lighthouse()), 1.0, delta=0.001)
        quarry = demo_project("quarry").setup
        self.assertAlmostEqual(derive.way_share(quarry), 1.0, delta=0.002)
        half = setup_with(quarry, trial__time_limit_s=16.0)
        self.assertTrue(0.3 < derive.way_share(half) < 0.7)


class WhereTest(unittest.TestCase):
    def test_a_place_before_the_start_is_the_start(self) -> None:
        case = Case.of(lighthouse(trial__start_angle_deg=150.0))
        row = int(np.argmin(case.run.trace.progress_mm))
        self.assertLess(case.run.trace.progress_mm[row], 0.0)
        self.assertEqual(case.where(row), "the straight at the start")
        on = Case.of(lighthouse())
        self.assertEqual(on.where(40), f"the straight at {on.run.trace.progress_mm[40] / 1000.0:.2f} m")


if __name__ == "__main__":
    unittest.main()
