"""The light sensor against closed forms."""

import unittest
from dataclasses import replace

import numpy as np
from scipy.ndimage import gaussian_filter
from scipy.special import erf

from irontrail.core import derive
from irontrail.core.errors import IronTrailError, OutOfRangeError
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.reading import calibrated, level_per_field, raw_reading, spot_sigma_mm
from irontrail.core.light.sensor import Calibration, Light, LightArea, Sensor
from irontrail.core.light.spot import blurred, seen_cells, seen_field
from irontrail.core.mat.cover import CELL
from irontrail.core.mat.raster import laid_cells, make_raster
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.mat.tape import Bend, Gap, Mat, Patch, Straight, Stroke
from irontrail.core.setup import Setup
from tests.support import lighthouse, setup_with, straight_mat


class RasterTest(unittest.TestCase):
    def test_the_tape_covers_its_own_area(self) -> None:
        mat = straight_mat(1000.0)
        raster = make_raster(mat)[:, :, 0].astype(float)
        surface, tape = linear_light(mat.colour)[0], linear_light(mat.line.colour)[0]
        covered = ((surface - raster) / (surface - tape)).sum()
        self.assertAlmostEqual(covered / (1000.0 * 20.0), 1.0, delta=1e-3)

    def test_a_slanting_line_covers_the_same_area(self) -> None:
        mat = Mat("m", Stroke(300.0, 200.0, 31.0, (Straight(700.0),), width_mm=17.0))
        raster = make_raster(mat)[:, :, 1].astype(float)
        surface, tape = linear_light(mat.colour)[1], linear_light(mat.line.colour)[1]
        covered = ((surface - raster) / (surface - tape)).sum()
        self.assertAlmostEqual(covered / (700.0 * 17.0), 1.0, delta=0.01)

    def test_open_ends_are_cut_square(self) -> None:
        raster = make_raster(straight_mat(1000.0))[:, :, 0]
        surface, tape = linear_light("#f3f1ea")[0], linear_light("#2a2b2d")[0]
        self.assertAlmostEqual(float(raster[508, 201]), float(tape), places=3)
        self.assertAlmostEqual(float(raster[500, 198]), float(surface), places=3)

    def test_beside_the_tape_the_mat_is_as_it_is_without(self) -> None:
        plain, far = straight_mat(1000.0), Stroke(40.0, 40.0, 0.0, (Straight(60.0),))
        printed = replace(plain, patches=(Patch(700.0, 500.0, 300.0, 90.0, "#7fb7d6"),))
        for mat in (plain, replace(plain, surface="wood"), printed, replace(printed, surface="wood")):
            raster, bare = make_raster(mat), make_raster(replace(mat, line=far))
            self.assertEqual(mat.surface == "wood", bool(np.ptp(bare[470:489, 160:400, 0]) > 0.01))
            self.assertEqual(bool(mat.patches), bool(abs(bare[480, 700] / bare[480, 300] - 1.0).max() > 0.2))
            # The tape is 20 mm wide.
            for rows in (slice(470, 489), slice(511, 530)):
                np.testing.assert_array_equal(raster[rows, 150:1250], bare[rows, 150:1250])
            self.assertLess(raster[495:505, 250:1150].max(), 0.5 * bare[495:505, 250:1150].min())

    def test_linear_light_of_middle_grey(self) -> None:
        # sRGB 188 is known to be 50.3 % linear light.
        self.assertAlmostEqual(float(linear_light("#bcbcbc")[0]), 0.5029, places=3)


