"""The laws of the engine against the same laws written plainly in Python, fed with the engine's own readings."""

import re
import unittest

import numpy as np

from irontrail.core import derive
from irontrail.core.errors import OutOfRangeError
from irontrail.core.setup import Setup
from irontrail.core.steering.handles import handles, moved, nudged
from irontrail.core.steering.laws.bands import Band, Bands, fewer_bands, more_bands
from irontrail.core.steering.laws.pid import Pid, per_loop
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.program import Program, StopRules
from irontrail.core.steering.registry import LAW_NAMES
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import gain_of
from irontrail.core.steering.words import in_words
from irontrail.core.theory.linear import linear_loop
from tests.support import lighthouse, setup_with, straight_mat


class PidTest(unittest.TestCase):
    def plain(self, setup: Setup, readings: np.ndarray, dt: float) -> list[float]:
        """Steer of each loop, by the textbook."""
        pid, integral, slope, last, steers = setup.program.pid, 0.0, 0.0, None, []
        for reading in readings:
            error = float(reading) - setup.program.target
            if last is not None:
                slope += ((error - last) / dt - slope) * (1.0 - np.exp(-dt / pid.filter_s) if pid.filter_s else 1.0)
            last = error
            integral += error * dt
            most = pid.integral_limit / pid.ki if pid.ki else np.inf
            integral = min(max(integral, -most), most)
            steers.append(pid.kp * error + pid.ki * integral + pid.kd * slope)
        return steers

    def test_the_steer_is_that_of_the_textbook(self) -> None:
        for pid in (Pid(), Pid(kp=0.5, ki=3.0, kd=0.08, filter_s=0.0, integral_limit=5.0), Pid(ki=0.0, kd=0.0)):
            setup = lighthouse(program__law="PID", program__pid=pid)
            trace = derive.run(setup).trace
            self.assertTrue(np.allclose(trace.steer, self.plain(setup, trace.reading, 0.01), atol=1e-9))
            self.assertTrue(np.allclose(trace.p_term + trace.i_term + trace.d_term, trace.steer, atol=1e-9))

    def test_the_integral_is_held_and_comes_back_at_once(self) -> None:
        setup = lighthouse(program__law="PID", program__pid=Pid(ki=20.0, integral_limit=8.0))
        trace = derive.run(setup).trace
        self.assertLessEqual(np.abs(trace.i_term).max(), 8.0 + 1e-9)
        at_limit = np.flatnonzero(np.isclose(trace.i_term, 8.0))
        turning = [i for i in at_limit[:-1] if trace.error[i + 1] < 0.0]
        self.assertTrue(turning)
        self.assertTrue(all(trace.i_term[i + 1] < 8.0 for i in turning))

    def test_gains_per_loop(self) -> None:
        loop = per_loop(Pid(kp=0.8, ki=2.0, kd=0.05), 0.02)
        self.assertAlmostEqual(loop.ki, 0.04)
        self.assertAlmostEqual(loop.kd, 2.5)

    def test_without_integral_and_derivative_it_is_proportional(self) -> None:
        pid = derive.run(lighthouse(program__law="PID", program__pid=Pid(kp=0.7, ki=0.0, kd=0.0)))
        proportional = derive.run(lighthouse(program__proportional__gain=0.7))
        self.assertTrue(np.array_equal(pid.trace.x_mm, proportional.trace.x_mm))

    def test_it_is_the_best_of_the_demo(self) -> None:
        on_off, proportional = (derive.figures(lighthouse(program__law=law)) for law in ("on-off", "proportional"))
        pid = derive.figures(lighthouse(program__law="PID", program__speed=60.0))
        self.assertEqual(pid.outcome, "finished")
        self.assertLess(pid.time_s, 0.9 * proportional.time_s)
        self.assertLess(pid.wobble_mm, proportional.wobble_mm)
        self.assertLess(pid.time_s, 0.75 * on_off.time_s)
        self.assertLess(pid.wobble_mm, 0.5 * on_off.wobble_mm)


