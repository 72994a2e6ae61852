"""Trips: each leg and each end by its closed form, what is judged on the way, and what is refused."""

import unittest
from dataclasses import replace
from math import log
from typing import Any

import numpy as np

from irontrail.core import derive, many
from irontrail.core.advice.leg_ends import leg_ends
from irontrail.core.demos import demo_project
from irontrail.core.errors import OutOfRangeError
from irontrail.core.mat.spots import misses
from irontrail.core.mat.tape import Bend, Mat, Patch, Spot, Straight, Stroke, Zone
from irontrail.core.quantity import with_value
from irontrail.core.result import COLUMNS, LegRun, Run, stands
from irontrail.core.robot.drive import Drive
from irontrail.core.robot.mount import Robot
from irontrail.core.setup import Setup, Trial
from irontrail.core.starts import perturbed
from irontrail.core.steering.laws.on_off import OnOff
from irontrail.core.steering.legs import (
    OWN_END,
    AfterDistance,
    AfterTime,
    AtButton,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
)
from irontrail.core.steering.program import Program
from tests.support import lighthouse

TAU = 0.06
# A line across the way of a robot that sets out from the start zone to the right, 700 mm on.
ACROSS = Stroke(900.0, 200.0, 90.0, (Straight(600.0),))
MAT = Mat("yard", ACROSS, 2000.0, 1000.0, start=Zone(200.0, 500.0, 100.0, 100.0))


def on_yard(*legs: Leg, mat: Mat = MAT, **drive: Any) -> Setup:
    """A robot without noise that sets out from the yard's start zone along x."""
    usual = {"response_time_s": TAU, "dead_band": 0.0, "power_step": 0.1, "grip": 2.0}
    setup = Setup(mat, Robot(drive=Drive(**(usual | drive))), program=Program(trip=Trip(legs), delay_s=0.0))
    setup = with_value(with_value(setup, "light.sensor.noise", 0.0), "light.sensor.reading_step", 0.0)
    return replace(setup, trial=Trial(set_down="in the start zone", start_mm=0.0, time_limit_s=60.0))


def driven(setup: Setup) -> tuple[Run, tuple[LegRun, ...]]:
    run = derive.run_once(setup)
    return run, run.legs