class SpotTest(unittest.TestCase):
    def test_a_straight_edge_is_seen_as_an_error_function(self) -> None:
        mat = straight_mat(1800.0, width_mm=80.0)
        mat = Mat(mat.name, Stroke(100.0, 500.0, 0.0, mat.line.pieces, width_mm=80.0))
        sensor = Sensor()
        field = seen_field(make_raster(mat), sensor, 8.0)
        surface, tape = (float(linear_light(c).mean()) for c in (mat.colour, mat.line.colour))
        sigma = spot_sigma_mm(sensor, 8.0)
        edge = np.arange(-14.0, 14.5, 1.0)
        rows = (540.0 + edge).astype(int)  # the left edge lies at y = 540; row j has its centre at j + 0.5
        seen = field[0, rows, 1000]
        expected = tape + (surface - tape) * 0.5 * (1 + erf((rows + 0.5 - 540.0) / (np.sqrt(2) * sigma)))
        self.assertLess(np.abs(seen - expected).max() / (surface - tape), 0.005)

    def test_the_blur_is_that_of_scipy(self) -> None:
        picture = np.random.default_rng(5).random((90, 130), np.float32)
        picture[30:60, 40:90] = 0.02
        for sigma in (0.7, 4.5, 20.0):
            expected = gaussian_filter(picture, sigma, mode="nearest", truncate=4.0)
            self.assertLess(np.abs(blurred(picture, sigma) - expected).max(), 2e-5)

    def test_what_is_not_as_the_bare_mat_is_in_the_cells_that_may_be_seen(self) -> None:
        for y in range(190, 207):
            mat = Mat("m", Stroke(117.0 + y, float(y), 0.0, (Straight(3.0),), width_mm=5.0), 500.0, 400.0)
            laid = laid_cells(mat)
            field = seen_field(make_raster(mat), Sensor(), 8.0, laid)[0]
            other, cells = np.argwhere(field != field[0, 0]) // CELL, seen_cells(laid, Sensor(), 8.0)
            self.assertGreater(other.size, 2000)
            self.assertTrue(cells[other[:, 0], other[:, 1]].all(), y)

    def test_what_is_bare_is_blurred_as_far_as_anything_reaches_into_it(self) -> None:
        for j, i in ((0, 0), (63, 64), (50, 209), (149, 100), (97, 15)):
            picture = np.full((150, 210), 0.9, np.float32)
            picture[j, i] = 0.1
            # Two values that meet where cells do.
            picture[:, 112:] -= 0.5
            for sigma in (0.7, 4.5, 20.0):
                expected = gaussian_filter(picture, sigma, mode="nearest", truncate=4.0)
                self.assertLess(np.abs(blurred(picture, sigma) - expected).max(), 2e-5, (sigma, j, i))
        even = np.full((33, 50), 0.3, np.float32)
        np.testing.assert_array_equal(blurred(even, 4.5), even)

    def test_cells_with_nothing_laid_on_them_need_not_be_looked_at(self) -> None:
        line = Stroke(
            150.0,
            120.0,
            25.0,
            (Straight(300.0), Bend(60.0, -200.0), Gap(40.0), Straight(90.0)),
            width_mm=23.0,
            border_mm=9.0,
        )
        other = Stroke(90.0, 390.0, 0.0, (Straight(500.0),), unevenness_mm=1.5)
        patches = (
            Patch(500.5, 300.0, 60.0, 41.0, "#7fb7d6"),
            Patch(640.0, 90.0, 33.0, 20.0, "#ffffff", over_line=True),
        )
        mat = Mat("many things", line, 703.0, 437.0, other_lines=(other,), patches=patches)
        for each in (mat, replace(mat, surface="wood"), replace(mat, other_lines=(), patches=())):
            picture, laid = make_raster(each)[:, :, 0], laid_cells(each)
            self.assertEqual(bool(laid.all()), each.surface == "wood")
            for sigma in (0.7, 4.5, 11.0):
                np.testing.assert_array_equal(blurred(picture, sigma, laid), blurred(picture, sigma))

    def test_a_raster_and_a_field_may_be_made_in_the_memory_of_others(self) -> None:
        first, second = straight_mat(1000.0, border_mm=12.0), straight_mat(900.0)
        old, white = make_raster(first, lamp=(0.3, 0.3, 0.4)), (0.3, 0.3, 0.4)
        new = make_raster(second, lamp=white, over=old)
        self.assertIs(new, old)
        np.testing.assert_array_equal(new, make_raster(second, lamp=white))
        field = seen_field(new, Sensor(), 8.0)
        again = seen_field(make_raster(first, lamp=white), Sensor(), 8.0, over=field)
        self.assertTrue(np.shares_memory(again, field))
        np.testing.assert_array_equal(again, seen_field(make_raster(first, lamp=white), Sensor(), 8.0))
        # What is known to be bare already is left as it is.
        laid = [laid_cells(each) for each in (first, second)]
        new = make_raster(first, lamp=white, over=new, used=laid[1])
        np.testing.assert_array_equal(new, make_raster(first, lamp=white))
        for height in (3.0, 8.0, 25.0):
            field = seen_field(make_raster(second, lamp=white), Sensor(), height, laid[1])
            again = seen_field(new, Sensor(), 8.0, laid[0], field, seen_cells(laid[1], Sensor(), height))
            np.testing.assert_array_equal(again, seen_field(new, Sensor(), 8.0, laid[0]))
            self.assertLess(seen_cells(laid[1], Sensor(), height).mean(), 0.5)
        # Nor where the tape goes elsewhere, on a sheet with something under it or without.
        for under in ((), (Patch(700.0, 400.0, 90.0, 50.0, "#7fb7d6"),)):
            crossing, aside = (replace(each, patches=under) for each in (straight_mat(1000.0), first))
            crossing = replace(crossing, line=replace(crossing.line, heading_deg=60.0))
            old = make_raster(aside, lamp=white)
            new = make_raster(crossing, lamp=white, over=old, used=laid_cells(aside))
            np.testing.assert_array_equal(new, make_raster(crossing, lamp=white))
        larger = replace(first, width_mm=first.width_mm + 1.0)
        np.testing.assert_array_equal(make_raster(larger, lamp=white, over=new), make_raster(larger, lamp=white))

    def test_the_spot_widens_with_height(self) -> None:
        self.assertAlmostEqual(spot_sigma_mm(Sensor(), 8.0), 4.5)
        slopes = []
        for height in (4.0, 8.0, 16.0):
            setup = lighthouse(robot__mount__height_mm=height)
            profile = derive.profile(setup)
            slopes.append(np.gradient(profile.reading, profile.edge_mm).max())
        self.assertGreater(slopes[0], slopes[1])
        self.assertGreater(slopes[1], slopes[2])

    def test_a_red_lamp_sees_red_tape_as_light(self) -> None:
        mat = straight_mat(1600.0, colour="#e01515")
        raster = make_raster(mat)
        white, red = (seen_field(raster, Sensor(lamp=lamp), 8.0)[0, 500, 1000] for lamp in ("white", "red"))
        self.assertLess(white, 0.35)
        self.assertGreater(red, 0.65)


