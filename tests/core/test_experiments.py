"""What must come out of the experiments, as on a real mat."""

import unittest
import xml.etree.ElementTree as ElementTree
from collections.abc import Callable
from functools import cache
from itertools import pairwise
from math import sqrt
from typing import Any

from experiments import pair_trials, trials, trip_trials
from experiments.plot import draw


@cache
def ran(experiment: Callable[[], trials.Outcome]) -> trials.Outcome:
    """What an experiment found; looked at from more than one side."""
    return experiment()


def by(rows: tuple[tuple[Any, ...], ...], column: int, value: Any) -> list[tuple[Any, ...]]:
    return [row for row in rows if row[column] == value]


class ExperimentsTest(unittest.TestCase):
    def test_1_powers_hold_a_bend_as_tight_as_their_turning_radius(self) -> None:
        rows = ran(trials.powers_and_radius).rows
        near, far = sqrt(140.0**2 - 75.0**2), sqrt(160.0**2 - 75.0**2)
        for inner, radius, outcome, _, _ in rows:
            if radius < near:
                self.assertEqual(outcome, "finished", inner)
            if radius > far:
                self.assertEqual(outcome, "lost", inner)
        swings = [row[3] for row in rows]
        self.assertEqual(sorted(swings, reverse=True), swings)
        lost_at = [row[4] for row in by(rows, 2, "lost")]
        self.assertTrue(all(880.0 < place < 900.0 + 471.0 for place in lost_at))

    def test_2_speed_blows_on_off_through_a_bend_and_proportional_is_calmer_and_faster(self) -> None:
        rows = ran(trials.on_off_speed).rows
        on_off, proportional = by(rows, 0, "on-off"), by(rows, 0, "proportional")
        self.assertEqual([row[2] for row in on_off], ["finished"] * 3 + ["lost"] * 3)
        best = min(row[3] for row in on_off if row[2] == "finished")
        quick = [row for row in proportional if row[2] == "finished" and row[3] < best]
        self.assertTrue(quick)
        self.assertTrue(all(row[4] < 0.75 * min(o[4] for o in on_off) for row in quick))

    def test_3_gains_too_small_stray_too_large_rock_and_speed_narrows_the_room(self) -> None:
        rows = ran(trials.gain_and_speed).rows
        smallest, largest = [], []
        for speed in (30.0, 45.0, 60.0):
            some = by(rows, 0, speed)
            self.assertEqual(some[0][2], "lost")
            finished = [row for row in some if row[2] == "finished"]
            self.assertGreater(finished[-1][3], 2.5 * min(row[3] for row in finished))
            smallest.append(finished[0][1])
            largest.append(max(row[1] for row in finished if row[3] < 10.0))
        self.assertEqual(sorted(smallest), smallest)
        self.assertLess(smallest[0], smallest[2])
        self.assertLessEqual(largest[2], largest[0])
        self.assertLess(largest[2] - smallest[2], largest[0] - smallest[0])

    def test_4_a_sensor_close_to_the_axle_swings_the_heading_more_and_comes_back_later(self) -> None:
        rows = ran(trials.sensor_ahead).rows
        swings = [row[1] for row in rows]
        self.assertEqual(sorted(swings, reverse=True), swings)
        self.assertGreater(swings[0], 1.8 * swings[3])
        self.assertGreater(rows[0][2], 1.5 * rows[3][2])

    def test_5_a_target_off_the_middle_is_slow_on_one_side(self) -> None:
        rows = ran(trials.target_off_middle).rows
        ratios = [row[3] for row in rows]
        self.assertEqual(sorted(ratios, reverse=True), ratios)
        self.assertGreater(ratios[0], 2.5)
        self.assertLess(ratios[-1], 0.4)
        self.assertAlmostEqual(ratios[2], 1.0, delta=0.15)

    def test_6_the_inner_edge_is_lost_where_the_outer_holds(self) -> None:
        rows = ran(trials.inner_edge).rows
        split = [row for row in rows if row[1] == "lost" and row[2] == "finished"]
        self.assertGreaterEqual(len(split), 2)
        self.assertFalse([row for row in rows if row[1] == "finished" and row[2] == "lost"])

    def test_7_holding_too_long_overshoots(self) -> None:
        rows = ran(trials.hold).rows
        held = [row[2] for row in by(rows, 1, "finished")]
        self.assertEqual(sorted(held), held)
        self.assertGreater(held[-1], 1.8 * held[0])
        self.assertEqual(rows[-1][1], "lost")

    def test_8_high_power_on_low_grip_skids_and_coasts_for_little_gain(self) -> None:
        rows = ran(trials.power_and_grip).rows
        low, good = by(rows, 0, 0.1), by(rows, 0, 0.7)
        for some in (low, good):
            for column in (3, 4):
                self.assertTrue(all(a[column] <= b[column] for a, b in pairwise(some)))
        self.assertGreater(low[-1][4], 5 * good[-1][4])
        self.assertGreater(low[-1][3], 10 * good[-1][3])
        # What is gained from 80 to 100: less on low grip than power alone would give.
        self.assertGreater(low[-1][2] / low[-2][2], 0.85)

    def test_9_a_shadow_pulls_and_a_shield_takes_most_of_it_away(self) -> None:
        rows = ran(trials.shadow_and_shield).rows
        pulled, moved = [row[1] for row in rows], [abs(row[2]) for row in rows]
        self.assertGreater(pulled[0], 0.8)
        self.assertLess(pulled[-1], 0.2 * pulled[0])
        self.assertGreater(moved[0], 4.0)
        self.assertLess(moved[-1], 0.25 * moved[0])

    def test_10_contrast_is_gain(self) -> None:
        rows = ran(trials.contrast).rows
        same = [row[2] for row in rows]
        self.assertEqual((same[0], same[1], same[-1]), ("finished", "finished", "lost"))
        self.assertTrue(all(row[4] == "finished" for row in rows if row[1] > 20.0))

    def test_11_the_followed_edge_chooses_the_branch(self) -> None:
        for edge, _law, left, right in ran(trials.fork).rows:
            self.assertEqual((left == "finished", right == "finished"), (edge == "left", edge == "right"))

    def test_13_an_uneven_line_makes_the_same_settings_shakier(self) -> None:
        rows = ran(trials.uneven_line).rows
        self.assertEqual([row[1] for row in rows[:4]], [5, 5, 5, 5])
        swings, efforts = [row[2] for row in rows[:4]], [row[3] for row in rows[:4]]
        self.assertGreater(swings[3], 1.1 * swings[0])
        self.assertEqual(sorted(efforts), efforts)
        self.assertGreater(efforts[3], 1.3 * efforts[0])

    def test_12_stopped_at_random_on_off_stands_askew(self) -> None:
        on_off, proportional, pid = ran(trials.stopped_at_random).rows
        self.assertGreater(on_off[1], 3.0)
        self.assertLess(proportional[1], 0.2 * on_off[1])
        self.assertLess(pid[1], 0.2 * on_off[1])


