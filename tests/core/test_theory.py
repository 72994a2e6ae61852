"""Theory against the engine: two ways of computing the same small swings."""

import unittest
from dataclasses import replace

import numpy as np
from experiments.trials import bend_mat, changed, demo, on_off

from irontrail.core import derive
from irontrail.core.causes.told import told
from irontrail.core.engine import pack, run
from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import Calibration
from irontrail.core.light.straight_edge import StraightEdge
from irontrail.core.result import Run
from irontrail.core.setup import Setup
from irontrail.core.theory import turning
from irontrail.core.theory.linear import linear_loop, ultimate_gain_by_formula
from irontrail.core.theory.sampled import swing, ultimate_gain
from tests.support import lighthouse, setup_with, straight_mat

LOOP_S = 0.01


def small_signal(off_mm: float = 0.4, **values: object) -> Setup:
    """A straight, no noise and no rounding, the robot set down a little off its edge."""
    setup = setup_with(
        Setup(straight_mat(3600.0, width_mm=60.0)),
        mat__width_mm=4000.0, light__sensor__noise=0.0, light__sensor__reading_step=0.0, trial__start_off_mm=off_mm,
        trial__start_mm=30.0, robot__drive__grip=2.0, program__speed=40.0,
    )  # fmt: skip
    return setup_with(setup, **values)


def driven(setup: Setup) -> Run:
    """The engine's run with powers that are not rounded, already at speed when the swing is looked at."""
    packed = pack.pack(setup, derive.route(setup.mat, False), derive.field(setup))
    packed.parameters["controller"]["power_step"] = 1e-9
    return run.run(packed)


def ringing(distance: np.ndarray, loop_s: float) -> tuple[float, float]:
    """Frequency in Hz and damping ratio of the slowest-dying swing: linear prediction (Prony 1795), least squares."""
    order = 6
    rows = np.column_stack([distance[order - 1 - i : -1 - i] for i in range(order)])
    rows, past = rows / np.abs(rows).max(axis=1)[:, None], distance[order:] / np.abs(rows).max(axis=1)
    coefficients = np.linalg.lstsq(rows, past, rcond=None)[0]
    roots = np.roots(np.concatenate(([1.0], -coefficients)))
    swinging = roots[roots.imag > 1e-6]
    s = np.log(swinging[np.argmax(np.abs(swinging))]) / loop_s
    return abs(float(s.imag)) / (2 * np.pi), -float(s.real) / abs(s)


class SlopeTest(unittest.TestCase):
    def test_the_edge_in_closed_form_is_that_of_the_raster(self) -> None:
        for values in (
            {}, {"robot__mount__height_mm": 14.0}, {"light__calibrate": False}, {"mat__line__width_mm": 12.0},
            {"mat__line__border_mm": 8.0, "mat__colour": "#a08050", "light__calibrate": False},
            {"light__calibrate": False, "light__sensor__reads_high_on": "dark"}, {"mat__surface": "vinyl"},
        ):  # fmt: skip
            setup = small_signal(**values)
            profile = derive.profile(setup, 1500.0)
            edge = StraightEdge(setup.mat, setup.light, setup.robot.mount.height_mm)
            ours = np.array([edge.reading(float(place)) for place in profile.edge_mm])
            self.assertLess(np.abs(ours - profile.reading).max(), 0.8, values)

    def test_the_operating_point_is_where_the_engine_keeps_its_sensor(self) -> None:
        for values in (
            {"program__target": 30.0}, {"program__target": 50.0}, {"program__target": 70.0},
            {"light__calibrate": False, "program__target": 30.0}, {"program__edge": "right", "program__target": 65.0},
            {"mat__line__border_mm": 6.0, "program__target": 55.0},
        ):  # fmt: skip
            setup = small_signal(program__proportional__gain=0.3, **values)
            point = StraightEdge(setup.mat, setup.light, 8.0).operating_point(setup.program.target)
            trace = driven(setup).trace
            settled = trace.time_s > 5.0
            self.assertAlmostEqual(float(trace.edge_mm[settled].mean()), point.edge_mm, delta=0.15, msg=str(values))
            self.assertGreater(linear_loop(setup).slope, 0.0)

    def test_the_plain_formulas(self) -> None:
        loop = linear_loop(lighthouse())
        k = 2 * 0.7 * loop.slope * 480.0 / (100.0 * 110.0)
        self.assertAlmostEqual(loop.natural_frequency, np.sqrt(k * 240.0))
        self.assertAlmostEqual(loop.damping_ratio, 75.0 / 2 * np.sqrt(k / 240.0))
        # The middle of the error function: span / (sigma sqrt(2 pi)).
        middle = linear_loop(lighthouse(program__target=51.0)).slope
        span = calibrate_span(lighthouse())
        self.assertAlmostEqual(middle / (span / (4.5 * np.sqrt(2.0 * np.pi))), 1.0, delta=0.005)

    def test_where_it_cannot_know_it_says_nothing(self) -> None:
        for values, why in (
            ({"program__law": "on-off"}, "not one slope"),
            ({"program__mixing": "inner wheel only"}, "theory is of both wheels"),
            ({"program__proportional__dark_ratio": 1.3}, "not one slope"),
            ({"light__calibrate": False, "program__target": 95.0}, "does not come up"),
            ({"program__target": 100.0}, "does not come up|hardly change"),
            ({"program__line": "light"}, "turns away"),
            ({"program__speed": 2.0}, "dead band"),
            ({"light__sensor__scale": "colour names"}, "colour names"),
        ):
            with self.assertRaisesRegex(IronTrailError, why):
                linear_loop(lighthouse(**values))


