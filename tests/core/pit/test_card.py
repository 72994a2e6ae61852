"""The card: what it says was run, and comes to the same when it is run again."""

import re
import unittest
from dataclasses import replace
from functools import cache
from types import SimpleNamespace
from typing import ClassVar

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import DEMOS
from irontrail.core.engine.run import open_loop
from irontrail.core.errors import CalledOff
from irontrail.core.pit import setting_down
from irontrail.core.pit.card import RUNS_GUESSED, Card, card_of, first_card, numbers
from irontrail.core.pit.faults import Advice
from irontrail.core.pit.hall import HallRow
from irontrail.core.pit.remedies import gain_times, mended, speed_times, to_do
from irontrail.core.pit.setting_down import set_down
from irontrail.core.quantity import put, quantity_at, value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.tune.tries import STARTS, Tried, Trying
from tests.support import lighthouse, setup_with

# What takes thousands of runs is made once for all who look at it.
made = cache(card_of)


def tried(setup: Setup, **values: float) -> Tried:
    """A setup with some numbers changed, over the usual starts."""
    return Trying().one(setup_with(setup, **values))


class TryingTest(unittest.TestCase):
    def test_each_start_is_the_shaken_run_of_its_number(self) -> None:
        setup = lighthouse(program__speed=64.0)
        over = Trying().one(setup)
        for number, (time, swing) in enumerate(zip(over.times_s, over.swings_mm, strict=True), 1):
            figures = derive.figures(perturbed(setup, number))
            if figures.outcome == "finished":
                self.assertAlmostEqual(time, figures.time_s, 9)
                self.assertAlmostEqual(swing, figures.wobble_mm, 9)
            else:
                self.assertTrue(np.isnan(time) and np.isnan(swing))
        self.assertEqual(over.good, int(np.isfinite(over.times_s).sum()))
        self.assertTrue(0 < over.good < STARTS, over.good)
        self.assertEqual(over.of_starts, f"{over.good} of {STARTS}")

    def test_fresh_starts_are_others_and_each_set_is_the_same_again(self) -> None:
        trying, setup = Trying(), lighthouse()
        usual, fresh, other = trying.one(setup), trying.one(setup, 1), trying.one(setup, 2)
        self.assertEqual(len(set(usual.times_s) & set(fresh.times_s) | set(fresh.times_s) & set(other.times_s)), 0)
        np.testing.assert_array_equal(fresh.times_s, Trying(threads=1).one(setup, 1).times_s)
        self.assertEqual(trying.runs, 3 * STARTS)

    def test_a_run_that_misses_its_spot_has_not_come_through(self) -> None:
        setup = DEMOS["lantern"].make()
        spot = setup.mat.spots[0]
        moved = replace(setup, mat=replace(setup.mat, spots=(replace(spot, x_mm=spot.x_mm - 300.0),)))
        self.assertGreater(Trying().one(setup).good, 15)
        self.assertEqual(Trying().one(moved).good, 0)

    def test_it_holds_from_nine_in_ten_on(self) -> None:
        def of(good: int) -> Tried:
            times = np.where(np.arange(20) < good, 9.0, np.nan)
            return Tried(lighthouse(), times, times)

        self.assertTrue(of(18).holds and not of(17).holds)

    def test_told_to_stop_it_stops(self) -> None:
        with self.assertRaises(CalledOff):
            Trying(lambda _done: False).one(lighthouse())


