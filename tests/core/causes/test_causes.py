"""A cause is what, when undone, makes the same starts go well; on good setups none is named."""

import unittest
from collections import Counter
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any, ClassVar
from unittest import mock

import numpy as np
from bench.causes import FAULTS, Case, cases, good_setups, judged
from hypothesis import given, settings

from irontrail.core import derive
from irontrail.core.advice import tight_bends
from irontrail.core.advice.case import Case as AdviceCase
from irontrail.core.advice.proofread import proofread
from irontrail.core.causes import cause
from irontrail.core.causes.cause import STARTS, asks_for_more, diagnose, starts_of
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.registry import SUPPOSITIONS
from irontrail.core.causes.suppositions.calibration import calibrated_here
from irontrail.core.causes.suppositions.contrast import CONTRAST
from irontrail.core.causes.suppositions.names import NAMES
from irontrail.core.causes.suppositions.shadow import SHADOW
from irontrail.core.causes.suppositions.target import TARGET
from irontrail.core.causes.suppositions.unfiltered import UNFILTERED
from irontrail.core.causes.told import at_once, remarked, told
from irontrail.core.demos import DEMOS
from irontrail.core.errors import CalledOff
from irontrail.core.mat.route import stroke_route
from irontrail.core.mat.tape import Gap, Mat, Straight, Stroke
from irontrail.core.quantity import value_at, with_value
from irontrail.core.result import point_way
from irontrail.core.setup import Pull, Setup
from irontrail.core.starts import perturbed
from irontrail.core.steering.legs import AfterDistance, AtMark, FollowLeg, StraightLeg, Trip
from irontrail.core.tune.batch import Batch, run_batch
from irontrail.core.tune.tries import Trying
from tests.core.test_any_setup import PAIRS, SETUPS, where_it_has_a_length
from tests.support import lighthouse, setup_with

OF = ("oval", "esses")
# Looked at from more than one side, each is worked out once.
known = cache(diagnose)


def kind_of(setup: Setup) -> str:
    """What is named first; empty if nothing is."""
    cause = known(setup).cause
    return cause.kind if cause is not None else ""


class RemedyTest(unittest.TestCase):
    def test_a_shield_is_advised_only_where_it_is_more_than_there_is(self) -> None:
        for shield, advised in ((0.5, ["Shield 80 %", "Shield 95 %"]), (0.85, ["Shield 95 %"]), (0.95, [])):
            mends = list(SHADOW.remedies(Look(lighthouse(light__sensor__shield=shield))))
            self.assertEqual([mend.says for mend in mends], advised)
            for mend in mends:
                self.assertGreater(mend.setup.light.sensor.shield, shield)


class UndoneTest(unittest.TestCase):
    def test_what_reads_alike_is_made_black_on_white_or_the_other_way_round(self) -> None:
        dark, light = ("#606060", "#202020"), ("#909090", "#f0f0f0")
        for line, ground in ((dark, light), (light, dark)):
            for high in ("bright", "dark"):
                setup = lighthouse(mat__line__colour=line[0], mat__colour=ground[0], light__sensor__reads_high_on=high)
                (undone,) = CONTRAST.undone(Look(setup))
                self.assertEqual((undone.mat.line.colour, undone.mat.colour), (line[1], ground[1]), high)


class BenchTest(unittest.TestCase):
    """A part of the bench of causes."""

    cases: ClassVar[list[Case]]
    good: ClassVar[list[tuple[str, Setup]]]

    @classmethod
    def setUpClass(cls) -> None:
        cls.cases = list(cases(3, OF))
        cls.good = list(good_setups(OF))

    def test_most_are_named_right_and_hardly_any_wrong(self) -> None:
        verdicts: Counter[str] = Counter()
        for case in self.cases:
            verdicts[judged(case, kind_of(case.setup))] += 1
        self.assertGreater(verdicts.total(), 50)
        self.assertGreaterEqual(verdicts["right"], 0.9 * verdicts.total(), verdicts)
        self.assertLessEqual(verdicts["wrong"], 0.04 * verdicts.total(), verdicts)

    def test_remedies_hold_over_starts_that_did_not_choose_them(self) -> None:
        held = []
        for case in self.cases[::3]:
            cause = known(case.setup).cause
            if cause is not None and cause.remedy is not None:
                held.append(Trying().one(cause.remedy.mend.setup, 31).good >= 16)
        self.assertGreater(len(held), 12)
        self.assertGreaterEqual(sum(held), 0.9 * len(held))

    def test_of_a_good_setup_no_cause_is_named(self) -> None:
        for name, setup in self.good:
            with self.subTest(name):
                self.assertEqual(kind_of(setup), "")

    def test_every_fault_has_its_supposition_and_no_two_have_one_name(self) -> None:
        names = {each.name for each in SUPPOSITIONS}
        self.assertEqual(len(names), len(SUPPOSITIONS))
        for fault in FAULTS:
            self.assertLessEqual(set(fault.right) | set(fault.partly), names, fault.name)