class TripExperimentsTest(unittest.TestCase):
    def test_14_creeping_parks_more_exactly_than_braking(self) -> None:
        for power, ends, past, braking, also, creeping in ran(trip_trials.creeping).rows:
            self.assertEqual((ends, also), (40, 40))
            self.assertLess(creeping, 0.75 * braking, power)
            # What it rolls on is its speed times the response time, from at most a loop and a delay after the mark.
            self.assertGreater(past, 4.8 * power * 0.06 - 1.0)
        self.assertGreater(braking, 4.0 * creeping)

    def test_15_counts_drift_where_a_mark_does_not(self) -> None:
        for mismatch, grip, _, _, counted, marked in ran(trip_trials.counting).rows[1:]:
            self.assertGreater(abs(counted), 2.5 * abs(marked), (mismatch, grip))
        self.assertGreater(abs(counted), 50.0)

    def test_16_one_wheel_counts_a_bend_as_longer_or_shorter(self) -> None:
        straight, *bends = ran(trip_trials.one_wheel).rows
        self.assertLess(abs(straight[3] - straight[1]), 3.0)
        for _, driven, mean, left, right in bends:
            self.assertLess(abs(mean - driven), 1.0)
            self.assertAlmostEqual(abs(left - right), 110.0 * 3.14159 / 2.0, delta=4.0)

    def test_17_and_18_a_smooth_follower_ends_straight_and_the_next_turn_lands_better(self) -> None:
        for found, column in ((ran(trip_trials.angle_at_end), 1), (ran(trip_trials.next_turn), 4)):
            on_off, *others = (row[column] for row in found.rows)
            for other in others:
                self.assertLess(other, 0.25 * on_off)

    def test_19_a_lead_in_too_steep_is_driven_over(self) -> None:
        rows = ran(trip_trials.lead_in).rows
        self.assertEqual([row[1] for row in rows[:3]], [40, 40, 40])
        self.assertLess(rows[-1][1], 5)
        self.assertLess(rows[0][2], rows[1][2])
        self.assertGreater(rows[-1][2], 5.0 * rows[1][2])


