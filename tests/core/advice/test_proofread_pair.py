"""Proofreading two sensors: each remark where it belongs, its mend, and its silence near by."""

import unittest
from dataclasses import replace

from irontrail.core import derive
from irontrail.core.advice.case import Case
from irontrail.core.advice.changes import changes
from irontrail.core.advice.findings import findings
from irontrail.core.advice.proofread import proofread
from irontrail.core.advice.proofread_trip import proofread_trip
from irontrail.core.advice.remark import Remark
from irontrail.core.advice.rooms import look_at_rooms, readings_here, setup_in, take_readings
from irontrail.core.causes.told import told
from irontrail.core.light.rooms import as_found
from irontrail.core.light.sensor import Calibration, LightArea
from irontrail.core.mat.tape import Mat, Straight, Stroke
from irontrail.core.project import Project
from irontrail.core.setup import Setup, with_one, with_second
from irontrail.core.steering.legs import AfterDistance, AtMark, AtReading, FollowLeg, Trip
from irontrail.core.theory.linear import linear_loop
from irontrail.core.theory.sampled import ultimate_gain
from irontrail.core.tune.duel import DuelSpec
from tests.core.test_pair import pair
from tests.support import lighthouse, setup_with, straight_mat


def kinds(setup: Setup) -> set[str]:
    return {remark.kind for remark in proofread(setup)}


def only(setup: Setup, kind: str) -> Remark:
    found = [remark for remark in proofread(setup) if remark.kind == kind]
    assert len(found) == 1, [remark.kind for remark in proofread(setup)]
    return found[0]


class PairTest(unittest.TestCase):
    def mends(self, setup: Setup, kind: str, *words: str) -> Remark:
        """The one remark of a kind says so, and what it offers ends it."""
        remark = only(setup, kind)
        for each in words:
            self.assertIn(each, remark.says)
        assert remark.mended is not None
        self.assertNotIn(kind, kinds(remark.mended))
        return remark

    def test_both_see_the_same(self) -> None:
        for arrangement in ("difference", "table", "each its side"):
            self.mends(pair(arrangement, (75.0, 2.0), (75.0, 2.0)), "see the same", "0 mm apart")
            self.assertNotIn("see the same", kinds(pair(arrangement, (75.0, 6.0), (75.0, -6.0))))
        # On opposite edges the two of a weighted pair over one spot cancel out.
        even = pair("weighted", (75.0, 0.0), (75.0, 0.0), program__pair__edges="opposite", program__pair__weight=0.5)
        self.assertEqual(kinds(even), {"see the same"})

    def test_the_pair_is_wider_than_the_tape_and_the_gap_never_closes(self) -> None:
        for arrangement in ("difference", "table", "each its side"):
            remark = self.mends(pair(arrangement, (75.0, 32.0), (75.0, -32.0)), "gap", "64 mm apart", "20 wide")
            assert remark.mended is not None
            self.assertEqual(derive.figures(setup_with(remark.mended, program__speed=25.0)).outcome, "finished")
            self.assertNotIn("gap", kinds(pair(arrangement, (75.0, 12.0), (75.0, -12.0))))

    def test_the_weight_makes_the_rear_lead(self) -> None:
        setup = pair("weighted", (75.0, 0.0), (-60.0, 0.0), program__pair__weight=0.4)
        remark = self.mends(setup, "rear leads", "40 % on the first", "6 mm behind the axle")
        self.assertEqual(remark.mend, "Weight 65 %")
        self.assertNotIn("rear leads", kinds(setup_with(setup, program__pair__weight=0.55)))
        # The second may be the one that is ahead.
        turned = pair("weighted", (-60.0, 0.0), (75.0, 0.0), program__pair__weight=0.7)
        self.assertLess(self.mends(turned, "rear leads").mended.program.pair.weight, 0.4)  # type: ignore[union-attr]

    def test_the_second_rides_on_the_other_edge(self) -> None:
        setup = pair("weighted", (75.0, 10.0), (75.0, -10.0))
        self.mends(setup, "against each other", "opposite edge")
        self.mends(pair("weighted", (75.0, 0.0), (40.0, 0.0), program__pair__edges="opposite"), "against each other",
                   "same edge")  # fmt: skip

    def test_one_reads_low_on_the_line_and_the_other_high(self) -> None:
        setup = pair("difference", light__calibrate=False, second__sensor__reads_high_on="dark")
        remark = only(setup, "unlike")
        self.assertEqual(remark.mend, "Calibrate both")
        both = setup_with(setup, light__sensor__reads_high_on="dark")
        self.assertNotIn("unlike", kinds(both))
        calibrated = setup_with(setup, light__calibrate=True, second__calibration__dark=92.0)
        self.assertNotIn("unlike", kinds(setup_with(calibrated, second__calibration__bright=25.0)))

    def test_a_law_without_a_straight_on(self) -> None:
        setup = pair("each its side", (75.0, 15.0), (75.0, -15.0), program__law="on-off")
        self.mends(setup, "no straight on", "never drives straight on")
        self.assertNotIn("no straight on", kinds(setup_with(setup, program__law="bands")))
        self.assertNotIn("no straight on", kinds(setup_with(setup, program__arrangement="difference")))

    def test_it_turns_away_from_the_line(self) -> None:
        self.mends(pair("difference", program__line="light"), "turned away", "turns away from the line on both sides")
        table = pair("table").program.table
        swapped = replace(table, left=table.right, right=table.left)
        self.mends(pair("table", program__table=swapped), "turned away", "two turns of the table")
        one = only(pair("table", program__table=replace(table, right=table.neither)), "turned away")
        self.assertIn("With the line to its right the robot does not turn right.", one.says)
        # However little: it turns to the line on both sides.
        left, right = replace(table.left, left=34.0, right=34.6), replace(table.right, left=34.6, right=34.0)
        self.assertNotIn("turned away", kinds(pair("table", program__table=replace(table, left=left, right=right))))

    def test_a_single_sensor_behind_the_axle(self) -> None:
        self.mends(lighthouse(robot__mount__ahead_mm=-20.0), "behind", "20 mm behind the axle")
        self.assertNotIn("behind", kinds(lighthouse(robot__mount__ahead_mm=5.0)))

    def test_what_holds_of_one_sensor_is_said_of_two(self) -> None:
        self.assertIn("dead band", kinds(pair("table", program__table__left__left=2.0)))
        self.assertIn("too gentle", kinds(pair("table", program__table__left__left=36.0)))
        self.assertIn("clipped", kinds(pair("difference", program__proportional__gain=6.0)))
        self.assertIn("no room", kinds(pair("difference", program__speed=96.0)))
        unused = pair("weighted", (75.0, 0.0), (40.0, 0.0), program__law="bands", program__target=90.0)
        never = [remark.says for remark in proofread(unused) if remark.kind == "never"]
        self.assertTrue(never and all("the error is" in says for says in never))
        self.assertEqual(kinds(pair("difference", program__proportional__gain=0.3)), set())


