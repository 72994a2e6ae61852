"""Starts are shaken as the team says: each number by itself, each start with wear of its own, alike for all setups."""

import unittest
import weakref
from dataclasses import replace
from typing import Any
from unittest import mock

import numpy as np

from irontrail.core import derive
from irontrail.core.light.reading import LAMP_WEIGHTS
from irontrail.core.light.spot import seen_field
from irontrail.core.mat.raster import laid_cells, make_raster
from irontrail.core.mat.tape import Patch
from irontrail.core.pit.real_spread import ENOUGH, enough, real_spread
from irontrail.core.project import KeptRun, RealRun
from irontrail.core.quantity import quantities
from irontrail.core.remembered import Remembered
from irontrail.core.setup import Setup
from irontrail.core.shaking import AT_EVENT, Shaking, in_words, scaled
from irontrail.core.starts import perturbed
from irontrail.core.tune.batch import run_batch
from irontrail.core.tune.tries import Trying
from tests.support import lighthouse, setup_with, straight_mat

STILL = Shaking(**dict.fromkeys(quantities(Shaking), 0.0))


def shaken(setup: Setup, **numbers: float) -> Setup:
    """A setup shaken by these alone."""
    return replace(setup, trial=replace(setup.trial, shaken=replace(STILL, **numbers)))