class DiagnosisTest(unittest.TestCase):
    def test_starts_are_judged_as_they_go(self) -> None:
        setup = lighthouse(program__speed=62.0)
        (over,) = starts_of([setup], lambda _done: True)
        figures = [derive.figures(perturbed(setup, number)) for number in range(1, STARTS + 1)]
        for good, each in zip(over.good, figures, strict=True):
            self.assertEqual(good, each.outcome == "finished" and each.rms_edge_mm <= 15.0)
        self.assertTrue(0.0 < over.share < 1.0)
        # It always finishes, and rocks.
        wild = lighthouse(program__proportional__gain=2.5)
        plain, calm = (starts_of([wild], lambda _done: True, calm=calm)[0] for calm in (False, True))
        self.assertEqual((plain.share, calm.share), (1.0, 0.0))
        found = diagnose(wild)
        self.assertTrue(found.rocks)
        self.assertIn("shaken starts stay calm; as it is 0.", told(wild)[0].says)

    def test_on_another_edge_a_run_has_not_gone_well(self) -> None:
        # At the fork the right edge leads away, along another line.
        (over,) = starts_of([with_value(DEMOS["ferry"].make(), "program.edge", "right")], lambda _done: True)
        self.assertEqual(over.share, 0.0)

    def test_what_is_undone_is_counted_over_the_same_starts(self) -> None:
        setup = lighthouse(program__loop_time_s=0.09)
        found = diagnose(setup)
        assert found.cause is not None and found.cause.remedy is not None
        self.assertEqual(found.cause.kind, "slow loop")
        (again,) = starts_of([lighthouse()], lambda _done: True)
        self.assertEqual(found.cause.good, int(again.good.sum()))
        self.assertEqual(found.cause.remedy.mend.setup, lighthouse())
        evidence = {each.supposition.name: each for each in found.asked}
        self.assertEqual(evidence["slow loop"].repairs, 1.0)
        self.assertEqual(list(found.asked), sorted(found.asked, key=lambda each: -each.weight))

    def test_a_gain_is_not_called_high_because_the_loop_is_slow(self) -> None:
        slow = lighthouse(program__loop_time_s=0.09)
        self.assertGreater(Look(slow).gain_share or 0.0, 1.5)
        self.assertLess(Look(slow).plain.gain_share or 9.0, 1.2)

    def test_the_nearest_misses_are_named_for_what_they_are(self) -> None:
        for values, kind in (
            ({"trial__start_angle_deg": 80.0}, "set down"), ({"program__proportional__gain": 2.5}, "gain too high"),
            ({"program__target": 92.0}, "target"), ({"program__line": "light"}, "line colour"),
            ({"program__stop__time_s": 2.0}, "stop rule"), ({"program__delay_s": 0.13}, "late answer"),
            ({"robot__mount__ahead_mm": 10.0}, "sensor's place"), ({"program__speed": 68.0}, "too fast"),
        ):  # fmt: skip
            with self.subTest(kind):
                self.assertEqual(kind_of(lighthouse(**values)), kind)

    def test_a_target_is_said_to_lie_off_the_middle_or_beyond_all_that_is_read(self) -> None:
        for target, said in ((92.0, "is far from midway"), (99.5, "it reads only")):
            self.assertIn(said, TARGET.says(Look(lighthouse(program__target=target))))

    def test_powers_changed_over_and_the_wrong_line_are_told_apart(self) -> None:
        setup = lighthouse(program__law="on-off")
        law = setup.program.on_off
        crossed = setup_with(
            setup, program__on_off__dark_outer=law.dark_inner, program__on_off__dark_inner=law.dark_outer
        )
        self.assertEqual(kind_of(crossed), "wheels changed over")
        self.assertEqual(kind_of(setup_with(setup, program__line="light")), "line colour")

    def test_two_things_together_are_named_only_where_neither_mends_it_alone(self) -> None:
        setup = lighthouse(program__loop_time_s=0.09, program__line="light")
        found = diagnose(setup)
        assert found.cause is not None and found.cause.remedy is not None
        self.assertEqual(set(found.cause.kind.split(" and ")), {"slow loop", "line colour"})
        self.assertEqual([each for each in found.asked if each.repairs > 0.0], [])
        self.assertIn("wo things are wrong together: ", told(setup)[0].says)
        self.assertEqual(found.cause.remedy.mend.setup, lighthouse())
        # Where one alone mends it, it alone is said.
        alone = lighthouse(program__loop_time_s=0.09, robot__mount__ahead_mm=42.0)
        self.assertNotIn(" and ", kind_of(alone))

    def test_names_of_colours_between_line_and_mat_that_are_taken_for_something_else(self) -> None:
        named = lighthouse(light__sensor__scale="colour names", program__law="on-off")
        first = told(named)[0]
        self.assertEqual(first.kind, "colour names")
        self.assertIn("its sensor sees brown (it reads as 100)", first.says)
        assert first.mended is not None
        self.assertEqual(kind_of(first.mended), "")
        brown = next(each for each in first.mended.light.sensor.palette if each.name == "brown")
        self.assertTrue(0.0 < brown.reads_as < 50.0)
        # A red that is not on its way from line to mat may read as it likes.
        palette = tuple(
            replace(each, reads_as=0.0) if each.name == "red" else each for each in first.mended.light.sensor.palette
        )
        self.assertEqual(NAMES.unusual(Look(with_value(first.mended, "light.sensor.palette", palette))), 0.0)

    def test_it_stops_when_told_to(self) -> None:
        with self.assertRaises(CalledOff):
            diagnose(lighthouse(program__speed=70.0), lambda _done: False)

    def test_how_unusual_a_value_is(self) -> None:
        self.assertEqual([doublings(x, 2.0) for x in (1.0, 2.0, 4.0, 1e9)], [0.0, 0.0, 1.0, 4.0])
        self.assertEqual(doublings(1.0, 0.0), 4.0)


