"""Tuning: batches, maps, searches, duels, the rocking gain, strains and what is nearby; all repeat exactly."""

import unittest
from dataclasses import replace

import numpy as np

from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import with_value
from irontrail.core.starts import perturbed
from irontrail.core.theory.linear import UltimateGain
from irontrail.core.tune import duel as duels
from irontrail.core.tune import nearby, race, robustness, ultimate_gain
from irontrail.core.tune.axes import all_numbers, axis, foremost, is_combined, of_law
from irontrail.core.tune.batch import MEASURES, measures_of, run_batch
from irontrail.core.tune.grid import GridSpec, explore, levels
from irontrail.core.tune.search import Limits, SearchSpec, keeps, search
from irontrail.files import map_csv
from tests.support import lighthouse, setup_with


class BatchTest(unittest.TestCase):
    def test_each_is_the_mean_of_its_shaken_runs(self) -> None:
        setups = [lighthouse(), lighthouse(program__speed=66.0), lighthouse(robot__mount__height_mm=10.0)]
        batch = run_batch(setups, 4)
        for i, setup in enumerate(setups):
            figures = [derive.figures(perturbed(setup, k)) for k in (1, 2, 3, 4)]
            good = [each for each in figures if each.outcome == "finished"]
            self.assertEqual(batch.finished[i], len(good) / 4)
            for name in measures_of(setups[i]):
                expected = np.mean([getattr(each, name) for each in good]) if good else np.nan
                np.testing.assert_allclose(batch.values[name][i], expected, rtol=1e-9)

    def test_the_same_on_any_number_of_threads(self) -> None:
        setups = [lighthouse(program__speed=40.0 + 2.0 * k) for k in range(12)]
        one, four = run_batch(setups, 3, threads=1), run_batch(setups, 3, threads=4)
        for name in MEASURES:
            np.testing.assert_array_equal(one.values[name], four.values[name])

    def test_it_is_called_off(self) -> None:
        told: list[int] = []

        def proceed(done: int) -> bool:
            told.append(done)
            return False

        self.assertIsNone(run_batch([lighthouse()] * 200, 1, proceed, threads=2))
        self.assertLess(len(told), 4)


class AxesTest(unittest.TestCase):
    def test_every_number_can_be_read_and_put(self) -> None:
        setup = lighthouse()
        self.assertGreater(len(all_numbers(setup)), 30)
        self.assertNotIn("program.pid.kp", all_numbers(setup))
        for path in (*all_numbers(setup), *filter(is_combined, of_law("on-off") + of_law("bands"))):
            which = axis(setup, path)
            self.assertLess(which.low, which.high, path)
            middle = which.at(0.5)
            if which.quantity.step == 1 and path.endswith(("laps", "highest_count", "decision_loops")):
                middle = round(middle)
            made = which.put(setup, middle)
            self.assertAlmostEqual(
                which.of(made), middle, delta=0.51 if path.endswith(("laps", "count", "loops")) else 1e-9, msg=path
            )

    def test_speed_and_steer_of_a_law_with_many_powers(self) -> None:
        setup = lighthouse(program__law="bands")
        made = axis(setup, "bands.steer").put(axis(setup, "bands.speed").put(setup, 60.0), 30.0)
        steps = made.program.bands.steps
        self.assertEqual((steps[0].left, steps[0].right, steps[-1].left, steps[-1].right), (30.0, 90.0, 90.0, 30.0))
        self.assertEqual((steps[2].left, steps[2].right), (60.0, 60.0))
        on_off = axis(setup, "on_off.steer").put(axis(setup, "on_off.speed").put(setup, 40.0), 20.0).program.on_off
        self.assertEqual((on_off.dark_outer, on_off.light_inner), (60.0, 20.0))


