"""The event: readings taken in, places near to being lost, real times, the run that tells most, how many runs."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import DEMOS
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.sensor import Calibration
from irontrail.core.pit import next_run, venue
from irontrail.core.pit.next_run import NextRun, next_in_words
from irontrail.core.pit.readings import reading_so, take_in
from irontrail.core.pit.runs_needed import spread_of, spread_on_one_charge
from irontrail.core.pit.venue import Foretold, venue_of
from irontrail.core.project import KeptRun, RealRun
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.stretches import stretches
from irontrail.core.tune.differences import paired, runs_to_see
from irontrail.core.tune.tries import STARTS, Tried, Trying
from tests.support import lighthouse, setup_with, straight_mat, two_bends


def read(setup: Setup) -> tuple[float, float]:
    found = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
    return found.dark, found.bright


class ReadingsTest(unittest.TestCase):
    def test_line_and_mat_read_as_they_were_found(self) -> None:
        for dark, bright in ((15.0, 60.0), (12.0, 50.0), (30.0, 44.0), (6.0, 77.0)):
            there = reading_so(lighthouse(), Calibration(dark, bright))
            for value, wanted in zip(read(there), (dark, bright), strict=True):
                self.assertAlmostEqual(value, wanted, delta=1.0)

    def test_so_they_do_to_one_that_reads_high_on_dark(self) -> None:
        setup = lighthouse(light__sensor__reads_high_on="dark")
        there = reading_so(setup, Calibration(85.0, 40.0))
        for value, wanted in zip(read(there), (85.0, 40.0), strict=True):
            self.assertAlmostEqual(value, wanted, delta=1.0)

    def test_of_a_line_that_is_followed_after_another_that_line_changes(self) -> None:
        setup = DEMOS["lantern"].make()
        there = reading_so(setup, Calibration(15.0, 60.0))
        self.assertAlmostEqual(read(there)[0], 15.0, delta=1.0)

    def test_what_no_line_and_mat_can_read_is_refused_in_words(self) -> None:
        for found in (Calibration(2.0, 60.0), Calibration(15.0, 99.0)):
            with self.assertRaisesRegex(IronTrailError, "Set the sensor's height"):
                take_in(lighthouse(), found)
        with self.assertRaisesRegex(IronTrailError, "too much alike"):
            take_in(lighthouse(), Calibration(50.0, 52.0))
        with self.assertRaisesRegex(IronTrailError, "gives names"):
            take_in(lighthouse(light__sensor__scale="colour names", program__law="on-off"), Calibration(15.0, 60.0))

    def test_one_that_calibrates_is_calibrated_anew_and_one_that_does_not_has_its_target_moved(self) -> None:
        taken = take_in(lighthouse(), Calibration(15.0, 60.0))
        self.assertEqual(taken.anew.light.calibration, Calibration(15.0, 60.0))
        self.assertEqual(taken.anew.program, taken.there.program)
        plain = take_in(lighthouse(light__calibrate=False), Calibration(15.0, 60.0))
        here = read(lighthouse())
        share = (50.0 - here[0]) / (here[1] - here[0])
        self.assertAlmostEqual(plain.anew.program.target, 15.0 + share * 45.0, 6)
        self.assertAlmostEqual(plain.anew.program.proportional.gain, 0.7 * (here[1] - here[0]) / 45.0, 6)

    def test_taken_once_they_are_not_taken_again(self) -> None:
        for calibrates in (True, False):
            setup = lighthouse(light__calibrate=calibrates)
            taken = take_in(setup, Calibration(15.0, 60.0))
            once = replace(taken.anew, mat=setup.mat)
            again = take_in(once, Calibration(15.0, 60.0))
            self.assertEqual(again.anew.program, once.program)
            self.assertEqual((again.anew, again.says), (again.there, "The numbers are for these readings."))

    def test_both_of_two_sensors_take_them(self) -> None:
        taken = take_in(DEMOS["ropewalk"].make(), Calibration(15.0, 60.0))
        second = taken.anew.second
        assert second is not None
        self.assertAlmostEqual(second.calibration.bright, 60.0, delta=1.0)
        self.assertEqual(Trying().one(taken.there).good, 0)
        self.assertGreaterEqual(Trying().one(taken.anew).good, 18)


class PlacesTest(unittest.TestCase):
    def test_the_first_is_where_the_shaken_runs_stray_farthest(self) -> None:
        setup = DEMOS["quarry"].make()
        places = venue.places_of(setup, Trying())
        self.assertEqual(len(places), 3)
        worst = sorted(places, key=lambda place: -place.worst_mm)
        self.assertEqual(list(places), worst)
        farthest = []
        for number in range(1, STARTS + 1):
            edge = np.abs(derive.run(perturbed(setup, number)).trace.edge_mm)
            farthest.append(float(edge.max()))
        self.assertAlmostEqual(places[0].worst_mm, float(np.median(farthest)), delta=6.0)
        for i, one in enumerate(places):
            for other in places[i + 1 :]:
                self.assertGreaterEqual(np.hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm), venue.APART_MM)

    def test_how_far_off_is_the_middle_of_the_starts_on_that_very_stretch(self) -> None:
        setup = lighthouse()
        first = venue.places_of(setup, Trying())[0]
        strays = []
        for number in range(1, STARTS + 1):
            run = derive.run(perturbed(setup, number))
            here = next(each for each in stretches(run) if first.name in (each.name, f"bend {each.name}"))
            progress = np.maximum.accumulate(run.trace.progress_mm)
            rows = (progress >= here.start_mm) & (progress <= here.end_mm)
            strays.append(float(np.abs(run.trace.edge_mm[rows]).max()))
        self.assertAlmostEqual(first.worst_mm, sorted(strays)[len(strays) // 2], places=9)

    def test_they_lie_on_the_mat_beside_their_stretch(self) -> None:
        setup = lighthouse()
        for place in venue.places_of(setup, Trying()):
            route = derive.route(setup.mat, False)
            away = np.hypot(route.x_mm - place.x_mm, route.y_mm - place.y_mm).min()
            self.assertAlmostEqual(away, 10.0 + place.worst_mm, delta=2.0 * place.worst_mm)

    def test_a_trip_has_none(self) -> None:
        self.assertEqual(venue.places_of(DEMOS["lantern"].make(), Trying()), ())


class TellingTest(unittest.TestCase):
    def test_a_run_that_shows_what_to_take_is_worth_the_difference(self) -> None:
        # Of two settings one is a second better on every other robot, a second worse on the rest; it shows at once.
        random = np.random.default_rng(5)
        slow = random.random(400) < 0.5
        loss = np.vstack([np.full(400, 10.0), np.where(slow, 11.0, 9.0)])
        seen = np.where(slow, next_run.SLOWER, next_run.QUICKER)
        saved, rule = next_run._worth(loss, seen, [0, 1])
        self.assertAlmostEqual(saved.mean(), 0.5, delta=0.12)
        self.assertEqual((rule[next_run.SLOWER], rule[next_run.QUICKER]), (0, 1))

    def test_what_to_do_after_it_is_told_for_each_outcome_once(self) -> None:
        setup = lighthouse()
        settings = [setup, lighthouse(program__speed=55.0), lighthouse(program__speed=60.0)]
        for by_outcome, said in (
            ((0, 1, 1), "If it fails, go back to the numbers you have; else take it."),
            ((2, 2, 2), "Whatever it shows, try speed 50 → 60 %."),
            ((0, 0, 1), "If it is quick, take it; if not, go back to the numbers you have."),
            (
                (0, 2, 1),
                "If it fails, go back to the numbers you have; if slow, try speed 50 → 60 %; if quick, take it.",
            ),
        ):
            rule = dict(zip((next_run.FAILED, next_run.SLOWER, next_run.QUICKER), by_outcome, strict=True))
            self.assertEqual(next_run._rule_words(rule, 1, setup, settings), said)

    def test_a_run_that_shows_nothing_is_worth_nothing_not_even_by_luck(self) -> None:
        worth = []
        for seed in range(200):
            random = np.random.default_rng(seed)
            loss = random.normal(10.0, 1.0, (6, 120))
            worth.append(next_run._worth(loss, random.integers(0, 3, 120), [0, 1, 2])[0].mean())
        self.assertLess(np.mean(worth), 0.01)

    def test_the_best_of_five_comes_first_and_is_as_run_again(self) -> None:
        trying = Trying()
        runs, now_s = next_run.next_runs(two_bends(program__law="PID"), trying)
        self.assertEqual(len(runs), 5)
        self.assertEqual(len({run.setup for run in runs}), 5)
        self.assertEqual(trying.runs, 2 * 6 * next_run.ROBOTS)
        first = runs[0]
        self.assertEqual(first.do, "Speed 50 → 62 %.")
        self.assertLess(first.loss_s, now_s)
        again = Trying().one(first.setup, 3)
        self.assertAlmostEqual(first.time_s, again.time_s, delta=0.6)
        do, why = next_in_words(runs, now_s)
        self.assertEqual(do, first.do)
        self.assertIn(f"{now_s - first.loss_s:.1f} s better on average", why)

    def test_what_is_said_goes_by_what_it_is_worth(self) -> None:
        plain = NextRun("Speed 50 → 55 %.", lighthouse(), 0.6, 19.0, 21.0, 0.0, 0.1, "If it fails, go back.")
        self.assertIn("none of five changes", next_in_words([plain], 20.0)[1].lower())
        telling = replace(plain, worth_s=0.8, error_s=0.2)
        do, why = next_in_words([telling], 20.0)
        self.assertEqual(do, telling.do)
        self.assertIn("worth 0.8 s", why)
        self.assertIn("60 of 100", why)
        self.assertFalse(next_run.worth_driving(replace(telling, error_s=0.5)))

    def test_drawn_robots_stay_within_what_is_not_known(self) -> None:
        random = np.random.default_rng(1)
        for _ in range(50):
            robot = next_run._robot(random)
            for path, low, high in next_run.UNKNOWN:
                self.assertTrue(low <= robot[path] <= high, path)


class RealTimesTest(unittest.TestCase):
    def kept(self, *real: RealRun) -> KeptRun:
        return KeptRun(1, lighthouse(), derive.figures(lighthouse()), real=real)

    def test_real_times_stand_beside_the_foretold_ones(self) -> None:
        over = Trying().one(lighthouse())
        low, high = float(over.times_s.min()), float(over.times_s.max())
        inside, outside = RealRun(round(over.time_s, 2)), RealRun(high + 1.0)
        says = Foretold(self.kept(inside, outside, RealRun(5.0, False)), over).says
        self.assertIn(f"foretold {over.time_s:.1f} s ({low:.1f} to {high:.1f}), 20 of 20 come through", says)
        self.assertIn("1 of 2 real times within that, 1 failed", says)
        nothing = Tried(lighthouse(), np.full(20, np.nan), np.full(20, np.nan))
        self.assertIn("none of 20 starts", Foretold(self.kept(), nothing).says)

    def test_the_scatter_is_that_of_the_real_times_where_there_are_enough(self) -> None:
        over = Trying().one(lighthouse())
        few = [Foretold(self.kept(RealRun(20.0), RealRun(21.0)), over)]
        model = spread_of(few, over)
        assert model is not None
        self.assertAlmostEqual(model[0], float(np.std(over.times_s, ddof=1)))
        self.assertIn("starts of the model", model[1])
        times = (20.0, 20.6, 21.0), (18.0, 18.2)
        many = [Foretold(self.kept(*(RealRun(time) for time in each)), over) for each in times]
        real = spread_of(many, over)
        assert real is not None
        squares = sum(float(((np.array(each) - np.mean(each)) ** 2).sum()) for each in times)
        self.assertAlmostEqual(real[0], (squares / 3) ** 0.5)
        self.assertEqual(real[1], "5 real runs")
        self.assertIsNone(spread_of([], None))


class DifferencesTest(unittest.TestCase):
    def test_so_many_runs_see_it_in_four_of_five(self) -> None:
        from scipy.stats import ttest_ind

        random = np.random.default_rng(11)
        for difference, deviation in ((0.2, 0.15), (0.5, 0.6), (1.0, 0.5)):
            count = runs_to_see(difference, deviation)
            assert count is not None
            shares = []
            for many in (count, max(count - 1, 2)):
                one = random.normal(0.0, deviation, (4000, many))
                other = random.normal(difference, deviation, (4000, many))
                shares.append(float((ttest_ind(other, one, axis=1).pvalue < 0.05).mean()))
            self.assertGreater(shares[0], 0.78)
            if count > 2:
                self.assertLess(shares[1], 0.82)
        self.assertIsNone(runs_to_see(0.001, 1.0))
        self.assertIsNone(runs_to_see(0.0, 1.0))
        self.assertEqual(runs_to_see(0.1, 0.0), 2)

    def test_an_interval_holds_the_true_difference_nineteen_times_in_twenty(self) -> None:
        random, held = np.random.default_rng(12), 0
        for _ in range(1000):
            common = random.normal(20.0, 2.0, 20)
            one, other = (Tried(lighthouse(), common + random.normal(shift, 0.3, 20), common) for shift in (0.0, 0.4))
            found = paired(one, other)
            assert found is not None
            held += found.low <= 0.4 <= found.high
        self.assertTrue(930 <= held <= 970, held)

    def test_only_starts_that_both_came_through_count(self) -> None:
        times = np.arange(20.0)
        broken = np.where(times < 18.0, np.nan, times)
        one = Tried(lighthouse(), times, times)
        self.assertIsNone(paired(one, Tried(lighthouse(), broken, broken)))
        broken = np.where(times < 10.0, np.nan, times + 1.0 + 0.1 * (times % 2))
        found = paired(one, Tried(lighthouse(), broken, broken))
        assert found is not None
        self.assertEqual(found.starts, 10)
        self.assertAlmostEqual(found.mean, 1.05)


class WholeEventTest(unittest.TestCase):
    # How well the next run is chosen is asked above.
    @mock.patch.object(next_run, "ROBOTS", 60)
    def test_it_is_worked_out_with_readings_and_real_times(self) -> None:
        setup, told = lighthouse(), []
        kept = KeptRun(3, with_value(setup, "program.speed", 45.0), derive.figures(setup), real=(RealRun(22.0),))

        def tell(_so_far: venue.Venue, done: int) -> bool:
            told.append(done)
            return True

        made = venue_of(setup, Calibration(15.0, 60.0), [kept], tell)
        readings = made.readings
        assert readings is not None and readings.as_set is not None and readings.with_new is not None
        self.assertEqual((readings.as_set.good, readings.with_new.good), (0, 20))
        self.assertEqual(told, sorted(told))
        self.assertLessEqual(told[-1], made.runs)
        self.assertEqual(made.foretold[0].kept, kept)
        np.testing.assert_array_equal(made.foretold[0].tried.times_s, Trying().one(kept.setup).times_s)
        # Without readings it is about the room as it is.
        self.assertIsNone(venue_of(setup, None, []).readings)
        with self.assertRaises(CalledOff):
            venue_of(setup, None, [], lambda _venue, done: done < 400)

    def test_two_runs_on_one_charge_differ_by_less(self) -> None:
        over = Trying().one(setup_with(Setup(straight_mat(1600.0)), program__proportional__gain=0.4))
        apart = spread_on_one_charge(over)
        plain = float(np.std(over.times_s, ddof=1))
        self.assertLess(apart, 0.6 * plain)
        # As runs of two settings on one charge do, by the engine.
        still = replace(over.setup.trial, shaken=replace(over.setup.trial.shaken, battery=0.0))
        one, other = (
            Trying().one(replace(over.setup, trial=replace(still, seed=seed)), starts=200).times_s for seed in (5, 6)
        )
        self.assertAlmostEqual(apart, float(np.std(one - other, ddof=1)), delta=0.4 * apart)
        few = Tried(over.setup, np.array([1.0, 2.0, np.nan]), np.array([1.0, 2.0, np.nan]))
        self.assertIsNone(spread_on_one_charge(few))


if __name__ == "__main__":
    unittest.main()
