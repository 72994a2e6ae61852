"""A second sensor: what it sees and gives, how two make one error, where the robot is judged, and its theory."""

import unittest
from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.control.curve import curve_over, powers_at, steered_by
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError, OutOfRangeError
from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Calibration, LightArea, Sensor
from irontrail.core.mat.tape import Bend, Corner, Mat, Straight, Stroke
from irontrail.core.result import Trace, point_way
from irontrail.core.robot.mount import Mount
from irontrail.core.setup import Setup, Trial, asks_for_second, with_one, with_second
from irontrail.core.shaking import AT_EVENT
from irontrail.core.steering.handles import handles, moved
from irontrail.core.steering.laws.table import Case, Table
from irontrail.core.steering.legs import AfterDistance, AtMark, AtReading, CreepLeg, FollowLeg, StraightLeg, Trip
from irontrail.core.steering.pair import ARRANGEMENTS, ASTRIDE, reach
from irontrail.core.steering.registry import LAW_NAMES
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.words import in_words
from irontrail.core.theory.linear import Eye, linear_loop, ultimate_gain_by_formula
from irontrail.core.theory.pair import pair_point
from irontrail.core.theory.sampled import swing, ultimate_gain
from irontrail.core.theory.turning import check_bends
from irontrail.core.tune import ultimate_gain as rocking
from irontrail.core.tune.axes import USUAL, all_numbers, axis, foremost
from irontrail.core.tune.batch import run_batch
from irontrail.core.tune.robustness import strains_of
from tests.support import lighthouse, setup_with, straight_mat

STILL = {"light__sensor__noise": 0.0, "light__sensor__reading_step": 0.0}
STILL_SECOND = {"second__sensor__noise": 0.0, "second__sensor__reading_step": 0.0}


def pair(
    arrangement: str,
    first: tuple[float, float] = (75.0, 12.0),
    second: tuple[float, float] = (75.0, -12.0),
    **values: Any,
) -> Setup:
    """The lighthouse demo with two sensors, each ahead of the axle and to the left, by the name of an arrangement."""
    setup = lighthouse(robot__mount__ahead_mm=first[0], robot__mount__aside_mm=first[1])
    setup = replace(setup, second=SecondSensor(Mount(*second)))
    return setup_with(setup, program__arrangement=arrangement, **values)


def mirrored_stroke(stroke: Stroke, height: float) -> Stroke:
    pieces = tuple(
        replace(piece, angle_deg=-piece.angle_deg) if isinstance(piece, Bend | Corner) else piece
        for piece in stroke.pieces
    )
    return replace(stroke, y_mm=height - stroke.y_mm, heading_deg=-stroke.heading_deg, pieces=pieces)


def mirrored(setup: Setup) -> Setup:
    """The same seen in a mirror that lies along the mat: every left is a right."""
    mat, program, second = setup.mat, setup.program, setup.second
    assert second is not None
    mat = replace(
        mat,
        line=mirrored_stroke(mat.line, mat.height_mm),
        other_lines=tuple(mirrored_stroke(line, mat.height_mm) for line in mat.other_lines),
    )
    table = program.table
    swapped = {name: Case(case.right, case.left) for name, case in vars(table).items()}
    program = replace(
        program,
        edge="right" if program.edge == "left" else "left",
        table=Table(swapped["neither"], swapped["right"], swapped["left"], swapped["both"]),
        pair=replace(
            program.pair, left_threshold=program.pair.right_threshold, right_threshold=program.pair.left_threshold
        ),
    )
    mount = replace(setup.robot.mount, aside_mm=-setup.robot.mount.aside_mm)
    other = replace(second.mount, aside_mm=-second.mount.aside_mm)
    return replace(
        setup, mat=mat, program=program, robot=replace(setup.robot, mount=mount), second=replace(second, mount=other)
    )