class RemarkedTest(unittest.TestCase):
    def test_a_bend_that_the_run_went_through_is_not_called_too_tight(self) -> None:
        setup = lighthouse(program__proportional__gain=0.3)
        (told_of,) = (each for each in proofread(setup) if each.kind == "too gentle")
        name = told_of.says.split()[1]
        run = derive.run(setup)
        bends = {bend.name: bend for bend in run.route.bends}
        # It left in the first of those that it did not go through, or never came to the others.
        self.assertGreater(bends[name].end_mm, run.start_mm + float(run.trace.progress_mm.max()))
        every = tight_bends.check_bends(setup, run.route)
        with mock.patch.object(tight_bends, "went_through", return_value=True):
            self.assertNotIn("too gentle", [each.kind for each in proofread(setup)])
        passed = [each for each in every if each.bend.end_mm < run.start_mm + run.trace.progress_mm.max()]
        self.assertTrue(passed)
        wide = replace(passed[0], strays_mm=1000.0)
        self.assertTrue(tight_bends.went_through(setup, wide))
        self.assertFalse(tight_bends.went_through(setup, replace(wide, strays_mm=0.0)))

    def test_a_change_that_asks_for_another_is_known(self) -> None:
        calm = lighthouse()
        self.assertFalse(asks_for_more(calm, calm))
        self.assertTrue(asks_for_more(calm, lighthouse(program__proportional__gain=0.2)))

    def test_only_mends_that_hold_are_offered(self) -> None:
        for values in ({"program__speed": 95.0}, {"program__proportional__gain": 0.1}, {"program__target": 100.0}):
            plain, kept = proofread(lighthouse(**values)), remarked(lighthouse(**values))
            self.assertEqual([each.says for each in kept], [each.says for each in plain])
            for before, after in zip(plain, kept, strict=True):
                if before.mended is not None:
                    (over,) = starts_of([before.mended], lambda _done: True)
                    self.assertEqual(after.mended is not None, over.share >= 0.8, before.says)

    def test_of_a_robot_that_goes_well_nothing_is_too_tight(self) -> None:
        for name in DEMOS:
            setup = DEMOS[name].make()
            (over,) = starts_of([setup], lambda _done: True)
            if over.share >= 0.8:
                self.assertNotIn("too gentle", [each.kind for each in remarked(setup)], name)

    def test_wheels_changed_over_are_not_called_a_wrong_line(self) -> None:
        setup = lighthouse(program__law="on-off")
        law = setup.program.on_off
        crossed = setup_with(
            setup, program__on_off__dark_outer=law.dark_inner, program__on_off__dark_inner=law.dark_outer,
            program__on_off__light_outer=law.light_inner, program__on_off__light_inner=law.light_outer,
        )  # fmt: skip
        (remark,) = (each for each in remarked(crossed) if each.kind == "turned away")
        self.assertIn("its two wheels are changed over", remark.says)
        self.assertEqual(remark.mended, setup)
        (remark,) = (each for each in remarked(setup_with(setup, program__line="light")) if each.kind == "turned away")
        self.assertIn("the line here is the darker", remark.says)