class LegsTest(unittest.TestCase):
    def test_a_straight_goes_the_distance_its_wheels_count_and_then_rolls_out(self) -> None:
        for power in (20.0, 50.0, -40.0):
            run, (leg,) = driven(on_yard(StraightLeg((AfterDistance(150.0),), power=power)))
            speed = 4.8 * abs(power)
            self.assertEqual((run.outcome, leg.ended_by), ("finished", 1))
            # It ends in the first loop past the distance, and coasts speed times the response time.
            self.assertGreaterEqual(abs(leg.counted_mm), 150.0)
            self.assertLess(abs(leg.counted_mm), 150.0 + 0.01 * speed)
            self.assertAlmostEqual(run.coast_mm, speed * TAU, delta=TAU + 0.01 * speed * TAU)
            self.assertAlmostEqual(abs(run.rest_x_mm - 200.0), abs(leg.counted_mm) + run.coast_mm, delta=1e-6)

    def test_between_legs_it_brakes_to_a_stand_or_rolls_on(self) -> None:
        for then in ("brake", "roll on"):
            legs = StraightLeg((AfterDistance(200.0),), then, 50.0), StraightLeg((AfterDistance(100.0),), power=20.0)
            run, (one, other) = driven(on_yard(*legs))
            trace = run.trace
            if then == "roll on":
                self.assertEqual(one.ended, one.over)
                self.assertGreater(trace.left_speed_mm_s[one.over], 200.0)
                continue
            braking = slice(one.ended, one.over)
            self.assertTrue((trace.left_power[braking] == 0.0).all())
            self.assertTrue((trace.leg[braking] == 1.0).all())
            self.assertLess(trace.left_speed_mm_s[other.begun], 4.0)
            self.assertAlmostEqual(trace.x_mm[one.over] - trace.x_mm[one.ended], 240.0 * TAU, delta=0.5)
            self.assertEqual(other.begun, one.over)

    def test_a_turn_turns_by_the_counts_of_its_wheels(self) -> None:
        for angle in (90.0, -135.0, 400.0):
            for about in ("spot", "wheel"):
                run, (leg,) = driven(on_yard(TurnLeg(angle, 25.0, about)))
                turned = np.degrees(run.trace.heading_rad[leg.ended])
                a_loop = np.degrees(0.01 * 120.0 * (2.0 if about == "spot" else 1.0) / 110.0)
                self.assertEqual(leg.ended_by, OWN_END)
                self.assertGreaterEqual(abs(turned), abs(angle) - 1e-6)
                self.assertLess(abs(turned), abs(angle) + a_loop)
                self.assertGreater(turned * angle, 0.0)
                self.assertAlmostEqual(abs(leg.right_mm - leg.left_mm), np.radians(abs(turned)) * 110.0, delta=1e-6)
                # The rest of the turn is rolled out: both wheels' speeds times the response time.
                rolls = np.degrees((2.0 if about == "spot" else 1.0) * 120.0 * TAU / 110.0)
                left = abs(np.degrees(run.rest_heading_rad)) - abs(turned)
                self.assertAlmostEqual(left, rolls, delta=0.05 * rolls)
                if about == "wheel":
                    still = leg.left_mm if angle > 0.0 else leg.right_mm
                    self.assertEqual(still, 0.0)

    def test_a_turn_may_end_sooner_where_the_line_is_seen(self) -> None:
        setup = on_yard(
            StraightLeg((LineFound(50.0),), power=30.0), StraightLeg((AfterDistance(60.0),), power=30.0),
            TurnLeg(180.0, 20.0, ends=(LineFound(50.0),)),
        )  # fmt: skip
        run, (_, _, leg) = driven(setup)
        self.assertEqual(leg.ended_by, 1)
        turned = np.degrees(run.trace.heading_rad[leg.ended])
        # The sensor is 75 mm ahead of an axle that stands a little before the line: it comes back to it by a quarter.
        self.assertGreater(turned, 60.0)
        self.assertLess(turned, 130.0)
        self.assertLessEqual(run.trace.reading[leg.ended], 50.0)

    def test_a_creep_slows_down_in_proportion_to_what_it_reads(self) -> None:
        setup = on_yard(
            StraightLeg((AtReading("below", 97.0),), "roll on", 12.0), CreepLeg(0.4, 0.0, 8.0), response_time_s=0.0
        )
        setup = with_value(setup, "program.loop_time_s", 0.001)
        run, (_, leg) = driven(setup)
        trace, creep = run.trace, slice(leg.begun, leg.ended)
        reading, x = trace.reading[creep], trace.x_mm[creep]
        self.assertEqual(leg.ended_by, OWN_END)
        self.assertLessEqual(trace.reading[leg.ended], 8.0)
        # About the middle the reading falls evenly with the way: it nears its end as an exponential.
        here = (reading < 60.0) & (reading > 40.0)
        slope = float(np.polyfit(x[here], reading[here], 1)[0])
        rate = -slope * 0.4 * 4.8
        passed = float(np.ptp(trace.time_s[creep][here]))
        self.assertAlmostEqual(passed, log(reading[here][0] / reading[here][-1]) / rate, delta=0.02 * passed)
        # And everywhere its way is the integral of its speed.
        speed = 4.8 * 0.4 * reading
        self.assertAlmostEqual(float(np.trapezoid(speed, dx=0.001)), float(np.ptp(x)), delta=0.3)

    def test_a_creep_keeps_its_least_power_and_may_wait_for_a_border(self) -> None:
        bordered = replace(MAT, line=replace(ACROSS, border_mm=30.0), colour="#e9e5d8")
        for border, mat in ((0.0, bordered), (92.0, bordered), (92.0, replace(bordered, line=ACROSS))):
            # A dark patch comes first.
            mat = replace(mat, patches=(Patch(500.0, 500.0, 60.0, 300.0, "#2a2b2d"),))
            setup = on_yard(CreepLeg(0.0, 15.0, 15.0, border), mat=mat)
            setup = with_value(setup, "light.calibration.bright", 86.0)
            run, (leg,) = driven(setup)
            powers = run.trace.left_power[: leg.ended if leg.ended > 0 else None]
            self.assertEqual(set(powers[1:].tolist()), {15.0})
            x = run.rest_x_mm + 75.0
            if not border:
                self.assertAlmostEqual(x, 480.0, delta=10.0)
            elif mat.line.border_mm:
                self.assertAlmostEqual(x, 900.0, delta=10.0)
            else:
                self.assertEqual((leg.ended_by, run.outcome), (0, "off-mat"))

    def test_a_straight_held_by_its_counts_runs_straight_whatever_its_motors(self) -> None:
        off = {}
        for held in (True, False):
            setup = on_yard(StraightLeg((AfterDistance(600.0),), power=40.0, held=held), mismatch_percent=4.0)
            off[held] = driven(setup)[0].rest_y_mm - 500.0
        # y = d^2 mismatch / (2 track), while the angle is small.
        self.assertAlmostEqual(off[False], -(623.0**2) * 0.04 / (2.0 * 110.0), delta=6.0)
        self.assertLess(abs(off[True]), 3.0)

    def test_power_ramps_up_and_down(self) -> None:
        leg = StraightLeg((AfterDistance(400.0),), power=40.0, ramp_up_mm=100.0, ramp_down_mm=200.0)
        run, (made,) = driven(on_yard(leg))
        x, power = run.trace.x_mm - 200.0, run.trace.left_power
        way = slice(0, made.ended)
        expected = 40.0 * np.maximum(np.minimum(np.minimum(x / 100.0, (400.0 - x) / 200.0), 1.0), 0.3)
        np.testing.assert_allclose(power[way], expected[way], atol=0.06)
        self.assertLess(run.coast_mm, 0.31 * 192.0 * TAU)

    def test_a_wait_stands_for_its_time_or_till_the_button(self) -> None:
        for end, seconds in ((AfterTime(0.7), 0.7), (AtButton(1.3), 1.3)):
            run, (leg,) = driven(on_yard(WaitLeg((end,))))
            self.assertAlmostEqual(run.time_s, seconds, delta=0.0101)
            self.assertEqual((run.rest_x_mm, leg.way_mm), (200.0, 0.0))

    def test_a_leg_that_follows_has_a_speed_and_an_edge_of_its_own(self) -> None:
        setup = lighthouse(program__speed=50.0)
        for law, fast in (("proportional", 25.0), ("on-off", 20.0)):
            legs = FollowLeg((AfterDistance(900.0),)), FollowLeg((AfterDistance(300.0),), speed=fast)
            made = replace(setup, program=replace(setup.program, law=law, trip=Trip(legs)))
            run, (one, other) = driven(made)
            self.assertEqual(run.outcome, "finished", law)
            trace = run.trace
            whole = 0.5 * (trace.left_power + trace.right_power)
            first, then = (float(whole[each.begun + 60 : each.ended].mean()) for each in (one, other))
            self.assertAlmostEqual(then, fast, delta=2.0)
            self.assertAlmostEqual(first, 50.0 if law == "proportional" else 27.5, delta=3.0)
            self.assertIs(other.route, derive.route(setup.mat, False))

    def test_a_leg_may_follow_the_other_edge(self) -> None:
        setup = lighthouse(program__speed=40.0)
        over = TurnLeg(-20.0, 20.0), StraightLeg((AfterDistance(45.0),), power=25.0)
        legs = FollowLeg((AfterDistance(900.0),)), *over, FollowLeg((AfterDistance(300.0),), edge="right")
        made = replace(setup, program=replace(setup.program, trip=Trip(legs)))
        run, driven_legs = driven(made)
        self.assertEqual(run.outcome, "finished")
        left = derive.edge_distance(made)
        for leg, off in ((driven_legs[0], 0.0), (driven_legs[-1], -20.0)):
            aside = [float(left(np.array([x]), np.array([y]))[0]) for x, y in _sensor(run, leg)]
            self.assertAlmostEqual(float(np.median(aside)), off, delta=3.0)
            followed = run.trace.edge_mm[leg.begun + 100 : leg.ended]
            self.assertLess(float(np.median(np.abs(followed))), 3.0)

    def test_what_on_off_gives_is_scaled_for_a_speed(self) -> None:
        law = OnOff(dark_outer=40.0, dark_inner=20.0, light_outer=40.0, light_inner=20.0)
        program = Program(law="on-off", on_off=law, trip=Trip((FollowLeg((AfterDistance(200.0),), speed=15.0),)))
        trace = derive.run_once(lighthouse(program=program)).trace
        powers = set(zip(trace.left_power.tolist(), trace.right_power.tolist(), strict=True))
        self.assertLessEqual(powers, {(20.0, 10.0), (10.0, 20.0), (0.0, 0.0)})