class StartsTest(unittest.TestCase):
    def test_each_number_shakes_what_it_says_and_nothing_else(self) -> None:
        setup = lighthouse()
        for name, value, read in (
            ("off_mm", 9.0, lambda each: each.trial.start_off_mm),
            ("angle_deg", 12.0, lambda each: each.trial.start_angle_deg),
            ("along_mm", 15.0, lambda each: each.trial.start_mm - 20.0),
            ("light", 0.3, lambda each: each.light.room_light - setup.light.room_light),
            ("battery", 0.1, lambda each: each.robot.drive.battery - 1.0),
            ("unlike_percent", 5.0, lambda each: each.robot.drive.mismatch_percent),
            ("height_mm", 2.0, lambda each: each.robot.mount.height_mm - 8.0),
        ):
            made = [perturbed(shaken(setup, **{name: value}), number) for number in range(1, 60)]
            moved = np.array([read(each) for each in made])
            self.assertTrue(np.abs(moved).max() <= value + 1e-9 and np.abs(moved).max() > 0.9 * value, name)
            self.assertLess(abs(moved.mean()), 0.25 * value)
            plain = {perturbed(shaken(setup), number).trial.seed for number in range(1, 60)}
            self.assertEqual({each.trial.seed for each in made}, plain)
        still = perturbed(shaken(setup), 3)
        self.assertEqual(replace(still, trial=setup.trial), setup)

    def test_a_second_sensor_hangs_higher_with_the_first(self) -> None:
        from irontrail.core.setup import with_second

        made = perturbed(shaken(with_second(lighthouse()), height_mm=3.0), 4)
        self.assertNotEqual(made.robot.mount.height_mm, 8.0)
        self.assertEqual(made.second.mount.height_mm, made.robot.mount.height_mm)

    def test_each_start_has_a_pattern_of_wear_of_its_own_that_setups_share(self) -> None:
        setup = shaken(lighthouse(), wear_mm=2.0)
        worn = [perturbed(setup, number).mat.line for number in range(1, 30)]
        self.assertEqual(len({each.unevenness_seed for each in worn}), 29)
        self.assertTrue(all(0.0 <= each.unevenness_mm <= 2.0 for each in worn))
        other = setup_with(setup, program__speed=44.0)
        self.assertIs(perturbed(setup, 5).mat, perturbed(other, 5).mat)
        # More wear on what is uneven already, and never more than can be.
        rough = setup_with(shaken(lighthouse(), wear_mm=4.0), mat__line__unevenness_mm=5.0)
        self.assertTrue(all(5.0 <= perturbed(rough, number).mat.line.unevenness_mm <= 6.0 for number in range(1, 9)))

    def test_a_batch_runs_just_these_starts(self) -> None:
        setups = [shaken(lighthouse(program__speed=speed), wear_mm=2.0, height_mm=1.0) for speed in (44.0, 52.0)]
        for first in (1, 7):
            batch = run_batch(setups, 3, first=first)
            assert batch is not None
            for i, setup in enumerate(setups):
                times = [derive.run(perturbed(setup, first + k)).time_s for k in range(3)]
                np.testing.assert_allclose(batch.single["time_s"][i], times, atol=1e-9)
        alone = run_batch(setups, 1, first=9)
        assert alone is not None
        self.assertAlmostEqual(alone.single["time_s"][0][0], derive.run(perturbed(setups[0], 9)).time_s, places=9)

    def test_in_words_and_harder(self) -> None:
        said = in_words(AT_EVENT).replace("\u00a0", " ")
        self.assertEqual(
            said,
            "up to 8 mm aside, 8° turned, 20 mm along; light ± 30 %, charge ± 10 %, wheels ± 3 %, height ± 1.5 mm, "
            "edges worn up to 1 mm",
        )
        self.assertEqual(in_words(STILL), "not at all, but for the sensor's noise")
        self.assertEqual((scaled(Shaking(), 2.0).off_mm, scaled(Shaking(), 100.0).off_mm), (8.0, 40.0))

    def test_many_mats_are_seen_on_any_number_of_threads_and_called_off(self) -> None:
        setup = shaken(setup_with(Setup(straight_mat(900.0)), program__proportional__gain=0.4), wear_mm=1.0)
        one, two = (run_batch([setup], 12, threads=threads) for threads in (1, 2))
        assert one is not None and two is not None
        np.testing.assert_array_equal(one.single["time_s"], two.single["time_s"])
        told: list[int] = []
        self.assertIsNone(run_batch([setup], 40, lambda done: told.append(done) or done < 5, threads=2))
        self.assertLess(len(told), 12)
        self.assertEqual(told, sorted(told))

    def test_arrays_are_forgotten_by_their_size_the_oldest_first(self) -> None:
        kept, made = Remembered(100), []

        def make(name: str, size: int) -> np.ndarray:
            made.append(name)
            return np.zeros(size, np.float32)

        for name, size in (
            ("a", 10), ("b", 10), ("a", 10), ("c", 10), ("a", 10), ("b", 10), ("huge", 99), ("huge", 99),
        ):  # fmt: skip
            self.assertEqual(kept.get(name, lambda name=name, size=size: make(name, size)).size, size)
        self.assertEqual(made, ["a", "b", "c", "b", "huge", "huge"])
        two = Remembered(1000, most=2)
        made.clear()
        for name in ("a", "b", "a", "c", "a", "b"):
            two.get(name, lambda name=name: make(name, 1))
        self.assertEqual(made, ["a", "b", "c", "b"])

    def test_the_memory_of_what_was_forgotten_is_had_again_unless_somebody_holds_it(self) -> None:
        kept, made = Remembered(1000, most=1), []

        def make() -> np.ndarray:
            made.append(np.zeros((2, 8), np.float32))
            return made.pop()[None]

        first = kept.get("a", make).ctypes.data
        # Memory for another is there from the first on, and what is known of that holds of it.
        key, room = kept.spare()
        self.assertEqual((key, room.dtype, room.ctypes.data == first), ("a", np.dtype(np.float32), False))
        np.testing.assert_array_equal(room, np.zeros((1, 2, 8)))
        self.assertIsNone(kept.spare())
        kept.get("b", make)
        key, spare = kept.spare()
        self.assertEqual((key, spare.ctypes.data), ("a", first))
        del spare
        self.assertIsNone(kept.spare())
        for part in (lambda array: array, lambda array: array[0], lambda array: array[0, :, 2:4]):
            held = part(kept.get("c", make))
            kept.spare()
            kept.get("d", make)
            self.assertIsNone(kept.spare())
            del held
            kept.get("e", make)
            self.assertIsNotNone(kept.spare())
        # No more are put by than are kept.
        for name in "fgh":
            kept.get(name, make)
        self.assertEqual([kept.spare() is None for _ in range(2)], [False, True])

    def test_what_is_seen_of_mats_that_were_dragged_past_is_given_back_and_of_starts_is_kept(self) -> None:
        for drive, kept in ((derive.run, False), (derive.run_once, True)):
            seen = []
            for i in range(8):
                setup = Setup(straight_mat(700.0 + i + 100.0 * kept))
                drive(setup)
                seen.append(weakref.ref(derive.field(setup)))
            self.assertIsNotNone(seen[-1]())
            self.assertEqual(seen[0]() is not None, kept)

    def test_back_at_a_mat_that_was_dragged_past_nothing_is_seen_anew(self) -> None:
        setups = [Setup(straight_mat(740.0 + i)) for i in range(12)]
        shown = [(derive.run(setup), derive.profile(setup)) for setup in setups]
        with mock.patch("irontrail.core.light.spot.seen_field", side_effect=AssertionError("seen anew")):
            for setup, (run, profile) in zip(setups, shown, strict=True):
                self.assertEqual((derive.run(setup) is run, derive.profile(setup) is profile), (True, True))

    def test_what_is_seen_in_the_memory_of_other_mats_is_as_if_seen_first(self) -> None:
        plain = Setup(replace(straight_mat(300.0), width_mm=500.0, height_mm=400.0))
        changes: list[dict[str, Any]] = [
            {"mat__line__y_mm": 90.0}, {"mat__line__border_mm": 30.0}, {"mat__colour": "#20242a"},
            {"mat__patches": (Patch(250.0, 120.0, 90.0, 60.0, "#d03020"),)}, {"robot__mount__height_mm": 20.0},
            {"light__sensor__lamp": "red"}, {"mat__surface": "wood"}, {"mat__line__heading_deg": 65.0}, {},
        ]  # fmt: skip
        random = np.random.default_rng(8)
        for i in range(40):
            setup = setup_with(plain, mat__line__x_mm=60.0 + i, **changes[random.integers(len(changes))])
            derive.run(setup)
            seen, sensor = derive.field(setup), setup.light.sensor
            raster = make_raster(setup.mat, lamp=LAMP_WEIGHTS[sensor.lamp])
            fresh = seen_field(raster, sensor, setup.robot.mount.height_mm, laid_cells(setup.mat))
            np.testing.assert_array_equal(seen, fresh, str(i))