class OtherLawsTest(unittest.TestCase):
    def test_bands_by_a_plain_look_up(self) -> None:
        setup = lighthouse(program__law="bands", program__speed=10.0)
        run = derive.run(setup)
        self.assertEqual(run.outcome, "finished")
        steps = setup.program.bands.steps
        for i in range(0, len(run.trace), 7):
            reading = run.trace.reading[i]
            band = next(b for b, step in enumerate(steps) if reading < step.below)
            self.assertEqual(run.trace.rule[i], band)
            self.assertEqual((run.trace.left_power[i], run.trace.right_power[i]), (steps[band].left, steps[band].right))
        self.assertEqual(set(run.trace.rule), {0.0, 1.0, 2.0, 3.0, 4.0})

    def test_bands_must_rise_and_be_few(self) -> None:
        with self.assertRaisesRegex(OutOfRangeError, "do not rise"):
            Bands((Band(50.0, 0.0, 0.0), Band(40.0, 0.0, 0.0)))
        with self.assertRaisesRegex(OutOfRangeError, "outside 1 to 8"):
            Bands(())

    def test_mixed_is_a_slope_on_one_side_and_a_step_on_the_other(self) -> None:
        for side in ("dark", "light"):
            setup = lighthouse(program__law="mixed", program__mixed__sloped_side=side, program__mixed__gain=0.8)
            curve = derive.curve(setup)
            error, steer = curve.reading - 50.0, curve.wanted_left - 50.0
            sloped = error >= 0.0 if side == "light" else error < 0.0
            self.assertTrue(np.allclose(steer[sloped], 0.8 * error[sloped]))
            self.assertTrue(np.allclose(steer[~sloped], 25.0 * np.where(error[~sloped] >= 0.0, 1.0, -1.0)))

    def test_a_gain_for_each_side(self) -> None:
        setup = lighthouse(program__proportional__gain=0.6, program__proportional__dark_ratio=1.5)
        curve = derive.curve(setup)
        error = curve.reading - 50.0
        self.assertTrue(np.allclose(curve.wanted_left, 50.0 + np.where(error < 0.0, 0.9, 0.6) * error))

    def test_the_mixings(self) -> None:
        steer = 0.7 * (derive.curve(lighthouse()).reading - 50.0)
        expected = {
            "both wheels": (50.0 + steer, 50.0 - steer),
            "left wheel only": (50.0 + steer, 50.0 + 0.0 * steer),
            "right wheel only": (50.0 + 0.0 * steer, 50.0 - steer),
            "inner wheel only": (50.0 + np.minimum(steer, 0.0), 50.0 - np.maximum(steer, 0.0)),
        }
        self.assertEqual(set(expected), set(MIXING_NAMES))
        for mixing, (left, right) in expected.items():
            curve = derive.curve(lighthouse(program__mixing=mixing))
            self.assertTrue(np.allclose(curve.wanted_left, left), mixing)
            self.assertTrue(np.allclose(curve.wanted_right, right), mixing)

    def test_ease_off_takes_speed_away_with_the_error(self) -> None:
        curve = derive.curve(lighthouse(program__ease_off=0.4, program__target=30.0))
        error = np.abs(curve.reading - 30.0)
        middle = (curve.wanted_left + curve.wanted_right) / 2
        self.assertTrue(np.allclose(middle, 50.0 * (1.0 - 0.4 * np.minimum(1.0, error / 50.0))))

    def test_a_light_line_and_the_other_edge_each_turn_the_robot_the_other_way(self) -> None:
        turns = {(e, n): steer_sign(Program(edge=e, line=n)) for e in ("left", "right") for n in ("dark", "light")}
        self.assertEqual(turns[("left", "dark")], 1.0)
        self.assertEqual(turns[("right", "dark")], -1.0)
        self.assertEqual(turns[("left", "light")], -1.0)
        self.assertEqual(turns[("right", "light")], 1.0)

    def test_a_light_line_on_a_dark_mat_is_followed(self) -> None:
        setup = lighthouse(mat__colour="#2a2b2d", mat__line__colour="#f3f1ea", program__line="light")
        for edge in ("left", "right"):
            self.assertEqual(derive.figures(setup_with(setup, program__edge=edge)).outcome, "finished")
        self.assertEqual(derive.figures(setup_with(setup, program__line="dark")).outcome, "lost")

    def test_a_hold_decides_only_every_so_many_loops(self) -> None:
        trace = derive.run(lighthouse(program__decision_loops=4)).trace
        held = trace.left_power[: 4 * (len(trace) // 4)].reshape(-1, 4)
        self.assertTrue((held == held[:, :1]).all())
        self.assertGreater(len(set(held[:, 0])), 10)

    def test_engine_words_gains_and_theory_speak_of_one_decision_period(self) -> None:
        for loops in (1, 2, 3):
            setup = lighthouse(program__law="PID", program__decision_loops=loops, program__pid__ki=0.5)
            program, trace = setup.program, derive.run(setup).trace
            self.assertAlmostEqual(program.decision_time_s, 0.01 * loops)
            changes = np.flatnonzero(np.diff(trace.reading)) + 1
            self.assertTrue((changes % loops == 0).all())
            said = " ".join(each.says for each in in_words(program))
            self.assertIn(f"Every {10 * loops} ms", said)
            self.assertIn(f"{0.5 * 0.01 * loops:.3g} × sum of errors", said)
            self.assertAlmostEqual(linear_loop(setup).loop_time, 0.01 * loops)
            # The integral of the engine is that sum times that gain.
            steps = trace.error[::loops][:60]
            self.assertTrue(np.allclose(trace.i_term[::loops][:60], 0.5 * 0.01 * loops * np.cumsum(steps), atol=1e-9))

    def test_a_program_that_holds_too_long_swings_wider_and_loses_the_line(self) -> None:
        swings = [
            derive.figures(lighthouse(program__law="on-off", program__decision_loops=loops)).wobble_mm
            for loops in (1, 3, 6)
        ]
        self.assertEqual(sorted(swings), swings)
        self.assertGreater(swings[2], 1.5 * swings[0])
        self.assertEqual(derive.figures(lighthouse(program__law="on-off", program__decision_loops=20)).outcome, "lost")


class StopTest(unittest.TestCase):
    def test_by_time_by_distance_and_by_a_marker(self) -> None:
        straight = setup_with(Setup(straight_mat(1600.0)), program__proportional__gain=0.0, trial__start_mm=50.0)
        timed = derive.run(setup_with(straight, program__stop__time_s=2.5))
        self.assertEqual((timed.outcome, timed.time_s), ("stopped", 2.5))
        far = derive.run(setup_with(straight, program__stop__distance_mm=700.0))
        self.assertEqual(far.outcome, "stopped")
        self.assertAlmostEqual(far.trace.progress_mm[-1], 700.0, delta=240.0 * 0.01)
        bright = derive.run(setup_with(straight, trial__start_off_mm=30.0, program__stop__reading=90.0))
        self.assertEqual((bright.outcome, len(bright.trace)), ("stopped", 1))

    def test_the_finish_comes_first(self) -> None:
        run = derive.run(lighthouse(program__stop__time_s=60.0))
        self.assertEqual(run.outcome, "finished")

    def test_coasting_is_the_lag_s_own_distance(self) -> None:
        straight = setup_with(Setup(straight_mat(1600.0)), program__proportional__gain=0.0, robot__drive__grip=2.0)
        run = derive.run(setup_with(straight, program__stop__time_s=2.0))
        # A rim that slows as exp(-t / 60 ms) from 240 mm/s rolls 240 * 0.06 mm, less what is left at 1 mm/s.
        self.assertAlmostEqual(run.coast_mm, (240.0 - 1.0) * 0.06, delta=0.1)
        slippery = derive.run(setup_with(straight, program__stop__time_s=2.0, robot__drive__grip=0.05))
        # On little grip it slows by mu g: v^2 / (2 mu g).
        self.assertAlmostEqual(slippery.coast_mm, 240.0**2 / (2 * 0.05 * 9810.0), delta=2.0)


class HandlesTest(unittest.TestCase):
    def programs(self) -> list[Program]:
        found = []
        for law in LAW_NAMES:
            for edge in ("left", "right"):
                for speed, target in ((50.0, 50.0), (90.0, 80.0), (20.0, 15.0)):
                    found.append(Program(law=law, edge=edge, speed=speed, target=target))
        return found

    def test_every_handle_lies_on_the_curve_of_a_wheel(self) -> None:
        for program in self.programs():
            curve = derive.curve(setup_with(lighthouse(), program=program))
            for handle in handles(program):
                if handle.moves == "reading":
                    continue
                i = int(np.argmin(np.abs(curve.reading - handle.reading)))
                near = slice(max(i - 3, 0), i + 4)
                wheels = np.concatenate((curve.left[near], curve.right[near]))
                self.assertLess(np.abs(wheels - handle.power).min(), 3.0, (program.law, program.edge, handle))

    def test_the_power_of_a_side_is_held_in_the_middle_of_that_side(self) -> None:
        for target in (30.0, 60.0):
            program = Program(law="on-off", target=target)
            low, high = program.reach
            for handle in handles(program):
                middle = (low + target) / 2 if handle.name.startswith("dark") else (target + high) / 2
                self.assertEqual((handle.moves, handle.reading), ("power", middle), handle.name)

    def test_a_limit_of_bands_stays_between_its_neighbours(self) -> None:
        program = Program(law="bands")
        steps = program.bands.steps
        for i in range(len(steps) - 1):
            below, above = (steps[i - 1].below if i else 0.0), steps[i + 1].below
            for reading, limit in ((-50.0, below + 1.0), (150.0, above - 1.0)):
                after = moved(program, f"band {i} below", reading, 0.0)
                self.assertEqual(after.bands.steps[i].below, limit, (i, reading))

    def test_a_handle_put_somewhere_is_found_there(self) -> None:
        for program in self.programs():
            for handle in handles(program):
                by_reading = 4.0 if handle.moves != "power" and not handle.name.endswith("gain") else 0.0
                by_power = -6.0 if handle.moves != "reading" and not handle.name.endswith("gain") else 0.0
                after = moved(program, handle.name, handle.reading + by_reading, handle.power + by_power, alike=False)
                place = next(each for each in handles(after) if each.name == handle.name)
                if by_power:
                    self.assertAlmostEqual(place.power, handle.power + by_power, delta=0.51, msg=str(handle))
                if by_reading:
                    self.assertAlmostEqual(place.reading, handle.reading + by_reading, delta=0.51, msg=str(handle))

    def test_the_slope_goes_through_the_pointer(self) -> None:
        for law in ("proportional", "PID", "mixed"):
            for edge in ("left", "right"):
                program = Program(law=law, edge=edge)
                away = 1.0 if law != "mixed" or program.mixed.sloped_side == "light" else -1.0
                after = moved(program, "gain", 50.0 + 20.0 * away, 50.0 + steer_sign(program) * 24.0 * away)
                self.assertAlmostEqual(gain_of(after), 1.2, delta=0.01)
                self.assertAlmostEqual(gain_of(nudged(after, "gain", 0.0, 1.0)), 1.22, delta=0.011)

    def test_the_dark_side_has_a_slope_of_its_own_or_the_same(self) -> None:
        for edge in ("left", "right"):
            program = Program(edge=edge, target=50.0)
            dark = next(handle for handle in handles(program) if handle.name == "dark gain")
            away = dark.reading - 50.0
            self.assertLess(away, -1.0)
            power = 50.0 + steer_sign(program) * 1.05 * away
            own = moved(program, "dark gain", dark.reading, power, alike=False).proportional
            self.assertEqual(own.gain, 0.7)
            self.assertAlmostEqual(own.gain * own.dark_ratio, 1.05, delta=0.03)
            both = moved(program, "dark gain", dark.reading, power, alike=True).proportional
            self.assertEqual(both.dark_ratio, 1.0)
            self.assertAlmostEqual(both.gain, 1.05, delta=0.03)
            nudged_once = nudged(program, "dark gain", 0.0, 1.0, alike=False).proportional
            self.assertAlmostEqual(nudged_once.gain * nudged_once.dark_ratio, 0.72, delta=0.002)

    def test_bands_are_cut_in_two_and_given_up(self) -> None:
        bands = Bands()
        more = more_bands(bands)
        self.assertEqual(len(more.steps), 6)
        self.assertEqual([step.below for step in more.steps], [10.0, 20.0, 40.0, 60.0, 80.0, 101.0])
        self.assertEqual((more.steps[0].left, more.steps[0].right), (more.steps[1].left, more.steps[1].right))
        self.assertEqual(fewer_bands(more).steps, bands.steps)
        for _ in range(9):
            more, bands = more_bands(more), fewer_bands(bands)
        self.assertEqual((len(more.steps), len(bands.steps)), (8, 2))
        self.assertEqual(bands.steps[-1].below, 101.0)


class WordsTest(unittest.TestCase):
    def test_each_law_in_words(self) -> None:
        for law, said in (
            ("bands", "Below 20: left wheel 0, right wheel 50."),
            ("mixed", "At 50 or more (light side): steer = 0.7 × error."),
            ("mixed", "Below (dark side): steer = −25."),
            ("PID", "Steer = (0.8 × error + 0.002 × sum of errors + 3 × change of error)."),
        ):
            self.assertIn(said, [sentence.says for sentence in in_words(Program(law=law))])

    def test_holding_and_easing_off_are_said(self) -> None:
        said = [sentence.says for sentence in in_words(Program(decision_loops=5, ease_off=0.3))]
        self.assertEqual(
            said[0], "Every 50 ms (5 loops of 10 ms): read the light and decide; in between hold the decision."
        )
        self.assertEqual(said[3], "Speed = 50, less up to 30 % of it as the error grows to 50.")
        self.assertEqual(said[4], "Left wheel speed + steer, right wheel speed − steer.")

    def test_the_rule_that_decides_is_the_one_whose_powers_were_set(self) -> None:
        for law in LAW_NAMES:
            for edge in ("left", "right"):
                setup = lighthouse(program__law=law, program__edge=edge, program__proportional__dark_ratio=0.8)
                program, trace = setup.program, derive.run(setup).trace
                rules = trace.rule
                sentences = {each.rule: each.says for each in in_words(program) if each.rule is not None}
                self.assertEqual(set(sentences), set(range(len(sentences))))
                self.assertLessEqual(set(rules.tolist()), set(sentences))
                for row in (200, 333, 451):
                    said = sentences[int(rules[row])].replace("−", "-")
                    if law in ("on-off", "bands"):
                        powers = f"left wheel {trace.left_power[row]:.0f}, right wheel {trace.right_power[row]:.0f}"
                        self.assertIn(powers, said)
                    if law == "proportional":
                        gain = float(re.findall(r"-?[\d.]+(?= ×)", said)[0])
                        self.assertAlmostEqual(gain * trace.error[row], trace.steer[row], delta=0.6)

    def test_words_and_handles_are_those_of_an_inverted_sensor_used_raw(self) -> None:
        for law in LAW_NAMES:
            raw = lighthouse(program__law=law, light__calibrate=False, light__sensor__reads_high_on="dark")
            program, curve = raw.effective_program, derive.curve(raw)
            self.assertEqual(steer_sign(program), -steer_sign(raw.program))
            for handle in handles(program):
                if handle.moves != "reading":
                    i = int(np.argmin(np.abs(curve.reading - handle.reading)))
                    near = slice(max(i - 3, 0), i + 4)
                    wheels = np.concatenate((curve.left[near], curve.right[near]))
                    self.assertLess(np.abs(wheels - handle.power).min(), 3.0, (law, handle))
            if law in ("on-off", "bands"):
                said = in_words(program)[1 if law == "on-off" else -1].says.replace("−", "-")
                self.assertIn(f"left wheel {curve.left[-1]:.0f}, right wheel {curve.right[-1]:.0f}", said)
        self.assertIn(
            "Steer = −0.7 × error",
            in_words(lighthouse(light__calibrate=False, light__sensor__reads_high_on="dark").effective_program)[2].says,
        )

    def test_rules_to_stop_by_are_said_last(self) -> None:
        said = in_words(Program(stop=StopRules(time_s=3.0, distance_mm=500.0, reading=90.0)))[-1].says
        self.assertEqual(said, "Stop after 3 s, or after 500 mm by the wheels' counts, or at a reading of 90 or more.")


if __name__ == "__main__":
    unittest.main()