def _sensor(run: Run, leg: LegRun) -> list[tuple[float, float]]:
    rows = range(leg.begun + 100, leg.ended, 20)
    trace = run.trace
    return [
        (
            float(trace.x_mm[i] + 75.0 * np.cos(trace.heading_rad[i])),
            float(trace.y_mm[i] + 75.0 * np.sin(trace.heading_rad[i])),
        )
        for i in rows
    ]


class EndsTest(unittest.TestCase):
    def ended_at(self, *ends: Any, mat: Mat = MAT, power: float = 25.0) -> tuple[float, int]:
        """Where the sensor was when a straight leg ended, and by which of its ends."""
        run, (leg,) = driven(on_yard(StraightLeg(ends, power=power), mat=mat))
        return float(run.trace.x_mm[leg.ended]) + 75.0, leg.ended_by

    def test_time_and_distance_count_from_the_beginning_of_the_leg(self) -> None:
        legs = StraightLeg((AfterTime(0.5),)), WaitLeg((AfterTime(0.4),)), StraightLeg((AfterTime(0.3),))
        run, made = driven(on_yard(*legs))
        for leg, seconds in zip(made, (0.5, 0.4, 0.3), strict=True):
            times = run.trace.time_s
            self.assertAlmostEqual(times[leg.ended] - times[leg.begun], seconds, delta=0.0101)

    def test_the_first_end_that_comes_ends_it(self) -> None:
        self.assertEqual(self.ended_at(AfterTime(50.0), AfterDistance(100.0), LineFound(50.0))[1], 2)
        self.assertEqual(self.ended_at(AfterTime(50.0), AfterDistance(1500.0), LineFound(50.0))[1], 3)

    def test_a_reading_ends_it_once_it_has_stayed_so_for_long_enough(self) -> None:
        at_once, _ = self.ended_at(AtReading("below", 50.0))
        self.assertAlmostEqual(at_once, 890.0, delta=2.0)
        after, _ = self.ended_at(AtReading("below", 50.0, 10.0))
        self.assertAlmostEqual(after - at_once, 10.0, delta=1.3)
        # The line is 20 mm wide: it never stays so for longer, but the end of the mat is bright for ever.
        self.assertEqual(self.ended_at(AtReading("below", 50.0, 30.0), AfterDistance(1200.0))[1], 2)
        self.assertAlmostEqual(self.ended_at(AtReading("above", 60.0, 40.0))[0], 315.0, delta=1.5)

    def test_marks_are_counted_from_the_beginning_of_the_leg(self) -> None:
        others = tuple(replace(ACROSS, x_mm=x) for x in (500.0, 1200.0))
        lined = replace(MAT, other_lines=others)
        for count, x in ((1, 500.0), (2, 900.0), (3, 1200.0)):
            place, _ = self.ended_at(AtMark(count, "crossing", 30.0, 6.0), mat=lined)
            self.assertAlmostEqual(place, x, delta=5.0)
        # One that the leg begins on is not counted.
        legs = (
            StraightLeg((AtReading("below", 10.0, 5.0),)),
            StraightLeg((AtMark(1, "crossing", 30.0, 6.0),), power=25.0),
        )
        run, (_, other) = driven(on_yard(*legs, mat=lined))
        self.assertAlmostEqual(run.trace.x_mm[other.ended] + 75.0, 900.0, delta=5.0)
        # What is shorter than it must stay is none.
        self.assertEqual(self.ended_at(AtMark(1, "crossing", 30.0, 40.0), AfterDistance(1300.0), mat=lined)[1], 2)

    def test_bright_marks_are_told_from_the_mat(self) -> None:
        marked = replace(
            MAT, colour="#c9c6bd",
            patches=tuple(Patch(x, 500.0, 40.0, 200.0, "#ffffff", over_line=True) for x in (450.0, 700.0)),
        )  # fmt: skip
        place, _ = self.ended_at(AtMark(2, "bright mark", 92.0, 8.0), mat=marked)
        self.assertAlmostEqual(place, 700.0, delta=14.0)

    def test_the_line_is_found_coming_from_the_mat_dark_or_light(self) -> None:
        self.assertAlmostEqual(self.ended_at(LineFound(40.0))[0], 890.0, delta=3.0)
        light = replace(MAT, colour="#2a2b2d", line=replace(ACROSS, colour="#f3f1ea"))
        setup = on_yard(StraightLeg((LineFound(60.0),), power=25.0), mat=light)
        run, (leg,) = driven(replace(setup, program=replace(setup.program, line="light")))
        self.assertAlmostEqual(run.trace.x_mm[leg.ended] + 75.0, 890.0, delta=3.0)

    def test_begun_on_the_line_it_is_only_found_after_it_was_left(self) -> None:
        legs = StraightLeg((AtReading("below", 10.0, 5.0),)), StraightLeg((LineFound(50.0), AfterDistance(300.0)))
        _, (_, other) = driven(on_yard(*legs))
        self.assertEqual(other.ended_by, 2)

    def test_the_mats_finish_ends_a_leg_and_the_next_goes_on(self) -> None:
        setup = lighthouse()
        finish = replace(setup, program=replace(setup.program, trip=Trip((FollowLeg((AtFinish(),)), WaitLeg()))))
        run, (one, other) = driven(finish)
        plain = derive.run(setup)
        self.assertEqual((run.outcome, one.ended_by, other.ended_by), ("finished", 1, 1))
        self.assertAlmostEqual(run.trace.time_s[one.ended], plain.time_s, delta=0.0101)
        self.assertAlmostEqual(run.time_s, run.trace.time_s[one.over] + 1.0, delta=0.0101)