class PairTest(unittest.TestCase):
    def test_20_a_pair_drives_over_crossings_and_is_lost_at_forks_and_corners(self) -> None:
        rows = ran(pair_trials.over_crossings).rows
        share = {(row[0], row[1]): row[3] for row in rows}
        swing = {(row[0], row[1]): row[4] for row in rows}
        self.assertLess(share["Rope Walk", "one, right edge"], 0.3)
        for arrangement in pair_trials.ASTRIDE:
            self.assertGreaterEqual(share["Rope Walk", arrangement], 0.95)
            self.assertLess(swing["Rope Walk", arrangement], 0.75 * swing["Rope Walk", "one, left edge"])
            for mat in ("Lighthouse Loop", "Tannery Wiggle"):
                self.assertGreaterEqual(share[mat, arrangement], 0.95)
            for mat in ("Ferry Fork", "Quarry Switchback"):
                self.assertLess(share[mat, arrangement], 0.8)
                self.assertLess(share[mat, arrangement], share[mat, "one, left edge"])

    def test_21_a_rear_sensor_calms_a_gain_near_rocking_and_costs_in_bends(self) -> None:
        rows = {(row[0], row[1]): row for row in ran(pair_trials.rear_weight).rows}
        # Near rocking a tenth takes the sway out of the heading, and the scatter out of the angle at rest.
        for gain, less in ((0.8, 0.6), (1.0, 0.85)):
            none, tenth = rows[gain, 0.0], rows[gain, 10.0]
            self.assertLess(tenth[2], less * none[2])
            self.assertLess(tenth[3], 0.8 * none[3])
            self.assertAlmostEqual(tenth[5], none[5], delta=0.1)
        # Far from it there is nothing to take, and the bends take it farther off, or lose it.
        self.assertGreater(rows[0.4, 10.0][2], 0.95 * rows[0.4, 0.0][2])
        self.assertEqual((rows[0.4, 0.0][4], rows[0.4, 20.0][4]), (40, 0))
        for gain in (0.6, 0.8):
            self.assertGreater(rows[gain, 10.0][6], rows[gain, 0.0][6] + 1.0)

    def test_22_too_wide_a_pair_swings_more(self) -> None:
        for name in ("difference", "each its side"):
            swings = [row[4] for row in by(ran(pair_trials.how_wide).rows, 0, name)]
            self.assertLess(max(swings[:4]), swings[4])
            self.assertGreater(swings[-1], 2.0 * min(swings))

    def test_23_a_single_sensor_cannot_tell_which_side_of_a_wide_line_it_is_on(self) -> None:
        rows = ran(pair_trials.which_side).rows
        self.assertEqual([row[3] for row in rows], [20] * len(rows))
        self.assertEqual([row[1] for row in rows if row[0] <= -25.0], [0, 0])
        self.assertEqual([row[1] for row in rows if row[0] >= -15.0], [20] * 5)


class PageTest(unittest.TestCase):
    def test_each_has_an_answer_and_a_plot_that_is_well_formed(self) -> None:
        for experiment in (*trials.EXPERIMENTS[:3], *trip_trials.EXPERIMENTS, *pair_trials.EXPERIMENTS[1:]):
            found = ran(experiment.run)
            self.assertGreater(len(experiment.answer(found)), 40)
            root = ElementTree.fromstring(draw(found))
            lines = root.findall("{http://www.w3.org/2000/svg}polyline")
            self.assertEqual(len(lines), len(found.series))


if __name__ == "__main__":
    unittest.main()
