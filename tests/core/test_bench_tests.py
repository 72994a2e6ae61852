"""Bench tests done on the engine's own robot give back the numbers it was made with."""

import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from irontrail.core.engine.pack import pack_plant
from irontrail.core.engine.plant import PLANT_STATE, STRIDE, coast, make_stride, plant_step, stand
from irontrail.core.errors import IronTrailError, OutOfRangeError
from irontrail.core.robot.bench_tests import BENCH_TESTS, counts_per_cm, measured
from irontrail.core.robot.drive import Drive
from irontrail.core.robot.mount import Robot

TRUE = Drive(
    track_width_mm=126.0, wheel_diameter_mm=49.0, top_speed_mm_s=610.0, response_time_s=0.11, mismatch_percent=3.0
)
# What the team believes before it measures.
BELIEVED = Drive()


class Table:
    """A robot on a table, driven in open loop by the engine's own motion."""

    def __init__(self, true: Drive, **values: Any) -> None:
        self.true = replace(true, **values)
        self.plant, self.states = pack_plant(replace(Robot(), drive=self.true)), np.zeros(1, PLANT_STATE)
        stand(self.states[0], 0.0, 0.0, 0.0)

    def drive(self, left: float, right: float, seconds: float) -> "Table":
        """Both powers for some time."""
        stride = np.zeros(1, STRIDE)
        make_stride(self.plant[0], stride[0], seconds)
        plant_step(self.plant[0], stride[0], self.states[0], left, right)
        return self

    def __getattr__(self, name: str) -> float:
        return float(self.states[name][0])

    def counts(self, rolled_mm: float) -> float:
        """What a counter of 360 a turn shows."""
        return 360.0 * rolled_mm / (np.pi * self.true.wheel_diameter_mm)


def result(name: str, believed: Drive = BELIEVED, **numbers: float) -> float:
    """What one try of a test gives."""
    return measured(BENCH_TESTS[name], [numbers], believed).value


