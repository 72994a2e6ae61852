"""Tuning: batches, maps, searches, duels, the rocking gain, strains and what is nearby; all repeat exactly."""

import sys
import unittest
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import cache
from typing import Any
from unittest import mock

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.light.rooms import Room
from irontrail.core.quantity import put, put_each, value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.shaking import AT_EVENT, Shaking
from irontrail.core.starts import perturbed
from irontrail.core.theory.linear import UltimateGain
from irontrail.core.tune import cloud, grid, looks, map_words, nearby, race, robustness, search_spec, ultimate_gain
from irontrail.core.tune import duel as duels
from irontrail.core.tune.axes import all_numbers, axis, foremost, is_combined, of_law, put_all, to_tune
from irontrail.core.tune.batch import MEASURES, Batch, measures_of, run_batch
from irontrail.core.tune.candidates import Candidate, Limits, cost_of_safety, keeps
from irontrail.core.tune.event import Event
from irontrail.core.tune.grid import GridMap, GridSpec, best_cell, explore, leeway_of, levels
from irontrail.core.tune.search import search
from irontrail.core.tune.search_spec import Found, SearchSpec
from irontrail.core.tune.tries import Tried, Trying
from irontrail.files import map_csv
from tests.support import lighthouse, stretches_of, two_bends


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
            if not is_combined(path):
                one_by_one = put(put(setup, path, middle), "robot.drive.grip", 0.7)
                if path != "robot.drive.grip":
                    self.assertEqual(put_each(setup, {path: middle, "robot.drive.grip": 0.7}), one_by_one)
                kept = value_at(made, path)
                self.assertIs(type(value_at(put_each(setup, {path: middle}), path)), type(kept), path)
            self.assertAlmostEqual(
                which.of(made), middle, delta=0.51 if path.endswith(("laps", "count", "loops")) else 1e-9, msg=path
            )

    def test_values_of_several_numbers_mean_the_same_in_any_order_and_whatever_stood_there(self) -> None:
        for law, paths in (("on-off", ("on_off.speed", "on_off.steer")), ("bands", ("bands.speed", "bands.steer"))):
            for speed, steer in ((90.0, 30.0), (20.0, 60.0), (50.0, 4.0)):
                made = set()
                for start in (
                    lighthouse(program__law=law),
                    lighthouse(program__law=law, program__on_off__dark_outer=90.0),
                ):
                    axes = [axis(start, path) for path in paths]
                    for order in (1, -1):
                        values = (speed, steer)[::order]
                        put = put_all(start, axes[::order], values)
                        made.add((put.program.on_off, put.program.bands)[law == "bands"])
                self.assertEqual(len(made), 1, (law, speed, steer))

    def test_dark_and_bright_are_put_wherever_the_other_one_was_and_never_on_one_another(self) -> None:
        for name, setup in (("light", lighthouse()), ("second", demo_project("ropewalk").setup)):
            axes = [axis(setup, f"{name}.calibration.{which}", 0.0, 100.0) for which in ("dark", "bright")]
            stood = put_all(setup, axes, (30.0, 60.0))
            for dark, bright, made in (
                (60.0, 90.0, (60.0, 90.0)), (10.0, 30.0, (10.0, 30.0)), (60.0, 30.0, (60.0, 30.0)),
                (40.0, 40.0, (40.0, 41.0)), (40.4, 40.0, (40.4, 39.4)), (100.0, 100.0, (100.0, 99.0)),
                (0.0, 0.0, (0.0, 1.0)),
            ):  # fmt: skip
                for order in (1, -1):
                    found = put_all(stood, axes[::order], (dark, bright)[::order])
                    self.assertEqual(tuple(each.of(found) for each in axes), made)
            for value in np.arange(0.0, 100.0, 0.1):
                put_all(stood, axes, (value, value))
            self.assertEqual([each.of(axes[0].put(stood, 59.5)) for each in axes], [59.0, 60.0])
            self.assertEqual(axes[1].of(axes[1].put(stood, 30.2)), 31.0)
        # A map in which they meet is drawn to its end.
        dark, bright = (axis(lighthouse(), f"light.calibration.{which}", 4.0, 16.0) for which in ("dark", "bright"))
        self.assertTrue(explore(GridSpec(lighthouse(), dark, bright, 12, 1)).done.all())

    def test_values_are_rounded_to_what_is_shown(self) -> None:
        speed, gain = axis(lighthouse(), "program.speed"), axis(lighthouse(), "program.proportional.gain")
        self.assertEqual((speed.rounded(51.4), gain.rounded(0.7449), gain.rounded(99.0)), (51.0, 0.74, 2.5))
        # Stored as a share, shown in percent.
        battery = axis(lighthouse(), "robot.drive.battery")
        self.assertEqual(battery.quantity.shown_per_stored, 100.0)
        self.assertAlmostEqual(battery.rounded(0.8372), 0.84)
        self.assertEqual(battery.shown(0.8372), "84")

    def test_a_search_changes_the_target_too_where_there_is_one(self) -> None:
        self.assertEqual(to_tune(lighthouse())[-1], "program.target")
        self.assertNotIn("program.target", to_tune(lighthouse(program__law="bands")))
        self.assertNotIn("program.target", to_tune(lighthouse(light__sensor__scale="colour names")))

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

    def test_the_best_cell_holds_with_all_round_it_and_on_fresh_starts(self) -> None:
        made = explore(self.spec(12, 3))
        best = best_cell(made, "time_s")
        i, j = best.cell
        around = made.finished[max(j - 1, 0) : j + 2, max(i - 1, 0) : i + 2]
        self.assertGreaterEqual(around.min(), 0.95)
        for k, (column, row) in enumerate(made.holding("time_s")):
            self.assertEqual((column, row) == (i, j), k == made.holding("time_s").index((i, j)))
        # A quicker cell that finishes as often, and falls off beside itself, is passed over.
        alone = (made.finished >= 0.95) & (made.values["time_s"] < made.values["time_s"][j, i])
        self.assertGreater(alone.sum(), 0)
        self.assertGreaterEqual(best.good, 0.95 * best.starts)
        fresh = Trying().one(made.spec.setup_at(i, j), fresh=3, starts=400)
        self.assertAlmostEqual(fresh.good / 400, best.good / best.starts, delta=0.03)
        self.assertAlmostEqual(best.value, float(np.nanmean(fresh.times_s)), delta=0.1)
        with self.assertRaises(CalledOff):
            best_cell(made, "time_s", lambda _done: False)

    def test_the_cliff_is_where_the_share_asked_for_is_crossed(self) -> None:
        spec = self.spec()
        leeway = leeway_of(spec)
        self.assertGreaterEqual(leeway.today, 0.95)
        by = leeway.to_cliff["x above"]
        shares = [
            Trying().one(lighthouse(program__speed=50.0 + by + off), fresh=5, starts=400).good / 400
            for off in (-2.0, 2.0)
        ]
        self.assertGreater(shares[0], 0.95)
        self.assertLess(shares[1], 0.95)
        self.assertIsNone(leeway.to_cliff["x below"])
        strict = leeway_of(replace(spec, share=0.999)).to_cliff["x above"]
        self.assertLessEqual(strict, by)
        lost = leeway_of(replace(spec, setup=lighthouse(program__speed=75.0)))
        self.assertEqual((lost.today, set(lost.to_cliff.values())), (0.0, {None}))
        with self.assertRaises(CalledOff):
            leeway_of(spec, lambda _done: False)

    def test_today_off_the_map_is_told_and_has_no_leeway(self) -> None:
        spec = replace(self.spec(), setup=lighthouse(program__speed=95.0))
        n = spec.cells
        made = GridMap(spec, np.ones((n, n), bool), np.ones((n, n)), {name: np.ones((n, n)) for name in MEASURES})
        self.assertEqual([each.path for each in made.off], ["program.speed"])
        self.assertIsNone(leeway_of(spec))
        self.assertEqual(map_words.of_today(made, None), "Today's speed 95 % lies off the map.")
        here = replace(made, spec=self.spec())
        ways = dict.fromkeys(("x below", "x above", "y below", "y above"))
        self.assertEqual(
            map_words.of_today(here, grid.Leeway(1.0, ways)), "No cliff is on the map beside today's numbers."
        )

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
            "program.speed (%),program.proportional.gain (% per unit),finished (0 to 1),time_s (s),wobble_mm (mm),"
            "rms_edge_mm (mm),worst_edge_mm (mm),clipped_share (0 to 1)",
        )
        self.assertEqual(len(lines), 101)
        self.assertEqual(float(lines[1].split(",")[0]), 42.5)