def calibrate_span(setup: Setup) -> float:
    """Calibrated readings well off the line less those well on a wide one."""
    wide = setup_with(setup, mat__line__width_mm=80.0)
    edge = StraightEdge(wide.mat, replace(wide.light, calibration=Calibration(0.0, 100.0)), 8.0)
    return (edge.reading(25.0) - edge.reading(-30.0)) * 100.0 / 70.0


class TurningTest(unittest.TestCase):
    def test_the_tightest_turns_of_the_demo(self) -> None:
        turns = turning.tightest_turns(lighthouse())
        # At the ends of the reading the wheels get 50 + 35 and 50 - 35.
        self.assertAlmostEqual(turns.left_mm, 55.0 * 100.0 / 70.0)
        self.assertAlmostEqual(turns.right_mm, 55.0 * 100.0 / 70.0)
        self.assertEqual(turning.tightest_turns(lighthouse(program__proportional__gain=0.0)).left_mm, float("inf"))

    def test_bends_said_not_to_be_held_are_lost_by_the_engine_and_those_surely_held_are_not(self) -> None:
        said = {True: 0, False: 0}
        for radius in (100.0, 130.0, 160.0, 200.0):
            for inner in (0.0, 10.0, 20.0, 30.0):
                setup = on_off(changed(demo(), mat=bend_mat(radius)), 40.0, inner)
                (check,) = turning.check_bends(setup, derive.route(setup.mat, False))
                finished = derive.run(setup).outcome == "finished"
                if not check.held:
                    said[False] += 1
                    self.assertFalse(finished, (radius, inner, check))
                elif check.turns_mm < 0.9 * check.needs_mm:
                    said[True] += 1
                    self.assertTrue(finished, (radius, inner, check))
        self.assertTrue(all(said.values()), said)