class SecondSensorTest(unittest.TestCase):
    def test_one_that_only_watches_changes_nothing_of_the_run(self) -> None:
        for law in LAW_NAMES:
            alone = lighthouse(program__law=law, light__sensor__lag_s=0.004)
            slow = replace(SecondSensor(Mount(-30.0, 25.0, 12.0)), sensor=Sensor(lag_s=0.004, scale="counts"))
            watched = replace(alone, second=slow)
            one, two = derive.run(alone), derive.run(watched)
            self.assertEqual((one.time_s, one.outcome, one.sensors, two.sensors), (two.time_s, two.outcome, 1, 2))
            for name in vars(one.trace):
                same = np.array_equal(getattr(one.trace, name), getattr(two.trace, name))
                self.assertEqual(same, not name.startswith("second_"), (law, name))
            self.assertFalse(one.trace.second_reading.any() or one.trace.second_raw_output.any())

    def test_it_gives_what_a_single_one_would_give_there(self) -> None:
        sensor = Sensor(scale="counts", lamp="red", noise=0.0, shield=0.9, reads_high_on="dark", spot_base_mm=4.0)
        setup = lighthouse(program__delay_s=0.0, light__room_light=0.7)
        setup = replace(setup, light=replace(setup.light, areas=(LightArea(600.0, 200.0, 300.0, 200.0, 0.3),)))
        second = SecondSensor(Mount(30.0, -35.0, 14.0), sensor, Calibration(88.0, 40.0))
        setup = replace(setup, second=second)
        trace = derive.run(setup).trace
        x, y = point_way(trace, second.mount)
        there = setup.seen_by("second")
        for row in range(0, len(trace), 37):
            found = derive.probe(there, float(x[row]), float(y[row]))
            self.assertAlmostEqual(trace.second_raw_output[row], found.raw_output, delta=0.51)
            self.assertAlmostEqual(trace.second_reading[row], found.reading, delta=0.1)
        self.assertGreater(np.ptp(trace.second_reading), 50.0)

    def test_each_has_a_random_stream_of_its_own_that_a_seed_repeats(self) -> None:
        # Both over the very same spot, so that they differ by their noise alone.
        setup = lighthouse(light__sensor__reading_step=0.0, light__calibrate=False)
        setup = replace(setup, second=SecondSensor(setup.robot.mount, setup.light.sensor))
        first, again = derive.run_once(setup).trace, derive.run_once(setup).trace
        self.assertTrue(np.array_equal(first.second_reading, again.second_reading))
        still = derive.run_once(setup_with(setup, second__sensor__noise=0.0)).trace
        self.assertTrue(np.array_equal(still.x_mm, first.x_mm))
        one, other = first.reading - still.second_reading, first.second_reading - still.second_reading
        self.assertAlmostEqual(float(other.std()), setup.light.sensor.noise, delta=0.03)
        self.assertLess(abs(float(np.corrcoef(one, other)[0, 1])), 0.06)
        lagged = [abs(float(np.corrcoef(one[k:], other[: other.size - k])[0, 1])) for k in (1, 2, 3, 7, 50)]
        lagged += [abs(float(np.corrcoef(other[k:], one[: one.size - k])[0, 1])) for k in (1, 2, 3, 7, 50)]
        self.assertLess(max(lagged), 0.08)
        changed = derive.run_once(setup_with(setup, trial__seed=2, program__law="on-off")).trace.second_reading[:60]
        self.assertFalse(np.allclose(changed, first.second_reading[:60]))

    def test_a_slow_one_follows_its_light_by_its_own_lag(self) -> None:
        setup = replace(lighthouse(), second=SecondSensor(Mount(75.0, 0.0), Sensor(noise=0.0, reading_step=0.0)))
        setup = setup_with(setup, robot__mount__aside_mm=0.0, program__law="on-off")
        quick, slow = (derive.run(setup_with(setup, second__sensor__lag_s=lag)).trace for lag in (0.0, 0.05))
        self.assertLess(np.abs(quick.x_mm - slow.x_mm).max(), 1e-6)
        self.assertLess(np.ptp(slow.second_reading), np.ptp(quick.second_reading) - 5.0)
        # A first-order lag, by hand, of what the quick one saw.
        level, share = quick.second_reading[0], 1.0 - np.exp(-0.01 / 0.05)
        by_hand = []
        for now in quick.second_reading:
            level += (now - level) * share
            by_hand.append(level)
        self.assertLess(np.abs(np.array(by_hand) - slow.second_reading)[50:].mean(), 2.0)

    def test_after_a_pull_both_see_the_new_place(self) -> None:
        from irontrail.core.setup import Pull

        setup = pair("one", (75.0, 0.0), (75.0, -40.0), **STILL_SECOND)
        x, y, heading = derive.route(setup.mat, False).at(1500.0)
        pull = Pull(2.0, x, y, float(np.degrees(heading)))
        trace = derive.run(setup_with(setup, trial__pull=pull, program__delay_s=0.035)).trace
        row = int(np.searchsorted(trace.time_s, 2.0))
        there = derive.probe(
            setup.seen_by("second"), *(float(column[row]) for column in point_way(trace, Mount(75.0, -40.0)))
        )
        self.assertAlmostEqual(trace.second_reading[row], there.reading, delta=0.5)

    def test_mounting_one_and_taking_it_off_again(self) -> None:
        setup = lighthouse()
        two = with_second(setup)
        assert two.second is not None
        self.assertEqual((two.second.sensor, two.second.calibration), (setup.light.sensor, setup.light.calibration))
        self.assertNotEqual(two.second.mount.aside_mm, setup.robot.mount.aside_mm)
        trip = Trip((FollowLeg((AtMark(sensor="second"),)), CreepLeg(sensor="second")))
        asking = setup_with(two, program__arrangement="weighted", program__trip=trip)
        one = with_one(asking)
        self.assertIsNone(one.second)
        self.assertEqual((one.program.arrangement, asks_for_second(one.program)), ("one", ""))
        self.assertEqual(len(one.program.trip.legs), 2)  # type: ignore[union-attr]
        for program, where in (
            (replace(setup.program, arrangement="table"), "program.arrangement"),
            (replace(setup.program, trip=trip), "program.trip.legs.0.ends.0.sensor"),
            (replace(setup.program, trip=Trip((CreepLeg(sensor="second"),))), "program.trip.legs.0.sensor"),
        ):
            self.assertEqual(asks_for_second(program), where)
            with self.assertRaises(OutOfRangeError) as caught:
                replace(setup, program=program)
            self.assertIn("second sensor", str(caught.exception))

    def test_numbers_are_found_of_either_sensor(self) -> None:
        setup = pair("each its side")
        paths = {
            "robot.mount.height_mm": "second.mount.height_mm",
            "light.sensor.noise": "second.sensor.noise",
            "light.calibration.dark": "second.calibration.dark",
            "light.room_light": "light.room_light",
            "program.target": "program.pair.right_threshold",
        }
        for path, of_second in paths.items():
            self.assertEqual(setup.path_of(path, "second"), of_second)
        self.assertEqual(setup.path_of("program.target", "first"), "program.pair.left_threshold")
        swapped = setup_with(setup, robot__mount__aside_mm=-20.0)
        self.assertEqual(swapped.path_of("program.target", "first"), "program.pair.right_threshold")
        self.assertEqual(setup_with(setup, program__arrangement="weighted").path_of("program.target", "second"),
                         "program.target")  # fmt: skip
        other = setup.with_eye("second", calibration=Calibration(5.0, 90.0))
        self.assertEqual((other.seen_by("second").light.calibration.bright, other.light), (90.0, setup.light))
        mounted = setup.with_eye("first", mount=Mount(50.0))
        self.assertEqual((mounted.robot.mount.ahead_mm, mounted.second), (50.0, setup.second))