class ReadingTest(unittest.TestCase):
    def test_calibration_is_a_straight_line_cut_at_its_ends(self) -> None:
        calibration = Calibration(dark=12.0, bright=72.0)
        self.assertEqual(
            calibrated(calibration, [12.0, 42.0, 72.0, 5.0, 90.0]).tolist(), [0.0, 50.0, 100.0, 0.0, 100.0]
        )

    def test_bright_must_be_above_dark(self) -> None:
        with self.assertRaises(OutOfRangeError):
            Calibration(dark=50.0, bright=50.0)

    def test_room_light_adds_and_a_shield_takes_away(self) -> None:
        dim, lit = Light(room_light=0.0), Light(room_light=1.0)
        shielded = Light(room_light=1.0, sensor=Sensor(shield=1.0))
        self.assertLess(level_per_field(dim, 8.0), level_per_field(lit, 8.0))
        self.assertAlmostEqual(level_per_field(shielded, 8.0), level_per_field(dim, 8.0))

    def test_calibrating_makes_the_line_0_and_the_mat_100(self) -> None:
        setup = setup_with(Setup(straight_mat(width_mm=60.0)), light__room_light=0.9, robot__mount__height_mm=12.0)
        found = calibrate_on(setup.mat, setup.light, 12.0)
        setup = setup_with(setup, light__calibration=found)
        field = derive.field(setup)
        ends = calibrated(found, raw_reading(setup.light, 12.0, field[0, [500, 100], [1000, 1000]]))
        self.assertLess(abs(ends[0]), 2.0)
        self.assertGreater(ends[1], 98.0)


