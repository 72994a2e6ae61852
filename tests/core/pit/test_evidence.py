"""What stands on the pages for judges: chosen runs, their changes, their starts, the difference, the map."""

import unittest
from dataclasses import replace
from typing import ClassVar

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.pit import evidence
from irontrail.core.pit.evidence import Account, account_of, chosen, first_account
from irontrail.core.project import Evidence, KeptRun, Project
from irontrail.core.quantity import with_value
from irontrail.core.tune.batch import run_batch
from irontrail.core.tune.tries import Trying


def logbook() -> Project:
    """An afternoon: an on-off run, then proportional ones, one of them on another mat."""
    project = demo_project("lighthouse")
    other = demo_project("orchard").setup
    setups = [with_value(project.setup, "program.law", "on-off"), other, project.setup]
    setups.append(with_value(project.setup, "program.speed", 54.0))
    kept = tuple(KeptRun(i, setup, derive.figures(setup)) for i, setup in enumerate(setups, 1))
    return replace(project, kept=kept)


class AccountTest(unittest.TestCase):
    project: ClassVar[Project]
    account: ClassVar[Account]

    @classmethod
    def setUpClass(cls) -> None:
        cls.project = replace(logbook(), evidence=Evidence(runs=(1, 3, 4)))
        cls.account = account_of(cls.project)

    def test_the_chosen_runs_in_their_order_with_what_changed_from_one_to_the_next(self) -> None:
        steps = self.account.steps
        self.assertEqual([step.kept.number for step in steps], [1, 3, 4])
        self.assertEqual(steps[0].changed, "Lighthouse Loop, on-off")
        self.assertEqual(steps[1].changed, "law on-off → proportional")
        self.assertEqual(steps[2].changed, "speed 50 → 54 %")

    def test_each_over_the_same_starts_and_the_last_against_the_first(self) -> None:
        for step in self.account.steps:
            assert step.tried is not None
            np.testing.assert_array_equal(step.tried.times_s, Trying().one(step.kept.setup).times_s)
        first, last = self.account.steps[0].tried, self.account.steps[-1].tried
        faster = self.account.faster
        assert first is not None and last is not None and faster is not None
        self.assertAlmostEqual(faster.mean, float(np.nanmean(first.times_s - last.times_s)))
        self.assertTrue(0.0 < faster.low < faster.mean < faster.high)

    def test_the_map_is_of_the_last_run_and_as_run_again(self) -> None:
        made = self.account.map
        assert made is not None
        self.assertEqual(made.spec.setup, self.project.kept[3].setup)
        self.assertEqual([made.spec.x.path, made.spec.y.path], ["program.speed", "program.proportional.gain"])
        batch = run_batch([made.spec.setup_at(5, 7)], evidence.REPEATS)
        assert batch is not None
        self.assertEqual(made.finished[7, 5], batch.finished[0])

    def test_it_counts_its_runs_and_foretells_them(self) -> None:
        self.assertEqual(self.account.runs, evidence.runs_needed(self.project, True))
        self.assertEqual(evidence.runs_needed(self.project, False), 60)

    def test_without_a_choice_all_are_shown_and_without_runs_it_says_what_to_do(self) -> None:
        project = logbook()
        self.assertEqual(chosen(project), project.kept)
        self.assertEqual(chosen(replace(project, evidence=Evidence(runs=(9,)))), project.kept)
        with self.assertRaisesRegex(IronTrailError, "Keep a run with K"):
            first_account(demo_project("lighthouse"))

    def test_a_single_run_of_a_mat_is_compared_with_none(self) -> None:
        project = replace(logbook(), evidence=Evidence(runs=(1, 2)))
        account = account_of(project, with_map=False)
        self.assertIsNone(account.first)
        self.assertIsNone(account.map)
        self.assertIn("mat Orchard", account.steps[1].changed)

    def test_called_off_in_the_map_it_stops(self) -> None:
        told: list[int] = []

        def tell(_account: Account, done: int) -> bool:
            told.append(done)
            return done < 300

        with self.assertRaises(CalledOff):
            account_of(self.project, True, tell)
        self.assertLess(told[-1], 1000)
        self.assertEqual(told, sorted(told))


if __name__ == "__main__":
    unittest.main()
