"""Over the whole parameter space: every run ends, in time, with numbers that are numbers."""

import os
import unittest
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from irontrail.core import derive, many
from irontrail.core.advice.proofread_trip import proofread_trip
from irontrail.core.engine.pack import parameters_of
from irontrail.core.errors import IronTrailError
from irontrail.core.light.names import USUAL_PALETTE
from irontrail.core.light.second import SecondSensor
from irontrail.core.light.sensor import Calibration, Light, LightArea, Sensor
from irontrail.core.mat.tape import Bend, Corner, Mat, Spot, Straight, Stroke, Wiggle, Zone
from irontrail.core.quantity import Quantity, quantities
from irontrail.core.result import COLUMNS
from irontrail.core.robot.drive import Drive
from irontrail.core.robot.mount import Mount, Robot
from irontrail.core.setup import Setup, Trial
from irontrail.core.shaking import Shaking
from irontrail.core.starts import perturbed
from irontrail.core.steering.laws.bands import Band, Bands
from irontrail.core.steering.laws.mixed import Mixed
from irontrail.core.steering.laws.on_off import OnOff
from irontrail.core.steering.laws.pid import Pid
from irontrail.core.steering.laws.proportional import Proportional
from irontrail.core.steering.laws.table import Case, Table
from irontrail.core.steering.legs import (
    AfterDistance,
    AfterTime,
    AtButton,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    FollowLeg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
)
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.pair import ARRANGEMENTS, Pair
from irontrail.core.steering.program import Program, StopRules
from irontrail.core.steering.registry import LAW_NAMES
from irontrail.core.stretches import stretches
from irontrail.core.tune import batch
from irontrail.core.tune.axes import axis, to_tune

# Some dozens in every check; set IRONTRAIL_EXAMPLES for thousands.
EXAMPLES = int(os.environ.get("IRONTRAIL_EXAMPLES", "60"))


def anywhere(quantity: Quantity, content: bytes) -> float:
    """A number of its range, by four bytes: more often than not an end, sometimes next to nothing off it."""
    which, how_near, *_ = content
    low, high = quantity.low, quantity.high
    tiny, inside = 0.5 ** (how_near % 64), int.from_bytes(content[2:]) / 65535.0
    share = (0.0, 0.0, tiny, inside, inside, 1.0 - tiny, 1.0, 1.0)[which % 8]
    value = min(max(low + share * (high - low), low), high)
    return round(value) if isinstance(low, int) else value


def any_part(part: type, **fixed: Any) -> st.SearchStrategy[Any]:
    """A part with every number anywhere in its range.

    All of them are drawn in one piece: one by one that took longer than what was then asked of them.
    """
    named = quantities(part)

    def made(content: bytes, **others: Any) -> Any:
        numbers = {name: anywhere(each, content[4 * i : 4 * i + 4]) for i, (name, each) in enumerate(named.items())}
        return part(**(numbers | others))

    return st.builds(made, st.binary(min_size=4 * len(named), max_size=4 * len(named)), **fixed)


