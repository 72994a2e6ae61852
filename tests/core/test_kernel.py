"""The drive and the run against closed forms."""

import unittest
from dataclasses import replace
from unittest import mock

import numpy as np
from scipy.integrate import solve_ivp

from irontrail.core import derive
from irontrail.core.control.step import round_half_away
from irontrail.core.engine import noise, pack, place, plant, run, sense
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.tape import Bend, Corner, Mat, Straight, Stroke, Zone
from irontrail.core.robot.drive import turning_radius_mm
from irontrail.core.setup import Setup
from tests.support import lighthouse, ring_mat, setup_with, straight_mat


def driven(setup: Setup, left: float, right: float, seconds: float) -> np.void:
    """The engine's state after constant powers from rest at the origin."""
    return run.open_loop(setup.robot, np.array([[left, right]]), seconds)[-1]


class DriveTest(unittest.TestCase):
    def test_a_wheel_follows_its_power_as_a_first_order_lag(self) -> None:
        setup = lighthouse(robot__drive__grip=2.0)
        for seconds in (0.03, 0.06, 0.2):
            state = driven(setup, 50.0, 50.0, seconds)
            expected = 240.0 * (1.0 - np.exp(-seconds / 0.06))
            self.assertAlmostEqual(state["left_rim"], expected, places=9)
            self.assertAlmostEqual(state["left"], expected, places=9)

    def test_distance_while_speeding_up_is_that_of_the_lag(self) -> None:
        state = driven(lighthouse(robot__drive__grip=2.0), 50.0, 50.0, 1.0)
        expected = 240.0 * (1.0 - 0.06 * (1.0 - np.exp(-1.0 / 0.06)))
        self.assertAlmostEqual(state["x"], expected, delta=0.001)
        self.assertEqual(state["y"], 0.0)

    def test_steady_powers_drive_a_circle_of_the_turning_radius(self) -> None:
        for left, right in ((60.0, 30.0), (20.0, 55.0), (70.0, 10.0)):
            setup = lighthouse(robot__drive__response_time_s=0.0, robot__drive__grip=2.0)
            places = [driven(setup, left, right, t) for t in (1.0, 1.4, 1.9)]
            radius = circle_through([(s["x"], s["y"]) for s in places])
            self.assertAlmostEqual(radius / turning_radius_mm(110.0, left, right), 1.0, delta=1e-4)

    def test_opposite_powers_spin_on_the_spot(self) -> None:
        state = driven(lighthouse(robot__drive__response_time_s=0.0), -20.0, 20.0, 1.0)
        self.assertLess(np.hypot(state["x"], state["y"]), 1e-6)
        # The grip lets the wheels reach 96 mm/s within 14 ms.
        self.assertAlmostEqual(state["heading"], 2 * 96.0 / 110.0, delta=0.02)

    def test_powers_inside_the_dead_band_do_nothing(self) -> None:
        setup = lighthouse(robot__drive__dead_band=10.0)
        self.assertEqual(driven(setup, 9.0, -9.0, 1.0)["heading"], 0.0)
        self.assertGreater(driven(setup, 10.0, 10.0, 1.0)["x"], 30.0)

    def test_grip_limits_acceleration_and_the_wheel_skids(self) -> None:
        setup = lighthouse(robot__drive__grip=0.05, robot__drive__response_time_s=0.0)
        state = driven(setup, 100.0, 100.0, 0.5)
        self.assertAlmostEqual(state["left"], 0.05 * 9810.0 * 0.5, places=6)
        # The slip falls from 480 by a*t: its integral over half a second.
        self.assertAlmostEqual(state["skid"], 480.0 * 0.5 - 0.5 * 490.5 * 0.25, delta=0.5)

    def test_sideways_grip_widens_a_fast_turn(self) -> None:
        setup = lighthouse(robot__drive__grip=0.1, robot__drive__response_time_s=0.0)
        before, after = driven(setup, 100.0, 10.0, 3.0), driven(setup, 100.0, 10.0, 3.1)
        rate = (after["heading"] - before["heading"]) / 0.1
        self.assertAlmostEqual(abs(rate), 0.1 * 9810.0 / 264.0, places=3)

    def test_mismatch_is_split_between_the_wheels(self) -> None:
        state = driven(lighthouse(robot__drive__mismatch_percent=4.0), 50.0, 50.0, 2.0)
        self.assertAlmostEqual(state["left"] / state["right"], 1.02 / 0.98, places=6)

    def test_the_series_for_a_small_turn_is_as_good_as_sine_and_cosine(self) -> None:
        for angle in (-0.25, -0.1, -0.003, 0.0, 0.02, 0.25):
            c, s = plant.turned(np.cos(0.7), np.sin(0.7), angle)
            self.assertAlmostEqual(c, np.cos(0.7 + angle), delta=1e-14)
            self.assertAlmostEqual(s, np.sin(0.7 + angle), delta=1e-14)


