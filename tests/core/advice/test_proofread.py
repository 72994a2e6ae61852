"""Proofreading: each remark where it belongs, none where it does not, and mends that mend."""

import unittest
from typing import Any

from hypothesis import given, settings

from irontrail.core import derive
from irontrail.core.advice.proofread import proofread
from irontrail.core.advice.remark import Remark
from irontrail.core.advice.tight_bends import LEAVES_MM, went_through
from irontrail.core.demos import demo_project
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.bands import Band, Bands
from irontrail.core.steering.registry import LAW_NAMES
from irontrail.core.theory.turning import check_bends
from tests.core.test_any_setup import EXAMPLES, PAIRS, SETUPS, where_it_has_a_length
from tests.support import lighthouse, setup_with


def on_off(**powers: float) -> Setup:
    """The demo steered on and off with some powers."""
    return lighthouse(program__law="on-off", **{f"program__on_off__{name}": power for name, power in powers.items()})


class ProofreadTest(unittest.TestCase):
    def only(self, setup: Setup, kind: str) -> Remark:
        """The one remark of a kind."""
        found = [remark for remark in proofread(setup) if remark.kind == kind]
        self.assertEqual(len(found), 1, [remark.says for remark in proofread(setup)])
        return found[0]

    def mended(self, remark: Remark, kind: str) -> Setup:
        """The mended setup, on which the remark is not made again."""
        assert remark.mended is not None
        self.assertTrue(remark.mend)
        self.assertNotIn(kind, [other.kind for other in proofread(remark.mended)])
        return remark.mended

    def kinds(self, **values: Any) -> list[str]:
        return [remark.kind for remark in proofread(lighthouse(**values))]

    def test_what_follows_the_line_is_left_in_peace(self) -> None:
        for law in LAW_NAMES:
            self.assertEqual(self.kinds(program__law=law), [], law)
        for demo in ("quarry", "orchard", "ferry", "tannery"):
            self.assertEqual(proofread(demo_project(demo).setup), (), demo)
        self.assertEqual(self.kinds(program__edge="right"), [])
        self.assertEqual(self.kinds(trial__reverse=True), [])

    def test_looking_for_a_light_line_turns_it_away_from_a_dark_one(self) -> None:
        for law in LAW_NAMES:
            setup = lighthouse(program__line="light", program__law=law)
            remark = self.only(setup, "turned away")
            self.assertIn("both sides", remark.says)
            self.assertEqual(self.mended(remark, "turned away").program.line, "dark")

    def test_one_side_with_its_wheels_the_wrong_way_round(self) -> None:
        remark = self.only(on_off(dark_outer=0.0, dark_inner=40.0), "turned away")
        self.assertIn("on the line", remark.says)
        mended = self.mended(remark, "turned away").program.on_off
        self.assertEqual((mended.dark_outer, mended.dark_inner), (40.0, 0.0))
        straight = self.only(on_off(light_outer=40.0, light_inner=40.0), "turned away")
        self.assertIn("drives straight on", straight.says)
        self.assertIsNone(straight.mended)

    def test_a_band_that_turns_the_wrong_way(self) -> None:
        bands = Bands((Band(30.0, 0.0, 50.0), Band(70.0, 45.0, 45.0), Band(101.0, 0.0, 50.0)))
        remark = self.only(lighthouse(program__law="bands", program__bands=bands), "turned away")
        self.assertEqual(self.mended(remark, "turned away").program.bands.steps[2], Band(101.0, 50.0, 0.0))

    def test_a_target_outside_what_is_read_leaves_one_side_without_a_say(self) -> None:
        for target, side in ((0.0, "dark"), (100.0, "light")):
            for law in ("proportional", "on-off"):
                setup = lighthouse(program__target=target, program__law=law, light__sensor__noise=0.0)
                remark = self.only(setup, "never")
                self.assertIn(f"the {side} side never decides", remark.says)
                self.assertEqual(derive.figures(self.mended(remark, "never")).outcome, "finished")
        # Raised high, the sensor reads less off the line than the target is.
        self.assertIn("never", self.kinds(program__target=92.0, robot__mount__height_mm=20.0))
        self.assertNotIn("never", self.kinds(program__target=80.0))

    def test_a_line_that_looks_like_its_mat_gives_nothing_to_steer_by(self) -> None:
        setup = lighthouse(mat__line__colour="#f0eee6")
        self.assertEqual([remark.kind for remark in proofread(setup)], ["no contrast"])
        self.assertEqual(derive.figures(setup).outcome, "lost")
        red = lighthouse(mat__line__colour="#f03020", mat__colour="#ffffff")
        self.assertNotIn("no contrast", [remark.kind for remark in proofread(red)])
        under_red_light = setup_with(red, light__sensor__lamp="red")
        self.assertEqual([remark.kind for remark in proofread(under_red_light)], ["no contrast"])

    def test_bands_that_never_come_up(self) -> None:
        bands = Bands((Band(30.0, 0.0, 50.0), Band(30.0, 20.0, 50.0), Band(101.0, 50.0, 0.0)))
        remark = self.only(lighthouse(program__law="bands", program__bands=bands), "never")
        self.assertIn("Band 2 has no room", remark.says)
        self.assertEqual(len(self.mended(remark, "never").program.bands.steps), 2)
        dim = lighthouse(program__law="bands", robot__mount__height_mm=20.0, light__sensor__noise=0.0)
        remark = self.only(dim, "never")
        self.assertIn("Band 5 (80 to 100) never comes up", remark.says)
        self.assertFalse((derive.run(dim).trace.reading >= 80.0).any())

    def test_a_gain_that_makes_on_off_of_a_slope(self) -> None:
        remark = self.only(lighthouse(program__proportional__gain=6.0), "clipped")
        self.assertEqual(derive.figures(self.mended(remark, "clipped")).outcome, "finished")
        self.assertNotIn("clipped", self.kinds(program__proportional__gain=1.5))

    def test_a_speed_that_leaves_no_room_below_the_limit(self) -> None:
        remark = self.only(lighthouse(program__speed=95.0), "no room")
        self.assertIn("leaves 5 below the limit", remark.says)
        self.mended(remark, "no room")
        self.assertNotIn("no room", self.kinds(program__speed=95.0, program__mixing="inner wheel only"))

    def test_powers_inside_the_dead_band(self) -> None:
        remark = self.only(on_off(dark_inner=-2.0), "dead band")
        self.assertIn("power −2 is inside the dead band of 3", remark.says)
        self.assertEqual(self.mended(remark, "dead band").program.on_off.dark_inner, -3.0)
        self.assertNotIn("dead band", [each.kind for each in proofread(on_off(dark_inner=0.0))])
        self.only(lighthouse(program__speed=2.0), "dead band")
        bands = Bands((Band(50.0, 1.0, 50.0), Band(101.0, 50.0, 0.0)))
        self.only(lighthouse(program__law="bands", program__bands=bands), "dead band")

    def test_powers_that_differ_too_little_for_the_tightest_bend(self) -> None:
        gentle = on_off(dark_inner=40.0, light_inner=40.0)
        remark = self.only(gentle, "too gentle")
        self.assertEqual(derive.figures(gentle).outcome, "lost")
        self.assertEqual(derive.figures(self.mended(remark, "too gentle")).outcome, "finished")
        tight = [each for each in check_bends(gentle, derive.route(gentle.mat, False)) if each.strays_mm > LEAVES_MM]
        tight = [each for each in tight if not went_through(gentle, each)]
        self.assertGreater(len(tight), 1)
        self.assertIn(f"(and {len(tight) - 1} more) is too tight", remark.says)
        slope = lighthouse(program__proportional__gain=0.2)
        remark = self.only(slope, "too gentle")
        self.assertEqual(derive.figures(slope).outcome, "lost")
        self.assertEqual(derive.figures(self.mended(remark, "too gentle")).outcome, "finished")

    def test_bends_called_too_tight_are_never_driven_through(self) -> None:
        called = 0
        for inner in range(0, 50, 5):
            for outer in (45.0, 55.0, 65.0):
                powers = {"dark_inner": inner, "light_inner": inner, "dark_outer": outer, "light_outer": outer}
                setup = on_off(**{name: float(power) for name, power in powers.items()})
                if any(remark.kind == "too gentle" for remark in proofread(setup)):
                    called += 1
                    self.assertEqual(derive.figures(setup).outcome, "lost", (inner, outer))
        self.assertGreater(called, 5)

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(SETUPS | PAIRS)
    @where_it_has_a_length()
    def test_any_setup_can_be_proofread(self, setup: Setup) -> None:
        for remark in proofread(setup):
            self.assertTrue(remark.says.endswith("."))
            self.assertEqual(remark.mended is None, remark.mend == "")
            if remark.mended is not None:
                self.assertNotEqual(remark.mended, setup)
                # Only what is wrong with where the sensors are mends anything but the program.
                if remark.kind not in ("behind", "gap", "see the same", "unlike"):
                    self.assertEqual(setup_with(remark.mended, program=setup.program), setup)


if __name__ == "__main__":
    unittest.main()
