"""What a sensor gives: counts either way up, a coarse scale, the names of colours."""

import unittest
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.errors import IronTrailError, OutOfRangeError
from irontrail.core.light.names import USUAL_PALETTE, NamedColour, nearest_names, palette_points
from irontrail.core.light.reading import NAMES_HEIGHT_MM, lamp_share, level_per_field
from irontrail.core.light.sensor import Calibration, Sensor
from irontrail.core.mat.tape import Patch
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.on_off import OnOff
from irontrail.core.theory.linear import linear_loop
from tests.support import lighthouse, setup_with, straight_mat

NAMES = [named.name for named in USUAL_PALETTE]


def naming(**values: Any) -> Setup:
    """The demo with a sensor that gives names, steered on and off, slowly; grey counts as dark."""
    slow = OnOff(dark_outer=35.0, dark_inner=5.0, light_outer=35.0, light_inner=5.0)
    return lighthouse(
        light__sensor__scale="colour names", program__law="on-off", program__target=60.0, program__on_off=slow, **values
    )


class CountsTest(unittest.TestCase):
    def test_counts_are_whole_and_reach_from_0_to_the_highest(self) -> None:
        for highest in (4095, 255, 7):
            counts = lighthouse(light__sensor__scale="counts", light__sensor__highest_count=highest)
            given = derive.run(counts).trace.raw_output
            self.assertTrue(np.allclose(given, np.round(given), atol=1e-9))
            self.assertTrue(((given >= 0) & (given <= highest)).all())
            self.assertGreater(given.max(), 0.5 * highest)
            self.assertEqual(derive.figures(counts).outcome, "finished", highest)

    def test_a_coarse_scale_has_few_steps(self) -> None:
        coarse = lighthouse(light__sensor__scale="counts", light__sensor__highest_count=7)
        self.assertLessEqual(len(set(derive.run(coarse).trace.raw_output)), 8)

    def test_counts_that_fall_with_light_mirror_those_that_rise(self) -> None:
        still = lighthouse(
            light__sensor__scale="counts", light__sensor__noise=0.0, light__calibration=Calibration(8.0, 78.0)
        )
        falling = setup_with(still, light__sensor__reads_high_on="dark", light__calibration=Calibration(92.0, 22.0))
        up, down = derive.run(still).trace, derive.run(falling).trace
        self.assertTrue(np.allclose(down.raw_output[:300], 4095.0 - up.raw_output[:300], atol=1.0 + 1e-9))

    def test_without_calibration_the_program_reads_the_count_as_a_share_of_the_highest(self) -> None:
        raw = lighthouse(
            light__sensor__scale="counts", light__calibrate=False, program__target=43.0, program__proportional__gain=1.0
        )
        trace = derive.run(raw).trace
        self.assertTrue(np.allclose(trace.reading, trace.raw_output / 40.95, atol=1e-9))
        self.assertEqual(derive.figures(raw).outcome, "finished")

    def test_percent_stays_percent(self) -> None:
        trace = derive.run(lighthouse(light__calibrate=False)).trace
        self.assertTrue(np.allclose(trace.raw_output, trace.reading))


class NearestNameTest(unittest.TestCase):
    def test_a_colour_of_the_palette_has_its_own_name_and_half_the_way_to_the_next_as_margin(self) -> None:
        points = palette_points(USUAL_PALETTE)
        index, margin = nearest_names(USUAL_PALETTE, points**2)
        self.assertEqual(index.tolist(), list(range(len(NAMES))))
        apart = np.linalg.norm(points[:, None] - points[None], axis=-1) + 9.0 * np.eye(len(NAMES))
        self.assertTrue(np.allclose(margin, 0.5 * apart.min(axis=1)))

    def test_the_name_changes_where_the_margin_is_used_up(self) -> None:
        black, white = (palette_points(USUAL_PALETTE)[NAMES.index(name)] for name in ("black", "white"))
        pair = (NamedColour("black", "#202124", 0.0), NamedColour("white", "#ffffff", 100.0))
        place = black + 0.3 * (white - black)
        index, margin = nearest_names(pair, place**2)
        way = (white - black) / np.linalg.norm(white - black)
        self.assertEqual(int(index), 0)
        for share, name in ((0.999, 0), (1.001, 1)):
            self.assertEqual(int(nearest_names(pair, (place + share * float(margin) * way) ** 2)[0]), name)

    def test_too_few_names_or_two_alike_or_a_coloured_lamp_are_refused(self) -> None:
        black = USUAL_PALETTE[0]
        self.assertRaises(OutOfRangeError, Sensor, palette=(black,))
        self.assertRaises(OutOfRangeError, Sensor, palette=(black, NamedColour("ink", black.colour, 3.0)))
        self.assertRaises(OutOfRangeError, Sensor, palette=USUAL_PALETTE * 2)
        with self.assertRaisesRegex(OutOfRangeError, "white lamp"):
            Sensor(scale="colour names", lamp="red")
        self.assertRaises(OutOfRangeError, NamedColour, "red", "red", 0.0)


