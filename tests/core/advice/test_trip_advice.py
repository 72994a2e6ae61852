"""What is said of a trip: before it is driven, after it, and what a hand makes of the ends of its legs."""

import unittest
from dataclasses import replace
from typing import Any

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.case import Case
from irontrail.core.advice.changes import changes
from irontrail.core.advice.leg_ends import LegEnd
from irontrail.core.advice.leg_way import LegWay, dragged, leg_way, marks_by, nudged, readings_at
from irontrail.core.advice.proofread_trip import crossings, proofread_trip, readings_on
from irontrail.core.advice.step_response import step_response
from irontrail.core.advice.trip_findings import trip_findings, unended
from irontrail.core.demos import demo_project
from irontrail.core.errors import OutOfRangeError
from irontrail.core.mat.demos import DEMO_MATS
from irontrail.core.mat.tape import Straight, Stroke, Zone
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.steering import planning
from irontrail.core.steering.leg_words import all_ends, ended_words, leg_sentence, leg_title, ordinal
from irontrail.core.steering.legs import (
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
from irontrail.core.steering.words import in_words
from irontrail.core.stretches import stretches
from irontrail.core.tune.axes import all_numbers, axis
from irontrail.core.tune.batch import measures_of, run_batch
from irontrail.core.tune.candidates import Candidate, Limits, broken
from irontrail.core.tune.ultimate_gain import without_gains

LANTERN = demo_project("lantern").setup
SHORT = AfterTime(0.1)


def with_trip(*legs: Leg, setup: Setup = LANTERN, **values: Any) -> Setup:
    made = replace(setup, program=replace(setup.program, trip=Trip(legs)))
    for name, value in values.items():
        made = with_value(made, name.replace("__", "."), value)
    return made


class ProofreadTest(unittest.TestCase):
    def kinds(self, setup: Setup) -> list[str]:
        return [remark.kind for remark in proofread_trip(setup)]

    def test_the_demos_and_programs_without_legs_have_nothing_to_say(self) -> None:
        for demo in ("lantern", "lantern-on-off", "lighthouse"):
            self.assertEqual(proofread_trip(demo_project(demo).setup), ())

    def test_a_reading_that_the_sensor_never_gives(self) -> None:
        low, high = readings_on(LANTERN)
        probed = [derive.probe(LANTERN, x, y).reading for x, y in ((600.0, 430.0), (1618.0, 770.0), (300.0, 800.0))]
        self.assertLess(low, min(probed) + 1.0)
        self.assertGreaterEqual(high, max(probed))
        dull = with_value(LANTERN, "light.calibrate", False)
        low, high = readings_on(dull)
        self.assertGreater(low, 4.0)
        for end, never in (
            (AtReading("below", low - 1.0), True), (AtReading("below", low + 3.0), False),
            (AtReading("above", high + 2.0), True), (AtReading("above", high - 3.0), False),
            (LineFound(low - 1.0), True), (LineFound(low + 3.0), False),
            (AtMark(1, "crossing", low - 1.0), True), (AtMark(1, "bright mark", high + 1.0), True),
            (AtMark(1, "bright mark", high - 3.0), False),
        ):  # fmt: skip
            made = with_trip(StraightLeg((end, AfterDistance(50.0))), setup=dull)
            self.assertEqual(self.kinds(made), ["never comes"] if never else [], end)
        remark = proofread_trip(with_trip(StraightLeg((AtReading("below", low - 1.0), SHORT)), setup=dull))[0]
        self.assertEqual(remark.mended.program.trip.legs[0].ends, (SHORT,))
        self.assertIn(f"The darkest that the sensor reads here is {low:.0f}", remark.says)
        # What would leave a leg without an end is no mend.
        self.assertIsNone(proofread_trip(with_trip(StraightLeg((AtReading("below", 0.0),)), setup=dull))[0].mended)

    def test_creeping_to_what_is_not_there(self) -> None:
        dull = with_value(LANTERN, "light.calibrate", False)
        made = with_trip(CreepLeg(dark_reading=2.0, border_reading=99.0), WaitLeg(), setup=dull)
        self.assertEqual(self.kinds(made), ["never dark", "never bright", "never driven"])
        mended = made
        for _ in range(2):
            mended = proofread_trip(mended)[0].mended
        self.assertEqual(self.kinds(mended), [])

    def test_crossings_that_a_mat_has_not(self) -> None:
        self.assertEqual([len(each) for each in crossings(LANTERN.mat)], [2, 1, 1, 2])
        np.testing.assert_allclose(crossings(LANTERN.mat)[0], (330.0, 720.0), atol=2.0)
        # A fork is no crossing, the ferry's line is one.
        self.assertEqual([len(each) for each in crossings(DEMO_MATS["ferry"]())], [1, 1, 1])
        for count, said in ((2, []), (3, ["never comes"])):
            mark = AtMark(count, "crossing", 8.0, 5.0)
            made = with_trip(FollowLeg((mark, AfterDistance(900.0))), trial__set_down="on the line")
            self.assertEqual(self.kinds(made), said)
        bare = with_trip(FollowLeg((AtMark(1, "crossing", 8.0), SHORT)), setup=demo_project("lighthouse").setup)
        self.assertIn("No lines cross on this mat", proofread_trip(bare)[0].says)

    def test_a_crossing_that_lies_behind_where_the_robot_is_set_down(self) -> None:
        second, third = (AtMark(count, "crossing", 8.0, 5.0) for count in (1, 2))
        for start, end, said in (
            (20.0, third, ""), (360.0, second, ""), (360.0, third, "The second crossing. One lies ahead"),
            (480.0, third, "The second crossing. One lies ahead"),
        ):  # fmt: skip
            made = with_trip(FollowLeg((end,)), trial__set_down="on the line", trial__start_mm=start)
            made = replace(made, mat=replace(made.mat, start=None))
            says = [each.says for each in proofread_trip(made)]
            self.assertEqual(len(says), bool(said), says)
            if said:
                self.assertIn(said.lower(), says[0].lower())
                # It is true: driven, that leg does not end so.
                self.assertEqual(derive.run_once(made).legs[0].ended_by, 0)
        turned = with_trip(
            FollowLeg((third,)), trial__set_down="on the line", trial__start_mm=300.0, trial__reverse=True
        )
        turned = replace(turned, mat=replace(turned.mat, start=None))
        self.assertEqual(self.kinds(turned), ["never comes"])

    def test_powers_in_the_dead_band(self) -> None:
        for leg, kinds in (
            (StraightLeg((SHORT,), power=2.0), ["too weak"]), (StraightLeg((SHORT,), power=-2.0), ["too weak"]),
            (StraightLeg((SHORT,), power=3.0), []), (TurnLeg(90.0, 2.0), ["too weak"]),
            (CreepLeg(least_power=1.0), ["too weak"]), (CreepLeg(least_power=4.0), []),
            (StraightLeg((AfterDistance(90.0),), power=8.0, ramp_down_mm=40.0), ["ramp too low"]),
            (StraightLeg((AfterDistance(90.0),), power=12.0, ramp_down_mm=40.0), []),
        ):  # fmt: skip
            made = with_trip(leg)
            self.assertEqual(self.kinds(made), kinds, leg)
            if kinds:
                self.assertEqual(self.kinds(proofread_trip(made)[0].mended), [])
        # It is true: at such a power nothing moves.
        still = derive.run_once(with_trip(StraightLeg((AfterTime(1.0),), power=2.0)))
        self.assertEqual(still.legs[0].way_mm, 0.0)

    def test_following_where_no_line_is(self) -> None:
        far = with_trip(StraightLeg((AfterDistance(60.0),)), TurnLeg(150.0), FollowLeg((AfterDistance(100.0),)))
        self.assertEqual(self.kinds(far), ["no line"])
        self.assertEqual(derive.figures(far).outcome, "lost")
        near = with_trip(StraightLeg((AfterDistance(250.0),)), FollowLeg((AfterDistance(100.0),)))
        self.assertEqual(self.kinds(near), [])
        unsure = with_trip(StraightLeg((AfterTime(0.2),)), FollowLeg((AfterDistance(100.0),)))
        self.assertEqual(self.kinds(unsure), [])

    def test_remarks_word_for_word(self) -> None:
        dull = with_value(LANTERN, "light.calibrate", False)
        low, high = (f"{value:.0f}" for value in readings_on(dull))
        for made, said in (
            (
                with_trip(CreepLeg(dark_reading=2.0, border_reading=99.0), WaitLeg(), setup=dull),
                [
                    (f"Leg 1 creeps to a reading of 2: the darkest that the sensor reads here is {low}.", "Dark at 11"),
                    (
                        f"Leg 1 waits for a border of 99: the brightest that the sensor reads here is {high}.",
                        "Wait for no border",
                    ),
                    ("Leg 1 never ends: leg 2 is never driven.", ""),
                ],
            ),
            (
                with_trip(WaitLeg(), StraightLeg((SHORT,), power=-2.0)),
                [("Leg 2 (back at 2): its power is −2, and below 3 no wheel turns.", "Power 7")],
            ),
            (
                with_trip(StraightLeg((LineFound(2.0), SHORT)), setup=dull),
                [
                    (
                        "Leg 1 waits for what never comes: a line that reads 2. "
                        f"The darkest that the sensor reads here is {low}.",
                        "Take that end away",
                    )
                ],
            ),
            (
                with_trip(StraightLeg((AfterDistance(90.0),), power=8.0, ramp_up_mm=40.0)),
                [
                    (
                        "Leg 1 (straight at 8): at the end of its ramp the power is 2, and below 3 no wheel turns.",
                        "Without that ramp",
                    )
                ],
            ),
        ):
            self.assertEqual([(each.says, each.mend) for each in proofread_trip(made)], said)
        back = with_trip(StraightLeg((AfterDistance(400.0),), power=-30.0), FollowLeg((SHORT,)))
        away = proofread_trip(back)[0].says
        # 400 mm back from the start zone, and the sensor 75 mm ahead of that.
        x, y = 190.0 - 325.0 * np.cos(np.radians(30.0)), 250.0 - 325.0 * np.sin(np.radians(30.0))
        self.assertEqual(
            away, f"Leg 2 follows the line, and begins about {np.hypot(x - 430.0, y - 430.0):.0f} mm from any."
        )

    def test_legs_after_one_that_never_ends(self) -> None:
        made = with_trip(WaitLeg((AtReading("above", 100.0),)), StraightLeg(), StraightLeg((SHORT,)))
        self.assertEqual(self.kinds(made), [])
        dull = with_trip(StraightLeg((AtMark(9, "crossing", 8.0),)), StraightLeg((SHORT,)), StraightLeg((SHORT,)))
        said = proofread_trip(dull)
        self.assertEqual([each.kind for each in said], ["never comes", "never driven"])
        self.assertIn("legs 2 to 3 are never driven", said[1].says)


class FindingTest(unittest.TestCase):
    def found(self, setup: Setup) -> dict[str, Any]:
        case = Case.of(setup)
        ended = unended(case)
        return {each.kind: each for each in (*([ended] if ended else []), *trip_findings(case))}

    def test_which_leg_waited_for_what(self) -> None:
        made = with_trip(
            StraightLeg((AfterDistance(50.0),)), WaitLeg((AtReading("below", 5.0),)), trial__time_limit_s=6.0
        )
        found = self.found(made)
        self.assertIn(
            "Leg 2 (wait) waited: at a reading of 5 or less. Before that came, the time was over.", found["waited"].says
        )
        away = with_trip(StraightLeg((LineFound(40.0),)), TurnLeg(-90.0), StraightLeg((LineFound(40.0),)))
        self.assertIn("the robot left the mat", self.found(away)["waited"].says)

    def test_a_mark_that_was_passed_in_the_leg_before(self) -> None:
        legs = LANTERN.program.trip.legs
        drives_over = StraightLeg((AfterDistance(160.0),), power=30.0)
        waits = FollowLeg((AtMark(2, "crossing", 8.0, 5.0), AfterDistance(3000.0)))
        # Along the line by hand over the jetty, and then on for two more.
        first = FollowLeg((AfterDistance(230.0),))
        made = with_trip(legs[0], first, drives_over, replace(waits, ends=waits.ends[:1]))
        found = self.found(made)
        self.assertIn("passed before", found)
        says = found["passed before"].says
        self.assertTrue(
            says.startswith("Leg 4 waited for a crossing that had been passed in leg 3 (straight at 30)"), says
        )
        mended = found["passed before"].mended
        self.assertEqual(mended.program.trip.legs[3].ends[0].count, 1)
        ended = [derive.run_once(perturbed(mended, i)).outcome for i in range(1, 11)]
        self.assertGreaterEqual(ended.count("finished"), 8)
        # Where the leg before came over none, nothing of the kind is said.
        other = with_trip(legs[0], FollowLeg((AtMark(3, "crossing", 8.0, 5.0),)))
        self.assertNotIn("passed before", self.found(other))

    def test_a_leg_that_begins_off_any_line(self) -> None:
        made = with_trip(StraightLeg((AfterDistance(20.0),)), TurnLeg(150.0), FollowLeg((AfterDistance(100.0),)))
        self.assertIn("from any line, and follows nothing", self.found(made)["no line"].says)

    def test_a_line_met_steeply_and_a_gentler_way(self) -> None:
        steep = replace(LANTERN.mat, start=Zone(560.0, 200.0, 120.0, 120.0, 75.0))
        legs = StraightLeg((LineFound(45.0),), "roll on", 60.0), FollowLeg((AfterDistance(250.0),))
        made = with_trip(*legs, setup=replace(LANTERN, mat=steep))
        found = self.found(made)["met steeply"]
        self.assertRegex(found.says, r"Leg 2 met the line at 75°, and drove over it")
        gentler = replace(LANTERN.mat, start=Zone(560.0, 200.0, 120.0, 120.0, 40.0))
        met = replace(legs[0], then="brake", power=40.0), legs[1]
        again = self.found(with_trip(*met, setup=replace(LANTERN, mat=gentler)))["met steeply"]
        self.assertRegex(again.says, r"Leg 2 met the line at \d\d°, and overshot its edge by \d+ mm before it followed")
        flat = replace(LANTERN, mat=replace(LANTERN.mat, start=Zone(300.0, 330.0, 120.0, 120.0, 12.0)))
        self.assertNotIn("met steeply", self.found(with_trip(legs[0], legs[1], setup=flat)))

    def test_what_rolls_on_past_its_end_and_a_mend_that_was_run(self) -> None:
        made = with_trip(StraightLeg((AfterDistance(200.0),), power=60.0), WaitLeg((SHORT,)))
        found = self.found(made)["overran"]
        run = derive.run(made)
        past = np.hypot(
            run.trace.x_mm[run.legs[0].over] - run.trace.x_mm[run.legs[0].ended],
            run.trace.y_mm[run.legs[0].over] - run.trace.y_mm[run.legs[0].ended],
        )
        self.assertIn(f"stopped {past:.0f} mm past its end (after 200 mm): it came there at 2", found.says)
        self.assertEqual(found.mend, "Slow down over 100 mm")
        after = derive.run_once(found.mended)
        leg = after.legs[0]
        now = abs(after.trace.x_mm[leg.over] - after.trace.x_mm[leg.ended])
        self.assertLess(now, 0.5 * past)
        slow = with_trip(StraightLeg((AfterDistance(200.0),), power=15.0), WaitLeg((SHORT,)))
        self.assertNotIn("overran", self.found(slow))
        # Without any response time nothing rolls on: it is the cause.
        stiff = with_value(made, "robot.drive.response_time_s", 0.0)
        self.assertNotIn("overran", self.found(stiff))

    def test_what_overran_word_for_word_with_its_mend(self) -> None:
        wait = WaitLeg((SHORT,))
        along = {"trial__set_down": "on the line", "program__speed": 60.0}
        end = "it came there at 288 mm/s, and its wheels rolled on."
        for made, says, mend, path, value in (
            (
                with_trip(FollowLeg((AfterDistance(300.0),)), wait, **along),
                f"Leg 1 (follow) stopped 17 mm past its end (after 300 mm): {end}", "Slow down over 100 mm",
                "ramp_down_mm", 100.0,
            ),
            (
                with_trip(FollowLeg((AfterTime(1.0),)), wait, **along),
                f"Leg 1 (follow) stopped 17 mm past its end (after 1 s): {end}", "Speed 30", "speed", 30.0,
            ),
            (
                with_trip(CreepLeg(0.0, 60.0, 15.0, 0.0)),
                f"Leg 1 (creep) stopped 17 mm past its end (at a reading of 15 or less): {end}", "Least power 30",
                "least_power", 30.0,
            ),
            (
                with_trip(StraightLeg((AfterTime(0.5),), power=60.0), wait),
                f"Leg 1 (straight at 60) stopped 17 mm past its end (after 0.5 s): {end}", "Power 30", "power", 30.0,
            ),
        ):  # fmt: skip
            found = self.found(made)["overran"]
            self.assertEqual((found.says, found.mend), (says, mend))
            self.assertEqual(getattr(found.mended.program.trip.legs[0], path), value)
            self.assertEqual(found.row, derive.run(made).legs[0].ended)
        turned = self.found(with_trip(TurnLeg(90.0, 45.0), wait))["overturned"]
        self.assertEqual(
            (turned.says, turned.mend, turned.mended.program.trip.legs[0].power),
            (
                "Leg 1 (turn left 90°) turned 13° past its end: its wheels rolled on. "
                "Ask for less, or turn more slowly.",
                "Power 22", 22.0,
            ),
        )  # fmt: skip

    def test_a_straight_that_overruns_a_dark_line_may_creep_onto_it(self) -> None:
        across = replace(
            LANTERN.mat, start=Zone(300.0, 700.0, 120.0, 120.0, 0.0), other_lines=LANTERN.mat.other_lines[2:]
        )
        legs = (
            StraightLeg((AfterDistance(500.0),), "roll on", 50.0),
            StraightLeg((AtReading("below", 20.0),), power=50.0),
        )
        made = with_trip(*legs, setup=replace(LANTERN, mat=across))
        found = self.found(made)["overran"]
        self.assertTrue(found.mend.startswith("Creep onto it, at 0."), found.mend)
        run = derive.run_once(found.mended)
        self.assertEqual(found.mended.program.trip.legs[1].kind, "creep")
        self.assertLess(run.coast_mm, 0.5 * derive.run(made).coast_mm)

    def test_what_rolls_on_into_the_next_leg_has_overrun_nothing(self) -> None:
        fast = StraightLeg((AfterDistance(200.0),), "roll on", 60.0)
        self.assertEqual(self.found(with_trip(fast, fast, StraightLeg((AfterDistance(100.0),), power=12.0))), {})
        back = with_trip(StraightLeg((AfterTime(0.5),), power=-60.0), WaitLeg((SHORT,)))
        self.assertEqual(self.found(back)["overran"].mend, "Power −30")
        # The demo's line is met at 30°, and not overshot by much.
        self.assertNotIn("met steeply", self.found(LANTERN))

    def test_a_turn_that_turns_on(self) -> None:
        made = with_trip(TurnLeg(90.0, 45.0), WaitLeg((SHORT,)))
        found = self.found(made)["overturned"]
        self.assertRegex(found.says, r"Leg 1 \(turn left 90°\) turned \d+° past its end")
        self.assertTrue(found.mend.startswith("Power "))
        self.assertNotIn("overturned", self.found(with_trip(TurnLeg(90.0, 10.0), WaitLeg((SHORT,)))))


class WordsTest(unittest.TestCase):
    def test_every_leg_and_end_in_words(self) -> None:
        for leg, title, ends in (
            (FollowLeg((AtFinish(),), speed=30.0, edge="right"), "follow right edge at 30", "at the finish"),
            (
                StraightLeg((AfterDistance(1250.0), AfterTime(2.5)), power=-30.0),
                "back at 30",
                "after 1250 mm, or after 2.5 s",
            ),
            (TurnLeg(-45.0, ends=(LineFound(50.0),)), "turn right 45°", "when the line is found, or after 45°"),
            (CreepLeg(dark_reading=14.0), "creep", "at a reading of 14 or less"),
            (WaitLeg((AtButton(3.0),)), "wait", "at the button, after 3 s"),
            (FollowLeg((AtMark(2, "bright mark"),)), "follow", "at the second bright mark"),
            (FollowLeg((AtReading("above", 90.0, 5.0),)), "follow", "at a reading of 90 or more for 5 mm"),
        ):
            self.assertEqual((leg_title(leg), all_ends(leg)), (title, ends))
        self.assertEqual((ordinal(3), ordinal(12)), ("third", "12th"))

    def test_each_kind_of_leg_as_a_sentence(self) -> None:
        counts, brakes = "both wheels' counts kept alike", "then brake to a stand."
        for leg, says in (
            (
                FollowLeg((AtFinish(),), "roll on", 30.0, "right", 40.0, 60.0),
                "follow the line along its right edge at a speed of 30, speeding up over 40 mm, "
                "slowing down over the last 60 mm; it ends at the finish, then roll on.",
            ),
            (
                FollowLeg((AfterTime(2.0),), ramp_down_mm=0.5),
                "follow the line, slowing down over the last 0.5 mm; it ends after 2 s, then brake to a stand.",
            ),
            (
                StraightLeg((AfterDistance(1250.0),), power=-30.0, held=False, ramp_up_mm=0.5),
                "drive straight back at 30, speeding up over 0.5 mm; it ends after 1250 mm, then brake to a stand.",
            ),
            (
                StraightLeg((AtReading("below", 20.0, 3.0),), power=0.0),
                f"drive straight on at 0, {counts}; it ends at a reading of 20 or less for 3 mm, {brakes}",
            ),
            (
                TurnLeg(-45.0, 30.0, "wheel"),
                "turn right about the inner wheel at 30; it ends after 45°, then brake to a stand.",
            ),
            (TurnLeg(0.0), "turn left on the spot at 25; it ends after 0°, then brake to a stand."),
            (
                CreepLeg(0.4, 12.0, 14.0, 0.0),
                f"creep straight on at 0.4 × the reading, at least 12; it ends at a reading of 14 or less, {brakes}",
            ),
            (
                WaitLeg((AtButton(3.0), AtReading("above", 80.0))),
                f"stand and wait; it ends at the button, after 3 s, or at a reading of 80 or more, {brakes}",
            ),
        ):
            self.assertEqual(leg_sentence(leg, 4), f"Leg 4: {says}")
        self.assertEqual(
            (leg_title(TurnLeg(0.0)), leg_title(StraightLeg(power=0.0))), ("turn left 0°", "straight at 0")
        )
        self.assertEqual([ordinal(n) for n in (1, 10, 11)], ["first", "tenth", "11th"])
        turn = TurnLeg(30.0, ends=(LineFound(), AfterTime(2.0)))
        self.assertEqual(
            [ended_words(turn, n) for n in (0, 1, 2, 3, 7)],
            ["", "when the line is found", "after 2 s", "", "after 30°"],
        )
        self.assertEqual(ended_words(StraightLeg(), 7), "")

    def test_the_words_of_a_program_begin_with_its_legs(self) -> None:
        said = in_words(LANTERN.program)
        self.assertEqual([each.leg for each in said[:8]], [1, 2, 3, 4, 5, 6, 7, None])
        self.assertTrue(said[0].says.startswith("Leg 1: drive straight on at 40"), said[0].says)
        self.assertIn("once the light has read 90 or more", said[6].says)

    def test_changes_name_the_leg(self) -> None:
        legs = LANTERN.program.trip.legs
        slower = with_value(LANTERN, "program.trip.legs.2.power", 20.0)
        self.assertEqual(changes(LANTERN, slower), ("leg 3 power 30 → 20 %",))
        farther = with_value(LANTERN, "program.trip.legs.2.ends.0.distance_mm", 95.0)
        self.assertEqual(changes(LANTERN, farther), ("leg 3 distance 75 → 95 mm",))
        other_end = with_value(LANTERN, "program.trip.legs.2.ends", (AfterTime(0.5),))
        self.assertEqual(changes(LANTERN, other_end), ("leg 3 ends after 0.5 s",))
        self.assertEqual(changes(LANTERN, with_trip(*legs[:4])), ("7 → 4 legs",))
        self.assertEqual(changes(LANTERN, with_trip(legs[1], legs[0], *legs[2:])), ("legs in another order",))
        none = replace(LANTERN, program=replace(LANTERN.program, trip=None))
        self.assertEqual(changes(LANTERN, none), ("other trip",))

    def test_by_leg_the_times_add_up_and_each_has_its_own(self) -> None:
        run = derive.run(LANTERN)
        found = stretches(run)
        self.assertEqual([each.name for each in found], [f"leg {i}" for i in range(1, 8)])
        self.assertAlmostEqual(sum(each.time_s for each in found), run.time_s, places=9)
        self.assertAlmostEqual(found[-1].end_mm, derive.figures(LANTERN).path_length_mm, places=6)
        self.assertEqual((found[0].wobble_mm, found[0].worst_edge_mm), (0.0, 0.0))
        leg = run.legs[1]
        self.assertEqual(
            found[1].worst_edge_mm, np.abs(run.trace.edge_mm[leg.begun : leg.over][: leg.ended - leg.begun + 1]).max()
        )


class PlanningTest(unittest.TestCase):
    def test_legs_are_put_in_moved_doubled_and_taken_out(self) -> None:
        program = replace(LANTERN.program, trip=None)
        self.assertEqual(planning.legs_of(program), ())
        for kind in ("follow", "turn", "wait", "creep", "straight"):
            program = planning.put_in(program, len(planning.legs_of(program)), kind)
        kinds = [leg.kind for leg in planning.legs_of(program)]
        self.assertEqual(kinds, ["follow", "turn", "wait", "creep", "straight"])
        self.assertEqual(planning.legs_of(program)[0].ends, (AtFinish(),))
        moved = planning.moved(program, 0, 3)
        self.assertEqual([leg.kind for leg in planning.legs_of(moved)], ["turn", "wait", "creep", "follow", "straight"])
        self.assertEqual(planning.moved(moved, 3, 0), program)
        self.assertEqual(planning.taken_out(planning.doubled(program, 1), 2), program)
        for _ in range(5):
            program = planning.taken_out(program, 0)
        self.assertIsNone(program.trip)
        full = planning.with_legs(program, (WaitLeg(),) * 24)
        for change in (lambda: planning.put_in(full, 0, "wait"), lambda: planning.doubled(full, 0)):
            with self.assertRaisesRegex(OutOfRangeError, "at most 24"):
                change()

    def test_what_one_would_begin_with(self) -> None:
        program = LANTERN.program
        for kind, end in (
            ("time", AfterTime(1.0)), ("distance", AfterDistance(300.0)), ("reading", AtReading("below", 16.0)),
            ("mark", AtMark(1, "crossing", 8.0, 5.0)), ("line found", LineFound(40.0)), ("button", AtButton(1.0)),
            ("finish", AtFinish()),
        ):  # fmt: skip
            self.assertEqual(planning.usual_end(kind, StraightLeg(), program), end)
        for before, follow, straight in (
            ((), AtFinish(), LineFound(40.0)), ((FollowLeg(),), AfterDistance(500.0), AfterDistance(100.0)),
            ((FollowLeg(), TurnLeg()), AfterDistance(500.0), AfterDistance(100.0)),
            ((CreepLeg(),), AfterDistance(500.0), AfterDistance(100.0)),
            ((FollowLeg(), WaitLeg()), AfterDistance(500.0), LineFound(40.0)),
        ):  # fmt: skip
            self.assertEqual(planning.usual("follow", before, program), FollowLeg((follow,)))
            self.assertEqual(planning.usual("straight", before, program), StraightLeg((straight,)))
        self.assertEqual(planning.usual("creep", (), program), CreepLeg(dark_reading=16.0))
        self.assertEqual(
            (planning.usual("turn", (), program), planning.usual("wait", (), program)), (TurnLeg(), WaitLeg())
        )
        legs = (StraightLeg(), TurnLeg(), WaitLeg())
        program = planning.with_legs(program, legs)
        self.assertEqual(planning.legs_of(planning.put_in(program, 1, "wait")), (legs[0], WaitLeg(), *legs[1:]))
        self.assertEqual(planning.legs_of(planning.doubled(program, 1)), (legs[0], legs[1], legs[1], legs[2]))
        self.assertEqual(planning.legs_of(planning.taken_out(program, 1)), (legs[0], legs[2]))
        self.assertEqual(planning.legs_of(planning.moved(program, 2, 0)), (legs[2], legs[0], legs[1]))
        ends = (AfterTime(1.0), AfterTime(2.0), AfterTime(3.0))
        program = planning.with_legs(program, (legs[1], StraightLeg(ends)))
        self.assertEqual(planning.without_end(program, 1, 1).trip.legs[1].ends, (ends[0], ends[2]))
        other = planning.other_end(program, 1, 1, "finish").trip.legs[1].ends
        self.assertEqual(other, (ends[0], AtFinish(), ends[2]))

    def test_ends_are_given_changed_and_taken_away(self) -> None:
        program = planning.with_legs(LANTERN.program, (StraightLeg((SHORT,)),))
        for kind in planning.ENDS_OF["straight"]:
            self.assertEqual(planning.other_end(program, 0, 0, kind).trip.legs[0].ends[0].kind, kind)
        self.assertIs(planning.other_end(program, 0, 0, "time"), program)
        twice = planning.with_end(program, 0, "mark")
        self.assertEqual([end.kind for end in twice.trip.legs[0].ends], ["time", "mark"])
        self.assertEqual(planning.without_end(twice, 0, 1), program)
        with self.assertRaisesRegex(OutOfRangeError, "ends on nothing"):
            planning.without_end(program, 0, 0)
        for _ in range(4):
            twice = planning.with_end(twice, 0, "distance")
        with self.assertRaisesRegex(OutOfRangeError, "at most 6 ends"):
            planning.with_end(twice, 0, "distance")


class DragTest(unittest.TestCase):
    def way(self, setup: Setup, leg: int) -> Any:
        run = derive.run(setup)
        return leg_way(setup, run, run.legs[leg]), run.legs[leg].ended_by

    def test_the_way_goes_on_beyond_what_was_driven(self) -> None:
        way, _ = self.way(LANTERN, 2)
        self.assertAlmostEqual(way.counted_mm[way.driven - 1], 84.0, delta=2.0)
        self.assertGreater(way.counted_mm[-1], 900.0)
        self.assertTrue((np.diff(way.counted_mm) >= 0.0).all())
        # What it would read there is what a probe reads there.
        i = way.driven + 40
        probed = derive.probe(LANTERN, float(way.x_mm[i]), float(way.y_mm[i])).reading
        self.assertAlmostEqual(float(way.reading[i]), probed, delta=1e-6)
        here = readings_at(LANTERN, np.array([1618.0]), np.array([770.0]))
        self.assertAlmostEqual(float(here[0]), 100.0)

    def test_dragged_to_a_place_the_robot_comes_to_stand_there(self) -> None:
        way, by = self.way(LANTERN, 2)
        made = dragged(LANTERN, way, by, 1300.0, 410.0)
        distance = made.program.trip.legs[2].ends[0].distance_mm
        self.assertEqual(distance % 5.0, 0.0)
        free = dragged(LANTERN, way, by, 1300.0, 410.0, free=True)
        run = derive.run_once(free)
        x = run.trace.x_mm[run.legs[2].over] + 75.0 * np.cos(run.trace.heading_rad[run.legs[2].over])
        self.assertAlmostEqual(float(x), 1300.0, delta=1.5)
        back = dragged(LANTERN, way, by, *(float(each[0]) for each in (way.x_mm, way.y_mm)))
        self.assertEqual(back.program.trip.legs[2].ends[0].distance_mm, 1.0)

    def test_times_marks_readings_and_turns(self) -> None:
        timed = with_trip(StraightLeg((AfterTime(1.0),), power=40.0), WaitLeg((SHORT,)))
        way, by = self.way(timed, 0)
        x, y = float(way.x_mm[50]), float(way.y_mm[50])
        self.assertAlmostEqual(dragged(timed, way, by, x, y).program.trip.legs[0].ends[0].time_s, 0.5, delta=0.051)
        way, by = self.way(LANTERN, 1)
        self.assertEqual(dragged(LANTERN, way, by, 765.0, 420.0).program.trip.legs[1].ends[0].count, 1)
        mark = LANTERN.program.trip.legs[1].ends[0]
        self.assertEqual([marks_by(way, mark, way.nearest(x, 420.0)) for x in (600.0, 775.0, 1165.0)], [0, 1, 2])
        creep, by = self.way(LANTERN, 6)
        row = creep.nearest(1630.0, 763.0)
        made = dragged(LANTERN, creep, by, float(creep.x_mm[row]), float(creep.y_mm[row])).program.trip.legs[6]
        self.assertEqual(made.dark_reading, round(float(creep.reading[row])))
        way, by = self.way(LANTERN, 3)
        turned = dragged(LANTERN, way, by, way.axle[0], way.axle[1] - 80.0)
        run = derive.run_once(turned)
        self.assertAlmostEqual(np.degrees(run.trace.heading_rad[run.legs[3].over]), 270.0, delta=4.0)
        finish = with_trip(FollowLeg((AtFinish(),)), setup=demo_project("ferry").setup)
        way, by = self.way(finish, 0)
        self.assertEqual(dragged(finish, way, by, 500.0, 400.0), finish)

    def test_marks_are_counted_as_the_program_counts_them(self) -> None:
        def way(*readings: float) -> LegWay:
            reading = np.array(readings)
            x = np.arange(reading.size, dtype=float)
            return LegWay(0, x, 0.0 * x, x, x, reading, reading.size, (0.0, 0.0), 0.0, 0.0, 0.0)

        dark, mat = (5.0,), (90.0,)
        mark = AtMark(1, "crossing", 10.0, 2.0)
        # Held for 2 mm it counts at its third millimetre; one that is shorter does not, and neither does one begun on.
        twice = way(*mat * 5, *dark * 4, *mat * 5, *dark * 4, *mat * 4)
        counted = [marks_by(twice, mark, row) for row in (4, 6, 7, 15, 16, 21)]
        self.assertEqual(counted, [0, 0, 1, 1, 2, 2])
        self.assertEqual(marks_by(way(*mat * 5, *dark * 2, *mat * 5), mark, 11), 0)
        self.assertEqual(marks_by(way(*dark * 5, *mat * 5, *dark * 4), mark, 13), 1)
        self.assertEqual(marks_by(way(*mat * 5, *dark * 4, *mat * 1, *dark * 4), mark, 13), 1)
        bright = AtMark(1, "bright mark", 90.0, 2.0)
        self.assertEqual(marks_by(way(50.0, 50.0, 50.0, 90.0, 90.0, 90.0), bright, 5), 1)

    def test_backward_the_way_goes_on_backward(self) -> None:
        made = with_trip(StraightLeg((AfterDistance(100.0),), power=-30.0), WaitLeg((SHORT,)))
        way, by = self.way(made, 0)
        self.assertEqual(way.counted_mm[0], 0.0)
        tip = np.array([way.x_mm[-1] - way.x_mm[way.driven - 1], way.y_mm[-1] - way.y_mm[way.driven - 1]])
        self.assertAlmostEqual(np.degrees(np.arctan2(*tip[::-1])), -150.0, delta=2.0)
        self.assertAlmostEqual(float(np.hypot(*tip)), 898.0, delta=1e-6)
        target = way.driven + 20
        free = dragged(made, way, by, float(way.x_mm[target]), float(way.y_mm[target]), free=True)
        expected = way.counted_mm[target] - way.rolled_mm
        self.assertAlmostEqual(free.program.trip.legs[0].ends[0].distance_mm, expected, delta=0.01)

    def test_nudges_move_the_number_of_the_end_that_came(self) -> None:
        self.assertEqual(nudged(LANTERN, 2, 1, 2.0).program.trip.legs[2].ends[0].distance_mm, 95.0)
        self.assertEqual(nudged(LANTERN, 3, 7, -1.0).program.trip.legs[3].angle_deg, 85.0)
        self.assertEqual(nudged(LANTERN, 1, 1, 1.0).program.trip.legs[1].ends[0].count, 3)
        self.assertEqual(nudged(LANTERN, 6, 7, 1.0).program.trip.legs[6].dark_reading, 21.0)
        self.assertEqual(nudged(LANTERN, 0, 1, 1.0).program.trip.legs[0].ends[0].reading, 46.0)
        self.assertEqual(nudged(LANTERN, 40, 1, 1.0), LANTERN)


class LegEndTest(unittest.TestCase):
    def test_its_figures_by_their_definitions(self) -> None:
        x, y = np.array([0.0, 6.0, 0.0, 6.0]), np.array([0.0, 0.0, 2.0, 2.0])
        heading = np.radians([178.0, -178.0, 179.0, -179.0])
        end = LegEnd(8, x, y, heading)
        self.assertEqual((end.reached, end.middle), (4, (3.0, 1.0)))
        large, small, way = end.axes
        self.assertAlmostEqual(large, np.std(x, ddof=1))
        self.assertAlmostEqual(small, np.std(y, ddof=1))
        self.assertAlmostEqual(abs(np.sin(way)), 0.0)
        self.assertAlmostEqual(abs(np.degrees(end.heading)), 180.0)
        self.assertAlmostEqual(end.spread_deg, np.sqrt((4.0 + 4.0 + 1.0 + 1.0) / 3.0), places=6)
        one = LegEnd(8, x[:1], y[:1], heading[:1])
        self.assertEqual((one.axes, one.spread_deg), ((0.0, 0.0, 0.0), 0.0))
        turned = LegEnd(8, x / np.sqrt(2.0) - y, x / np.sqrt(2.0) + y, heading)
        self.assertGreater(np.degrees(turned.axes[2]) % 180.0, 40.0)
        self.assertLess(np.degrees(turned.axes[2]) % 180.0, 90.0)


class TunedTest(unittest.TestCase):
    def test_numbers_of_legs_are_axes_with_their_leg_in_the_name(self) -> None:
        paths = all_numbers(LANTERN)
        for path, label in (
            ("program.trip.legs.2.power", "leg 3 power"), ("program.trip.legs.2.ends.0.distance_mm", "leg 3 distance"),
        ):  # fmt: skip
            self.assertIn(path, paths)
            which = axis(LANTERN, path)
            self.assertEqual(which.quantity.label, label)
            self.assertEqual(which.of(which.put(LANTERN, 40.0)), 40.0)
        self.assertFalse([path for path in all_numbers(demo_project("quarry").setup) if "legs" in path])

    def test_spots_missed_count_every_start(self) -> None:
        setup = demo_project("lantern-on-off").setup
        self.assertIn("spots_missed", measures_of(setup))
        self.assertNotIn("spots_missed", measures_of(demo_project("quarry").setup))
        batch = run_batch([setup], 10)
        missed = [derive.figures(perturbed(setup, i)).spots_missed for i in range(1, 11)]
        self.assertAlmostEqual(float(batch.values["spots_missed"][0]), float(np.mean(missed)))
        self.assertGreater(np.mean(missed), 0.0)

    def test_a_limit_on_spots_is_broken_by_what_misses_more(self) -> None:
        def candidate(missed: float) -> Candidate:
            figures = (("wobble_mm", 1.0), ("clipped_share", 1.0), ("spots_missed", missed))
            return Candidate((1.0,), 1.0, 1000.0, figures)

        limits = Limits(0.9, spots=0.8)
        self.assertEqual(broken(limits, candidate(0.2)), 0.0)
        self.assertAlmostEqual(broken(limits, candidate(0.5)), 3.0)


class BesideTest(unittest.TestCase):
    def test_what_asks_the_follower_alone_leaves_the_trip_aside(self) -> None:
        follower = replace(LANTERN, program=replace(LANTERN.program, trip=None))
        one, other = (step_response(setup, 10.0) for setup in (LANTERN, follower))
        self.assertEqual((one.settle_s, one.hertz), (other.settle_s, other.hertz))
        self.assertEqual(without_gains(LANTERN), without_gains(follower))


class CrossingTest(unittest.TestCase):
    def test_lines_that_meet_flatly_do_not_cross(self) -> None:
        mat = replace(LANTERN.mat, other_lines=(Stroke(500.0, 380.0, 20.0, (Straight(400.0),)),))
        self.assertEqual(crossings(mat), ((), ()))


if __name__ == "__main__":
    unittest.main()