class ErrorTest(unittest.TestCase):
    def by_hand(self, setup: Setup, trace: Trace) -> tuple[np.ndarray, np.ndarray]:
        """The error of each row of a trace, and the case of a table, worked out from what both sensors read."""
        program, pair_of = setup.program, setup.program.pair
        first, second = trace.reading, trace.second_reading
        left, right = (first, second) if setup.robot.mount.aside_mm > setup.second.mount.aside_mm else (second, first)  # type: ignore[union-attr]
        below_left, below_right = pair_of.left_threshold - left, pair_of.right_threshold - right
        if program.line == "light":
            below_left, below_right = -below_left, -below_right
        case = (below_left > 0.0) * 1 + (below_right > 0.0) * 2
        if program.arrangement == "weighted":
            other = 1.0 if pair_of.edges == "same" else -1.0
            away = second - program.target
            return pair_of.weight * (first - program.target) + (1.0 - pair_of.weight) * other * away, case
        if program.arrangement == "each its side":
            error = np.maximum(below_right, 0.0) - np.maximum(below_left, 0.0)
            return error if program.line == "dark" else -error, case
        return left - right, case

    def test_every_arrangement_makes_its_error_of_what_both_read(self) -> None:
        for arrangement in tuple(ARRANGEMENTS)[1:]:
            for sides in (((75.0, 12.0), (75.0, -12.0)), ((75.0, -9.0), (60.0, 14.0))):
                setup = pair(arrangement, *sides, program__pair__left_threshold=62.0, program__pair__weight=0.7)
                setup = setup_with(setup, program__target=45.0, program__pair__right_threshold=40.0)
                for line in ("dark", "light"):
                    for edges in ("same", "opposite"):
                        made = setup_with(setup, program__line=line, program__pair__edges=edges)
                        trace = derive.run(made).trace
                        error, case = self.by_hand(made, trace)
                        self.assertTrue(np.allclose(trace.error, error, atol=1e-9), (arrangement, line, edges))
                        self.assertTrue(np.array_equal(trace.side > 0.5, error >= 0.0))
                        if arrangement == "table":
                            self.assertTrue(np.array_equal(trace.rule, case))

    def test_a_law_steers_an_error_of_two_as_one_of_a_single_reading(self) -> None:
        for law in LAW_NAMES:
            setup = pair("difference", program__law=law, program__speed=30.0, program__proportional__gain=0.3)
            trace = derive.run(setup).trace
            if setup.program.chosen.memory == 0:
                curve = curve_over(setup, trace.error + 50.0)
                self.assertTrue(np.array_equal(curve.left, trace.left_power), law)
                self.assertTrue(np.array_equal(curve.right, trace.right_power), law)
                continue
            pid = setup.program.pid
            total = np.cumsum(trace.error) * 0.01
            self.assertTrue(np.allclose(trace.p_term, pid.kp * trace.error, atol=1e-9))
            self.assertTrue(np.allclose(trace.i_term[:100], pid.ki * total[:100], atol=1e-9))

    def test_the_table_sets_the_powers_of_its_case(self) -> None:
        setup = pair("table", robot__drive__power_step=1.0)
        setup = setup_with(setup, program__table__left__left=-7.0, program__table__both__right=31.0)
        trace, table = derive.run(setup).trace, setup.program.table
        for rule, case in enumerate((table.neither, table.left, table.right, table.both)):
            rows = trace.rule == rule
            self.assertTrue((trace.left_power[rows] == case.left).all())
            self.assertTrue((trace.right_power[rows] == case.right).all())
        self.assertTrue({0.0, 1.0, 2.0} <= set(trace.rule))
        self.assertEqual(powers_at(setup, 90.0, 90.0), (table.neither.left, table.neither.right))
        self.assertEqual(powers_at(setup, 10.0, 10.0), (table.both.left, table.both.right))
        self.assertEqual(powers_at(setup, 10.0, 90.0), (table.left.left, table.left.right))

    def test_all_that_can_be_steered_by_lies_within_its_reach(self) -> None:
        first, second = (each.ravel() for each in np.meshgrid(np.linspace(0, 100, 21), np.linspace(0, 100, 21)))
        for arrangement in tuple(ARRANGEMENTS)[2:]:
            for line in ("dark", "light"):
                for edges in ("same", "opposite"):
                    setup = pair(arrangement, program__line=line, program__target=37.0, program__pair__edges=edges)
                    setup = setup_with(setup, program__pair__left_threshold=30.0, program__pair__weight=0.65)
                    low, high = reach(setup.program)
                    values = steered_by(setup, first, second)
                    self.assertAlmostEqual(values.min(), low, places=9, msg=f"{arrangement} {line} {edges}")
                    self.assertAlmostEqual(values.max(), high, places=9, msg=f"{arrangement} {line} {edges}")

    def test_the_way_it_turns_astride_does_not_depend_on_an_edge(self) -> None:
        for arrangement in ("difference", "each its side"):
            signs = {
                (edge, line): steer_sign(pair(arrangement, program__edge=edge, program__line=line).program)
                for edge in ("left", "right")
                for line in ("dark", "light")
            }
            self.assertEqual(set(signs.values()), {1.0, -1.0})
            self.assertTrue(all(sign == (1.0 if line == "dark" else -1.0) for (_, line), sign in signs.items()))
        one, other = (derive.run(pair("difference", program__edge=edge)).trace for edge in ("left", "right"))
        self.assertTrue(np.array_equal(one.x_mm, other.x_mm))

    def test_a_light_line_is_followed_as_a_dark_one(self) -> None:
        for arrangement in ("table", "difference", "each its side"):
            mat = straight_mat(1400.0, colour="#ffffff")
            setup = replace(pair(arrangement, program__line="light"), mat=replace(mat, colour="#303030"))
            setup = setup_with(setup, program__proportional__gain=0.3, trial__start_off_mm=6.0, program__speed=35.0)
            setup = setup_with(setup, program__pair__left_threshold=40.0, program__pair__right_threshold=40.0)
            figures = derive.figures(setup)
            self.assertEqual(figures.outcome, "finished", arrangement)
            self.assertLess(figures.rms_edge_mm, 6.0)

    def test_words_say_what_is_done_with_both(self) -> None:
        def said(setup: Setup) -> str:
            return " ".join(sentence.says for sentence in in_words(setup.program))

        self.assertIn("Every 10 ms: read both sensors.", said(pair("difference")))
        self.assertIn("Error = left reading − right reading.", said(pair("difference")))
        each = said(pair("each its side", program__pair__left_threshold=60.0))
        self.assertIn("Error = how far the right sensor reads below 50 − how far the left one reads below 60", each)
        light = said(pair("each its side", program__line="light"))
        self.assertIn("how far the left sensor reads above 50 − how far the right one reads above 50", light)
        weighted = said(pair("weighted", program__pair__edges="opposite", program__target=42.0))
        self.assertIn("Error = 0.8 × (first reading − 42) − 0.2 × (second reading − 42).", weighted)
        table = said(pair("table", program__pair__right_threshold=44.0))
        self.assertIn("The left sensor is on the line below 50, the right one below 44.", table)
        self.assertIn("Both sensors on the line: left wheel 40, right wheel 40.", table)
        bands = said(pair("difference", program__law="bands"))
        self.assertIn("Error below −30: left wheel 0, right wheel 50.", bands)
        self.assertIn("Error 0 or more (light side)", said(pair("difference", program__law="on-off")))
        self.assertIn("read the light", said(pair("one")))

    def test_handles_stand_about_the_even_place_and_move_no_target(self) -> None:
        program = pair("difference").program
        speed = next(handle for handle in handles(program) if handle.name == "speed")
        self.assertEqual((speed.reading, speed.power, speed.moves), (50.0, program.speed, "power"))
        after = moved(program, "speed", 80.0, 33.0)
        self.assertEqual((after.target, after.speed), (program.target, 33.0))
        self.assertEqual(moved(program, "target", 20.0, 0.0), program)
        steeper = moved(program, "gain", 70.0, program.speed + 16.0)
        self.assertAlmostEqual(steeper.proportional.gain, 0.8)


