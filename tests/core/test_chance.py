"""Better, or lucky: held by simulation, with settings that are alike and settings that are not."""

import unittest
from dataclasses import replace
from math import comb

import numpy as np

from irontrail.core.demos import demo_project
from irontrail.core.errors import CalledOff
from irontrail.core.setup import Setup
from irontrail.core.tune.chance import MOST_STARTS, STARTS, TIMES_MORE, Comparison, better_or_lucky, how_sure, in_words
from irontrail.core.tune.differences import mean_of, paired_runs_to_see, runs_to_see, share_between
from irontrail.core.tune.tries import Tried, Trying
from tests.support import lighthouse, setup_with, straight_mat

REPEATS = 120


def tried(times: list[float] | np.ndarray, setup: Setup | None = None) -> Tried:
    times = np.array(times, float)
    return Tried(setup or lighthouse(), times, np.where(np.isfinite(times), 3.0, np.nan))


def calm(**values: object) -> Setup:
    return setup_with(Setup(straight_mat(1200.0)), program__proportional__gain=0.4, **values)


class ComparisonTest(unittest.TestCase):
    def test_a_setting_against_itself_is_alike_and_ties_are_ties(self) -> None:
        one, other = better_or_lucky([lighthouse(), lighthouse()])
        found = Comparison(one, other)
        self.assertEqual((found.time.mean, found.time.low, found.time.high), (0.0, 0.0, 0.0))
        self.assertEqual((found.only, found.verdict, found.more), ((0, 0), "alike", None))

    def test_in_words(self) -> None:
        one, same = better_or_lucky([lighthouse(), lighthouse()])
        said = in_words(Comparison(one, same), "run 1", "now")
        self.assertEqual(said, "Now and run 1: no difference worth naming, they take as long.")
        jitter = np.linspace(-0.01, 0.01, 20)
        base, faster = tried(20.0 + jitter), tried(19.0 - jitter)
        said = in_words(Comparison(base, faster), "run 1", "now")
        self.assertRegex(said, r"^Now is better than run 1: faster by 1\.00 s \(0\.9\d to 1\.0\d\)\.$")
        swinging = Tried(base.setup, base.times_s, base.swings_mm + 1.04)
        said = in_words(Comparison(base, swinging), "run 1", "now")
        self.assertTrue(said.endswith("It swings 1.0 mm more (1.0 to 1.0)."), said)
        nan = float("nan")
        half = tried([nan] * 10 + [20.0] * 10)
        said = in_words(Comparison(base, half), "run 1", "now")
        self.assertEqual(said[:88], "Now is worse than run 1: 10 of 20 starts come through, 20 of 20 with run 1.")
        lost = tried([nan] * 20)
        self.assertEqual(in_words(Comparison(lost, lost), "run 1", "now"), "Now and run 1: neither comes through.")

    def test_what_does_not_matter_is_not_named(self) -> None:
        one, other = better_or_lucky([lighthouse(), lighthouse(robot__drive__top_speed_mm_s=480.48)])
        found = Comparison(one, other)
        self.assertLess(found.time.high, 0.0)
        self.assertEqual(found.verdict, "alike")
        self.assertEqual(Comparison(one, other, 0.001).verdict, "better")

    def test_better_worse_and_not_known(self) -> None:
        random = np.random.default_rng(4)
        base, jitter = random.normal(20.0, 0.5, 20), random.normal(0.0, 0.1, 20)
        one = tried(base)
        self.assertEqual(Comparison(one, tried(base - 0.5 + jitter)).verdict, "better")
        self.assertEqual(Comparison(one, tried(base + 0.5 + jitter)).verdict, "worse")
        open_ = Comparison(one, tried(base + 0.12 + 4.0 * jitter))
        self.assertEqual(open_.verdict, "not known")
        more = open_.more
        assert more is not None
        self.assertGreater(more, 5)
        # With about so many in all, most such differences are told.
        told = 0
        for _ in range(100):
            many = random.normal(20.0, 0.5, 20 + more)
            apart = open_.time.mean + random.normal(0.0, np.std(4.0 * jitter, ddof=1), 20 + more)
            told += Comparison(tried(many), tried(many + apart)).timing != "not known"
        self.assertGreater(told, 40)

    def test_shares_by_the_exact_test_of_pairs(self) -> None:
        nan, time = float("nan"), 20.0
        one = tried([time] * 20)
        for failed, p, verdict in ((3, 0.25, "not known"), (5, 0.0625, "not known"), (6, 0.03125, "worse")):
            found = Comparison(one, tried([nan] * failed + [time] * (20 - failed)))
            self.assertEqual(found.only, (failed, 0))
            self.assertAlmostEqual(found.share_p, p)
            self.assertEqual((found.finishing, found.verdict), (verdict, verdict))
        few, many = tried([nan] * 8 + [time] * 12), tried([time] * 17 + [nan] * 3)
        found = Comparison(few, many)
        exact = 2.0 * sum(comb(11, k) for k in range(4)) / 2.0**11
        self.assertEqual(found.only, (3, 8))
        self.assertAlmostEqual(found.share_p, exact)
        # Faster, and it may come through less often: that is not better.
        faster = Comparison(one, tried([nan] * 3 + [time - 1.0 - 0.01 * i for i in range(17)]))
        self.assertEqual((faster.timing, faster.verdict), ("better", "not known"))
        self.assertGreater(faster.more, 0)

    def test_how_many_starts_more_would_tell_shares_apart(self) -> None:
        nan, time = float("nan"), 20.0
        for failed, more in ((3, 20), (2, 40), (1, 100)):
            open_ = Comparison(tried([time] * 20), tried([nan] * failed + [time] * (20 - failed)))
            self.assertEqual((open_.timing, open_.finishing, open_.more), ("alike", "not known", more))
            # So many times over the same shares are told apart, and one time fewer they are not.
            told = []
            for times in (more // 20, more // 20 + 1):
                other = tried(([nan] * failed + [time] * (20 - failed)) * times)
                told.append(Comparison(tried([time] * 20 * times), other).finishing)
            self.assertEqual(told, ["not known", "worse"])

    def test_nothing_is_told_where_neither_comes_through(self) -> None:
        lost = tried([float("nan")] * 20)
        found = Comparison(lost, lost)
        self.assertEqual((found.time, found.swing, found.verdict, found.more), (None, None, "not known", None))

    def test_what_was_set_by_hand_otherwise_is_told(self) -> None:
        one, other = tried([20.0] * 4), tried([20.0] * 4, lighthouse(robot__drive__battery=0.8, light__room_light=0.6))
        self.assertEqual(Comparison(one, other).not_alike, ("battery", "room light"))
        self.assertEqual(Comparison(one, one).not_alike, ())

    def test_all_have_the_starts_of_the_first(self) -> None:
        setup = calm()
        other = replace(setup, trial=replace(setup.trial, seed=77, shaken=replace(setup.trial.shaken, off_mm=30.0)))
        one, same = better_or_lucky([setup, other])
        self.assertTrue(np.array_equal(one.times_s, same.times_s))
        self.assertEqual(one.starts, STARTS)
        with self.assertRaises(CalledOff):
            better_or_lucky([setup, other], lambda _done: False)


class SimulationTest(unittest.TestCase):
    """Twenty starts each, REPEATS times, from starts of their own."""

    def verdicts(self, faster: float) -> list[str]:
        """What is said of a robot whose time is so much shorter, each on starts of its own: nothing is paired."""
        trying = Trying()
        every = trying.one(calm(), starts=2 * STARTS * REPEATS).times_s.reshape(REPEATS, 2, STARTS)
        return [Comparison(tried(one), tried(other * (1.0 - faster))).verdict for one, other in every]

    def test_settings_that_are_alike_are_called_better_in_one_of_twenty_at_most(self) -> None:
        said = self.verdicts(0.0)
        self.assertLessEqual(said.count("better") + said.count("worse"), 0.05 * REPEATS)

    def test_whoever_looks_again_and_again_is_misled_in_one_of_twenty_at_most(self) -> None:
        random = np.random.default_rng(9)
        misled = inside = 0
        for _ in range(1000):
            apart = random.normal(0.0, 0.5, MOST_STARTS)
            fails = random.random((2, MOST_STARTS)) < 0.1
            wrong, held, starts = False, True, STARTS
            while starts <= MOST_STARTS:
                one, other = (np.where(lost[:starts], np.nan, 20.0) for lost in fails)
                found = Comparison(tried(one), tried(other + apart[:starts]), 0.01, *how_sure(starts))
                wrong |= found.finishing in ("better", "worse") or found.timing in ("better", "worse")
                held &= found.time.low <= 0.0 <= found.time.high
                starts *= TIMES_MORE
            misled += wrong
            inside += held
        # Two things are looked at, time and finishing, each at 5 %.
        self.assertLessEqual(misled, 0.1 * 1000)
        self.assertGreaterEqual(inside, 0.95 * 1000)
        # The first look is nearly as sure as one alone would be.
        self.assertEqual(
            (how_sure(20)[0], how_sure(80), how_sure(1280)[0]), (0.96, (how_sure(20)[1],) * 2, how_sure(20)[1])
        )

    def test_of_three_percent_four_of_five_are_found(self) -> None:
        setup = demo_project("ferry").setup
        quick = setup_with(setup, program__speed=setup.program.speed * 1.03)
        trying = Trying()
        one, other = trying([setup, quick], starts=STARTS * REPEATS)
        found = 0
        for k in range(REPEATS):
            part = slice(k * STARTS, (k + 1) * STARTS)
            pair = (Tried(each.setup, each.times_s[part], each.swings_mm[part]) for each in (one, other))
            found += Comparison(*pair).verdict == "better"
        self.assertGreaterEqual(found, 0.8 * REPEATS)


class IntervalTest(unittest.TestCase):
    def test_a_mean_lies_in_its_interval_19_times_of_20(self) -> None:
        random = np.random.default_rng(2)
        inside = [found.low <= 3.0 <= found.high for _ in range(1000) if (found := mean_of(random.normal(3.0, 1.0, 8)))]
        self.assertTrue(0.93 < np.mean(inside) < 0.97)
        self.assertIsNone(mean_of(np.array([1.0, np.nan, 2.0])))

    def test_a_share_lies_in_its_interval_at_least_as_often(self) -> None:
        random = np.random.default_rng(3)
        for share in (0.5, 0.9, 0.98):
            good = random.binomial(40, share, 1000)
            inside = [low <= share <= high for low, high in (share_between(int(each), 40) for each in good)]
            self.assertGreater(np.mean(inside), 0.94)
        self.assertEqual((share_between(0, 10)[0], share_between(10, 10)[1]), (0.0, 1.0))

    def test_pairs_that_share_a_charge_need_fewer_runs(self) -> None:
        random = np.random.default_rng(5)
        runs = paired_runs_to_see(1.0, 1.0)
        assert runs is not None
        self.assertLess(runs, runs_to_see(1.0, 1.0))
        seen = [
            (found.low > 0.0 or found.high < 0.0)
            for _ in range(1000)
            if (found := mean_of(random.normal(1.0, 1.0, runs))) is not None
        ]
        self.assertTrue(0.77 < np.mean(seen) < 0.87, np.mean(seen))


if __name__ == "__main__":
    unittest.main()
