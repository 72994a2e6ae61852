"""Findings: each fires on the run made to show it and is silent on the run without it; mends that are offered mend."""

import unittest
from dataclasses import replace
from typing import Any

import numpy as np
from hypothesis import given, settings

from irontrail.core import derive
from irontrail.core.advice.case import Case, Finding
from irontrail.core.advice.findings import findings
from irontrail.core.demos import demo_project
from irontrail.core.engine import sense
from irontrail.core.engine.pack import pack_sensor
from irontrail.core.errors import IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.sensor import LightArea
from irontrail.core.mat.tape import Gap, Mat, Straight, Stroke
from irontrail.core.project import Pull, Setup
from irontrail.core.stretches import stretches
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import ultimate_gain
from tests.core.test_any_setup import PAIRS, SETUPS
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
        found = {each.kind: each for each in findings(setup)}
        self.assertIn(kind, found, [each.says for each in found.values()])
        finding = found[kind]
        self.assertTrue(0 <= finding.row < len(derive.run(setup).trace))
        return finding

    def silent(self, setup: Setup, kind: str) -> None:
        """There is no finding of a kind."""
        self.assertNotIn(kind, [each.kind for each in findings(setup)])

    def mends(self, finding: Finding) -> None:
        """Its mend finishes."""
        assert finding.mended is not None
        self.assertEqual(derive.figures(finding.mended).outcome, "finished")

    def test_a_calm_run_is_left_in_peace(self) -> None:
        self.assertEqual(findings(gentle()), ())
        self.assertEqual(findings(lighthouse(program__law="PID")), ())