@cache
def searched(spec: SearchSpec) -> tuple[Found, list[tuple[int, int]]]:
    """What a search found, and the runs done and foreseen each time it told; looked at from more than one side."""
    told: list[tuple[int, int]] = []
    return search(spec, lambda found, done: told.append((done, found.of_runs)) or True), told


class SearchTest(unittest.TestCase):
    def search_of(self, **options: object) -> SearchSpec:
        setup = two_bends(program__law="PID")
        axes = tuple(axis(setup, path) for path in of_law("PID"))
        return SearchSpec(setup, axes, **{"generations": 10, "repeats": 4, "rounds": 2} | options)

    def test_it_finds_the_same_each_time_and_looks_at_nothing_twice(self) -> None:
        spec = self.search_of(generations=4, rounds=1)
        looked: list[tuple[float, ...]] = []

        def noted(setups: Sequence[Setup], starts: int, proceed: Any, threads: int | None, first: int) -> Batch | None:
            if first == looks.FIRST_LOOK:
                looked.extend(tuple(each.of(setup) for each in spec.axes) for setup in setups)
            return run_batch(setups, starts, proceed, threads, first)

        with mock.patch.multiple(search_spec, LOOKS=30, FOREMOST=4, CONFIRMING=200):
            with mock.patch.object(looks, "run_batch", noted):
                found = search(spec)
            again = search(spec, threads=1)
        self.assertEqual((found.best, found.course, found.trade_offs), (again.best, again.course, again.trade_offs))
        self.assertGreater(len(looked), 20)
        self.assertEqual(len(set(looked)), len(looked))

    def test_it_finds_much_better(self) -> None:
        found, _ = searched(self.search_of())
        now = derive.figures(found.spec.setup)
        self.assertLess(found.best.figure("time_s"), 0.75 * now.time_s)
        known = [value for value in found.course if np.isfinite(value)]
        self.assertEqual(known, sorted(known, reverse=True))
        self.assertTrue(found.settled and found.keeps)
        # None of those that none beats in both is slower than the next and swings as much.
        times, swings = ([each.figure(name) for each in found.trade_offs] for name in ("time_s", "wobble_mm"))
        self.assertGreater(len(times), 4)
        self.assertEqual((times, swings), (sorted(times), sorted(swings, reverse=True)))

    def test_how_many_runs_it_takes_is_foreseen(self) -> None:
        found, told = searched(self.search_of())
        self.assertEqual(found.of_runs, found.runs)
        self.assertEqual(told[0][1], found.spec.runs)
        for share, within in ((0.0, 0.5), (0.5, 0.4), (0.9, 0.25)):
            foreseen = next(of for done, of in told if done >= share * found.runs)
            self.assertAlmostEqual(foreseen / found.runs, 1.0, delta=within, msg=share)

    def test_what_is_told_holds_on_fresh_starts(self) -> None:
        found, _ = searched(self.search_of())
        best = found.best
        self.assertEqual(best.sure.starts, 1000)
        self.assertEqual(best.sure.good, round(1000 * best.finished))
        fresh = Trying().one(found.spec.setup_of(best.values), fresh=8, starts=400)
        self.assertAlmostEqual(fresh.good / 400, best.finished, delta=0.03)
        low, high = best.sure.time_s
        self.assertTrue(low < best.figure("time_s") < high)
        self.assertAlmostEqual(float(np.nanmean(fresh.times_s)), best.figure("time_s"), delta=3.0 * (high - low))

    def test_it_steps_back_from_a_cliff_at_which_its_rounds_ended(self) -> None:
        setup = with_value(demo_project("quarry").setup, "program.law", "on-off")
        axes = tuple(axis(setup, path) for path in to_tune(setup))
        with mock.patch.multiple(search_spec, LOOKS=60, FOREMOST=6, CONFIRMING=300):
            found = search(SearchSpec(setup, axes, generations=10, rounds=1, seed=4))
        self.assertTrue(found.keeps)
        # What its rounds themselves found and held takes 26.7 s.
        self.assertLess(found.best.figure("time_s"), 26.4)

    def test_values_are_those_a_team_can_set_inside_their_ranges(self) -> None:
        setup = two_bends(program__speed=95.0)
        axes = (axis(setup, "program.speed", 30.0, 60.0), axis(setup, "program.proportional.gain", 0.2, 0.9))
        found = search(SearchSpec(setup, axes, generations=6, rounds=1))
        speed, gain = found.best.values
        self.assertTrue(30.0 <= speed <= 60.0 and 0.2 <= gain <= 0.9)
        self.assertEqual((speed, gain), (round(speed), round(gain, 2)))

    def test_a_best_that_falls_off_beside_itself_is_passed_over(self) -> None:
        """At a speed of 60.5 the time limit is just kept, at 60 it is not: so much is between two values of a dial."""
        setup = lighthouse(trial__shaken=Shaking(0.0, 0.0, 0.0, 0.0, 0.0), light__sensor__noise=0.0)
        quick, slow = (derive.run(with_value(setup, "program.speed", speed)).time_s for speed in (56.0, 55.0))
        edge = with_value(setup, "trial.time_limit_s", 0.5 * (quick + slow))
        # The least swing is that of the slowest which is in time; a step slower is out of it.
        spec = SearchSpec(edge, (axis(edge, "program.speed", 53.0, 61.0),), "wobble_mm", generations=12, rounds=1)
        found = search(spec)
        self.assertGreater(found.best.values[0], 56.0)
        self.assertIn("falls off when speed is set a little otherwise", found.says)

    def test_limits_are_kept_or_nothing_is_said_to(self) -> None:
        limits = Limits(0.95, swing_mm=3.0, clipped_share=0.02)
        self.enterContext(mock.patch.multiple(search_spec, LOOKS=30, FOREMOST=4, CONFIRMING=200))
        found = search(self.search_of(limits=limits, rounds=1))
        self.assertTrue(keeps(limits, found.best))
        self.assertLessEqual(found.best.figure("wobble_mm"), 3.0)
        times = [each.figure("time_s") for each in found.trade_offs]
        swings = [each.figure("wobble_mm") for each in found.trade_offs]
        self.assertEqual((times, swings), (sorted(times), sorted(swings, reverse=True)))
        never = search(self.search_of(limits=Limits(0.95, swing_mm=0.01), generations=4, rounds=1))
        self.assertEqual((never.keeps, never.says), (False, "Nothing keeps all the limits."))

    def test_rounds_go_on_until_two_agree(self) -> None:
        setup = lighthouse()
        one = search(SearchSpec(setup, (axis(setup, "program.target", 49.0, 51.0),), generations=20))
        self.assertTrue(one.agreed)
        self.assertIn("Two searches from different places agree within 0.", one.says)
        self.assertLess(len(one.course), 41)

    def test_at_the_event_it_is_judged_as_it_is_there(self) -> None:
        setup = two_bends()
        event = Event(Room("hall", 0.8, 9.0, 0.3), Shaking(8.0, 8.0, 20.0, 0.3, 0.1), calibrated=False)
        axes = (axis(setup, "program.speed"), axis(setup, "program.proportional.gain"))
        found = search(SearchSpec(setup, axes, generations=6, repeats=6, rounds=1, event=event))
        there = event.there(found.spec.setup_of(found.best.values))
        self.assertEqual((there.light.room_light, there.robot.mount.height_mm), (0.8, 9.0))
        fresh = Trying().one(there, fresh=9, starts=400)
        self.assertAlmostEqual(fresh.good / 400, found.best.finished, delta=0.04)
        shares = [each.finished for each in found.trade_offs]
        times = [each.figure("time_s") for each in found.trade_offs]
        self.assertEqual((shares, times), (sorted(shares), sorted(times)))
        if len(shares) > 1:
            self.assertEqual(cost_of_safety(found.trade_offs), (shares[-1] - shares[0], times[-1] - times[0]))

    def test_what_moves_its_candidates_does_without_what_takes_long_to_import(self) -> None:
        without = {name: each for name, each in sys.modules.items() if name.split(".")[0] != "cma"}
        without.pop(cloud.UNWANTED, None)
        with mock.patch.dict(sys.modules, without, clear=True):
            self.assertTrue(cloud._package().CMAEvolutionStrategy)
            self.assertNotIn(cloud.UNWANTED, sys.modules)
            # Searches begin at the same time.
            with ThreadPoolExecutor(4) as pool:
                self.assertEqual(len(set(pool.map(lambda _: cloud._package(), range(4000)))), 1)

    def test_it_is_called_off(self) -> None:
        self.assertIsNone(search(self.search_of(), lambda _found, done: done < 100))