class RoomTest(unittest.TestCase):
    def across(self, **values: object) -> np.ndarray:
        """Readings of a robot that drives straight along a bare stretch of mat, left to right at 240 mm/s."""
        setup = setup_with(
            Setup(straight_mat(1800.0)),
            program__proportional__gain=0.0, light__sensor__noise=0.0, light__sensor__reading_step=0.0,
            trial__start_off_mm=50.0, trial__lost_distance_mm=100.0, light__room_light=1.0, light__sensor__shield=0.0,
            light__calibrate=False, robot__mount__height_mm=15.0, program__delay_s=0.0,
        )  # fmt: skip
        trace = derive.run(setup_with(setup, **values)).trace
        self.place_mm = 200.0 + 20.0 + trace.progress_mm
        return trace.reading

    def test_a_shadow_dims_the_room_light_inside_and_softly_around(self) -> None:
        bare = self.across()
        shadow = LightArea(1000.0, 560.0, 200.0, 100.0, 0.0, 100.0)
        shaded = self.across(light__areas=(shadow,))
        inside = np.abs(self.place_mm - 1000.0) < 190.0
        outside = np.abs(self.place_mm - 1000.0) > 310.0
        self.assertTrue(np.allclose(shaded[outside], bare[outside], atol=1e-9))
        # In full shadow only the lamp is left.
        expected = raw_reading(Light(room_light=0.0), 15.0, float(linear_light("#f3f1ea").mean()))
        self.assertTrue(np.allclose(shaded[inside], expected, atol=0.02))
        edge = (self.place_mm > 1200.0) & (self.place_mm < 1300.0)
        self.assertTrue((np.diff(shaded[edge]) > 0.0).all())
        middle = float(np.interp(1250.0, self.place_mm, shaded))
        self.assertAlmostEqual(middle, (float(expected) + bare[0]) / 2, delta=0.3)

    def test_a_glare_brightens_and_a_shield_takes_most_of_it_away(self) -> None:
        glare = (LightArea(1000.0, 560.0, 200.0, 100.0, 3.0, 50.0),)
        open_sky, shielded = self.across(light__areas=glare), self.across(light__areas=glare, light__sensor__shield=0.9)
        self.assertGreater(np.ptp(open_sky), 20.0)
        self.assertLess(np.ptp(shielded), 0.2 * np.ptp(open_sky))

    def test_a_slow_sensor_follows_a_step_as_a_first_order_lag(self) -> None:
        # From full shadow out into the light over a soft edge of 1 mm, at 240 mm/s: a step.
        shadow = (LightArea(400.0, 560.0, 200.0, 300.0, 0.0, 1.0),)
        quick, slow = self.across(light__areas=shadow), self.across(light__areas=shadow, light__sensor__lag_s=0.05)
        step = int(np.argmax(np.diff(quick) > 1.0)) + 1
        low, high = quick[step - 2], quick[step + 3]
        for loops in (3, 8, 15):
            expected = high - (high - low) * np.exp(-loops * 0.01 / 0.05)
            self.assertAlmostEqual(
                slow[step + loops], expected, delta=0.16 * (high - low) * np.exp(-loops * 0.2) + 0.05
            )
        self.assertAlmostEqual(slow[-1], quick[-1], delta=1e-6)

    def test_a_sensor_that_reads_high_on_dark_follows_the_same_line(self) -> None:
        inverted = lighthouse(
            light__sensor__reads_high_on="dark", light__calibration=Calibration(dark=92.0, bright=22.0)
        )
        same = derive.run(lighthouse(light__sensor__noise=0.0)).trace
        found = derive.run(setup_with(inverted, light__sensor__noise=0.0)).trace
        self.assertTrue(np.allclose(found.reading[:500], same.reading[:500], atol=1e-9))

    def test_without_calibration_readings_are_raw_and_the_midpoint_lies_elsewhere(self) -> None:
        for up in ("bright", "dark"):
            raw = lighthouse(light__calibrate=False, light__sensor__reads_high_on=up)
            profile = derive.profile(raw)
            middle = float(profile.reading[100:].min() + profile.reading[100:].max()) / 2
            followed = setup_with(raw, program__target=round(middle), program__proportional__gain=1.0)
            self.assertEqual(derive.figures(followed).outcome, "finished", up)

    def test_a_robot_that_sweeps_finds_what_the_hand_finds(self) -> None:
        for up in ("bright", "dark"):
            setup = lighthouse(light__sensor__reads_high_on=up, light__calibration=Calibration(40.0, 60.0))
            by_hand = calibrate_on(setup.mat, setup.light, setup.robot.mount.height_mm)
            sweep = derive.calibration_sweep(setup)
            # The patch is never wholly inside a line of 20 mm, and noise makes extremes a little more so.
            self.assertAlmostEqual(sweep.calibration.dark, by_hand.dark, delta=4.0)
            self.assertAlmostEqual(sweep.calibration.bright, by_hand.bright, delta=3.0)
            self.assertEqual(set(sweep.raw), set(np.round(sweep.raw)))
            followed = setup_with(setup, light__calibration=sweep.calibration)
            self.assertEqual(derive.figures(followed).outcome, "finished", up)

    def test_a_sweep_over_a_bare_mat_is_refused(self) -> None:
        bare = lighthouse(mat__line__colour="#f3f1ea", light__sensor__noise=0.0)
        with self.assertRaisesRegex(IronTrailError, "are the same"):
            derive.calibration_sweep(bare)


if __name__ == "__main__":
    unittest.main()