class RemediesTest(unittest.TestCase):
    def test_numbers_are_changed_as_they_would_be_typed(self) -> None:
        self.assertEqual(speed_times(lighthouse(), 0.77).program.speed, 38.0)
        self.assertAlmostEqual(gain_times(lighthouse(), 0.77).program.proportional.gain, 0.54)
        self.assertEqual(to_do(lighthouse(), lighthouse(program__speed=38.0)), "Speed 50 → 38 %.")

    def test_of_a_law_of_many_powers_all_are_told_anew(self) -> None:
        for law in ("on-off", "bands"):
            setup = lighthouse(program__law=law)
            slower = speed_times(setup, 0.8)
            said = to_do(setup, slower)
            for power in slower.program.chosen.powers(slower.program):
                self.assertIn(f"{power.value:.3g}".replace("-", "−"), said, law)

    def test_what_only_helps_on_the_starts_that_chose_it_is_no_remedy(self) -> None:
        asked = []

        def good(over: Tried) -> bool:
            # As if luck had it so: good on the usual starts, bad on all others.
            asked.append(over)
            return len(asked) % 2 == 1

        self.assertIsNone(mended(lighthouse(), speed_times, (0.9, 0.8), good, Trying()))
        self.assertEqual(len(asked), 4)
        self.assertFalse(np.array_equal(asked[0].times_s, asked[1].times_s))

    def test_the_first_share_that_mends_it_is_taken(self) -> None:
        worse = lighthouse(robot__drive__top_speed_mm_s=480.0 * 1.5)
        found = mended(worse, speed_times, (0.99, 0.9, 0.8, 0.7, 0.6), lambda over: over.holds, Trying())
        assert found is not None
        self.assertTrue(found.tried.holds)
        for share in (0.99, 0.9, 0.8, 0.7):
            if share > found.share:
                confirmed = [Trying().one(speed_times(worse, share), fresh) for fresh in (0, 1, 2, 3, 4)]
                self.assertFalse(all(each.holds for each in confirmed), share)
        self.assertEqual(found.made_of(lighthouse()).program.speed, round(50.0 * found.share))