class BenchTestTest(unittest.TestCase):
    def test_top_speed_from_a_drive_with_its_start(self) -> None:
        even = replace(TRUE, mismatch_percent=0.0, battery=0.9)
        for seconds, power in ((1.0, 40.0), (4.0, 80.0)):
            came = Table(even).drive(power, power, seconds).x
            believed = replace(BELIEVED, response_time_s=0.11, battery=0.9)
            found = result("top speed", believed, distance_mm=came, seconds=seconds, power=power)
            self.assertAlmostEqual(found / 610.0, 1.0, delta=0.005)

    def test_wheel_diameter_and_counts_from_a_tape_measure(self) -> None:
        table = Table(replace(TRUE, mismatch_percent=0.0)).drive(50.0, 50.0, 3.0)
        found = result(
            "wheel diameter", distance_mm=table.x, counts=table.counts(table.left_rolled), counts_per_turn=360.0
        )
        self.assertAlmostEqual(found / 49.0, 1.0, delta=0.01)
        self.assertAlmostEqual(counts_per_cm(TRUE, 360.0), 3600.0 / (np.pi * 49.0))

    def test_track_width_from_turns_on_the_spot(self) -> None:
        table = Table(replace(TRUE, mismatch_percent=0.0)).drive(-40.0, 40.0, 6.0)
        turns = abs(table.heading) / (2.0 * np.pi)
        found = result(
            "track width", replace(BELIEVED, wheel_diameter_mm=49.0), turns=turns,
            counts=table.counts(table.right_rolled), counts_per_turn=360.0,
        )  # fmt: skip
        self.assertAlmostEqual(found / 126.0, 1.0, delta=0.01)

    def test_response_time_from_the_way_to_full_speed(self) -> None:
        table = Table(replace(TRUE, mismatch_percent=0.0, grip=2.0))
        while table.left_rim < 0.95 * 610.0 * 0.5:
            table.drive(50.0, 50.0, 0.001)
        found = result("response time", replace(BELIEVED, top_speed_mm_s=610.0), distance_mm=table.x, power=50.0)
        self.assertAlmostEqual(found / 0.11, 1.0, delta=0.03)

    def test_mismatch_from_the_drift_over_a_metre(self) -> None:
        table = Table(replace(TRUE, response_time_s=0.01))
        while table.x < 1000.0:
            table.drive(50.0, 50.0, 0.01)
        found = result("mismatch", replace(BELIEVED, track_width_mm=126.0), distance_mm=table.x, drift_mm=-table.y)
        self.assertAlmostEqual(found, 3.0, delta=0.1)
        self.assertEqual(result("mismatch", distance_mm=1000.0, drift_mm=0.0), 0.0)

    def test_a_stop_that_may_be_mere_rolling_tells_nothing_of_grip(self) -> None:
        believed = replace(BELIEVED, top_speed_mm_s=500.0, response_time_s=0.1)
        # From 500 mm/s it rolls 50 mm to rest.
        self.assertAlmostEqual(
            result("grip", believed, distance_mm=56.0, power=100.0), 500.0**2 / (2.0 * 9810.0 * 56.0), delta=0.001
        )
        with self.assertRaisesRegex(IronTrailError, "54 mm is no farther than it rolls without slipping"):
            result("grip", believed, distance_mm=54.0, power=100.0)

    def test_grip_from_a_slide_with_the_wheels_held(self) -> None:
        for grip in (0.2, 0.5):
            table = Table(replace(TRUE, mismatch_percent=0.0), grip=grip).drive(100.0, 100.0, 4.0)
            locked = Table(replace(TRUE, mismatch_percent=0.0, response_time_s=0.0), grip=grip)
            locked.states[:] = table.states
            slid = coast(locked.plant[0], np.zeros(1, STRIDE)[0], locked.states[0])
            believed = replace(BELIEVED, top_speed_mm_s=610.0, response_time_s=0.0)
            self.assertAlmostEqual(result("grip", believed, distance_mm=slid, power=100.0) / grip, 1.0, delta=0.02)

    def test_a_robot_that_merely_rolls_tells_nothing_of_its_grip(self) -> None:
        with self.assertRaisesRegex(OutOfRangeError, "rolls without slipping"):
            result("grip", distance_mm=20.0, power=100.0)

    def test_the_dead_band_is_the_least_power_that_moves(self) -> None:
        self.assertEqual(result("dead band", power=7.0), 7.0)

    def test_more_tries_make_it_surer(self) -> None:
        test, random = BENCH_TESTS["top speed"], np.random.default_rng(5)
        came = 940.0 + random.normal(0.0, 12.0, 8)
        tries = [{"distance_mm": float(way), "seconds": 4.0, "power": 50.0} for way in came]
        self.assertIsNone(measured(test, tries[:1], BELIEVED).off_by)
        few, many = (measured(test, tries[:count], BELIEVED) for count in (2, 8))
        assert few.off_by is not None and many.off_by is not None
        self.assertLess(many.off_by, few.off_by)
        self.assertEqual(many.tries, 8)
        alike = measured(test, tries[:1] * 3, BELIEVED)
        self.assertAlmostEqual(alike.off_by or 0.0, 0.0)

    def test_what_the_margin_says_holds_nineteen_times_in_twenty(self) -> None:
        test, random, held = BENCH_TESTS["dead band"], np.random.default_rng(1), 0
        for _ in range(400):
            tries = [{"power": float(power)} for power in random.normal(20.0, 2.0, 4)]
            found = measured(test, tries, BELIEVED)
            assert found.off_by is not None
            held += abs(found.value - 20.0) <= found.off_by
        self.assertTrue(370 <= held <= 392, held)

    def test_impossible_numbers_and_results_are_refused_by_name(self) -> None:
        with self.assertRaisesRegex(OutOfRangeError, "came"):
            result("top speed", distance_mm=0.0, seconds=4.0, power=50.0)
        with self.assertRaisesRegex(OutOfRangeError, "top speed of 10000"):
            result("top speed", distance_mm=10_000.0, seconds=2.06, power=50.0)


if __name__ == "__main__":
    unittest.main()
