"""The demo tells its story: what a newcomer sees when they turn the dials."""

import unittest

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.figures import Figures
from tests.support import lighthouse, setup_with


def figures(**values: object) -> Figures:
    return derive.figures(lighthouse(**values))


class StoryTest(unittest.TestCase):
    def test_on_off_zigzags_and_is_slow_and_proportional_is_quicker_and_calm(self) -> None:
        on_off, proportional = figures(program__law="on-off"), figures()
        self.assertEqual((on_off.outcome, proportional.outcome), ("finished", "finished"))
        self.assertGreater(on_off.wobble_mm, 8.0)
        self.assertLess(proportional.wobble_mm, 0.5 * on_off.wobble_mm)
        self.assertLess(proportional.time_s, 0.65 * on_off.time_s)

    def test_too_much_gain_rocks(self) -> None:
        calm, rocking = figures(), figures(program__proportional__gain=1.5)
        self.assertEqual(rocking.outcome, "finished")
        self.assertGreater(rocking.wobble_mm, 4.0 * calm.wobble_mm)
        self.assertTrue(3.0 < rocking.wobble_hz < 5.0)

    def test_too_little_gain_strays_off_in_a_tight_bend(self) -> None:
        self.assertEqual(figures(program__proportional__gain=0.3).outcome, "lost")

    def test_too_much_speed_leaves_the_line_at_a_tight_bend(self) -> None:
        run = derive.run(lighthouse(program__speed=70.0))
        self.assertEqual(run.outcome, "lost")
        place = run.trace.progress_mm[-1] + 20.0
        near = [bend for bend in run.route.bends if bend.start_mm - 20.0 < place < bend.end_mm + 120.0]
        self.assertTrue(near and near[0].radius_mm <= 120.0, place)

    def test_on_off_powers_that_differ_too_little_cannot_hold_the_tight_bends(self) -> None:
        setup = lighthouse(program__law="on-off")
        for side in ("dark", "light"):
            setup = setup_with(setup, **{f"program__on_off__{side}_inner": 35.0})
        self.assertEqual(derive.figures(setup).outcome, "lost")

    def test_every_edge_and_direction_of_the_demo_finishes_with_either_law(self) -> None:
        for law in ("on-off", "proportional"):
            for edge in ("left", "right"):
                for reverse in (False, True):
                    found = figures(program__law=law, program__edge=edge, trial__reverse=reverse)
                    self.assertEqual(found.outcome, "finished", (law, edge, reverse))

    def test_the_quarry_finishes_with_its_own_settings_and_not_with_the_loops(self) -> None:
        quarry = demo_project("quarry").setup
        self.assertEqual(derive.figures(quarry).outcome, "finished")
        self.assertEqual(derive.figures(setup_with(quarry, program__law="on-off")).outcome, "finished")
        self.assertEqual(figures(mat=quarry.mat).outcome, "lost")


if __name__ == "__main__":
    unittest.main()