class JudgingTest(unittest.TestCase):
    def test_the_middle_between_two_astride_is_set_down_on_the_lines_middle(self) -> None:
        for arrangement in ("table", "difference", "each its side"):
            setup = pair(arrangement, (80.0, 20.0), (60.0, -4.0), trial__start_off_mm=3.0)
            self.assertEqual((setup.reference.ahead_mm, setup.reference.aside_mm), (70.0, 8.0))
            trace, route = derive.run(setup).trace, derive.route(setup.mat, False)
            x, y = point_way(trace, setup.reference)
            at_x, at_y, heading = route.at(setup.trial.start_mm)
            left = (y[0] - at_y) * np.cos(heading) - (x[0] - at_x) * np.sin(heading)
            self.assertAlmostEqual(left, 3.0, places=6)
            self.assertAlmostEqual(trace.edge_mm[0], 3.0, places=3)
            for row in (300, 900):
                away = np.hypot(route.x_mm - x[row], route.y_mm - y[row]).min()
                self.assertAlmostEqual(abs(trace.edge_mm[row]), away, delta=0.3)

    def test_a_weighted_pair_is_judged_by_its_first_sensor(self) -> None:
        setup = pair("weighted", (75.0, 3.0), (-20.0, 3.0))
        self.assertEqual((setup.reference.ahead_mm, setup.reference.aside_mm), (75.0, 3.0))
        self.assertAlmostEqual(derive.run(setup).trace.edge_mm[0], 0.0, places=3)
        self.assertEqual((setup.off_middle_mm, setup.side), (10.0, 1.0))
        self.assertEqual(setup_with(setup, program__edge="right").side, -1.0)
        self.assertEqual(setup.trailing_mm, 95.0)
        self.assertEqual(pair("one").trailing_mm, 0.0)

    def test_it_is_lost_by_the_distance_of_that_middle(self) -> None:
        setup = pair("difference", program__proportional__gain=0.0, trial__start_angle_deg=20.0)
        run = derive.run(setup)
        self.assertEqual(run.outcome, "lost")
        self.assertGreater(run.trace.edge_mm[-1], setup.trial.lost_distance_mm)
        self.assertLess(run.trace.edge_mm[-2], setup.trial.lost_distance_mm)

    def test_mirrored_mats_give_mirrored_runs_with_the_pair_swapped(self) -> None:
        base = setup_with(demo_project("ropewalk").setup, **STILL, **STILL_SECOND)
        cases = {
            "table": {"program__pair__left_threshold": 45.0},
            "difference": {"robot__mount__aside_mm": 15.0},
            "each its side": {"program__pair__right_threshold": 80.0, "program__pair__left_threshold": 70.0},
            "weighted": {"program__pair__edges": "opposite", "program__proportional__gain": 0.6},
            "one": {"program__proportional__gain": 0.6},
        }
        for arrangement, values in cases.items():
            setup = setup_with(base, program__arrangement=arrangement, trial__start_off_mm=0.0, **values)
            one, other = derive.run(setup), derive.run(mirrored(setup))
            self.assertEqual(one.outcome, other.outcome)
            rows = min(len(one.trace), len(other.trace))
            self.assertGreater(rows, 250, arrangement)
            height = setup.mat.height_mm
            self.assertLess(np.abs(one.trace.x_mm[:rows] - other.trace.x_mm[:rows]).max(), 0.05, arrangement)
            self.assertLess(np.abs(one.trace.y_mm[:rows] - height + other.trace.y_mm[:rows]).max(), 0.05, arrangement)
            self.assertTrue(np.allclose(one.trace.left_power[:rows], other.trace.right_power[:rows], atol=1.01))
            self.assertTrue(np.allclose(one.trace.second_reading[:rows], other.trace.second_reading[:rows], atol=1.0))

    def test_the_demo_drives_over_its_crossings_and_sharply_back(self) -> None:
        setup = demo_project("ropewalk").setup
        figures = derive.figures(setup)
        self.assertEqual(figures.outcome, "finished")
        self.assertLess(figures.worst_edge_mm, 12.0)
        # A crossing takes both sensors at once.
        trace = derive.run(setup).trace
        both = (trace.reading < 30.0) & (trace.second_reading < 30.0)
        self.assertGreater(int((np.diff(both.astype(int)) > 0).sum()), 3)

    def test_the_demo_is_followed_by_every_arrangement_astride(self) -> None:
        setups = [setup_with(demo_project("ropewalk").setup, program__arrangement=name) for name in ASTRIDE]
        batch = run_batch(setups, 20)
        assert batch is not None
        self.assertEqual(batch.finished.tolist(), [1.0, 1.0, 1.0])

    def test_what_it_steers_by_is_drawn_across_the_line(self) -> None:
        for arrangement, least in (("difference", 80.0), ("each its side", 40.0), ("weighted", 60.0)):
            second = (75.0, -12.0) if arrangement != "weighted" else (20.0, 12.0)
            profile = derive.profile(pair(arrangement, (75.0, 12.0), second))
            middle = float(np.interp(0.0, profile.edge_mm, profile.reading))
            self.assertAlmostEqual(middle, 50.0, delta=12.0, msg=arrangement)
            off = float(np.interp(10.0, profile.edge_mm, profile.reading))
            on = float(np.interp(-10.0, profile.edge_mm, profile.reading))
            self.assertGreater(off - on, least, arrangement)