ZONES = st.none() | any_part(Zone)
MATS = st.builds(
    lambda pieces, width, start, finish: Mat(
        "any", Stroke(250.0, 200.0, 0.0, tuple(pieces), width_mm=width), 500.0, 400.0, start=start, finish=finish
    ),
    st.lists(
        st.one_of(
            st.builds(Straight, st.floats(1.0, 300.0)),
            st.builds(Bend, st.floats(10.0, 300.0), st.floats(-360.0, 360.0)),
            st.builds(Corner, st.floats(-170.0, 170.0)),
            st.builds(Wiggle, st.integers(1, 4), st.floats(10.0, 100.0), st.floats(-120.0, 120.0)),
        ),
        min_size=1,
        max_size=5,
    ),
    st.floats(4.0, 80.0),
    ZONES,
    ZONES,
)
CALIBRATIONS = st.builds(lambda dark, span: Calibration(dark, dark + span), st.floats(0.0, 60.0), st.floats(1.5, 40.0))
BANDS = st.builds(
    lambda steps: Bands(tuple(sorted(steps, key=lambda band: band.below))),
    st.lists(any_part(Band), min_size=1, max_size=8),
)
TURNED = {"reads_high_on": st.sampled_from(["bright", "dark"])}
PLAIN = {"lamp": st.sampled_from(["white", "red", "blue"]), "scale": st.sampled_from(["percent", "counts"])}
NAMING = {"scale": st.just("colour names"), "palette": st.sampled_from([USUAL_PALETTE, USUAL_PALETTE[:3]])}
SENSORS = any_part(Sensor, **TURNED, **PLAIN) | any_part(Sensor, **TURNED, **NAMING)
SETUPS = st.builds(
    Setup,
    MATS,
    st.builds(Robot, st.just("any"), any_part(Drive), any_part(Mount)),
    st.builds(
        Light,
        SENSORS,
        st.lists(any_part(LightArea), max_size=3).map(tuple),
        st.booleans(),
        st.floats(0.0, 1.0),
        CALIBRATIONS,
    ),
    any_part(
        Program,
        law=st.sampled_from(LAW_NAMES),
        edge=st.sampled_from(["left", "right"]),
        line=st.sampled_from(["dark", "light"]),
        mixing=st.sampled_from(MIXING_NAMES),
        bands=BANDS,
        mixed=any_part(Mixed, sloped_side=st.sampled_from(["dark", "light"])),
        pid=any_part(Pid),
        stop=any_part(StopRules),
        on_off=any_part(OnOff),
        proportional=any_part(Proportional),
    ),
    any_part(Trial, reverse=st.booleans(), time_limit_s=st.floats(1.0, 4.0)),
)

TABLES = st.builds(Table, *(any_part(Case) for _ in range(4)))
PAIRS = st.builds(
    lambda setup, second, arrangement, pair, table: replace(
        setup, second=second, program=replace(setup.program, arrangement=arrangement, pair=pair, table=table)
    ),
    SETUPS,
    st.builds(SecondSensor, any_part(Mount), SENSORS, CALIBRATIONS),
    st.sampled_from(list(ARRANGEMENTS)),
    any_part(Pair, edges=st.sampled_from(["same", "opposite"])),
    TABLES,
)

ENDS_LIST = st.lists(
    st.one_of(
        any_part(AfterTime), any_part(AfterDistance), any_part(AtReading, side=st.sampled_from(["below", "above"])),
        any_part(AtMark, mark=st.sampled_from(["crossing", "bright mark"])), any_part(LineFound), any_part(AtButton),
        st.just(AtFinish()),
    ),
    min_size=1, max_size=3,
).map(tuple)  # fmt: skip
THEN = {"then": st.sampled_from(["brake", "roll on"])}
TRIPS = st.lists(
    st.one_of(
        any_part(FollowLeg, ends=ENDS_LIST, edge=st.sampled_from(["the program's", "left", "right"]), **THEN),
        any_part(StraightLeg, ends=ENDS_LIST, held=st.booleans(), **THEN),
        any_part(TurnLeg, about=st.sampled_from(["spot", "wheel"]), **THEN),
        any_part(CreepLeg, ends=ENDS_LIST | st.just(()), **THEN),
        any_part(WaitLeg, ends=st.tuples(any_part(AfterTime)), **THEN),
    ),
    min_size=1,
    max_size=5,
).map(lambda legs: Trip(tuple(legs)))
SPOTS = st.lists(any_part(Spot), max_size=3).map(tuple)


@contextmanager
def where_it_has_a_length() -> Iterator[None]:
    """A line of corners alone is refused, and nothing else is."""
    try:
        yield
    except IronTrailError as refusal:
        if "no length" not in str(refusal):
            raise


class GeneratorTest(unittest.TestCase):
    def test_numbers_are_drawn_at_both_ends_next_to_them_and_between(self) -> None:
        for part in (Drive, Sensor, Trial):
            for name, quantity in quantities(part).items():
                low, high = quantity.low, quantity.high
                drawn = [anywhere(quantity, bytes((which, 40, 90, which))) for which in range(8)]
                self.assertEqual((min(drawn), max(drawn)), (low, high), name)
                self.assertTrue(all(type(each) is type(low) for each in drawn), name)
                if isinstance(low, float):
                    near = [each for each in drawn if 0.0 < min(each - low, high - each) < 1e-9 * (high - low)]
                    between = [each for each in drawn if low + 0.2 * (high - low) < each < high - 0.2 * (high - low)]
                    self.assertTrue(near and len(set(between)) == 2, name)