class CardTest(unittest.TestCase):
    setup: ClassVar[Setup]
    card: ClassVar[Card]

    @classmethod
    def setUpClass(cls) -> None:
        cls.setup = lighthouse()
        cls.card = card_of(cls.setup)

    def line(self, when: str) -> Advice:
        return next(line for line in self.card.advice if line.when.startswith(when))

    def test_it_rocks_and_what_calms_it_are_as_run_again(self) -> None:
        line = self.line("It rocks")
        later = int(re.search(r"answer (\d+) ms later", line.tried)[1])  # type: ignore[index]
        base, worse = tried(self.setup), tried(self.setup, program__delay_s=self.setup.program.delay_s + later / 1000)
        self.assertIn(f"{worse.of_starts} starts came through and swung {worse.swing_mm:.1f} mm", line.tried)
        self.assertTrue(not worse.holds or worse.swing_mm > 1.5 * base.swing_mm)
        calmed = with_value(line.setup, "program.delay_s", worse.setup.program.delay_s)
        again = Trying().one(calmed, 77)
        self.assertTrue(again.holds)
        self.assertLess(again.swing_mm, worse.swing_mm)
        self.assertEqual(to_do(self.setup, line.setup), line.do)

    def test_the_bend_it_leaves_at_is_where_most_of_its_runs_end(self) -> None:
        line = self.line("It leaves the line at")
        faster = int(re.search(r"Made (\d+) % faster", line.tried)[1])  # type: ignore[index]
        failed, there = (
            int(each) for each in re.search(r"(\d+) of 20 starts failed, (\d+) of them", line.tried).groups()
        )  # type: ignore[union-attr]
        fast = put(self.setup, "robot.drive.top_speed_mm_s", 4.8 * (100 + faster))
        ended: dict[str, int] = {}
        for number in range(1, STARTS + 1):
            run = derive.run(perturbed(fast, number))
            if run.outcome != "finished":
                at = run.start_mm + float(run.trace.progress_mm[-1])
                at %= run.route.length_mm
                bend = next((b for b in run.route.bends if b.start_mm <= at <= b.end_mm), None)
                before = max((b for b in run.route.bends if b.end_mm < at), key=lambda b: b.end_mm, default=None)
                name = f"bend {bend.name}" if bend is not None else f"the straight after {before and before.name}"
                ended[name] = ended.get(name, 0) + 1
        self.assertEqual(sum(ended.values()), failed)
        where = line.when.removeprefix("It leaves the line at ")
        self.assertEqual(ended[where], there)
        self.assertEqual(there, max(ended.values()))
        slower = put(line.setup, "robot.drive.top_speed_mm_s", 4.8 * (100 + faster))
        self.assertGreaterEqual(Trying().one(slower, 78).good, 16)

    def test_a_low_battery_is_as_run_again(self) -> None:
        line = self.line("The battery is low")
        low = tried(self.setup, robot__drive__battery=0.8)
        self.assertIn(f"At 80 % {low.of_starts} starts came through, in {low.time_s:.1f} s", line.tried)
        self.assertEqual(line.setup.program.speed, 62.0)
        # Too fast for a full battery, and that is said.
        charged = Trying().one(line.setup, 8)
        self.assertFalse(charged.holds)
        self.assertIn(f"Charged again only {charged.of_starts} would: then set it back.", line.tried)

    def test_a_speed_that_a_full_battery_bears_too_is_not_to_be_set_back(self) -> None:
        setup = lighthouse(program__law="PID")
        line = next(line for line in card_of(setup).advice if line.when == "The battery is low")
        self.assertTrue(Trying().one(line.setup, 8).holds)
        self.assertNotIn("Charged again", line.tried)

    def test_it_may_be_set_down_so_far_off_and_not_a_step_farther(self) -> None:
        placing = self.card.placing
        assert placing is not None and placing.off_mm is not None
        beyond = next(step for step in setting_down.OFF_MM if step > placing.off_mm)
        holds = [[tried(self.setup, trial__start_off_mm=sign * off).holds for sign in (1, -1)]
                 for off in (placing.off_mm, beyond)]  # fmt: skip
        self.assertEqual(holds[0], [True, True])
        self.assertIn(False, holds[1])
        self.assertIsNone(placing.turned_deg)
        self.assertTrue(all(tried(self.setup, trial__start_angle_deg=sign * 40.0).holds for sign in (1, -1)))

    def test_the_wheels_are_told_as_the_plant_drives(self) -> None:
        check = self.card.wheels
        assert check is not None
        states = open_loop(self.setup.robot, np.full((2000, 2), check.power), 0.001)
        self.assertAlmostEqual(states["x"][-1], check.came_mm, 3)
        self.assertIsNone(check.aside_mm)
        unlike = made(DEMOS["lantern"].make()).wheels
        assert unlike is not None and unlike.aside_mm is not None
        robot = put(DEMOS["lantern"].make(), "robot.drive.mismatch_percent", unlike.percent).robot
        states = open_loop(robot, np.full((40_000, 2), unlike.power), 0.0005)
        row = int(np.searchsorted(states["x"], unlike.over_mm))
        self.assertAlmostEqual(abs(states["y"][row]), unlike.aside_mm, delta=2.0)

    def test_halls_read_as_the_sensor_does_there_and_their_counts_are_as_run_again(self) -> None:
        self.assertTrue(self.card.same_everywhere)
        plain = lighthouse(light__calibrate=False, program__target=48.0, program__proportional__gain=0.7)
        plain = setup_with(plain, program__speed=40.0, light__sensor__shield=0.0)
        rows = card_of(plain).hall
        self.assertGreaterEqual(len(rows), 3)
        for row in rows:
            self.assertEqual(row.as_set.good, Trying().one(row.as_set.setup).good)
            self.assertEqual(row.anew.good, Trying().one(row.anew.setup).good)
            self.assertEqual(row.as_set.setup.program, plain.program)
            if row.leave:
                self.assertIn(row.says, ("leave the numbers", "no numbers tried hold there"))
            else:
                self.assertTrue(row.says.startswith(row.do))
        self.assertEqual([row.bright for row in rows], sorted(row.bright for row in rows))

    def test_a_hall_where_calibrating_does_harm_says_to_leave_the_numbers(self) -> None:
        # That trip is calibrated on a border that is brighter than the mat.
        rows = made(DEMOS["lantern"].make()).hall
        worse = [row for row in rows if row.anew.good < row.as_set.good]
        self.assertTrue(worse)
        for row in worse:
            self.assertNotIn("calibrate", row.says)

    def test_numbers_that_do_not_hold_get_no_advice(self) -> None:
        card = card_of(lighthouse(program__speed=70.0))
        assert card.base is not None
        self.assertFalse(card.base.holds)
        self.assertEqual((card.advice, card.hall, card.placing, card.wheels), ((), (), None, None))

    def test_it_tells_how_far_it_is_and_counts_its_runs(self) -> None:
        told: list[tuple[Card, int]] = []

        def tell(card: Card, done: int) -> bool:
            told.append((card, done))
            return True

        card = card_of(lighthouse(), tell)
        done = [count for _, count in told]
        self.assertEqual(done, sorted(done))
        self.assertLessEqual(done[-1], card.runs)
        self.assertAlmostEqual(card.runs / RUNS_GUESSED, 1.0, delta=0.2)
        self.assertTrue(card.whole and not told[0][0].whole)
        self.assertEqual(replace(card, base=None, hall=()), replace(self.card, base=None, hall=()))
        with self.assertRaises(CalledOff):
            card_of(lighthouse(), lambda _card, done: done < 300)