class MapTest(unittest.TestCase):
    def spec(self, cells: int = 10, repeats: int = 2) -> GridSpec:
        setup = lighthouse()
        return GridSpec(
            setup,
            axis(setup, "program.speed", 40.0, 90.0),
            axis(setup, "program.proportional.gain", 0.3, 1.5),
            cells,
            repeats,
        )

    def test_each_cell_comes_once_the_coarse_ones_first(self) -> None:
        for cells in (10, 30, 100):
            order = [cell for level in levels(cells) for cell in level]
            self.assertEqual(len(order), cells * cells)
            self.assertEqual(len(set(order)), cells * cells)
        first = next(iter(levels(32)))
        self.assertEqual(len(first), 16)

    def test_a_map_repeats_exactly_and_its_cells_are_the_engines_runs(self) -> None:
        spec = self.spec()
        grown: list[int] = []
        made = explore(spec, lambda so_far, _done: grown.append(int(so_far.done.sum())) or True)
        again = explore(spec, threads=1)
        self.assertTrue(made.done.all())
        self.assertEqual(grown, sorted(grown))
        for name in MEASURES:
            np.testing.assert_array_equal(made.values[name], again.values[name])
        figures = [derive.figures(perturbed(spec.setup_at(2, 4), k)) for k in (1, 2)]
        self.assertEqual(made.finished[4, 2], np.mean([each.outcome == "finished" for each in figures]))
        self.assertAlmostEqual(made.values["time_s"][4, 2], np.mean([each.time_s for each in figures]), places=9)

    def test_the_best_cell_and_the_room_to_the_cliff(self) -> None:
        made = explore(self.spec())
        i, j = made.best("time_s")
        good = (made.finished >= 1.0) & np.isfinite(made.values["time_s"])
        self.assertEqual(made.values["time_s"][j, i], made.values["time_s"][good].min())
        room = made.room()["x above"]
        at = made.spec.setup.program.speed + room
        row = int((0.7 - 0.3) / 1.2 * 10)
        lost = [k for k in range(10) if made.finished[row, k] < 0.5 and made.spec.value(made.spec.x, k) > 50.0]
        self.assertAlmostEqual(at, made.spec.value(made.spec.x, lost[0]) - 2.5)

    def test_what_is_not_run_yet_shows_the_coarse_cell(self) -> None:
        seen = []

        def tell(so_far, _done):
            if so_far.done.sum() == 4 and not seen:
                seen.append(so_far.shown("time_s"))
            return not seen

        self.assertIsNone(explore(self.spec(), tell))
        values, share = seen[0]
        self.assertTrue(np.isfinite(share).all())
        self.assertLessEqual(len(np.unique(values[np.isfinite(values)])), 4)

    def test_as_a_table(self) -> None:
        made = explore(self.spec(10, 1))
        lines = map_csv.to_text(made).splitlines()
        self.assertEqual(
            lines[0],
            "program.speed,program.proportional.gain,finished,time_s,wobble_mm,rms_edge_mm,worst_edge_mm,clipped_share",
        )
        self.assertEqual(len(lines), 101)
        self.assertEqual(float(lines[1].split(",")[0]), 42.5)


class SearchTest(unittest.TestCase):
    def search_of(self, **options: object) -> SearchSpec:
        setup = lighthouse(program__law="PID")
        axes = tuple(axis(setup, path) for path in of_law("PID"))
        return SearchSpec(setup, axes, generations=8, repeats=3, **options)

    def test_it_finds_much_better_and_the_same_each_time(self) -> None:
        found, again = search(self.search_of()), search(self.search_of(), threads=1)
        self.assertEqual((found.best, found.course, found.trade_offs), (again.best, again.course, again.trade_offs))
        now = derive.figures(found.spec.setup)
        self.assertLess(found.best.figure("time_s"), 0.75 * now.time_s)
        self.assertGreaterEqual(found.best.finished, 0.95)
        self.assertTrue(found.best.confirmed)
        known = [value for value in found.course if np.isfinite(value)]
        self.assertEqual(known, sorted(known, reverse=True))
        self.assertIn("still finding better", found.says)

    def test_limits_are_kept(self) -> None:
        limits = Limits(1.0, swing_mm=3.0, clipped_share=0.02)
        found = search(self.search_of(limits=limits))
        self.assertTrue(keeps(limits, found.best))
        self.assertLessEqual(found.best.figure("wobble_mm"), 3.0)
        times = [each.figure("time_s") for each in found.trade_offs]
        swings = [each.figure("wobble_mm") for each in found.trade_offs]
        self.assertEqual((times, swings), (sorted(times), sorted(swings, reverse=True)))

    def test_it_stops_when_it_finds_nothing_better(self) -> None:
        setup = lighthouse()
        spec = SearchSpec(setup, (axis(setup, "program.target", 49.0, 51.0),), repeats=1, generations=60)
        found = search(spec)
        self.assertLess(len(found.course), 60)
        self.assertIn("nothing better", found.says)

    def test_it_is_called_off(self) -> None:
        self.assertIsNone(search(self.search_of(), lambda _found, done: done < 100))