class TheoryTest(unittest.TestCase):
    def agree(self, setup: Setup, within: float = 0.01) -> None:
        theory, engine = rocking.from_theory(setup), rocking.from_engine(setup)
        assert theory is not None and engine is not None
        self.assertAlmostEqual(engine.gain / theory.gain, 1.0, delta=within)
        self.assertAlmostEqual(engine.hertz / theory.hertz, 1.0, delta=0.02)

    def test_a_trailing_sensors_lever_is_negative_and_the_engine_agrees(self) -> None:
        for weight, ahead in ((0.9, -40.0), (0.65, -25.0), (0.8, -70.0), (0.35, 100.0)):
            setup = pair("weighted", (75.0, 0.0), (ahead, 0.0), program__pair__weight=weight)
            self.agree(setup)
            loop = linear_loop(setup)
            self.assertAlmostEqual(loop.lever, weight * 75.0 + (1.0 - weight) * ahead, delta=0.5)
            assert loop.second is not None
            self.assertEqual(loop.second.ahead, ahead)

    def test_pairs_astride_and_on_opposite_edges_too_and_slow_ones(self) -> None:
        self.agree(pair("difference", (75.0, 10.0), (75.0, -10.0)))
        self.agree(pair("weighted", (70.0, 10.0), (55.0, -10.0), program__pair__edges="opposite"))
        self.agree(pair("weighted", (75.0, 0.0), (-30.0, 0.0), second__sensor__lag_s=0.02))
        even = {"program__pair__left_threshold": 70.0, "program__pair__right_threshold": 70.0}
        self.agree(pair("each its side", (75.0, 9.0), (75.0, -9.0), **even))

    def test_two_sensors_that_are_one_have_the_theory_of_one(self) -> None:
        alone = linear_loop(lighthouse())
        same = replace(alone, slope=0.3 * alone.slope, second=Eye(0.7 * alone.slope, alone.ahead, 0.0))
        for one, other in pairwise((ultimate_gain(alone), ultimate_gain(same))):
            assert one is not None and other is not None
            self.assertAlmostEqual(one.gain, other.gain, delta=1e-4)
        self.assertAlmostEqual(same.damping_ratio, alone.damping_ratio)
        self.assertAlmostEqual(swing(same).hertz, swing(alone).hertz, places=6)
        formulas = ultimate_gain_by_formula(replace(alone, kp=1.0)), ultimate_gain_by_formula(replace(same, kp=1.0))
        assert formulas[0] is not None and formulas[1] is not None
        self.assertAlmostEqual(formulas[0].gain, formulas[1].gain, places=6)

    def test_the_formula_comes_near_the_sampled_loop_of_two(self) -> None:
        for weight, ahead, lag in ((0.8, -40.0, 0.0), (0.7, -30.0, 0.02), (0.5, 120.0, 0.005)):
            setup = pair("weighted", (75.0, 0.0), (ahead, 0.0), program__pair__weight=weight)
            loop = replace(linear_loop(setup_with(setup, second__sensor__lag_s=lag)), kp=1.0)
            exact, formula = ultimate_gain(loop), ultimate_gain_by_formula(loop)
            assert exact is not None and formula is not None
            self.assertAlmostEqual(formula.gain / exact.gain, 1.0, delta=0.02)

    def test_where_the_rear_leads_it_rocks_at_any_gain(self) -> None:
        setup = pair("weighted", (75.0, 0.0), (-60.0, 0.0), program__pair__weight=0.3)
        self.assertIsNone(ultimate_gain_by_formula(replace(linear_loop(setup), kp=1.0)))
        self.assertIsNone(rocking.from_theory(setup))
        self.assertLess(linear_loop(setup).lever, 0.0)

    def test_it_is_even_where_the_engine_keeps_it(self) -> None:
        setup = pair("weighted", (75.0, 4.0), (20.0, -2.0), program__target=60.0, **STILL, **STILL_SECOND)
        setup = replace(setup, mat=straight_mat(1500.0))
        point = pair_point(setup)
        trace = derive.run(setup_with(setup, program__proportional__gain=0.3)).trace
        self.assertAlmostEqual(float(trace.edge_mm[-200:].mean()), point.off_mm, delta=0.3)
        self.assertGreater(abs(point.off_mm), 0.5)

    def test_there_is_no_theory_of_what_has_no_slope(self) -> None:
        for setup, where in (
            (pair("table"), "program.law"),
            (pair("each its side", (75.0, 30.0), (75.0, -30.0)), "program.arrangement"),
            (pair("difference", (75.0, 0.0), (75.0, 0.0)), "program.arrangement"),
        ):
            with self.assertRaises(IronTrailError) as caught:
                linear_loop(setup)
            self.assertEqual(caught.exception.where, where)
        names = pair("difference", second__sensor__scale="colour names")
        self.assertRaises(IronTrailError, linear_loop, names)

    def test_bends_are_checked_for_the_middle_of_the_two(self) -> None:
        route = derive.route(lighthouse().mat, False)
        near, far = (pair("difference", (75.0, gap), (75.0, -gap)) for gap in (5.0, 25.0))
        checks = [check_bends(setup, route) for setup in (near, far)]
        for a, b in zip(*checks, strict=True):
            self.assertGreater(b.room_mm, a.room_mm)
            self.assertLessEqual(b.needs_mm, a.needs_mm)
        gentle = pair("table", program__table__left__left=38.0)
        lefts = [check.turns_mm for check in check_bends(gentle, route) if check.bend.turns_left]
        self.assertAlmostEqual(lefts[0], 55.0 * (45.0 + 38.0) / (45.0 - 38.0), delta=1.0)


