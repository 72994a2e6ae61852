"""The laws: what they set the wheels to, and what is said of them."""

import unittest

import numpy as np

from irontrail.core import derive
from irontrail.core.steering.handles import handles
from irontrail.core.steering.laws.proportional import Proportional
from irontrail.core.steering.program import Program
from irontrail.core.steering.words import in_words
from tests.support import lighthouse


class CurveTest(unittest.TestCase):
    def test_proportional_is_a_slope_through_speed_at_the_target(self) -> None:
        curve = derive.curve(lighthouse(program__target=40.0, program__speed=55.0, program__proportional__gain=0.8))
        steer = 0.8 * (curve.reading - 40.0)
        self.assertTrue(np.allclose(curve.wanted_left, 55.0 + steer))
        self.assertTrue(np.allclose(curve.wanted_right, 55.0 - steer))
        self.assertTrue(np.array_equal(curve.clipped, np.abs(steer) > 45.0))
        self.assertLessEqual(np.abs(curve.left).max(), 100.0)

    def test_handles_lie_where_they_can_be_taken_hold_of(self) -> None:
        bands = lighthouse(program__law="bands").program
        at = {each.name: each.reading for each in handles(bands)}
        # Where both wheels have one height, on either side of the middle, a little farther than a third apart.
        self.assertEqual([at["band 1 left"], at["band 1 right"]], [30.0, 30.0])
        self.assertEqual([round(at[f"band 2 {side}"], 6) for side in ("left", "right")], [46.4, 53.6])
        slope = lighthouse(program__target=80.0, program__proportional__dark_ratio=1.4).program
        at = {each.name: each.reading for each in handles(slope)}
        # That of the dark side as far off as that of the light side has room.
        self.assertEqual((at["speed"], at["gain"], at["dark gain"]), (80.0, 100.0, 60.0))

    def test_the_other_edge_turns_the_other_way(self) -> None:
        left, right = derive.curve(lighthouse()), derive.curve(lighthouse(program__edge="right"))
        self.assertTrue(np.allclose(left.wanted_left, right.wanted_right))
        self.assertGreater(left.wanted_left[-1], left.wanted_right[-1])

    def test_on_off_is_a_step_and_the_threshold_counts_as_light(self) -> None:
        setup = lighthouse(program__law="on-off", program__target=50.0, program__on_off__light_outer=60.0)
        curve = derive.curve(setup)
        light = curve.reading >= 50.0
        self.assertEqual(set(curve.left[light]), {60.0})
        self.assertEqual(set(curve.right[light]), {0.0})
        self.assertEqual((set(curve.left[~light]), set(curve.right[~light])), ({0.0}, {55.0}))

    def test_powers_are_rounded_to_whole_steps(self) -> None:
        curve = derive.curve(lighthouse(robot__drive__power_step=10.0))
        self.assertEqual(set(np.mod(curve.left, 10.0)), {0.0})


class WordsTest(unittest.TestCase):
    def test_proportional_in_words(self) -> None:
        said = in_words(Program(target=45.0, speed=52.0, proportional=Proportional(gain=0.9)))
        self.assertEqual(
            tuple(sentence.says for sentence in said),
            (
                "Every 10 ms: read the light.",
                "Error = reading − 45.",
                "Steer = 0.9 × error (right is positive).",
                "Left wheel 52 + steer, right wheel 52 − steer.",
            ),
        )

    def test_the_words_of_on_off_agree_with_its_curve(self) -> None:
        for edge in ("left", "right"):
            setup = lighthouse(program__law="on-off", program__edge=edge)
            curve, (_, light, dark) = derive.curve(setup), in_words(setup.program)
            for sentence, i in ((dark, 0), (light, -1)):
                self.assertIn(f"left wheel {curve.left[i]:.0f}, right wheel {curve.right[i]:.0f}", sentence.says)
                self.assertIn("turn right" if curve.left[i] > curve.right[i] else "turn left", sentence.says)

    def test_the_right_edge_steers_the_other_way(self) -> None:
        self.assertIn("−0.7 × error", in_words(Program(edge="right"))[2].says)


if __name__ == "__main__":
    unittest.main()