class DuelTest(unittest.TestCase):
    def test_each_law_has_as_many_runs_and_pid_wins_the_circuit(self) -> None:
        spec = duels.DuelSpec(lighthouse(), runs_each=700, repeats=3)
        budgets = [law.population * law.generations * law.repeats for law in map(spec.search_of, spec.laws)]
        self.assertLess(max(budgets) - min(budgets), 80)
        made = duels.duel(spec)
        self.assertEqual([each.name for each in made.duellists], list(duels.DUELLISTS))
        for each in made.duellists:
            self.assertEqual(each.setup.program.law, each.name)
            self.assertEqual((each.setup.mat, each.setup.robot), (spec.setup.mat, spec.setup.robot))
        times = {each.name: each.best.figure("time_s") for each in made.duellists}
        self.assertEqual(min(times, key=times.get), "PID")


class RockingTest(unittest.TestCase):
    def test_theory_and_engine_agree_within_two_percent(self) -> None:
        for changed in (
            {}, {"program__speed": 30.0}, {"program__speed": 90.0}, {"robot__mount__ahead_mm": 40.0},
            {"light__sensor__lag_s": 0.005}, {"light__sensor__lag_s": 0.03}, {"program__target": 30.0},
            {"program__target": 65.0}, {"light__calibrate": False}, {"program__decision_loops": 2},
            {"light__calibrate": False, "light__sensor__reads_high_on": "dark", "program__target": 60.0},
            {"mat__line__border_mm": 9.0, "mat__colour": "#a08050", "light__calibrate": False, "program__target": 45.0},
        ):  # fmt: skip
            setup = lighthouse(**changed)
            theory, engine = ultimate_gain.from_theory(setup), ultimate_gain.from_engine(setup)
            self.assertLess(abs(engine.gain / theory.gain - 1.0), 0.02, changed)
            self.assertLess(abs(engine.hertz / theory.hertz - 1.0), 0.03, changed)

    def test_a_gain_of_its_own_on_the_dark_side_is_kept_and_theory_is_silent(self) -> None:
        setup = lighthouse(program__proportional__dark_ratio=1.5)
        with self.assertRaisesRegex(IronTrailError, "no linear theory"):
            ultimate_gain.from_theory(setup)
        even, uneven = ultimate_gain.from_engine(lighthouse()), ultimate_gain.from_engine(setup)
        self.assertTrue(even.gain / 1.5 < uneven.gain < even.gain, (even, uneven))

    def test_it_says_that_a_wheel_was_at_its_limit(self) -> None:
        self.assertFalse(ultimate_gain.from_engine(lighthouse()).clipped)
        fast = ultimate_gain.from_engine(lighthouse(program__speed=99.8))
        self.assertTrue(fast.clipped)

    def test_the_rules_as_published(self) -> None:
        """Ziegler and Nichols by hand: 0.6 Ku, half the period of integral, an eighth of derivative."""
        kp, ki, kd = ultimate_gain.RULES[1].gains(2.0, 0.5)
        self.assertAlmostEqual(kp, 1.2)
        self.assertAlmostEqual(ki, 1.2 / 0.25)
        self.assertAlmostEqual(kd, 1.2 * 0.0625)
        made = ultimate_gain.with_rule(lighthouse(), ultimate_gain.RULES[1], UltimateGain(0.7, 3.8))
        self.assertEqual((made.program.law, made.program.pid.kp), ("PID", 0.42))
        half = ultimate_gain.with_rule(lighthouse(), ultimate_gain.RULES[0], UltimateGain(0.7, 3.8))
        self.assertEqual((half.program.law, half.program.proportional.gain), ("proportional", 0.35))
        with self.assertRaisesRegex(IronTrailError, "cannot be set"):
            ultimate_gain.with_rule(lighthouse(), ultimate_gain.RULES[1], UltimateGain(40.0, 30.0))