class LegsTest(unittest.TestCase):
    def trip(self, *ends: Any, **second: Any) -> Setup:
        crossing = Stroke(800.0, 430.0, 90.0, (Straight(270.0),))
        mat = Mat("crossed", straight_mat().line, other_lines=(crossing,))
        setup = replace(lighthouse(), mat=mat, second=SecondSensor(Mount(75.0, -45.0)), trial=Trial())
        return setup_with(setup, program__trip=Trip((FollowLeg(ends),)), **second)

    def test_an_end_that_names_the_second_sensor_looks_at_it(self) -> None:
        setup = self.trip(AtReading("below", 20.0, 5.0, sensor="second"), AfterDistance(1300.0))
        run = derive.run(setup)
        leg = run.legs[0]
        self.assertEqual(leg.ended_by, 1)
        self.assertLessEqual(run.trace.second_reading[leg.ended], 20.0)
        x, _ = point_way(run.trace, Mount(75.0, -45.0))
        self.assertAlmostEqual(float(x[leg.ended]), 800.0, delta=20.0)
        # Its own edge never reads so until then; the first sensor comes to the crossing as well.
        self.assertGreater(run.trace.second_reading[: leg.ended - 20].min(), 60.0)
        passed = derive.run(setup_with(setup, second__mount__aside_mm=-140.0))
        self.assertEqual(passed.legs[0].ended_by, 2)

    def test_marks_are_counted_by_the_sensor_that_is_named(self) -> None:
        run = derive.run(self.trip(AtMark(1, "crossing", 25.0, 5.0, sensor="second"), AfterDistance(1300.0)))
        self.assertEqual(run.legs[0].ended_by, 1)

    def test_a_creep_by_the_second_sensor(self) -> None:
        setup = self.trip(AfterDistance(300.0))
        legs = (StraightLeg((AfterDistance(250.0),), "roll on"), CreepLeg(dark_reading=25.0, sensor="second"))
        run = derive.run(setup_with(setup, program__trip=Trip(legs)))
        creep = run.legs[1]
        self.assertLessEqual(run.trace.second_reading[creep.ended], 25.0)
        rows = slice(creep.begun + 5, creep.ended)
        power = np.maximum(0.4 * run.trace.second_reading[rows], 12.0)
        self.assertLess(np.abs(run.trace.left_power[rows] - power).max(), 1.01)

    def test_two_astride_follow_a_leg_whatever_edge_it_names(self) -> None:
        base = replace(pair("difference", program__proportional__gain=0.3), mat=straight_mat(1200.0))
        runs = [
            derive.run(setup_with(base, program__trip=Trip((FollowLeg((AfterDistance(700.0),), edge=edge),))))
            for edge in ("the program's", "right")
        ]
        self.assertTrue(np.array_equal(runs[0].trace.x_mm, runs[1].trace.x_mm))
        self.assertTrue(np.array_equal(runs[0].trace.edge_mm, runs[1].trace.edge_mm))