class DuelTest(unittest.TestCase):
    def test_pid_wins_by_so_much(self) -> None:
        spec = duels.DuelSpec(two_bends(), generations=5, repeats=4, rounds=2)
        with mock.patch.multiple(search_spec, LOOKS=20, FOREMOST=4, CONFIRMING=100, MOST_CONFIRMED=2):
            made = duels.duel(spec)
        self.assertEqual([each.name for each in made.duellists], list(duels.DUELLISTS))
        for each, tried in zip(made.duellists, made.tried, strict=True):
            self.assertEqual(each.setup.program.law, each.name)
            self.assertEqual((each.setup.mat, each.setup.robot), (spec.setup.mat, spec.setup.robot))
            self.assertEqual((tried.setup.program, tried.starts), (each.setup.program, duels.STARTS))
        paths = [each.path for each in spec.search_of("proportional").axes]
        self.assertLessEqual({"program.target", "program.proportional.dark_ratio"}, set(paths))
        self.assertIn("program.target", [each.path for each in spec.search_of("on-off").axes])
        first, second = made.ranked[:2]
        self.assertEqual(made.duellists[first].name, "PID")
        gap = made.against(first, second).time
        self.assertGreater(gap.low, 0.1)
        if made.winner is not None:
            self.assertIn(f"PID wins: {gap.mean:.2f} s", duels.in_words(made))

    def test_nobody_wins_who_breaks_a_limit_or_is_still_searching_or_is_even(self) -> None:
        def made(times: list[float], keeps_: list[bool], agreed: list[bool]) -> duels.Duel:
            spec = duels.DuelSpec(lighthouse())
            names = spec.laws[: len(times)]
            duellists = []
            for name, time, keep, sure in zip(names, times, keeps_, agreed, strict=True):
                figures = tuple((each, time if each == "time_s" else 0.0) for each in MEASURES)
                best = Candidate((1.0,), 1.0 if keep else 0.5, 0.0, figures)
                found = Found(spec.search_of(name), best, (), (), 1, "", True, sure)
                duellists.append(duels.Duellist(name, lighthouse(), found))
            jitter = np.linspace(-0.01, 0.01, 20)
            tried = tuple(Tried(lighthouse(), time + jitter * (i + 1), jitter + 3.0) for i, time in enumerate(times))
            return duels.Duel(spec, tuple(duellists), tried)

        clear = made([12.0, 15.0], [True, True], [True, True])
        self.assertEqual((clear.winner, duels.in_words(clear)[:20]), (0, "on-off wins: 3.00 s "))
        even = made([12.0, 12.02], [True, True], [True, True])
        self.assertEqual((even.winner, duels.in_words(even)), (None, "on-off and bands are even."))
        broken = made([12.0, 15.0], [False, True], [True, True])
        self.assertEqual((broken.ranked, duels.in_words(broken)), ((1, 0), "Only bands keeps the limits."))
        searching = made([12.0, 15.0], [True, True], [False, True])
        self.assertIsNone(searching.winner)
        self.assertIn("still finding better: nobody has won yet", duels.in_words(searching))
        none = made([12.0, 15.0], [False, False], [True, True])
        self.assertEqual(duels.in_words(none), "None of them keeps the limits.")


