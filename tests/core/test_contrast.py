"""Colours that can be told apart, beside runs that follow them or do not."""

import unittest

from irontrail.core import derive
from irontrail.core.light.contrast import COLOURS, colour_reading, noise_band, told_apart
from irontrail.core.light.sensor import Calibration, Light, Sensor
from irontrail.core.setup import Setup
from tests.support import lighthouse, ring_mat, setup_with

COLOUR = dict(COLOURS)


class ContrastTest(unittest.TestCase):
    def test_a_colours_reading_is_that_of_the_sensor_well_inside_a_patch(self) -> None:
        setup = lighthouse(mat__colour=COLOUR["yellow"], light__sensor__noise=0.0)
        profile = derive.profile(setup)
        found = colour_reading(setup.light, 8.0, COLOUR["yellow"])
        self.assertAlmostEqual(found, float(profile.reading[-1]), delta=0.1)

    def test_a_red_line_is_light_to_a_red_lamp(self) -> None:
        white = Light()
        red = Light(Sensor(lamp="red"))
        on_white = told_apart(white, 8.0, COLOUR["red"], COLOUR["white"])
        under_red = told_apart(red, 8.0, COLOUR["red"], COLOUR["white"])
        self.assertEqual(on_white.verdict, "yes")
        self.assertLess(under_red.apart, 0.7 * on_white.apart)
        self.assertGreater(
            told_apart(red, 8.0, COLOUR["red"], COLOUR["black"]).apart,
            told_apart(white, 8.0, COLOUR["red"], COLOUR["black"]).apart,
        )

    def test_what_cannot_be_told_apart_cannot_be_followed(self) -> None:
        called = {"yes": 0, "no": 0}
        for line in ("black", "blue", "brown"):
            for surround in ("white", "yellow", "brown", "red", "blue"):
                pair = told_apart(Light(), 8.0, COLOUR[line], COLOUR[surround])
                if line == surround or pair.verdict == "hardly" or pair.first > pair.second:
                    continue
                setup = setup_with(
                    Setup(ring_mat(300.0)), mat__line__colour=COLOUR[line], mat__colour=COLOUR[surround],
                    program__speed=25.0,
                    program__target=round(0.5 * (pair.first + pair.second)),
                    program__proportional__gain=min(0.35 * 100.0 / max(pair.apart, 5.0), 2.5),
                )  # fmt: skip
                finished = derive.figures(setup).outcome == "finished"
                called[pair.verdict] += 1
                self.assertEqual(finished, pair.verdict == "yes", (line, surround, pair))
        self.assertGreater(called["yes"], 3)
        self.assertGreater(called["no"], 0)

    def test_noise_and_rounding_widen_the_band_and_calibration_scales_it(self) -> None:
        raw = Light(calibrate=False)
        self.assertAlmostEqual(noise_band(raw), 6 * 0.4 + 1.0)
        tight = Light(calibration=Calibration(20.0, 40.0))
        self.assertAlmostEqual(noise_band(tight), 5.0 * noise_band(raw))
        loud = Light(Sensor(noise=4.0))
        self.assertEqual(told_apart(loud, 8.0, COLOUR["green"], COLOUR["black"]).verdict, "no")

    def test_named_colours_are_told_apart_by_the_numbers_they_stand_for(self) -> None:
        light = Light(Sensor(scale="colour names"), room_light=0.0)
        self.assertEqual(told_apart(light, 8.0, COLOUR["black"], COLOUR["white"]).verdict, "yes")
        # Both count as the mat.
        self.assertEqual(told_apart(light, 8.0, COLOUR["red"], COLOUR["white"]).verdict, "no")


if __name__ == "__main__":
    unittest.main()