class GainTest(unittest.TestCase):
    def test_what_calms_it_is_below_the_gain_at_which_it_is_said_to_rock(self) -> None:
        slope, pid = ("proportional", "program.proportional.gain"), ("PID", "program.pid.kp")
        for (law, path), gain in ((slope, 0.9), (slope, 1.1), (slope, 2.0), (pid, 1.45)):
            setup = with_value(with_value(DEMOS["lighthouse"].make(), "program.law", law), path, gain)
            first = told(setup)[0]
            self.assertEqual(first.kind, "gain too high")
            assert first.mended is not None
            rocks = float(first.says.partition("at ")[2].partition(" ")[0])
            self.assertLess(value_at(first.mended, path), 0.97 * rocks)


class TwoSensorsAndTripsTest(unittest.TestCase):
    """Causes of robots with two sensors, and of trips: by the same suppositions."""

    def test_of_two_sensors(self) -> None:
        walk = DEMOS["ropewalk"].make()
        self.assertEqual(kind_of(walk), "")
        for values, kind in (
            ({"program__proportional__gain": 0.6}, "gain too high"),
            ({"program__speed": 70.0}, "too fast"),
            ({"program__line": "light"}, "line colour"),
            ({"program__arrangement": "table", "program__delay_s": 0.15}, "late answer"),
            ({"trial__start_off_mm": 45.0}, "set down"),
        ):
            with self.subTest(kind):
                self.assertEqual(kind_of(setup_with(walk, **values)), kind)

    def test_of_a_trip_its_leg_is_told_first(self) -> None:
        lantern = DEMOS["lantern"].make()
        self.assertEqual(kind_of(lantern), "")
        self.assertNotIn("Without that", " ".join(each.says for each in told(lantern)))
        for values, kind, says in (
            ({"program__target": 90.0}, "target", "Leg 2 (follow) lost its line after "),
            ({"program__proportional__gain": 0.1}, "gain too low", "Leg 2 met the line at "),
            ({"trial__start_angle_deg": 25.0}, "set down", "Leg 1 (straight at 40) waited: when the line is found."),
        ):
            setup = setup_with(lantern, **values)
            with self.subTest(kind):
                first = told(setup)[0]
                self.assertEqual((first.kind, at_once(setup)[0].says[:20]), (kind, first.says[:20]))
                self.assertTrue(first.says.startswith(says), first.says)
                assert first.mended is not None
                (over,) = starts_of([first.mended], lambda _done: True)
                self.assertGreaterEqual(over.share, 0.8)

    def test_without_a_sure_cause_of_a_trip_its_own_mend_is_offered(self) -> None:
        lantern = DEMOS["lantern"].make()
        legs = lantern.program.trip.legs  # type: ignore[union-attr]
        over = StraightLeg((AfterDistance(160.0),), power=30.0)
        waits = FollowLeg((AtMark(2, "crossing", 8.0, 5.0),))
        trip = Trip((legs[0], FollowLeg((AfterDistance(230.0),)), over, waits))
        first = told(with_value(lantern, "program.trip", trip))[0]
        self.assertTrue(first.says.startswith("Leg 4 waited for a crossing that had been passed in leg 3"), first.says)
        self.assertEqual(first.mend, "Count to 1")