class TuningTest(unittest.TestCase):
    def test_the_numbers_of_two_sensors_can_be_tuned(self) -> None:
        weighted = foremost(pair("weighted"))
        self.assertIn("program.pair.weight", weighted)
        self.assertIn("second.mount.ahead_mm", weighted)
        self.assertNotIn("program.pair.weight", foremost(pair("difference")))
        self.assertNotIn("program.target", foremost(pair("difference")))
        self.assertEqual([path for path in USUAL if path not in foremost(pair("difference"))], ["program.target"])
        self.assertLessEqual(set(USUAL), set(weighted))
        self.assertNotIn("second.mount.ahead_mm", foremost(lighthouse()))
        self.assertEqual(all_numbers(lighthouse()), all_numbers(with_one(pair("one", (75.0, 0.0)))))
        table = pair("table")
        self.assertEqual(foremost(table)[:2], ("table.speed", "table.steer"))
        self.assertFalse([path for path in all_numbers(table) if path.startswith("program.proportional")])
        self.assertIn("second.sensor.noise", all_numbers(table))
        self.assertEqual(axis(table, "second.mount.height_mm").quantity.label, "second height over the mat")
        self.assertIn("both sensor on", axis(table, "program.table.both.left").quantity.label)

    def test_a_tables_speed_and_steer_move_all_its_powers(self) -> None:
        setup = pair("table")
        speed, steer = axis(setup, "table.speed"), axis(setup, "table.steer")
        made = steer.put(speed.put(setup, 30.0), 15.0)
        self.assertAlmostEqual(speed.of(made), 30.0)
        self.assertAlmostEqual(steer.of(made), 15.0)
        table = made.program.table
        self.assertEqual((table.left, table.right), (Case(15.0, 45.0), Case(45.0, 15.0)))
        self.assertEqual((table.neither, table.both), (Case(30.0, 30.0), Case(30.0, 30.0)))

    def test_the_robots_front_rises_with_both_sensors(self) -> None:
        height = next(strain for strain in strains_of(AT_EVENT) if strain.name == "sensor height")
        made = height.put(pair("difference", second__mount__height_mm=10.0), 3.0)
        self.assertEqual((made.robot.mount.height_mm, made.second.mount.height_mm), (11.0, 13.0))  # type: ignore[union-attr]


if __name__ == "__main__":
    unittest.main()