class SampledTest(unittest.TestCase):
    CASES = (
        {"program__proportional__gain": 0.45},
        {"program__proportional__gain": 0.6, "program__speed": 60.0},
        {"program__proportional__gain": 0.3, "program__delay_s": 0.04},
        {"program__proportional__gain": 0.35, "program__delay_s": 0.013, "robot__drive__response_time_s": 0.1},
        {"program__proportional__gain": 0.45, "robot__mount__ahead_mm": 120.0, "program__speed": 70.0},
        {"program__law": "PID", "program__pid__kp": 0.6, "program__pid__kd": 0.02, "program__pid__ki": 0.0},
        {"program__law": "PID", "program__pid__kp": 0.45, "program__pid__kd": 0.02, "program__pid__ki": 1.0},
    )  # fmt: skip

    def test_small_swings_of_the_engine_have_its_frequency_and_damping(self) -> None:
        for values in self.CASES:
            setup = small_signal(**values)
            expected = swing(linear_loop(setup))
            self.assertGreater(expected.hertz, 0.5, values)
            trace = driven(setup).trace
            # After the robot has come to speed, while the swing still stands out.
            moving = (trace.time_s > 0.6) & (trace.time_s < 1.6)
            hertz, damping = ringing(trace.edge_mm[moving], LOOP_S)
            self.assertAlmostEqual(hertz / expected.hertz, 1.0, delta=0.002, msg=str(values))
            self.assertAlmostEqual(damping, expected.damping_ratio, delta=0.002, msg=str(values))

    def test_a_small_disturbance_dies_below_the_rocking_gain_and_grows_above_it(self) -> None:
        for values in (
            {}, {"program__speed": 65.0}, {"program__delay_s": 0.03}, {"robot__drive__response_time_s": 0.03},
            {"robot__mount__ahead_mm": 130.0}, {"program__loop_time_s": 0.02}, {"light__sensor__lag_s": 0.01},
            {"light__sensor__lag_s": 0.03, "program__delay_s": 0.004}, {"program__decision_loops": 2},
            {"light__calibrate": False, "program__target": 44.0},
        ):  # fmt: skip
            base = small_signal(0.05, **values)
            rocking = ultimate_gain(linear_loop(base))
            self.assertIsNotNone(rocking)
            for share, grows in ((0.98, False), (1.02, True)):
                trace = driven(setup_with(base, program__proportional__gain=share * rocking.gain)).trace
                time = trace.time_s
                early = np.ptp(trace.edge_mm[(time > 0.7) & (time < 1.6)])
                late = np.ptp(trace.edge_mm[(time > 2.8) & (time < 3.7)])
                self.assertEqual(late > early, grows, (values, share, early, late))

    def test_it_rocks_at_the_frequency_said(self) -> None:
        base = small_signal(0.2)
        rocking = ultimate_gain(linear_loop(base))
        trace = driven(setup_with(base, program__proportional__gain=rocking.gain)).trace
        hertz, damping = ringing(trace.edge_mm[(trace.time_s > 0.6) & (trace.time_s < 1.6)], LOOP_S)
        self.assertAlmostEqual(hertz / rocking.hertz, 1.0, delta=0.01)
        self.assertAlmostEqual(damping, 0.0, delta=0.005)

    def test_the_formula_is_near_the_exact_loop(self) -> None:
        for speed in (30.0, 50.0, 70.0):
            for delay, lag in ((0.0, 0.0), (0.015, 0.0), (0.03, 0.0), (0.0, 0.02), (0.015, 0.01)):
                loop = linear_loop(lighthouse(program__speed=speed, program__delay_s=delay, light__sensor__lag_s=lag))
                exact, formula = ultimate_gain(loop), ultimate_gain_by_formula(loop)
                self.assertAlmostEqual(formula.gain / exact.gain, 1.0, delta=0.03)
                self.assertAlmostEqual(formula.hertz / exact.hertz, 1.0, delta=0.03)

    def test_the_largest_gain_falls_as_speed_and_delay_rise_and_rises_with_the_sensor_ahead(self) -> None:
        loop = linear_loop(lighthouse())
        by_speed = [ultimate_gain(replace(loop, speed=v)).gain for v in (100.0, 200.0, 300.0, 400.0)]
        by_delay = [ultimate_gain(replace(loop, delay=d)).gain for d in (0.0, 0.01, 0.02, 0.04)]
        self.assertEqual(sorted(by_speed, reverse=True), by_speed)
        self.assertEqual(sorted(by_delay, reverse=True), by_delay)

    def test_what_grows_without_swinging_does_not_rock(self) -> None:
        # A sensor far ahead, read and answered at once, on a robot that stands: each loop overshoots the one before.
        standing = lighthouse(
            program__speed=0.0, program__delay_s=0.0, program__loop_time_s=0.001, robot__drive__response_time_s=0.0,
            program__proportional__gain=20.0, robot__mount__ahead_mm=300.0, robot__drive__dead_band=0.0,
        )  # fmt: skip
        for setup in (standing, setup_with(standing, program__law="PID", program__pid__kp=20.0)):
            rocking = ultimate_gain(linear_loop(setup))
            self.assertTrue(rocking is None or rocking.hertz > 0.0)
            self.assertIsInstance(told(setup), tuple)

    def test_without_a_lead_it_rocks_at_any_gain(self) -> None:
        loop = replace(linear_loop(lighthouse()), ahead=5.0)
        self.assertIsNone(ultimate_gain_by_formula(loop))
        self.assertIsNone(ultimate_gain(loop))

    def test_the_demo_stands_where_the_engine_says_it_does(self) -> None:
        rocking = ultimate_gain(linear_loop(lighthouse()))
        self.assertTrue(0.65 < rocking.gain < 0.8, rocking)
        calm = derive.figures(lighthouse(program__proportional__gain=0.8 * rocking.gain))
        rocks = derive.figures(lighthouse(program__proportional__gain=1.6 * rocking.gain))
        self.assertGreater(rocks.wobble_mm, 2.5 * calm.wobble_mm)
        self.assertAlmostEqual(rocks.wobble_hz / rocking.hertz, 1.0, delta=0.1)


if __name__ == "__main__":
    unittest.main()