class AnotherLineTest(unittest.TestCase):
    def test_at_a_fork_and_only_there_it_is_led_along_the_other_line(self) -> None:
        ferry = DEMOS["ferry"].make()
        self.assertEqual(kind_of(ferry), "")
        for setup, edge in (
            (with_value(ferry, "program.edge", "right"), "right"),
            (setup_with(ferry, mat__goal=1), "left"),
        ):
            first = told(setup)[0]
            self.assertIn(f"its {edge} edge led it along that one", first.says)
            self.assertTrue(first.mend.startswith("Follow the "))
        # Far from the fork it leaves its line for another reason.
        fast = told(with_value(ferry, "program.speed", 95.0))[0]
        self.assertNotIn("another line", fast.says)
        self.assertEqual(fast.kind, "too fast")

    def test_how_far_another_line_is(self) -> None:
        ferry = DEMOS["ferry"].make()
        look = Look(ferry)
        x, y = point_way(look.run.trace, ferry.reference)
        branch = stroke_route(ferry.mat.other_lines[0], "")
        nearest = np.hypot(x[:, None] - branch.x_mm, y[:, None] - branch.y_mm).min(axis=1)
        cross = stroke_route(ferry.mat.other_lines[1], "")
        nearest = np.minimum(nearest, np.hypot(x[:, None] - cross.x_mm, y[:, None] - cross.y_mm).min(axis=1))
        np.testing.assert_allclose(look.to_other_lines_mm, nearest, atol=1e-9)
        self.assertEqual((look.ends_near_another_line, look.took_another_line), (True, False))
        self.assertTrue(Look(with_value(ferry, "program.edge", "right")).took_another_line)

    def test_a_gap_and_a_hand(self) -> None:
        line = Stroke(200.0, 500.0, 0.0, (Straight(700.0), Gap(60.0), Straight(800.0)))
        gap = setup_with(Setup(Mat("gap", line)), program__proportional__gain=0.7)
        self.assertIn("60 mm", told(gap)[0].says)
        self.assertEqual(told(gap)[0].kind, "gap")
        trace = derive.run(lighthouse()).trace
        pull = Pull(4.0, float(trace.x_mm[400]), float(trace.y_mm[400]) + 55.0, 0.0)
        first = told(lighthouse(trial__pull=pull))[0]
        self.assertIn("A hand pulled it away after 4.0 s", first.says)
        self.assertEqual(first.mended, lighthouse())


class SlowTest(unittest.TestCase):
    def test_what_the_same_law_does_much_faster_is_told_of_a_robot_that_goes_well(self) -> None:
        slow = lighthouse(program__law="PID", program__speed=30.0)
        (found,) = (each for each in told(slow) if each.kind == "slow")
        assert found.mended is not None
        before, after = starts_of([slow, found.mended], lambda _done: True, calm=True)
        self.assertGreaterEqual(after.share, before.share)
        self.assertLessEqual(after.time_s, 0.7 * before.time_s)
        self.assertIn(f"in {after.time_s:.1f} s instead of {before.time_s:.1f}.", found.says)
        self.assertEqual(found.mended.mat, slow.mat)

    def test_near_what_it_can_do_nothing_of_the_kind_is_told(self) -> None:
        # At 50 it could be faster, and proofreading would then have something else mended.
        for setup in (
            lighthouse(program__law="PID"),
            lighthouse(program__law="PID", program__speed=60.0),
            lighthouse(program__speed=68.0),
        ):
            self.assertNotIn("slow", [each.kind for each in told(setup)])


class SaysTest(unittest.TestCase):
    def test_a_filter_is_told_in_milliseconds(self) -> None:
        setup = lighthouse(program__law="PID", program__pid__filter_s=0.005)
        look = mock.Mock(spec=Look, setup=setup)
        self.assertIn("a filter of only 5 ms", UNFILTERED.says(look))