class WatcherTest(unittest.TestCase):
    def crossed(self, second: tuple[float, float], *ends: object) -> Setup:
        branch = Stroke(800.0, 505.0, 90.0, (Straight(200.0),))
        setup = replace(
            with_second(lighthouse()), mat=Mat("a branch to the left", straight_mat().line, other_lines=(branch,))
        )
        setup = setup_with(setup, second__mount__ahead_mm=second[0], second__mount__aside_mm=second[1])
        return setup_with(setup, program__trip=Trip((FollowLeg(ends),)))  # type: ignore[arg-type]

    def test_a_watcher_that_never_crosses_what_it_waits_for(self) -> None:
        ends = (AtMark(1, "crossing", 20.0, 5.0, sensor="second"), AfterDistance(900.0))
        # Far ahead to the left it comes over the branch; midway between line and nothing it does not.
        self.assertFalse([r for r in proofread_trip(self.crossed((75.0, 60.0), *ends)) if r.kind == "watcher"])
        bright = (AtReading("above", 100.0, 0.0, sensor="second"), AfterDistance(900.0))
        remark = next(r for r in proofread_trip(self.crossed((75.0, -10.0), *bright)) if r.kind == "watcher")
        self.assertIn("Leg 1 waits for its second sensor to read 100", remark.says)
        assert remark.mended is not None
        self.assertEqual(remark.mended.program.trip.legs[0].ends[0].sensor, "first")  # type: ignore[union-attr]

    def test_what_is_out_of_reach_is_said_of_the_sensor_that_is_named(self) -> None:
        ends = (AtReading("below", 3.0, 0.0, sensor="second"), AfterDistance(900.0))
        setup = self.crossed((75.0, 0.0), *ends)
        setup = setup_with(setup, second__calibration__dark=2.0)
        said = [remark.says for remark in proofread_trip(setup) if remark.kind == "never comes"]
        self.assertTrue(said and "the second sensor reads here" in said[0].replace("darkest that ", ""))
        first = setup_with(setup, program__trip__legs__0__ends__0__sensor="first", second__calibration__dark=8.0)
        self.assertFalse([remark for remark in proofread_trip(first) if remark.kind == "never comes"])


