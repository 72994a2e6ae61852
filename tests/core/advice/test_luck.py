"""Shaken runs, and changes in words."""

import unittest

from irontrail.core import derive
from irontrail.core.advice.changes import changes
from irontrail.core.advice.luck import SPREAD, try_luck
from irontrail.core.demos import demo_project
from irontrail.core.light.sensor import LightArea
from irontrail.core.starts import perturbed
from tests.support import lighthouse, setup_with


class LuckTest(unittest.TestCase):
    def test_shaken_setups_differ_and_repeat(self) -> None:
        setup = lighthouse()
        found = {perturbed(setup, number) for number in range(20)}
        self.assertEqual(len(found), 20)
        self.assertEqual(perturbed(setup, 3), perturbed(lighthouse(), 3))
        self.assertNotEqual(perturbed(setup, 3), perturbed(lighthouse(trial__seed=2), 3))
        for name, least in (("start_off_mm", 2.0), ("start_angle_deg", 3.0)):
            spread = [getattr(each.trial, name) for each in found]
            self.assertTrue(min(spread) < -least and max(spread) > least, name)
        self.assertEqual(len({each.light.room_light for each in found}), 20)
        for each in found:
            self.assertLessEqual(abs(each.trial.start_off_mm), 4.0)
            self.assertEqual((each.mat, each.program), (setup.mat, setup.program))

    def test_shaking_stays_inside_every_range(self) -> None:
        brim = lighthouse(light__room_light=1.0, robot__drive__battery=1.2, trial__start_mm=0.0)
        self.assertEqual(len([perturbed(brim, number) for number in range(50)]), 50)

    def test_each_try_is_the_run_of_its_own_setup(self) -> None:
        luck = try_luck(lighthouse(), 5)
        assert luck is not None
        for each in luck.tries:
            self.assertEqual(each.figures, derive.figures(each.setup))
        times = sorted(each.figures.time_s for each in luck.tries)
        self.assertEqual(luck.spread("time_s"), (times[0], times[2], times[4]))
        for name in SPREAD:
            low, middle, high = luck.spread(name) or (1.0, 0.0, 0.0)
            self.assertTrue(low <= middle <= high, name)

    def test_a_program_on_the_brink_finishes_only_sometimes(self) -> None:
        brink = try_luck(lighthouse(program__speed=63.0), 20)
        assert brink is not None
        self.assertTrue(0 < brink.finished < 20, brink.finished)
        never = try_luck(lighthouse(program__speed=85.0), 3)
        assert never is not None
        self.assertEqual((never.finished, never.spread("time_s")), (0, None))

    def test_it_can_be_called_off(self) -> None:
        told: list[int] = []

        def proceed(done: int) -> bool:
            told.append(done)
            return done < 3

        self.assertIsNone(try_luck(lighthouse(), 20, proceed))
        self.assertEqual(told, [1, 2, 3])


class ChangesTest(unittest.TestCase):
    def test_numbers_with_their_units_and_choices_by_name(self) -> None:
        after = lighthouse(
            program__proportional__gain=0.8, program__edge="right", robot__mount__ahead_mm=50.0,
            program__loop_time_s=0.02, trial__reverse=True, light__calibrate=False,
        )  # fmt: skip
        self.assertEqual(
            changes(lighthouse(), after),
            (
                "edge left → right",
                "loop time 10 → 20 ms",
                "gain 0.70 → 0.80 % per unit",
                "ahead of the axle 75 → 50 mm",
                "calibrated: no",
                "turned round: yes",
            ),
        )

    def test_nothing_changed_is_nothing_said(self) -> None:
        self.assertEqual(changes(lighthouse(), lighthouse()), ())

    def test_settings_of_laws_that_are_not_used_are_left_out(self) -> None:
        self.assertEqual(changes(lighthouse(), lighthouse(program__pid__kp=2.0)), ())
        self.assertEqual(
            changes(lighthouse(), lighthouse(program__law="PID", program__pid__kp=2.0)),
            ("law proportional → PID", "proportional gain 0.80 → 2.00 % per unit"),
        )

    def test_other_mats_and_lists(self) -> None:
        shadow = (LightArea(1.0, 1.0, 9.0, 9.0, 0.5),)
        quarry = setup_with(demo_project("quarry").setup, light__areas=shadow)
        said = changes(lighthouse(), quarry)
        self.assertEqual(said[0], "mat Quarry Switchback")
        self.assertIn("other shadows and glares", said)
        self.assertEqual(changes(lighthouse(), lighthouse(mat__line__width_mm=24.0)), ("tape width 20 → 24 mm",))

    def test_a_change_too_fine_for_the_screen_is_still_told(self) -> None:
        self.assertEqual(
            changes(lighthouse(), lighthouse(program__proportional__gain=0.701)), ("gain 0.70 → 0.701 % per unit",)
        )


if __name__ == "__main__":
    unittest.main()