class StartsTest(unittest.TestCase):
    def test_a_setup_that_is_asked_for_again_is_not_driven_again(self) -> None:
        one, other = (lighthouse(program__speed=speed) for speed in (43.7, 44.7))
        driven: list[Setup] = []

        def counted(setups: Sequence[Setup], *given: Any) -> Batch | None:
            driven.extend(setups)
            return run_batch(setups, *given)

        with mock.patch.object(cause, "run_batch", counted):
            (first,) = cause.starts_of([one], lambda _done: True)
            again = cause.starts_of([other, one, other], lambda _done: True, calm=True)
        self.assertEqual(driven, [one, other])
        alone = run_batch([one], cause.STARTS)
        assert alone is not None
        np.testing.assert_array_equal(first.times_s, alone.single["time_s"][0])
        np.testing.assert_array_equal(again[1].times_s, first.times_s)
        np.testing.assert_array_equal(first.good, alone.came_through(0, one))
        np.testing.assert_array_equal(again[1].good, first.good & (alone.single["wobble_mm"][0] <= cause.ROCKS_MM))


class ToldTest(unittest.TestCase):
    def test_where_and_when_it_left(self) -> None:
        setup = lighthouse(program__speed=68.0)
        (first, *_), case = told(setup), AdviceCase.of(setup)
        trace = case.run.trace
        self.assertLessEqual(abs(trace.edge_mm[first.row]), case.seen_mm)
        self.assertTrue((np.abs(trace.edge_mm[first.row + 1 :]) > case.seen_mm).all())
        bend = next(bend for bend in case.run.route.bends if bend.name == "F")
        self.assertTrue(bend.start_mm - 25.0 <= case.place_mm(first.row) <= bend.end_mm + 25.0)
        self.assertTrue(
            first.says.startswith(f"Left the line in bend F after {trace.time_s[first.row]:.1f} s. It is too fast"),
            first.says,
        )
        self.assertEqual(at_once(setup)[0].says, f"Left the line in bend F after {trace.time_s[first.row]:.1f} s.")

    @settings(max_examples=25, deadline=None)
    @given(SETUPS | PAIRS)
    @where_it_has_a_length()
    def test_any_setup_can_be_told_of(self, setup: Setup) -> None:
        found = (*at_once(setup), *told(setup))
        rows = len(derive.run(setup).trace)
        for each in found:
            self.assertTrue(0 <= each.row < rows)
            self.assertEqual(each.mended is None, each.mend == "")
            self.assertNotIn("nan", each.says)
            self.assertNotIn("inf ", each.says)

    def test_nothing_is_said_at_minus_nothing(self) -> None:
        for values in ({"trial__start_angle_deg": 100.0}, {"trial__start_off_mm": -45.0}, {"program__line": "light"}):
            says = " ".join(each.says for each in told(lighthouse(**values)))
            self.assertNotIn("-0.0", says)
            self.assertNotIn("−0.0", says)

    def test_without_a_sure_cause_only_where_and_how_often_is_said(self) -> None:
        # Late, stopped too early, and the line looked for as the other of the two: no two of them mend it.
        setup = lighthouse(program__loop_time_s=0.09, program__line="light", program__stop__time_s=2.0)
        self.assertIsNone(diagnose(setup).cause)
        first = told(setup)[0]
        self.assertEqual((first.kind, first.mended), ("left", None))
        self.assertRegex(first.says, r"^(Left the line|Stopped) .*\. 0 of 10 shaken starts of these numbers go well\.$")

    def test_a_mend_of_a_description_holds_from_most_starts(self) -> None:
        for name in ("lighthouse", "quarry", "tannery"):
            for each in told(DEMOS[name].make()):
                if each.mended is not None:
                    (over,) = starts_of([each.mended], lambda _done: True)
                    self.assertGreaterEqual(over.share, 0.8, (name, each.says))

    def test_calibrating_here_leaves_what_cannot_be_calibrated(self) -> None:
        named = lighthouse(light__sensor__scale="colour names", program__law="on-off")
        self.assertIs(calibrated_here(named), named)
        raw = lighthouse(light__calibrate=False)
        self.assertIs(calibrated_here(raw), raw)


if __name__ == "__main__":
    unittest.main()