class RealSpreadTest(unittest.TestCase):
    def kept(self, times: list[float], number: int = 1) -> KeptRun:
        setup = setup_with(Setup(straight_mat(1600.0)), program__proportional__gain=0.4)
        return KeptRun(number, setup, derive.figures(setup), real=tuple(RealRun(time) for time in times))

    def test_the_model_is_shaken_until_it_differs_as_the_real_robot_does(self) -> None:
        """The real times are the model's own, shaken twice as hard: that is what is found."""
        plain = self.kept([])
        hard = scaled(Shaking(), 2.0)
        made = replace(plain.setup, trial=replace(plain.setup.trial, shaken=hard, seed=91))
        times = Trying().one(made, starts=60).times_s
        kept = self.kept([float(time) for time in times])
        found = real_spread([kept], Shaking(), Trying())
        assert found is not None
        self.assertAlmostEqual(found.real_s, float(np.std(times, ddof=1)), places=9)
        self.assertAlmostEqual(found.model_s, found.real_s, delta=0.02 * found.real_s)
        self.assertTrue(1.6 < found.shaking.battery / 0.05 < 2.5, found.shaking)
        self.assertEqual(found.count, 60)

    def test_too_few_times_tell_nothing(self) -> None:
        few = self.kept([5.0] * ENOUGH)
        self.assertEqual((enough([few]), real_spread([few], Shaking(), Trying())), ([], None))
        self.assertEqual(len(enough([few, self.kept([5.0, 5.2], 2)])), 2)
        failed = replace(few, real=tuple(RealRun(5.0, False) for _ in range(9)))
        self.assertEqual(enough([failed]), [])


if __name__ == "__main__":
    unittest.main()