class NamesTest(unittest.TestCase):
    def test_the_engine_gives_the_name_that_the_whole_array_gives(self) -> None:
        setup = naming(light__sensor__noise=0.0, program__delay_s=0.0)
        trace, field = derive.run(setup).trace, derive.field(setup)
        self.assertEqual(field.shape[0], 3)
        mount = setup.robot.mount
        x = trace.x_mm + mount.ahead_mm * np.cos(trace.heading_rad)
        y = trace.y_mm + mount.ahead_mm * np.sin(trace.heading_rad)
        i, j = (x - 0.5).astype(int), (y - 0.5).astype(int)
        fx, fy = x - 0.5 - i, y - 0.5 - j
        seen = ((field[:, j, i] * (1 - fx) + field[:, j, i + 1] * fx) * (1 - fy)) + (
            field[:, j + 1, i] * (1 - fx) + field[:, j + 1, i + 1] * fx
        ) * fy
        light = level_per_field(setup.light, mount.height_mm) / lamp_share(NAMES_HEIGHT_MM)
        index, margin = nearest_names(USUAL_PALETTE, seen.T * light)
        self.assertEqual(trace.raw_output.astype(int).tolist(), index.tolist())
        self.assertTrue(np.allclose(trace.margin, margin, atol=1e-6))
        self.assertGreater(len(set(trace.raw_output)), 1)

    def test_the_program_reads_the_number_a_name_stands_for_and_follows_by_it(self) -> None:
        setup = naming()
        trace = derive.run(setup).trace
        stands_for = np.array([named.reads_as for named in USUAL_PALETTE])
        self.assertTrue(np.array_equal(trace.reading, stands_for[trace.raw_output.astype(int)]))
        self.assertEqual(derive.figures(setup).outcome, "finished")

    def test_a_red_line_is_followed_by_its_name_alone(self) -> None:
        mat = straight_mat(colour="#c8322b", width_mm=30.0)
        reds = tuple(
            NamedColour(named.name, named.colour, 0.0 if named.name == "red" else 100.0) for named in USUAL_PALETTE
        )
        setup = setup_with(
            Setup(mat), light__sensor__scale="colour names", program__law="on-off", light__sensor__palette=reds
        )
        self.assertEqual(derive.figures(setup).outcome, "finished")
        names = {NAMES[int(i)] for i in derive.run(setup).trace.raw_output}
        self.assertIn("red", names)
        # To whom only black is line there is none.
        self.assertNotEqual(derive.figures(setup_with(setup, light__sensor__palette=USUAL_PALETTE)).outcome, "finished")

    def test_every_colour_under_the_sensor_at_its_taught_height_in_the_dark_has_its_own_name(self) -> None:
        for i, named in enumerate(USUAL_PALETTE):
            patch = Patch(800.0, 500.0, 1500.0, 800.0, named.colour, over_line=True)
            setup = Setup(straight_mat())
            setup = setup_with(
                setup, mat__patches=(patch,), light__sensor__scale="colour names", light__room_light=0.0,
                robot__mount__height_mm=NAMES_HEIGHT_MM, light__sensor__noise=0.0,
            )  # fmt: skip
            self.assertEqual(int(derive.run(setup).trace.raw_output[0]), i, named.name)

    def test_held_too_high_the_white_mat_is_no_longer_white(self) -> None:
        high = naming(robot__mount__height_mm=32.0, light__room_light=0.0)
        given = {NAMES[int(i)] for i in derive.run(high).trace.raw_output}
        self.assertNotIn("white", given)

    def test_names_know_no_calibration_and_no_linear_theory(self) -> None:
        setup = naming()
        odd = setup_with(setup, light__calibration=Calibration(60.0, 20.0), light__sensor__reads_high_on="dark")
        self.assertTrue(np.array_equal(derive.run(odd).trace.x_mm, derive.run(setup).trace.x_mm))
        self.assertRaises(IronTrailError, linear_loop, setup_with(setup, program__law="proportional"))

    def test_the_profile_steps_from_one_name_to_another(self) -> None:
        reading = derive.profile(naming(light__sensor__noise=0.0)).reading
        self.assertEqual(set(reading), {0.0, 50.0, 100.0})


if __name__ == "__main__":
    unittest.main()