class JudgedTest(unittest.TestCase):
    def test_a_program_without_legs_is_one_that_follows_to_the_finish_bit_for_bit(self) -> None:
        for demo in ("lighthouse", "ferry", "tannery"):
            for law in ("on-off", "PID"):
                setup = demo_project(demo).setup
                setup = replace(setup, program=replace(setup.program, law=law))
                listed = replace(setup, program=replace(setup.program, trip=Trip((FollowLeg((AtFinish(),)),))))
                one, other = derive.run_once(setup), derive.run_once(listed)
                self.assertEqual((one.outcome, one.time_s, one.coast_mm), (other.outcome, other.time_s, other.coast_mm))
                for name in set(COLUMNS) - {"leg", "ended_by"}:
                    np.testing.assert_array_equal(getattr(one.trace, name), getattr(other.trace, name), name)
                self.assertEqual((set(one.trace.leg), set(other.trace.leg)), ({0.0}, {1.0}))

    def test_it_is_lost_only_while_it_follows(self) -> None:
        far = on_yard(StraightLeg((AfterDistance(300.0),), power=40.0))
        self.assertEqual(derive.run_once(far).outcome, "finished")
        setup = on_yard(StraightLeg((AfterDistance(300.0),), power=40.0), FollowLeg((AfterDistance(100.0),)))
        run, legs = driven(setup)
        self.assertEqual((run.outcome, len(legs), legs[1].ended), ("lost", 2, -1))
        self.assertEqual(derive.run_once(on_yard(StraightLeg((AfterTime(60.0),), power=60.0))).outcome, "off-mat")

    def test_standing_long_in_a_wait_is_not_being_stuck(self) -> None:
        run, _ = driven(on_yard(WaitLeg((AfterTime(8.0),))))
        self.assertEqual((run.outcome, round(run.time_s)), ("finished", 8))
        still = lighthouse(program__speed=0.0)
        still = replace(still, program=replace(still.program, trip=Trip((FollowLeg((AfterTime(9.0),), speed=0.0),))))
        self.assertEqual(derive.run_once(still).outcome, "stuck")

    def test_what_never_comes_ends_in_time_out_with_its_leg_unended(self) -> None:
        setup = on_yard(WaitLeg((AtReading("below", 5.0),)))
        run, (leg,) = driven(replace(setup, trial=replace(setup.trial, time_limit_s=4.0)))
        self.assertEqual((run.outcome, leg.ended, leg.ended_by), ("time-out", -1, 0))

    def test_a_line_is_met_where_it_is_and_followed_the_way_the_robot_points(self) -> None:
        # It comes to the line from the left, and turns up or down along it: along its laid way or against it.
        for angle, y in ((75.0, 700.0), (-75.0, 300.0)):
            edge = "left" if angle > 0.0 else "right"
            setup = on_yard(
                StraightLeg((LineFound(50.0),), power=25.0), TurnLeg(angle, 25.0),
                FollowLeg((AfterDistance(120.0),), edge=edge),
            )  # fmt: skip
            setup = replace(setup, program=replace(setup.program, speed=30.0))
            run, legs = driven(setup)
            self.assertEqual(run.outcome, "finished")
            self.assertAlmostEqual(run.rest_y_mm, y - np.sign(angle) * 75.0, delta=25.0)
            self.assertLess(abs(run.trace.edge_mm[legs[2].ended]), 4.0)
            self.assertGreater(run.trace.progress_mm[-1], 100.0)
            start_y = legs[2].route.y_mm[0]
            self.assertEqual(start_y, 200.0 if angle > 0.0 else 800.0)

    def test_figures_of_the_line_count_what_was_followed_and_the_sweep_agrees(self) -> None:
        for demo in ("lantern", "lantern-on-off"):
            setup = demo_project(demo).setup
            tries = [perturbed(setup, i) for i in (1, 2, 3, 4)]
            swept = many.sweep(tries)
            for i, each in enumerate(tries):
                run, figures = derive.run_once(each), derive.figures(each)
                followed = run.trace.following > 0.0
                self.assertEqual(figures.worst_edge_mm, np.abs(run.trace.edge_mm[followed]).max())
                self.assertEqual((swept.worst_edge_mm[i], swept.time_s[i]), (figures.worst_edge_mm, figures.time_s))
                self.assertAlmostEqual(swept.wobble_mm[i], figures.wobble_mm, places=9)
                self.assertEqual(swept.spot_miss_mm[i], figures.spot_miss_mm)
                self.assertEqual(swept.spots_missed[i], figures.spots_missed)
                np.testing.assert_array_equal(swept.stands[i, : len(run.legs)][: len(stands(run))], stands(run))
            self.assertTrue(np.isnan(swept.stands[0, len(setup.program.trip.legs)]).all())

    def test_a_line_that_crosses_itself_is_followed_on_along_the_branch_it_is_driven(self) -> None:
        pieces = (Straight(700.0), Bend(150.0, 270.0), Straight(700.0))
        knot = Mat("knot", Stroke(300.0, 400.0, 0.0, pieces), 2000.0, 1400.0)
        setup = replace(lighthouse(program__speed=40.0, program__edge="right"), mat=knot)
        # Both branches lie at one place, 550 and 1556.9 mm along: there the first leg ends.
        first = FollowLeg((AfterDistance(528.0),), "roll on")
        for between, most in (
            ((), 0.5),
            ((WaitLeg((AfterTime(0.3),)),), 20.0),
            ((StraightLeg((AfterDistance(5.0),)),), 40.0),
        ):
            legs = first, *between, FollowLeg((AfterDistance(150.0),))
            run = derive.run_once(replace(setup, program=replace(setup.program, trip=Trip(legs))))
            met = run.legs[-1].met_mm
            came = run.start_mm + run.trace.progress_mm[run.legs[0].ended]
            self.assertGreaterEqual(met, came - 0.5, between)
            self.assertLess(met - came, most, between)
            self.assertIs(run.legs[-1].route, run.route)

    def test_what_the_law_remembers_is_cleared_when_a_leg_begins_to_follow(self) -> None:
        setup = lighthouse(program__law="PID", program__pid__ki=3.0)
        legs = FollowLeg((AfterDistance(900.0),), "roll on"), FollowLeg((AfterDistance(300.0),))
        run = derive.run_once(replace(setup, program=replace(setup.program, trip=Trip(legs))))
        at, integral = run.legs[1].begun, run.trace.i_term
        self.assertGreater(abs(integral[at - 1]), 1.0)
        # Of one decision alone: gain, decision period, error.
        self.assertAlmostEqual(abs(integral[at]), abs(0.03 * run.trace.error[at]), places=9)
        self.assertLess(abs(integral[at]), 0.5 * abs(integral[at - 1]))

    def test_progress_goes_on_where_the_next_line_is_met(self) -> None:
        run = derive.run_once(demo_project("lantern").setup)
        steps = np.diff(run.trace.progress_mm)
        self.assertLess(float(np.abs(steps).max()), 5.0)
        straight = run.legs[2]
        self.assertEqual(float(np.ptp(run.trace.progress_mm[straight.begun : straight.over])), 0.0)