class OthersTest(unittest.TestCase):
    def test_changes_name_the_second_sensor(self) -> None:
        one = lighthouse()
        two = with_second(one)
        self.assertEqual(changes(one, two), ("a second sensor",))
        self.assertEqual(changes(two, with_one(two)), ("no second sensor",))
        moved = setup_with(two, second__mount__ahead_mm=60.0, second__sensor__noise=1.0)
        self.assertEqual(set(changes(two, moved)), {"second sensor ahead of the axle 75 → 60 mm",
                                                    "second sensor noise 0.4 → 1.0 raw %"})  # fmt: skip
        table = setup_with(two, program__arrangement="table")
        self.assertEqual(changes(two, table), ("steers by one → table",))
        self.assertEqual(changes(table, setup_with(table, program__table__left__left=12.0)), ("left wheel 5 → 12 %",))
        # What is not in use is not told.
        self.assertEqual(changes(two, setup_with(two, program__table__left__left=12.0)), ())

    def test_a_room_changes_both_and_each_is_calibrated_anew(self) -> None:
        setup = pair("each its side", light__calibrate=False, second__mount__height_mm=12.0)
        room = replace(as_found(Project(setup).event, setup.light, setup.robot, setup.second), room_light=0.9)
        self.assertEqual((room.second_height_mm, room.height_mm), (12.0, 8.0))
        there = setup_in(setup, replace(room, second_height_mm=6.0, second_shield=0.2))
        self.assertEqual((there.second.mount.height_mm, there.second.sensor.shield), (6.0, 0.2))  # type: ignore[union-attr]
        self.assertNotEqual(readings_here(there, "first"), readings_here(there, "second"))
        made, says = take_readings(setup, "second", Calibration(20.0, 90.0), Calibration(10.0, 80.0))
        self.assertEqual((made.program.pair.left_threshold, made.program.pair.right_threshold), (50.0, 60.0))
        self.assertEqual((made.program.target, says), (setup.program.target, "Its threshold 50 → 60."))
        first, _ = take_readings(setup, "first", Calibration(20.0, 90.0), Calibration(10.0, 80.0))
        self.assertEqual((first.program.pair.left_threshold, first.program.pair.right_threshold), (60.0, 50.0))
        calibrating = setup_with(setup, light__calibrate=True)
        made, _ = take_readings(calibrating, "second", Calibration(20.0, 90.0), Calibration(10.0, 80.0))
        self.assertEqual((made.second.calibration.bright, made.light), (90.0, calibrating.light))  # type: ignore[union-attr]
        project = Project(calibrating)
        project = replace(project, event=replace(project.event, second_height_mm=14.0))
        one, other = (look_at_rooms(project, which)[1].readings for which in ("first", "second"))
        self.assertNotEqual(one, other)

    def test_findings_know_two_sensors(self) -> None:
        rocking = pair("difference", program__proportional__gain=0.42)
        gain = ultimate_gain(linear_loop(rocking))
        assert gain is not None
        said = {finding.kind: finding.says for finding in findings(Case.of(rocking))}
        self.assertIn(f"% of {gain.gain:.2f}, at which it rocks steadily", said["rocking"])
        wild = {finding.kind: finding.says for finding in findings(Case.of(setup_with(rocking, program__law="on-off")))}
        self.assertIn("Its sensors drove", wild["wasted"])
        fast = setup_with(rocking, program__speed=85.0)
        self.assertEqual(Case.of(fast).run.outcome, "lost")
        self.assertEqual(told(fast)[0].kind, "too fast")
        # Only what is beside both of them, and the tape, can no more be told.
        self.assertGreater(Case.of(rocking).seen_mm, Case.of(lighthouse()).seen_mm + 20.0)
        self.assertIsNone(Case.of(rocking).midway)
        self.assertEqual(Case.of(pair("weighted", (75.0, 0.0), (20.0, 0.0), program__target=80.0)).midway, 49.0)

    def test_a_glare_over_one_of_two_sensors_is_found_by_taking_it_away(self) -> None:
        values = {"light__room_light": 1.0, "light__sensor__shield": 0.0, "second__sensor__shield": 0.0}
        values |= {"robot__mount__height_mm": 16.0, "second__mount__height_mm": 16.0, "program__speed": 35.0}
        values |= {"program__pair__left_threshold": 30.0, "program__pair__right_threshold": 30.0}
        setup = pair("each its side", program__proportional__gain=1.0, **values)
        route = derive.route(setup.mat, False)
        bend = min(route.bends, key=lambda bend: bend.radius_mm)
        x, y, _ = route.at(0.5 * (bend.start_mm + bend.end_mm))
        glare = LightArea(x, y, 110.0, 110.0, 10.0, 5.0)
        lit = replace(setup, light=replace(setup.light, areas=(glare,)))
        self.assertEqual((Case.of(setup).run.outcome, Case.of(lit).run.outcome), ("finished", "lost"))
        found = told(lit)[0]
        self.assertEqual(found.kind, "shadow or glare")
        assert found.mended is not None and found.mended.second is not None
        self.assertEqual(found.mended.light.sensor.shield, found.mended.second.sensor.shield)

    def test_sensors_duel_only_where_they_can_work(self) -> None:
        names = tuple(DuelSpec(pair("difference"), of_sensors=True).contenders)
        self.assertEqual(names, ("one, left edge", "one, right edge", "table", "difference", "each its side"))
        trailing = DuelSpec(pair("weighted", (75.0, 0.0), (-20.0, 0.0)), of_sensors=True)
        self.assertEqual(tuple(trailing.contenders), ("one, left edge", "one, right edge", "weighted"))
        specs = [trailing.search_of(name) for name in trailing.contenders]
        self.assertEqual(len({(each.repeats, each.generations, each.rounds, each.limits) for each in specs}), 1)
        paths = [each.path for each in trailing.search_of("weighted").axes]
        self.assertIn("program.pair.weight", paths)
        by_law = DuelSpec(pair("table")).contenders
        self.assertEqual({setup.program.arrangement for setup in by_law.values()}, {"difference"})


if __name__ == "__main__":
    unittest.main()
