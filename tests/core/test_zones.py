"""Where a run starts and where it is finished: zones on the mat."""

import unittest
from dataclasses import replace

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.route import make_route
from irontrail.core.mat.tape import Zone
from irontrail.core.mat.zones import corners
from irontrail.core.setup import Setup
from tests.support import lighthouse, setup_with, straight_mat


def sensor_at(setup: Setup, row: int) -> tuple[float, float]:
    """Where the sensor was in a row of the trace."""
    trace, ahead = derive.run(setup).trace, setup.robot.mount.ahead_mm
    heading = trace.heading_rad[row]
    return trace.x_mm[row] + ahead * np.cos(heading), trace.y_mm[row] + ahead * np.sin(heading)


class ZoneTest(unittest.TestCase):
    def test_the_run_is_finished_where_the_sensor_comes_into_the_zone(self) -> None:
        mat = replace(straight_mat(), finish=Zone(1000.0, 500.0, 200.0, 100.0))
        setup = setup_with(Setup(mat), light__sensor__noise=0.0)
        run = derive.run(setup)
        self.assertEqual(run.outcome, "finished")
        before, after = sensor_at(setup, -2)[0], sensor_at(setup, -1)[0]
        self.assertTrue(before < 900.0 <= after)
        # Between the two in proportion.
        share = (900.0 - before) / (after - before)
        self.assertAlmostEqual(run.time_s, run.trace.time_s[-2] + share * 0.01, places=4)

    def test_a_turned_zone_is_come_into_at_its_turned_side(self) -> None:
        mat = replace(straight_mat(), finish=Zone(1000.0, 510.0, 100.0, 100.0, 45.0))
        setup = setup_with(Setup(mat), light__sensor__noise=0.0)
        self.assertAlmostEqual(sensor_at(setup, -1)[0], 1000.0 - 50.0 * np.sqrt(2.0), delta=5.0)
        self.assertTrue(
            np.allclose(sorted(corners(mat.finish or Zone(0, 0, 10, 10)))[0], (1000 - 50 * np.sqrt(2), 510), atol=1e-9)
        )

    def test_a_zone_beside_the_way_is_never_come_into(self) -> None:
        mat = replace(straight_mat(), finish=Zone(1000.0, 700.0, 200.0, 100.0))
        self.assertNotEqual(derive.figures(Setup(mat)).outcome, "finished")

    def test_on_a_closed_line_a_lap_is_one_driven_round(self) -> None:
        setup = lighthouse()
        length = derive.run(setup).route.length_mm
        x, y, _ = derive.route(setup.mat, False).at(1200.0)
        zone = Zone(x, y, 120.0, 120.0)
        for laps in (1, 2):
            round_ = setup_with(setup, mat__finish=zone, trial__laps=laps)
            self.assertEqual(derive.run(round_).outcome, "finished")
            # A lap is one driven round: the zone does not count on the way to it.
            progress = derive.figures(round_).progress_mm
            self.assertAlmostEqual(progress, 1200.0 - 60.0 - 20.0 + laps * length, delta=25.0)

    def test_set_down_in_its_finish_zone_or_just_before_it_first_drives_round(self) -> None:
        setup = lighthouse()
        for at_mm, side_mm, beyond_mm, within_mm in ((20.0, 150.0, -75.0, 20.0), (120.0, 80.0, 60.0, 10.0)):
            x, y, _ = derive.route(setup.mat, False).at(at_mm)
            figures = derive.figures(setup_with(setup, mat__finish=Zone(x, y, side_mm, side_mm)))
            self.assertEqual(figures.outcome, "finished")
            self.assertAlmostEqual(figures.progress_mm, figures.route_length_mm + beyond_mm, delta=within_mm)

    def test_the_sensor_is_set_down_at_the_start_zone(self) -> None:
        mat = replace(straight_mat(), start=Zone(700.0, 480.0, 100.0, 100.0))
        run = derive.run(setup_with(Setup(mat), trial__start_mm=30.0))
        self.assertAlmostEqual(run.start_mm, 530.0, delta=1.0)
        self.assertAlmostEqual(run.trace.progress_mm[0], 0.0, delta=1.0)

    def test_an_open_line_driven_back_starts_where_it_else_finishes(self) -> None:
        mat = replace(straight_mat(), start=Zone(300.0, 500.0, 80.0, 80.0), finish=Zone(1700.0, 500.0, 80.0, 80.0))
        back = setup_with(Setup(mat), trial__reverse=True)
        self.assertAlmostEqual(sensor_at(back, 0)[0], 1680.0, delta=1.0)
        self.assertEqual(derive.run(back).outcome, "finished")
        self.assertAlmostEqual(sensor_at(back, -1)[0], 340.0, delta=6.0)


class DemoTest(unittest.TestCase):
    def test_pip_follows_every_mat_of_the_team(self) -> None:
        for name in DEMO_MATS:
            self.assertEqual(derive.figures(demo_project(name).setup).outcome, "finished", name)

    def test_the_ferry_takes_either_quay_by_the_edge_that_leads_there(self) -> None:
        ferry = demo_project("ferry").setup
        south = setup_with(ferry, mat__goal=1, program__edge="right")
        for setup in (ferry, south):
            self.assertEqual(derive.figures(setup).outcome, "finished")
        self.assertGreater(sensor_at(ferry, -1)[1] - sensor_at(south, -1)[1], 300.0)

    def test_a_wiggle_ends_on_its_own_line(self) -> None:
        mat = DEMO_MATS["tannery"]()
        route = make_route(mat)
        # Two waves of 150 mm that swing to 45 degrees, after 160 mm straight.
        end = 160.0 + 2 * 4 * 150.0 * np.radians(45.0)
        _, y, heading = route.at(end)
        self.assertAlmostEqual(y, mat.line.y_mm, delta=0.001)
        self.assertAlmostEqual(heading, 0.0, delta=0.005)
        self.assertAlmostEqual(np.abs(route.heading[route.s_mm < end]).max(), np.radians(45.0), delta=0.01)


if __name__ == "__main__":
    unittest.main()