class LeftTheLineTest(FindingTest):
    def test_where_and_when(self) -> None:
        setup = lighthouse(program__speed=68.0)
        (finding, *_), case = findings(setup), Case.of(setup)
        trace = case.run.trace
        self.assertLessEqual(abs(trace.edge_mm[finding.row]), case.seen_mm)
        self.assertTrue((np.abs(trace.edge_mm[finding.row + 1 :]) > case.seen_mm).all())
        self.assertIn("in bend F", finding.says)
        bend = next(bend for bend in case.run.route.bends if bend.name == "F")
        self.assertTrue(bend.start_mm - 25.0 <= case.place_mm(finding.row) <= bend.end_mm + 25.0)
        self.assertIn(f"after {trace.time_s[finding.row]:.1f} s", finding.says)

    def test_a_bend_too_tight_for_the_powers(self) -> None:
        finding = self.one(lighthouse(program__proportional__gain=0.3), "too tight")
        self.assertIn("a turn of radius 80 mm", finding.says)
        self.assertIn("it turns 183 mm", finding.says)
        self.mends(finding)
        self.mends(self.one(lighthouse(program__proportional__gain=0.2), "too tight"))
        self.silent(lighthouse(program__proportional__gain=0.5), "too tight")

    def test_all_the_steer_there_is_and_not_enough(self) -> None:
        finding = self.one(lighthouse(program__proportional__gain=0.5), "full steer")
        self.assertIn("bend F", finding.says)
        self.assertIn("(25 %)", finding.says)
        self.mends(finding)
        weak = lighthouse(program__law="on-off", program__on_off__dark_inner=40.0, program__on_off__light_inner=40.0)
        self.mends(self.one(weak, "full steer"))
        # At full steer to and fro, in a bend that it could turn three times over.
        wild = lighthouse(program__proportional__gain=1.3, program__delay_s=0.03)
        self.assertEqual(derive.run(wild).outcome, "lost")
        self.silent(wild, "full steer")

    def test_blind_while_a_decision_was_held(self) -> None:
        finding = self.one(lighthouse(program__decision_loops=8), "held")
        self.assertIn("blind for 80 ms", finding.says)
        self.mends(finding)
        self.silent(lighthouse(program__speed=68.0), "held")

    def test_a_glare_that_takes_the_line_away(self) -> None:
        high = setup_with(gentle(), robot__mount__height_mm=26.0, **OPEN_SKY)
        high = setup_with(high, light__calibration=calibrate_on(high.mat, high.light, 26.0))
        self.assertEqual(derive.run(high).outcome, "finished")
        glare = setup_with(high, light__areas=(LightArea(900.0, 500.0, 90.0, 150.0, 4.0, 10.0),))
        self.assertEqual(derive.run(glare).outcome, "lost")
        finding, case = self.one(glare, "light"), Case.of(glare)
        x, y = (float(column[finding.row]) for column in case.sensor)
        levels = []
        for setup in (glare, high):
            level = np.zeros(1)
            sense.levels_at(pack_sensor(setup)[0], derive.field(setup), x, y, level)
            levels.append(float(level[0]))
        span = high.light.calibration.bright - high.light.calibration.dark
        more = 100.0 * (levels[0] - levels[1]) / span
        self.assertIn(f"a glare makes it read about {more:.0f} higher here", finding.says)

    def test_a_target_outside_what_is_read_there(self) -> None:
        setup = lighthouse(program__target=97.0)
        self.assertEqual(derive.run(setup).outcome, "lost")
        finding = self.one(setup, "target")
        self.assertIn("the target is 97", finding.says)
        self.mends(finding)
        near_miss = lighthouse(program__target=88.0)
        self.assertEqual(derive.run(near_miss).outcome, "lost")
        self.silent(near_miss, "target")

    def test_wheels_that_slip(self) -> None:
        setup = lighthouse(robot__drive__grip=0.05, program__speed=90.0, program__proportional__gain=1.5)
        self.assertEqual(derive.run(setup).outcome, "lost")
        self.one(setup, "skid")
        self.silent(lighthouse(program__speed=68.0), "skid")

    def test_a_line_that_crosses_and_a_fork(self) -> None:
        ferry = demo_project("ferry").setup
        wide = replace(ferry.mat.other_lines[1], width_mm=70.0, colour="#2a2b2d")
        crossed = setup_with(ferry, mat__other_lines=(ferry.mat.other_lines[0], wide))
        self.assertEqual(derive.run(crossed).outcome, "lost")
        self.assertIn("a line crosses here", self.one(crossed, "crossing").says)
        other_way = setup_with(ferry, mat__goal=1)
        finding = self.one(other_way, "fork")
        self.assertEqual(finding.mend, "Follow the right edge")
        self.mends(finding)
        self.assertEqual([each for each in findings(ferry) if each.kind in ("fork", "crossing")], [])

    def test_a_gap_in_the_tape(self) -> None:
        line = Stroke(200.0, 500.0, 0.0, (Straight(700.0), Gap(60.0), Straight(800.0)))
        setup = setup_with(gentle(), mat=Mat("gap", line), program__proportional__gain=0.7)
        self.assertEqual(derive.run(setup).outcome, "lost")
        self.assertIn("a gap of 60 mm", self.one(setup, "gap").says)
        elsewhere = setup_with(setup, program__proportional__gain=1.5, program__delay_s=0.08)
        self.assertEqual(derive.run(elsewhere).outcome, "lost")
        self.silent(elsewhere, "gap")

    def test_a_hand(self) -> None:
        trace = derive.run(lighthouse()).trace
        pull = Pull(4.0, float(trace.x_mm[400]), float(trace.y_mm[400]) + 55.0, 0.0)
        self.assertIn("A hand pulled it", self.one(lighthouse(trial__pull=pull), "pulled").says)
        fast = lighthouse(program__speed=68.0)
        free, row = derive.run(fast).trace, 100
        early = Pull(1.0, float(free.x_mm[row]), float(free.y_mm[row]), float(np.degrees(free.heading_rad[row])))
        lost_later = setup_with(fast, trial__pull=early)
        self.assertEqual(derive.run(lost_later).outcome, "lost")
        self.silent(lost_later, "pulled")

    def test_otherwise_the_number_that_alone_keeps_it_on(self) -> None:
        finding = self.one(lighthouse(program__speed=68.0), "by trying")
        self.assertIn("too fast for bend F. Speed 61 alone keeps it on", finding.says)
        self.mends(finding)
        far_over = setup_with(Setup(straight_mat()), program__proportional__gain=1.3, program__delay_s=0.05)
        over = self.one(far_over, "by trying")
        self.assertIn("its gain is 509 % of the one at which it rocks steadily", over.says)
        self.mends(over)

    def test_swings_that_grew_until_it_left(self) -> None:
        setup = setup_with(Setup(straight_mat()), program__proportional__gain=0.8, program__delay_s=0.05)
        finding, case = self.one(setup, "rocked"), Case.of(setup)
        self.assertIn("it rocked at 2.7 Hz, higher and higher", finding.says)
        self.mends(finding)
        edge = np.abs(case.run.trace.edge_mm)
        early, late = edge[: edge.size // 3].max(), edge[edge.size // 3 : -20].max()
        self.assertGreater(late, 1.5 * early)
        held = self.one(lighthouse(program__decision_loops=5), "rocked")
        self.assertEqual(held.mend, "Decide every loop")
        self.mends(held)
        # As lost as that, and hardly swinging.
        self.silent(lighthouse(program__proportional__gain=0.5), "rocked")
        self.silent(lighthouse(program__speed=68.0), "rocked")

    def test_finished_runs_left_no_line(self) -> None:
        kinds = {"too tight", "full steer", "held", "target", "crossing", "gap", "fork", "by trying", "left", "rocked"}
        for law in ("on-off", "bands", "mixed", "proportional", "PID"):
            found = {each.kind for each in findings(lighthouse(program__law=law))}
            self.assertFalse(found & kinds, law)


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
        found = {each.kind: each for each in findings(slow, kept)}
        before = {each.name: each.time_s for each in stretches(derive.run(kept))}
        losses = {each.name: each.time_s - before[each.name] for each in stretches(derive.run(slow)) if each.whole}
        worst = max(losses, key=lambda name: losses[name])
        self.assertIn(worst, found["lost time"].says)
        self.assertIn(f"{losses[worst]:.2f} s longer", found["lost time"].says)
        self.assertNotIn("lost time", [each.kind for each in findings(kept, kept)])
        self.assertNotIn("lost time", [each.kind for each in findings(slow, demo_project("quarry").setup)])

    @settings(max_examples=100, deadline=None)
    @given(SETUPS | PAIRS)
    def test_any_run_can_be_looked_at(self, setup: Setup) -> None:
        try:
            found = findings(setup)
        except IronTrailError as refusal:
            self.assertIn("no length", str(refusal))
            return
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