class AnySetupTest(unittest.TestCase):
    @settings(max_examples=EXAMPLES, deadline=None)
    @given(SETUPS | PAIRS)
    @where_it_has_a_length()
    def test_every_run_ends_with_numbers(self, setup: Setup) -> None:
        run, figures = derive.run(setup), derive.figures(setup)
        limit = setup.trial.time_limit_s
        self.assertLessEqual(run.time_s, limit + setup.program.loop_time_s)
        self.assertGreaterEqual(len(run.trace), 1)
        for name in COLUMNS:
            self.assertTrue(np.isfinite(getattr(run.trace, name)).all(), name)
        for name, value in vars(figures).items():
            if isinstance(value, float):
                self.assertTrue(np.isfinite(value), name)
        self.assertTrue((np.abs(run.trace.left_power) <= 100.0).all())
        self.assertTrue(((run.trace.reading >= 0.0) & (run.trace.reading <= 100.0)).all())
        self.assertTrue(np.isfinite([run.rest_x_mm, run.rest_y_mm, run.coast_mm, run.end_angle_rad]).all())
        self.assertTrue(0.0 <= figures.clipped_share <= 1.0)

    @settings(max_examples=EXAMPLES // 2, deadline=None)
    @given(SETUPS | PAIRS, st.floats(0.0, 1.0))
    def test_every_number_that_can_be_tuned_can_be_put_anywhere_in_its_range(self, setup: Setup, share: float) -> None:
        for path in to_tune(setup):
            quantity = axis(setup, path).quantity
            for value in (quantity.low, quantity.low + share * (quantity.high - quantity.low), quantity.high):
                made = axis(setup, path).put(setup, value)
                self.assertEqual(made.mat, setup.mat)

    @settings(max_examples=EXAMPLES // 2, deadline=None)
    @given(SETUPS | PAIRS, any_part(Shaking), st.booleans())
    @where_it_has_a_length()
    def test_a_shaken_start_has_the_numbers_that_its_setup_has(
        self, setup: Setup, shaking: Shaking, seen_alike: bool
    ) -> None:
        if seen_alike:
            shaking = replace(shaking, height_mm=0.0, wear_mm=0.0)
        setup = replace(setup, trial=replace(setup.trial, shaken=shaking))
        runs = batch._Runs([setup, setup], 2, 5)
        for place, number in ((0, 5), (3, 6)):
            start = perturbed(setup, number)
            route = derive.route(start.mat, start.trial.reverse)
            self.assertEqual(runs.packed(place, route).tobytes(), parameters_of(start, route).tobytes())

    @settings(max_examples=EXAMPLES // 2, deadline=None)
    @given(SETUPS, TRIPS, SPOTS, st.sampled_from(["on the line", "in the start zone"]))
    @where_it_has_a_length()
    def test_every_trip_ends_with_numbers_and_its_legs_follow_one_another(
        self, setup: Setup, trip: Trip, spots: tuple[Spot, ...], set_down: str
    ) -> None:
        setup = replace(
            setup, program=replace(setup.program, trip=trip), mat=replace(setup.mat, spots=spots),
            trial=replace(setup.trial, set_down=set_down),
        )  # fmt: skip
        run = derive.run(setup)
        for name in COLUMNS:
            self.assertTrue(np.isfinite(getattr(run.trace, name)).all(), name)
        for name, value in vars(derive.figures(setup)).items():
            self.assertTrue(isinstance(value, str) or np.isfinite(value), name)
        self.assertEqual([leg.number for leg in run.legs], list(range(len(run.legs))))
        for one, other in pairwise(run.legs):
            self.assertTrue(one.begun <= one.ended <= one.over == other.begun)
            self.assertGreater(one.ended_by, 0)
        self.assertEqual(run.legs[0].begun, 0)
        self.assertEqual(float(run.trace.leg[-1]), len(run.legs))
        if run.outcome == "finished":
            self.assertEqual(len(run.legs), len(trip.legs))
            self.assertGreaterEqual(run.legs[-1].ended, 0)
        swept = many.sweep([setup])
        self.assertEqual((swept.outcomes()[0], swept.time_s[0]), (run.outcome, run.time_s))
        self.assertAlmostEqual(sum(each.time_s for each in stretches(run)), run.time_s, places=9)
        proofread_trip(setup)


if __name__ == "__main__":
    unittest.main()