class HoldsTest(unittest.TestCase):
    def test_strains_singly_and_together(self) -> None:
        setup = lighthouse(program__speed=62.0)
        made, again = robustness.robustness_of(setup), robustness.robustness_of(setup, threads=1)
        self.assertEqual([each.finished for each in made.single], [each.finished for each in again.single])
        self.assertEqual(made.together, again.together)
        names = [each.strain.name for each in made.single]
        self.assertEqual(
            names, ["room light", "sensor height", "battery", "start off the edge", "line worn", "wheels unlike"]
        )
        for each in made.single:
            self.assertIn(0.0, each.changes)
            self.assertEqual(len(each.changes), robustness.LEVELS)
        worn = next(each for each in made.single if each.strain.name == "line worn")
        self.assertLess(worn.finished[-1], worn.finished[0])
        self.assertFalse(made.worst[0].finished)
        self.assertNotEqual(derive.figures(made.worst[0].setup).outcome, "finished")

    def test_a_strain_is_held_inside_what_can_be(self) -> None:
        strain = robustness.STRAINS[0]
        self.assertEqual(strain.put(lighthouse(), 0.9).light.room_light, 1.0)
        self.assertEqual(strain.shown(-0.2), "−20 %")


class NearbyTest(unittest.TestCase):
    def test_what_a_number_does_nearby(self) -> None:
        (speed,) = nearby.look_nearby(lighthouse(), ("program.speed",))
        self.assertEqual(speed.values[speed.today], 50.0)
        self.assertEqual(speed.time_s[0], max(speed.time_s))
        here = [derive.figures(perturbed(lighthouse(), k)) for k in range(1, nearby.REPEATS + 1)]
        self.assertAlmostEqual(
            speed.room_mm[speed.today], 60.0 - np.mean([each.worst_edge_mm for each in here]), places=9
        )

    def test_for_a_lost_run_the_change_that_finishes_comes_first(self) -> None:
        setup = lighthouse(program__speed=72.0)
        advice = nearby.what_next(setup, foremost(setup))[0]
        self.assertEqual((advice.before[0], advice.after[0]), (0.0, 1.0))
        self.assertEqual(derive.figures(advice.setup).outcome, "finished")

    def test_for_a_run_that_finishes_time_is_won(self) -> None:
        setup = lighthouse()
        advice = nearby.what_next(setup, foremost(setup))[0]
        self.assertLess(advice.after[1], 0.95 * advice.before[1])
        self.assertEqual(advice.after[0], 1.0)


class RaceTest(unittest.TestCase):
    def test_the_gap_is_the_difference_at_the_same_place(self) -> None:
        fast, slow = derive.run(lighthouse(program__speed=55.0)), derive.run(lighthouse())
        half = race.time_at(fast, 2500.0)
        self.assertAlmostEqual(race.gap_s(fast, slow, half), race.time_at(slow, 2500.0) - half, places=6)
        self.assertGreater(race.gap_s(fast, slow, half), 0.5)
        self.assertLess(race.gap_s(slow, fast, race.time_at(slow, 2500.0)), -0.5)
        lost = derive.run(lighthouse(program__speed=75.0))
        self.assertIsNone(race.gap_s(slow, lost, slow.time_s - 0.5))
        self.assertEqual(race.gap_s(slow, slow, 3.0), 0.0)

    def test_stretches_sum_up_to_the_difference_of_the_times(self) -> None:
        fast, slow = lighthouse(program__speed=55.0), lighthouse()
        rows = race.differences(derive.stretches(fast), derive.stretches(slow))
        whole = derive.figures(slow).time_s - derive.figures(fast).time_s
        self.assertLess(abs(sum(row.time_s for row in rows) - whole), 0.1)
        self.assertEqual(len(rows), len(derive.stretches(fast)))

    def test_better_or_lucky_over_the_same_starts(self) -> None:
        setups = [lighthouse(), lighthouse(program__speed=55.0), setup_with(lighthouse(), trial__seed=99)]
        chances = race.better_or_lucky(setups, starts=6)
        self.assertEqual([chance.wins for chance in chances], [0, 6, 0])
        self.assertEqual(chances[0].times_s, chances[2].times_s)
        alike = replace(setups[1], trial=replace(setups[1].trial, seed=setups[0].trial.seed))
        self.assertAlmostEqual(chances[1].times_s[3], derive.figures(perturbed(alike, 4)).time_s, places=9)
        lost = race.better_or_lucky([with_value(lighthouse(), "program.speed", 90.0)], starts=4)
        self.assertEqual((lost[0].finished, lost[0].wins), (0.0, 0))
