"""Small formulas against their own meaning: what a bend asks, how far a robot strays, what light a patch gives back."""

import unittest
from dataclasses import replace
from itertools import pairwise

import numpy as np

from irontrail.core import derive
from irontrail.core.light.contrast import colour_reading
from irontrail.core.light.reading import (
    NAMES_HEIGHT_MM,
    calibrated,
    lamp_share,
    level_of,
    raw_reading,
    reading_of_patch,
    reading_per_raw,
    room_share,
)
from irontrail.core.light.sensor import Light
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.tape import Bend, Mat, Straight, Stroke
from irontrail.core.theory.linear import UltimateGain
from irontrail.core.theory.turning import check_bends, strays_mm, tightest_turns
from tests.support import lighthouse, ring_mat, setup_with, stretches_of


def strays_by_walking(edge_mm: float, angle: float, turns_mm: float, ahead_mm: float) -> float:
    """The same by another way: tiny steps, the sensor held to the edge as far as the turn allows."""
    axle, heading = np.array([-ahead_mm, -edge_mm]), 0.0
    worst, step, along, gone = 0.0, 0.05, 0.0, 0.0
    while gone < edge_mm * angle + 2.0 * ahead_mm - 2.0:
        sensor = axle + ahead_mm * np.array([np.cos(heading), np.sin(heading)])
        turned = np.arctan2(sensor[0], -sensor[1])
        along += (turned - along + np.pi) % (2.0 * np.pi) - np.pi
        held = min(max(along, 0.0), angle)
        outside = sensor @ np.array([np.sin(held), -np.cos(held)]) - edge_mm
        worst = max(worst, outside)
        wanted = (outside - step * np.sin(heading - held)) / ahead_mm
        most = step / turns_mm if np.isfinite(turns_mm) else 0.0
        heading += min(max(wanted, -most), most)
        axle = axle + step * np.array([np.cos(heading), np.sin(heading)])
        gone += step
    return float(worst)


class BendsTest(unittest.TestCase):
    def test_how_far_it_strays_is_what_walking_it_gives(self) -> None:
        for edge, angle, turns, ahead in (
            (100.0, 1.5, 220.0, 60.0), (150.0, 2.6, 300.0, 75.0), (80.0, 3.1, 160.0, 40.0), (120.0, 0.8, 500.0, 90.0),
            (200.0, 4.0, 260.0, 50.0), (90.0, 1.0, float("inf"), 70.0),
        ):  # fmt: skip
            expected = strays_by_walking(edge, angle, turns, ahead)
            self.assertAlmostEqual(strays_mm(edge, angle, turns, ahead), expected, delta=0.04 * expected + 0.6)
        self.assertEqual(strays_mm(100.0, 1.5, 0.0, 60.0), 0.0)
        self.assertEqual(strays_mm(100.0, 1.5, 220.0, 0.5), 0.0)
        self.assertGreater(strays_mm(100.0, 1.5, 220.0, 2.0), 5.0)
        self.assertLess(strays_mm(300.0, 1.5, 120.0, 60.0), 1.0, "it can turn tighter than the bend")

    def test_a_bend_is_held_between_its_tapes_edges_seen_from_the_axle(self) -> None:
        setup = lighthouse(mat=ring_mat(300.0))
        (check,) = check_bends(setup, derive.route(setup.mat, False))
        tape, ahead = setup.mat.followed.width_mm, setup.robot.mount.ahead_mm
        self.assertAlmostEqual(check.needs_mm, np.sqrt((300.0 - tape / 2) ** 2 - ahead**2), places=6)
        self.assertAlmostEqual(check.room_mm, np.sqrt((300.0 + tape / 2) ** 2 - ahead**2), places=6)
        self.assertAlmostEqual(check.turns_mm, tightest_turns(setup).left_mm)
        back = setup_with(setup, trial__reverse=True)
        (turned,) = check_bends(back, derive.route(back.mat, True))
        self.assertAlmostEqual(turned.turns_mm, tightest_turns(back).right_mm)

    def test_a_period_is_one_over_the_frequency(self) -> None:
        self.assertEqual(UltimateGain(0.7, 4.0).period_s, 0.25)