class NumbersTest(unittest.TestCase):
    def test_each_number_of_the_law_stands_there_as_on_its_dial(self) -> None:
        for law in ("proportional", "PID", "mixed", "on-off"):
            setup = lighthouse(program__law=law)
            found = {number.label: number.value for number in numbers(setup)}
            for dial in setup.program.chosen.dials:
                if not dial.each_side:
                    quantity, value = quantity_at(setup.program, dial.path), value_at(setup.program, dial.path)
                    self.assertEqual(found[quantity.label], quantity.shown(value), dial.path)
            self.assertEqual(found["edge"], "left")
            self.assertEqual(found["loop time"], "10")
            self.assertEqual(found[setup.program.chosen.target_name], "50", law)
        pid = {number.label: number.value for number in numbers(lighthouse(program__law="PID"))}
        self.assertEqual(
            (pid["proportional gain"], pid["integral gain"], pid["derivative gain"]), ("0.80", "0.20", "0.030")
        )

    def test_two_sensors_have_no_edge_and_no_target_where_they_are_kept_even(self) -> None:
        found = {number.label for number in numbers(DEMOS["ropewalk"].make())}
        self.assertEqual(found, {"speed", "gain", "loop time"})
        table = {
            number.label for number in numbers(with_value(DEMOS["ropewalk"].make(), "program.arrangement", "table"))
        }
        self.assertEqual(len([label for label in table if "threshold" in label]), 2)

    def test_calibrating_is_told_for_each_sensor_and_with_the_readings_it_is_for(self) -> None:
        self.assertIn("8 and 78", first_card(lighthouse()).calibrate[0])
        self.assertIn("does not calibrate", first_card(lighthouse(light__calibrate=False)).calibrate[0])
        self.assertEqual(len(first_card(DEMOS["ropewalk"].make()).calibrate), 2)
        named = lighthouse(light__sensor__scale="colour names", program__law="on-off")
        self.assertIn("nothing to calibrate", first_card(named).calibrate[0])

    def test_where_it_is_set_down(self) -> None:
        self.assertIn("20 mm from the line's start, the sensor on its left edge", set_down(lighthouse()))
        turned = set_down(lighthouse(trial__start_angle_deg=-5.0))
        self.assertEqual(
            turned,
            "20 mm from the line's start, the sensor on its left edge, pointing along it; 0 mm off it and −5° turned "
            "to the left.",
        )
        self.assertIn("start zone", set_down(DEMOS["lantern"].make()))
        self.assertIn("between its sensors", set_down(DEMOS["ropewalk"].make()))


class HallRowTest(unittest.TestCase):
    def test_it_says_to_set_what_does_better_and_no_more_than_holds(self) -> None:
        def says(as_set: int, anew: int) -> str:
            tried = [SimpleNamespace(good=good, holds=good >= 19) for good in (as_set, anew)]
            return HallRow(10.0, 60.0, "target 31", *tried).says

        self.assertEqual(says(20, 20), "leave the numbers")
        self.assertEqual(says(3, 20), "target 31")
        self.assertEqual(says(3, 8), "target 31, though that does not hold there")
        for as_set, anew in ((3, 3), (8, 3), (0, 0)):
            self.assertEqual(says(as_set, anew), "no numbers tried hold there")


if __name__ == "__main__":
    unittest.main()