class SpotsTest(unittest.TestCase):
    def test_the_leg_that_comes_nearest_counts(self) -> None:
        spots = (Spot(100.0, 0.0, 90.0, 10.0, 5.0), Spot(0.0, 50.0, 180.0, 10.0, 5.0))
        found = misses(spots, np.array([[103.0, 4.0, np.radians(93.0)], [0.0, 62.0, np.radians(-178.0)], [np.nan] * 3]))
        np.testing.assert_allclose(found.mm, [5.0, 12.0])
        np.testing.assert_allclose(found.deg, [3.0, 2.0])
        self.assertEqual((found.reached.tolist(), found.leg.tolist()), ([True, False], [0, 1]))
        self.assertEqual((float(found.missed_share), float(found.worst_mm)), (0.5, 12.0))
        # Near enough and yet turned too far.
        turned = misses(spots[:1], np.array([[100.0, 0.0, np.radians(96.0)]]))
        self.assertEqual(turned.reached.tolist(), [False])
        nowhere = misses(spots, np.full((2, 3), np.nan))
        self.assertEqual((nowhere.leg.tolist(), nowhere.reached.any()), ([-1, -1], False))

    def test_a_run_without_legs_reaches_a_spot_where_it_comes_to_rest(self) -> None:
        setup = demo_project("orchard").setup
        run = derive.run(setup)
        spot = Spot(run.rest_x_mm - 3.0, run.rest_y_mm, round(np.degrees(run.rest_heading_rad)), 5.0, 5.0)
        figures = derive.figures(replace(setup, mat=replace(setup.mat, spots=(spot,))))
        self.assertAlmostEqual(figures.spot_miss_mm, 3.0, places=6)
        self.assertEqual(figures.spots_missed, 0.0)

    def test_ends_over_many_starts_are_those_of_the_single_runs(self) -> None:
        setup = demo_project("lantern-on-off").setup
        found = leg_ends(setup, 12)
        runs = [derive.run_once(perturbed(setup, i)) for i in range(1, 13)]
        places = [stands(run)[1] for run in runs if len(run.legs) > 2]
        second = found.legs[1]
        np.testing.assert_allclose(np.sort(second.x_mm), np.sort([place[0] for place in places]))
        large, small, way = second.axes
        covered = np.cov(second.x_mm, second.y_mm)
        self.assertAlmostEqual(large**2 + small**2, float(np.trace(covered)), places=6)
        along = np.array([np.cos(way), np.sin(way)])
        self.assertAlmostEqual(float(along @ covered @ along), large**2, places=6)
        hit = sum(derive.figures(perturbed(setup, i)).spots_missed == 0.0 for i in range(1, 13))
        self.assertEqual(found.spots, (hit,))
        self.assertIsNone(leg_ends(lighthouse()))
        self.assertIs(leg_ends(setup, 400, lambda _done: False), None)

    def test_the_smooth_follower_parks_better_than_on_off(self) -> None:
        smooth, rough = (leg_ends(demo_project(demo).setup) for demo in ("lantern", "lantern-on-off"))
        self.assertGreater(smooth.spots[0], rough.spots[0])
        self.assertGreater(rough.legs[-1].spread_deg, 5.0 * smooth.legs[-1].spread_deg)


class RefusedTest(unittest.TestCase):
    def test_what_is_no_trip_is_refused_by_name(self) -> None:
        cases = (
            (lambda: Trip(()), "no legs"),
            (lambda: Trip((WaitLeg(),) * 200), "200 legs are more than"),
            (lambda: TurnLeg(1e9), "TurnLeg.angle_deg"),
            (lambda: Trip((StraightLeg(()),)), "leg 1 (straight) ends on nothing"),
            (lambda: Trip((TurnLeg(), FollowLeg(()))), "leg 2 (follow) ends on nothing"),
            (lambda: Trip((WaitLeg((AfterDistance(50.0),)),)), "what only a drive brings"),
            (lambda: Trip((StraightLeg((AfterTime(),) * 9),)), "9 ends are more than"),
            (lambda: AtMark(0), "AtMark.count"),
        )
        for make, words in cases:
            with self.assertRaises(OutOfRangeError) as caught:
                make()
            self.assertIn(words, str(caught.exception))


if __name__ == "__main__":
    unittest.main()
