"""Many runs at once against the same runs one by one."""

import unittest

import numpy as np

from irontrail.core import derive, many
from irontrail.core.engine import sweep
from irontrail.core.engine.pack import pack
from tests.support import lighthouse


class SweepTest(unittest.TestCase):
    SETUPS = tuple(
        lighthouse(program__law=law, program__speed=float(speed), trial__seed=seed)
        for law in ("on-off", "proportional", "PID")
        for speed in (40, 55, 70, 85)
        for seed in (1, 2, 3)
    )

    def test_each_run_is_the_single_run_bit_for_bit(self) -> None:
        found = many.sweep(self.SETUPS)
        for i, setup in enumerate(self.SETUPS):
            one, outcome = derive.figures(setup), found.outcomes()[i]
            self.assertEqual(
                (outcome, found.time_s[i], found.worst_edge_mm[i]), (one.outcome, one.time_s, one.worst_edge_mm)
            )
            self.assertAlmostEqual(found.wobble_mm[i], one.wobble_mm, places=9)
            self.assertAlmostEqual(found.rms_edge_mm[i], one.rms_edge_mm, places=9)
            self.assertAlmostEqual(found.clipped_share[i], one.clipped_share, places=12)

    def test_the_number_of_threads_changes_nothing(self) -> None:
        alone, beside = many.sweep(self.SETUPS, threads=1), many.sweep(self.SETUPS, threads=5)
        for name in vars(alone):
            np.testing.assert_array_equal(getattr(alone, name), getattr(beside, name), name)

    def test_it_stops_when_told_to_and_keeps_what_is_done(self) -> None:
        setup = lighthouse(trial__time_limit_s=2.0)
        packed = pack(setup, derive.route(setup.mat, False), derive.field(setup))
        many = np.repeat(packed.parameters, 40 * sweep.CHUNK)
        told: list[int] = []

        def proceed(done: int) -> bool:
            told.append(done)
            return done < 3 * sweep.CHUNK

        found = sweep.sweep(many, packed, 1, proceed)
        self.assertEqual(told[:3], [sweep.CHUNK, 2 * sweep.CHUNK, 3 * sweep.CHUNK])
        self.assertTrue((found.outcome[: 3 * sweep.CHUNK] > 0).all())
        self.assertTrue((found.outcome[-sweep.CHUNK :] == 0).all())
        self.assertTrue(np.isnan(found.time_s[-1]))

    def test_runs_of_many_loops_are_dealt_out_few_at_a_time(self) -> None:
        setup = lighthouse(program__loop_time_s=0.001, trial__time_limit_s=90.0)
        told: list[int] = []

        def proceed(done: int) -> bool:
            told.append(done)
            return True

        many.deal(many.AtHand([setup] * 6), 1, proceed)
        self.assertEqual(told, [2, 4, 6])

    def test_setups_of_different_mats_are_refused(self) -> None:
        with self.assertRaises(ValueError):
            many.sweep((lighthouse(), lighthouse(robot__mount__height_mm=12.0)))


if __name__ == "__main__":
    unittest.main()