class RockingTest(unittest.TestCase):
    def test_theory_and_engine_agree_within_two_percent(self) -> None:
        end = {"light__calibrate": False, "program__target": 65.2, "mat__line__width_mm": 53.2}
        for changed in (
            {}, {"program__speed": 30.0}, {"program__speed": 90.0}, {"robot__mount__ahead_mm": 40.0},
            {"light__sensor__lag_s": 0.005}, {"light__sensor__lag_s": 0.03}, {"program__target": 30.0},
            {"program__target": 65.0}, {"light__calibrate": False}, {"program__decision_loops": 2},
            {"light__calibrate": False, "light__sensor__reads_high_on": "dark", "program__target": 60.0},
            {"mat__line__border_mm": 9.0, "mat__colour": "#a08050", "light__calibrate": False, "program__target": 45.0},
            # Near the ends of what is read, where the edge is as steep only for a fraction of a millimetre.
            {**end, "robot__mount__height_mm": 13.7, "program__speed": 59.0, "robot__mount__ahead_mm": 34.2},
            {**end, "program__target": 67.7, "mat__line__border_mm": 5.7, "program__decision_loops": 4},
        ):  # fmt: skip
            setup = lighthouse(**changed)
            theory, engine = ultimate_gain.from_theory(setup), ultimate_gain.from_engine(setup)
            self.assertLess(abs(engine.gain / theory.gain - 1.0), 0.02, changed)
            self.assertLess(abs(engine.hertz / theory.hertz - 1.0), 0.03, changed)

    def test_what_swings_too_slowly_for_the_straight_is_not_told(self) -> None:
        slow = {"light__calibrate": False, "robot__mount__ahead_mm": 27.4, "robot__drive__response_time_s": 0.113}
        for changed in (
            {"program__speed": 42.5, "robot__mount__height_mm": 6.5, **slow},
            {"program__speed": 36.7, "light__sensor__lag_s": 0.02, **slow},
            {"program__speed": 60.0, **slow},
        ):
            with self.assertRaisesRegex(IronTrailError, "too few swings"):
                ultimate_gain.from_engine(lighthouse(**changed))
        told = [(ultimate_gain.never_calm(each), ultimate_gain.from_theory(each) is None) for each in
                (lighthouse(**changed), lighthouse())]  # fmt: skip
        self.assertEqual(told, [(True, True), (False, False)])

    def test_a_gain_of_its_own_on_the_dark_side_is_kept_and_theory_is_silent(self) -> None:
        setup = lighthouse(program__proportional__dark_ratio=1.5)
        with self.assertRaisesRegex(IronTrailError, "not one slope"):
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
    EVENT = Event(Room("hall", 0.7, 9.0, 0.4), AT_EVENT, calibrated=True)

    def test_here_there_each_strain_and_what_helps(self) -> None:
        setup = two_bends(program__speed=82.0)
        with mock.patch.multiple(robustness, TOGETHER=40, MORE_SETS=1, TRIES=10):
            made = robustness.robustness_of(setup, self.EVENT)
        strains = "room light, sensor height, battery, start off the edge, start turned, line worn, wheels unlike"
        self.assertEqual(", ".join(each.strain.name for each in made.single), strains)
        for each in made.single:
            self.assertIn(0.0, each.changes)
            self.assertEqual((len(each.changes), each.tries), (robustness.LEVELS, 10))
            low, high = (int(part) for part in each.says(0).split("truly ")[1].rstrip(" %)").split(" to "))
            self.assertTrue(low <= 100 * each.finished[0] <= high)
        here, as_set, calibrated = made.places
        self.assertEqual(here.over.setup.light.room_light, setup.light.room_light)
        self.assertEqual(as_set.over.setup.light.room_light, 0.7)
        self.assertNotEqual(as_set.over.setup.light.calibration, calibrated.over.setup.light.calibration)
        self.assertGreater(here.over.good / here.over.starts, calibrated.over.good / calibrated.over.starts)
        self.assertEqual([each.over.starts for each in made.places], [40, 80, 80])
        self.assertGreaterEqual(robustness.MORE_SETS * robustness.TOGETHER, 500)
        self.assertEqual(len(set(calibrated.over.times_s[np.isfinite(calibrated.over.times_s)])), calibrated.over.good)
        best = made.bought[0]
        self.assertTrue(best.says.startswith("Speed "))
        first = int(np.isfinite(calibrated.over.times_s[:40]).sum())
        self.assertEqual((best.against.finishing, best.against.one.good), ("better", first))
        self.assertLess(best.setup.program.speed, 82.0)
        self.assertFalse(made.worst[0].finished)
        self.assertNotEqual(derive.figures(made.worst[0].setup).outcome, "finished")
        self.assertRegex(made.worst[0].says, r"^aside [+−]\d\.\d mm, turned .* light [+−]\d+ %, .* worn \+\d\.\d mm$")

    def test_it_repeats_on_any_number_of_threads_and_is_called_off(self) -> None:
        setup, event = two_bends(), replace(self.EVENT, shaken=replace(AT_EVENT, wear_mm=0.0, height_mm=0.0))
        one, two = (robustness.robustness_of(setup, event, threads=threads) for threads in (1, 2))
        self.assertEqual([each.good for each in one.single], [each.good for each in two.single])
        self.assertEqual([each.over.good for each in one.places], [each.over.good for each in two.places])
        self.assertEqual([each.strain.name for each in one.single][-1], "wheels unlike")
        self.assertIsNone(robustness.robustness_of(setup, event, lambda _holds, done: done < 300))

    def test_not_calibrated_there_calibrating_is_one_of_the_changes(self) -> None:
        event = replace(self.EVENT, calibrated=False, shaken=Shaking())
        made = robustness.robustness_of(lighthouse(light__room_light=0.1), event)
        self.assertIn("Calibrate there", [each.says for each in made.bought])
        as_set = made.places[1].over.times_s[: robustness.TOGETHER]
        for each in made.bought:
            np.testing.assert_array_equal(each.against.one.times_s, as_set)

    def test_each_start_is_worn_in_its_own_way(self) -> None:
        strain = next(each for each in robustness.strains_of(AT_EVENT) if each.name == "line worn")
        seeds = {strain.put(lighthouse(), 1.0, pattern).mat.line.unevenness_seed for pattern in range(9)}
        self.assertEqual(len(seeds), 9)
        self.assertEqual((strain.least, strain.most), (0.0, 1.5))
        self.assertIs(strain.put(lighthouse(), 0.0).mat.line.unevenness_seed, lighthouse().mat.line.unevenness_seed)

    def test_a_strain_is_held_inside_what_can_be(self) -> None:
        strain = robustness.strains_of(AT_EVENT)[0]
        self.assertEqual(strain.put(lighthouse(), 0.9).light.room_light, 1.0)
        self.assertEqual(strain.shown(-0.2), "−20 %")
        self.assertEqual(robustness.strains_of(Shaking(0.0, 0.0, 0.0, 0.0, 0.0)), ())


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
        self.assertEqual(advice.before.good, 0)
        self.assertGreater(advice.after.good, 0.9 * advice.after.starts)

    def test_what_is_saved_is_saved_on_fresh_starts(self) -> None:
        setup = lighthouse(program__speed=61.0)
        found = nearby.what_next(setup, foremost(setup))
        again = Trying()([setup, *(each.setup for each in found)], fresh=77, starts=400)
        failed = 2.0 * found[0].before.time_s
        losses = [np.where(np.isfinite(each.times_s), each.times_s, failed).mean() for each in again]
        for each, loss in zip(found, losses[1:], strict=True):
            self.assertGreater(each.saves.low, 0.0)
            self.assertAlmostEqual(losses[0] - loss, each.saves.mean, delta=0.35 * each.saves.mean + 0.2)
            self.assertLessEqual(len(each.changes), 2)

    def test_who_fears_a_failed_run_more_is_told_what_fails_less(self) -> None:
        setup = lighthouse(program__speed=63.0)
        bold, careful = (nearby.what_next(setup, ("program.speed",), failed_times=times) for times in (1.0, 6.0))
        self.assertGreater(careful[0].after.good, careful[0].before.good)
        self.assertGreater(careful[0].after.time_s, careful[0].before.time_s)
        # To whom a failed run is as good as one that takes as long, slower is nothing to save by.
        self.assertTrue(all(each.after.time_s < careful[0].after.time_s for each in bold))

    def test_where_nothing_surely_helps_nothing_is_advised(self) -> None:
        best = search(SearchSpec(two_bends(), (axis(two_bends(), "program.speed"),), generations=12, rounds=1))
        setup = best.spec.setup_of(best.best.values)
        for each in nearby.what_next(setup, ("program.speed",)):
            self.assertGreater(each.saves.low, 0.0)
        self.assertEqual(nearby.what_next(setup, ()), ())


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
        rows = race.differences(stretches_of(fast), stretches_of(slow))
        whole = derive.figures(slow).time_s - derive.figures(fast).time_s
        self.assertLess(abs(sum(row.time_s for row in rows) - whole), 0.1)
        self.assertEqual(len(rows), len(stretches_of(fast)))