class LightTest(unittest.TestCase):
    def setUp(self) -> None:
        self.light = Light()

    def test_a_level_is_lamp_and_room_each_on_its_own(self) -> None:
        light = setup_with(lighthouse(), light__room_light=0.6, light__sensor__shield=0.25).light
        lamp, room = lamp_share(8.0), room_share(light, 8.0)
        for seen, gloss, factor in ((0.5, 0.0, 1.0), (0.5, 0.2, 1.0), (0.1, 0.3, 0.4), (0.9, 0.1, 2.5)):
            level = float(level_of(light, 8.0, seen, gloss, factor))
            self.assertAlmostEqual(level, lamp * seen + room * factor * (seen + gloss), places=12)
            raw = float(raw_reading(light, 8.0, seen, gloss, factor))
            self.assertAlmostEqual(raw, min(100.0 * (level + light.sensor.dark_level), 100.0), places=9)
        upside = replace(light, sensor=replace(light.sensor, reads_high_on="dark"))
        self.assertAlmostEqual(
            float(raw_reading(upside, 8.0, 0.5)), 100.0 - float(raw_reading(light, 8.0, 0.5)), places=9
        )

    def test_readings_are_cut_and_their_slope_is_that_of_calibrating(self) -> None:
        calibration = replace(self.light.calibration, dark=10.0, bright=60.0)
        self.assertEqual(
            calibrated(calibration, np.array([0.0, 10.0, 35.0, 60.0, 90.0])).tolist(), [0, 0, 50, 100, 100]
        )
        light = replace(self.light, calibration=calibration, calibrate=True)
        self.assertAlmostEqual(reading_per_raw(light), 2.0)
        self.assertEqual(reading_per_raw(replace(light, calibrate=False)), 1.0)

    def test_a_sensor_of_names_sees_the_colour_as_near_as_its_lamp_lights_it(self) -> None:
        light = setup_with(lighthouse(), light__sensor__scale="colour names", light__room_light=0.0).light
        palette = light.sensor.palette
        for named in palette:
            seen = linear_light(named.colour).astype(np.float64)
            self.assertEqual(float(reading_of_patch(light, NAMES_HEIGHT_MM, seen)), named.reads_as, named.name)
            self.assertEqual(colour_reading(light, NAMES_HEIGHT_MM, named.colour), named.reads_as)
        # From far away the lamp lights it less, and white looks like something darker.
        far = colour_reading(light, 38.0, "#ffffff")
        self.assertLess(far, colour_reading(light, NAMES_HEIGHT_MM, "#ffffff"))


class SeamTest(unittest.TestCase):
    """A closed line's stretches, wherever the run starts."""

    def names(self, start: float) -> list[tuple[str, float, float]]:
        line = Stroke(
            600.0, 250.0, 0.0,
            (Straight(300.0), Bend(200.0, 180.0), Straight(600.0), Bend(200.0, 180.0), Straight(300.0)), closed=True,
        )  # fmt: skip
        setup = lighthouse(mat=Mat("stadium", line), trial__start_mm=start, program__speed=35.0)
        self.run_ = derive.run(setup)
        self.assertEqual(self.run_.outcome, "finished")
        return [(each.name, each.start_mm, each.end_mm) for each in stretches_of(setup)]

    def test_they_follow_without_a_gap_and_add_up(self) -> None:
        bend = 200.0 * np.pi
        length = 1200.0 + 2 * bend
        for start in (20.0, 500.0, 300.0 + bend + 100.0, length - 50.0):
            found = self.names(start)
            for (_, _, end), (_, begins, _) in pairwise(found):
                self.assertAlmostEqual(end, begins, places=6)
            self.assertAlmostEqual(found[0][1], 0.0)
            self.assertAlmostEqual(found[-1][2], length, delta=12.0)

    def test_the_seam_of_the_tape_is_no_seam_of_the_way(self) -> None:
        names = [name for name, *_ in self.names(500.0)]
        self.assertEqual(names, ["A (rest)", "A to B", "B", "B to A", "A (first part)"])
        straight = next(each for each in self.names(500.0) if each[0] == "B to A")
        self.assertAlmostEqual(straight[2] - straight[1], 600.0, delta=3.0)
        self.assertEqual([name for name, *_ in self.names(100.0)], ["start to A", "A", "A to B", "B", "B to end"])


if __name__ == "__main__":
    unittest.main()