def hook_mat() -> Mat:
    """A line that comes back close beside itself, round a corner and a narrow bend."""
    pieces = (Straight(300.0), Corner(130.0), Straight(200.0), Bend(30.0, -180.0), Straight(250.0), Bend(60.0, 200.0))
    return Mat("hook", Stroke(500.0, 500.0, 20.0, pieces), 2000.0, 2000.0)


def circle_through(points: list[tuple[float, float]]) -> float:
    """Radius of the circle through three points: the product of the sides over four times the area."""
    (ax, ay), (bx, by), (cx, cy) = points
    a, b, c = np.hypot(bx - cx, by - cy), np.hypot(ax - cx, ay - cy), np.hypot(ax - bx, ay - by)
    area = abs((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2
    return float(a * b * c / (4 * area))


class PlacesTest(unittest.TestCase):
    def test_halves_round_away_from_zero(self) -> None:
        rounded = [round_half_away(v) for v in (0.5, -0.5, 1.5, 2.4, -2.5)]
        self.assertEqual(rounded, [1.0, -1.0, 2.0, 2.0, -3.0])

    def test_random_numbers_are_uniform_and_normal(self) -> None:
        stream = np.zeros(1, noise.NOISE)
        noise.begin_noise(stream[0], 7)
        normals = [noise.next_normal(stream[0]) for _ in range(4000)]
        self.assertAlmostEqual(np.mean(normals), 0.0, delta=4 / np.sqrt(4000))
        self.assertAlmostEqual(np.std(normals), 1.0, delta=0.05)
        self.assertAlmostEqual(np.mean(np.abs(normals) < 1.0), 0.683, delta=0.03)

    def test_the_place_on_the_route_is_the_nearest_point_of_it(self) -> None:
        setup = lighthouse()
        route = derive.route(setup.mat, False)
        packed = pack.pack(setup, route, derive.field(setup))
        p, places, random = packed.lines.records[0], np.zeros(1, place.PLACE), np.random.default_rng(3)
        for s in random.uniform(0.0, route.length_mm, 60):
            aside = float(random.uniform(-30.0, 30.0))
            x, y, heading = route.at(float(s))
            x, y = x - aside * np.sin(heading), y + aside * np.cos(heading)
            place.place_at(p, places[0], route.x_mm, s + random.uniform(-20, 20))
            place.find_on_route(p, places[0], route.x_mm, route.y_mm, packed.lines.reach, x, y, 0.0)
            self.assertAlmostEqual(places["left"][0], aside, delta=0.05)
            self.assertAlmostEqual(places["s"][0], s, delta=0.6)

    def test_a_walk_along_the_route_finds_what_looking_at_every_point_does(self) -> None:
        random = np.random.default_rng(8)
        mats = (DEMO_MATS["quarry"](), DEMO_MATS["tannery"](), DEMO_MATS["lighthouse"](), hook_mat())
        walked = 0
        for mat in mats:
            setup = Setup(mat)
            route = derive.route(mat, False)
            packed = pack.pack(setup, route, derive.field(setup))
            p, (one, other) = packed.lines.records[0], (np.zeros(1, place.PLACE), np.zeros(1, place.PLACE))
            nowhere = np.zeros_like(packed.lines.reach)
            for s in random.uniform(0.0, route.length_mm, 400):
                aside, before = random.uniform(-70.0, 70.0), s + random.uniform(-15.0, 15.0)
                x, y, heading = route.at(float(s))
                x, y = x - aside * np.sin(heading), y + aside * np.cos(heading)
                for places, reach in ((one, packed.lines.reach), (other, nowhere)):
                    place.place_at(p, places[0], route.x_mm, before)
                    place.find_on_route(p, places[0], route.x_mm, route.y_mm, reach, x, y, 0.0)
                self.assertAlmostEqual(one["s"][0], other["s"][0], delta=1e-6, msg=(mat.name, s, aside))
                self.assertEqual(one["left"][0], other["left"][0])
                walked += abs(aside) < packed.lines.reach[one["point"][0]]
        self.assertGreater(walked, 500)

    def test_outside_a_sharp_corner_the_side_is_that_of_the_corner(self) -> None:
        # The corner lies on a point of the route, or anywhere between two.
        cases = [(angle, before) for angle in (60.0, 100.0, 120.0, 150.0, 170.0) for before in (400.0, 335.6, 412.13)]
        for angle, before in cases:
            line = Stroke(600.0, 800.0, 0.0, (Straight(before), Corner(angle), Straight(400.0)))
            for edge in ("left", "right"):
                setup = setup_with(Setup(Mat("corner", line, 2000.0, 2000.0)), program__edge=edge)
                packed = pack.pack(setup, derive.route(setup.mat, False), derive.field(setup))
                p, places, route = packed.lines.records[0], np.zeros(1, place.PLACE), packed.route
                for off in (5.0, 20.0, 40.0):
                    # Beyond the corner, between the normals of both directions: to the right of a line that turns left.
                    way = np.radians(0.5 * angle - 90.0)
                    for spread in np.linspace(-0.45, 0.45, 7) * np.radians(angle):
                        x, y = 600.0 + before + off * np.cos(way + spread), 800.0 + off * np.sin(way + spread)
                        place.place_at(p, places[0], route.x_mm, before)
                        place.find_on_route(p, places[0], route.x_mm, route.y_mm, packed.lines.reach, x, y, 0.0)
                        self.assertAlmostEqual(places["left"][0], -off, delta=1.0, msg=(angle, before, off, spread))

    def test_a_field_is_read_between_its_pixels(self) -> None:
        field = np.array([[[9.0, 9.0], [9.0, 9.0]], [[0.0, 1.0], [2.0, 3.0]]], np.float32)
        self.assertAlmostEqual(sense.field_at(field, 1, 1.0, 1.0), 1.5, places=5)
        self.assertAlmostEqual(sense.field_at(field, 1, 0.75, 0.5), 0.25, places=5)
        self.assertAlmostEqual(sense.field_at(field, 1, -5.0, -5.0), 0.0, places=5)


class RunTest(unittest.TestCase):
    def test_without_gain_the_robot_drives_straight_and_finishes_a_straight_line(self) -> None:
        setup = setup_with(Setup(straight_mat(1200.0)), program__proportional__gain=0.0, trial__start_mm=100.0)
        made = derive.run(setup)
        self.assertEqual(made.outcome, "finished")
        way = 1200.0 - 60.0 - 100.0
        self.assertAlmostEqual(made.time_s, way / 240.0 + 0.06, delta=0.003)
        self.assertLess(np.abs(made.trace.edge_mm).max(), 1e-6)

    def test_the_four_ways_not_to_finish(self) -> None:
        off = setup_with(Setup(straight_mat(1600.0)), program__proportional__gain=0.0, trial__start_angle_deg=60.0)
        off = setup_with(off, trial__lost_distance_mm=500.0, mat__height_mm=600.0)
        cases = {
            "lost": lighthouse(program__proportional__gain=0.0),
            "off-mat": off,
            "stuck": lighthouse(program__speed=0.0, program__proportional__gain=0.0),
            "time-out": lighthouse(trial__time_limit_s=3.0),
        }
        for outcome, setup in cases.items():
            self.assertEqual(derive.run(setup).outcome, outcome)
        self.assertAlmostEqual(derive.run(cases["stuck"]).time_s, 3.0, delta=0.011)
        self.assertAlmostEqual(derive.run(cases["time-out"]).time_s, 3.0, delta=1e-9)

    def test_on_a_ring_the_steer_is_that_of_the_bend(self) -> None:
        setup = setup_with(Setup(ring_mat(300.0)), light__sensor__noise=0.0, robot__drive__power_step=0.1)
        made = derive.run(setup_with(setup, program__speed=40.0))
        self.assertEqual(made.outcome, "finished")
        settled = made.trace.time_s > 3.0
        steer = made.trace.steer[settled].mean()
        # The sensor, 75 mm ahead, keeps to the left edge, which is 10 mm inside the ring.
        axle_radius = np.sqrt((300.0 - 10.0 - made.trace.edge_mm[settled].mean()) ** 2 - 75.0**2)
        self.assertAlmostEqual(-steer / 40.0, 55.0 / axle_radius, delta=0.01)

    def test_a_mirrored_mat_with_the_other_edge_gives_the_mirrored_run(self) -> None:
        left = setup_with(Setup(ring_mat(300.0)), light__sensor__noise=0.0)
        right = setup_with(left, trial__reverse=True, program__edge="right")
        one, other = derive.run(left).trace, derive.run(right).trace
        rows = min(len(one), len(other))
        self.assertGreater(rows, 300)
        self.assertLess(np.abs(one.edge_mm[:rows] - other.edge_mm[:rows]).max(), 0.2)
        self.assertTrue(np.allclose(one.left_power[:rows], other.right_power[:rows], atol=2.0))

    def test_the_same_setup_gives_the_same_run_bit_for_bit_and_another_seed_another(self) -> None:
        first = derive.run(lighthouse())
        derive.run.cache_clear()
        again, other = derive.run(lighthouse()), derive.run(lighthouse(trial__seed=2))
        self.assertIsNot(first, again)
        self.assertTrue(np.array_equal(first.trace.x_mm, again.trace.x_mm))
        self.assertFalse(np.array_equal(first.trace.x_mm[:100], other.trace.x_mm[:100]))

    def test_a_run_of_one_row_keeps_it_when_others_are_run(self) -> None:
        lost = derive.run(lighthouse(trial__start_off_mm=45.0, trial__lost_distance_mm=20.0))
        self.assertEqual((lost.outcome, len(lost.trace)), ("lost", 1))
        before = [column.copy() for column in vars(lost.trace).values()]
        derive.run_once(lighthouse(trial__seed=77, program__edge="right"))
        for column, was in zip(vars(lost.trace).values(), before, strict=True):
            np.testing.assert_array_equal(column, was)
            self.assertFalse(column.flags.writeable)

    def test_laps_are_counted(self) -> None:
        one, three = (derive.run(setup_with(Setup(ring_mat(300.0)), trial__laps=laps)) for laps in (1, 3))
        self.assertEqual((one.outcome, three.outcome), ("finished", "finished"))
        self.assertAlmostEqual(three.trace.progress_mm[-1] / (3 * 2 * np.pi * 300.0), 1.0, delta=0.003)
        self.assertAlmostEqual(three.time_s - one.time_s, 2 * (one.time_s - 0.06), delta=0.2)

    def test_the_pose_is_that_of_a_careful_integration_of_the_same_commands(self) -> None:
        setup = lighthouse(program__proportional__gain=1.2, robot__drive__mismatch_percent=3.0, robot__drive__grip=2.0)
        trace = derive.run(setup).trace
        drive = setup.robot.drive
        tops = [4.8 * (1.0 + side * drive.mismatch_percent / 200.0) for side in (1.0, -1.0)]

        def motion(_t: float, state: np.ndarray, left: float, right: float) -> list[float]:
            v, turn = 0.5 * (state[3] + state[4]), (state[4] - state[3]) / drive.track_width_mm
            lags = [(wanted - u) / drive.response_time_s for wanted, u in ((left, state[3]), (right, state[4]))]
            return [v * np.cos(state[2]), v * np.sin(state[2]), turn, *lags]

        state = np.array([trace.x_mm[0], trace.y_mm[0], trace.heading_rad[0], 0.0, 0.0])
        for row in range(1000):
            powers = (trace.left_power[row], trace.right_power[row])
            wanted = [top * power if abs(power) >= 3.0 else 0.0 for top, power in zip(tops, powers, strict=True)]
            state = solve_ivp(motion, (0.0, 0.01), state, args=tuple(wanted), rtol=1e-11, atol=1e-11).y[:, -1]
        away = np.hypot(state[0] - trace.x_mm[1000], state[1] - trace.y_mm[1000])
        self.assertLess(away, 1e-4)
        self.assertAlmostEqual(state[2], trace.heading_rad[1000], delta=1e-7)

    def test_turning_mat_and_robot_together_changes_nothing_but_raster_noise(self) -> None:
        pieces = (Straight(400.0), Bend(200.0, 90.0), Straight(300.0), Bend(150.0, -120.0), Straight(300.0))
        figures = []
        for angle in (0.0, 17.0, 45.0, 90.0):
            mat = Mat("turned", Stroke(1500.0, 1500.0, angle, pieces), 3000.0, 3000.0)
            setup = setup_with(Setup(mat), light__sensor__noise=0.0, light__sensor__reading_step=0.0)
            packed = pack.pack(setup, derive.route(mat, False), derive.field(setup))
            packed.parameters["controller"]["power_step"] = 1e-9
            made = run.run(packed)
            figures.append((made.outcome, made.time_s, np.sqrt(np.mean(made.trace.edge_mm**2))))
        for outcome, time_s, rms in figures:
            self.assertEqual(outcome, "finished")
            # Seen: 0.0002 % of the time, 0.25 % of the RMS distance.
            self.assertAlmostEqual(time_s / figures[0][1], 1.0, delta=0.0001)
            self.assertAlmostEqual(rms / figures[0][2], 1.0, delta=0.01)

    def test_noise_is_as_large_as_said(self) -> None:
        still = setup_with(Setup(straight_mat(width_mm=60.0)), program__speed=0.0, program__proportional__gain=0.0)
        reading = derive.run(
            setup_with(still, light__sensor__noise=2.0, light__sensor__reading_step=0.0, trial__stuck_time_s=30.0)
        ).trace.reading
        self.assertGreater(reading.size, 2900)
        # Raw percent become calibrated ones: 100 of these for 70 of those.
        self.assertAlmostEqual(reading.std(), 2.0 * 100.0 / 70.0, delta=0.1)

    def test_where_it_might_slip_it_is_driven_in_steps_whose_length_hardly_matters(self) -> None:
        setup = lighthouse(robot__drive__grip=0.12, program__proportional__gain=1.2)
        powers = np.random.default_rng(4).uniform(-60.0, 100.0, (100, 2))
        ends = []
        for step in (0.001, 0.0001):
            with mock.patch.object(pack, "MAX_STEP_S", step):
                ends.append(run.open_loop(setup.robot, powers, 0.02))
        self.assertGreater(ends[0]["skid"][-1], 50.0)
        apart = np.hypot(ends[0]["x"] - ends[1]["x"], ends[0]["y"] - ends[1]["y"])
        self.assertLess(apart.max(), 1.0)

    def test_an_interval_is_driven_as_its_parts_are(self) -> None:
        powers = np.random.default_rng(5).uniform(-40.0, 70.0, (50, 2))
        robot = lighthouse(robot__drive__grip=2.0, robot__drive__response_time_s=0.03).robot
        whole, parts = run.open_loop(robot, powers, 0.03), run.open_loop(robot, np.repeat(powers, 6, axis=0), 0.005)
        for name in ("x", "y", "heading", "left", "right", "left_rolled", "rolled"):
            self.assertLess(np.abs(whole[name] - parts[name][::6]).max(), 1e-6, name)
        self.assertEqual(whole["skid"][-1], 0.0)

    def test_the_delay_is_the_age_of_the_sample(self) -> None:
        # On a straight without gain the reading is that of the place a delay ago: drive across the line.
        setup = setup_with(
            Setup(straight_mat(1600.0)),
            program__proportional__gain=0.0, light__sensor__noise=0.0, light__sensor__reading_step=0.0,
            trial__start_off_mm=50.0, trial__start_angle_deg=-60.0, trial__start_mm=300.0,
        )  # fmt: skip
        now = derive.run(setup_with(setup, program__delay_s=0.0)).trace
        late = derive.run(setup_with(setup, program__delay_s=0.03)).trace
        rows = np.arange(10, 40)
        self.assertTrue(np.allclose(late.reading[rows], now.reading[rows - 3], atol=1e-6))
        self.assertGreater(np.ptp(now.reading[rows]), 50.0)

    def test_more_than_the_search_driven_in_a_loop_is_no_loss(self) -> None:
        setup = setup_with(
            Setup(straight_mat(1700.0)),
            program__loop_time_s=0.3, program__delay_s=0.0, program__proportional__gain=0.0, program__speed=90.0,
            trial__start_mm=30.0, robot__drive__grip=2.0,
        )  # fmt: skip
        made = derive.run(setup)
        self.assertEqual(made.outcome, "finished")
        self.assertGreater(np.diff(made.trace.progress_mm).max(), 110.0)

    def test_a_finish_zone_is_not_driven_through_unseen(self) -> None:
        mat = replace(straight_mat(1700.0), finish=Zone(1000.0, 500.0, 20.0, 100.0))
        for loop in (0.01, 0.1, 0.3):
            setup = setup_with(
                Setup(mat), program__loop_time_s=loop, program__delay_s=0.0, program__proportional__gain=0.0,
                program__speed=90.0, trial__start_mm=30.0, robot__drive__grip=2.0,
            )  # fmt: skip
            made = derive.run(setup)
            self.assertEqual(made.outcome, "finished", loop)
            self.assertAlmostEqual(made.time_s, (990.0 - 230.0) / 432.0 + 0.06, delta=0.001)

    def test_the_angle_at_rest_is_that_to_the_line_where_it_rests(self) -> None:
        pieces = (Straight(500.0), Bend(300.0, 90.0), Straight(300.0))
        mat = Mat("bent", Stroke(200.0, 400.0, 0.0, pieces), 2000.0, 2000.0, finish=Zone(695.0, 400.0, 10.0, 200.0))
        setup = setup_with(
            Setup(mat), robot__drive__response_time_s=0.4, program__speed=80.0, program__proportional__gain=0.0,
            robot__drive__grip=2.0,
        )  # fmt: skip
        made = derive.run(setup)
        self.assertEqual(made.outcome, "finished")
        self.assertGreater(made.coast_mm, 100.0)
        # It rolled straight on, its sensor past the bend's beginning: the line has turned left of it by then.
        past = made.rest_x_mm + 75.0 - 700.0
        self.assertAlmostEqual(np.degrees(made.end_angle_rad), -np.degrees(np.arctan2(past, 300.0)), delta=3.0)

    def test_a_line_shorter_than_its_finish_is_driven_to_its_end(self) -> None:
        made = derive.run(setup_with(Setup(straight_mat(60.0)), program__proportional__gain=0.0, trial__start_mm=5.0))
        self.assertEqual(made.outcome, "finished")
        self.assertGreater(made.trace.progress_mm[-1], 50.0)

    def test_a_slow_sensor_sees_what_a_first_order_lag_makes_of_its_way(self) -> None:
        setup = setup_with(
            Setup(straight_mat(1600.0)),
            program__proportional__gain=0.0, program__delay_s=0.0, program__loop_time_s=0.001, light__sensor__noise=0.0,
            light__sensor__reading_step=0.0, trial__start_off_mm=50.0, trial__start_angle_deg=-60.0,
            trial__start_mm=300.0, light__calibrate=False,
        )  # fmt: skip
        quick, slow = (derive.run(setup_with(setup, light__sensor__lag_s=lag)).trace for lag in (0.0, 0.02))
        expected = np.empty(len(quick))
        expected[0], decay = quick.reading[0], np.exp(-0.001 / 0.02)
        for i in range(1, len(quick)):
            # The exact answer to a straight line from one sample to the next.
            slope = (quick.reading[i] - quick.reading[i - 1]) / 0.001
            off = expected[i - 1] - quick.reading[i - 1] + slope * 0.02
            expected[i] = quick.reading[i] - slope * 0.02 + off * decay
        self.assertGreater(np.ptp(quick.reading), 50.0)
        self.assertLess(np.abs(slow.reading - expected[: len(slow)]).max(), 1e-6)


if __name__ == "__main__":
    unittest.main()
