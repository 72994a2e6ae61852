"""Every listing decides as the engine does: on Python, on a small-controller Python, and in C."""

import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

import numpy as np
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from irontrail.core import derive
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.engine.plant import PLANT_STATE
from irontrail.core.engine.run import open_loop
from irontrail.core.listing.c99 import c99
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import Options
from irontrail.core.listing.source import source
from irontrail.core.project import Setup
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.pair import ARRANGEMENTS
from irontrail.core.steering.registry import LAW_NAMES
from tests.core.listing.rig import GCC, by_c, by_engine, by_python, by_small_python, has_small_python
from tests.core.test_any_setup import EXAMPLES, PAIRS, SETUPS, TRIPS
from tests.core.test_pair import pair
from tests.support import lighthouse, setup_with

GCC_THERE = unittest.skipUnless(shutil.which("gcc"), "no gcc here: sudo apt install gcc libc6-dev")
SMALL_THERE = unittest.skipUnless(
    has_small_python(),
    "no small-controller Python here: sudo apt install nodejs npm; (cd tests/small_python && npm ci)",
)

# Compiling again and again for a smaller case takes minutes.
NO_SHRINKING = (Phase.explicit, Phase.reuse, Phase.generate)


def rows_for(setup: Setup, seed: int, count: int = 240) -> np.ndarray:
    """Inputs that wander as a run's do: what both sensors give, the clock, both wheels, and the finish near the end."""
    random, rows = np.random.default_rng(seed), np.zeros((count, 7))
    for column, which in enumerate(setup.sensors):
        sensor = setup.seen_by(which).light.sensor
        if sensor.names_colours:
            rows[:, column] = random.integers(0, len(sensor.palette), count)
            continue
        top, step = (sensor.highest_count, 1.0) if sensor.scale == "counts" else (100.0, sensor.reading_step)
        wander = np.clip(0.5 * top + np.cumsum(random.normal(0.0, 0.12 * top, count)), 0.0, top)
        # It comes back from its ends, and gives whole steps.
        folded = np.abs((wander + random.normal(0.0, 0.05 * top, count)) % (2.0 * top) - top)
        rows[:, column] = np.minimum(np.round(folded / step) * step, top) if step > 1e-3 else folded
    period = setup.program.decision_time_s
    rows[:, 2] = np.arange(count) * period
    stands = random.random(count) < 0.15
    for column in (3, 4):
        steps = np.where(stands, 0.0, random.normal(3.0, 2.5, count))
        rows[:, column] = np.cumsum(steps) - steps[0]
    rows[int(0.8 * count) :, 6] = 1.0
    return rows


def run_rows(setup: Setup) -> np.ndarray:
    """What a program is given on its run, a row a decision."""
    run = derive.run(setup)
    trace = run.trace
    states = open_loop(
        setup.robot, np.column_stack((trace.left_power, trace.right_power))[:-1], setup.program.loop_time_s
    )
    rows = np.zeros((len(trace), 7))
    rows[:, 0], rows[:, 1], rows[:, 2] = trace.raw_output, trace.second_raw_output, trace.time_s
    rows[:, 3], rows[:, 4] = states["left_rolled"], states["right_rolled"]
    return rows[:: setup.program.decision_loops]


class PythonTest(unittest.TestCase):
    def same(self, setup: Setup, rows: np.ndarray) -> None:
        engine = by_engine(setup, rows)
        self.assertTrue(np.array_equal(by_python(setup, rows), engine))

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(SETUPS | PAIRS, st.integers(0, 10_000))
    def test_any_program_decides_as_the_engine_does(self, setup: Setup, seed: int) -> None:
        self.same(setup, rows_for(setup, seed, 60))

    @settings(max_examples=EXAMPLES, deadline=None)
    @given(SETUPS | PAIRS, TRIPS, st.integers(0, 10_000))
    def test_any_trip_is_driven_leg_by_leg_as_the_engine_does(self, setup: Setup, trip: object, seed: int) -> None:
        self.same(setup_with(setup, program__trip=trip), rows_for(setup, seed, 200))

    def test_it_drives_the_engines_robot_along_the_engines_run(self) -> None:
        for name in DEMOS:
            setup = demo_project(name).setup
            rows, trace = run_rows(setup), derive.run(setup).trace
            found = by_python(setup, rows)
            powers = np.column_stack((trace.left_power, trace.right_power))
            count = min(len(found), len(trace))
            self.assertGreaterEqual(count, len(trace) - 1, name)
            self.assertTrue(np.array_equal(found[:count, :2], powers[:count]), name)
            # Driven by these powers alone, the plant is where the run was.
            states = open_loop(setup.robot, found[: count - 1, :2], setup.program.loop_time_s)
            self.assertEqual(states.dtype, PLANT_STATE)
            heading = float(trace.heading_rad[0])
            c, s = np.cos(heading), np.sin(heading)
            x = trace.x_mm[0] + c * states["x"] - s * states["y"]
            y = trace.y_mm[0] + s * states["x"] + c * states["y"]
            self.assertLess(np.abs(x[:count] - trace.x_mm[:count]).max(), 1e-3, name)
            self.assertLess(np.abs(y[:count] - trace.y_mm[:count]).max(), 1e-3, name)

    def test_each_number_stands_once_at_the_top_with_its_unit(self) -> None:
        for setup in (
            lighthouse(program__law="PID", program__ease_off=0.3),
            demo_project("lantern").setup,
            pair("weighted"),
        ):
            made = source(setup)
            names = [each.name for each in made.numbers]
            self.assertEqual(len(names), len(set(names)))
            text = python(setup).text
            top, _, rest = text.partition("# --- What is remembered")
            for each in made.numbers:
                self.assertIn(f"{each.name} = {each.value!r}", top)
                self.assertNotIn(f"{each.name} = ", rest)
        self.assertIn("SPEED = 50.0", python(lighthouse()).text)
        self.assertIn("# loop time, s", python(lighthouse()).text)

    def test_it_asks_only_for_what_it_needs(self) -> None:
        plain = python(lighthouse()).text
        for name in ("left_rolled", "button", "at_finish", "read_second_light"):
            self.assertNotIn(name, plain)
        self.assertIn("left wheel: output 1, mirrored", plain)
        self.assertIn("def left_rolled", python(demo_project("lantern").setup).text)
        self.assertIn("def read_second_light", python(pair("table")).text)
        self.assertNotIn("read_second_light", python(pair("one")).text)
        counts = lighthouse(light__sensor__scale="counts", light__sensor__highest_count=1023)
        self.assertIn("counts from 0 to 1023", python(counts).text)

    def test_the_line_that_decides_is_marked(self) -> None:
        listing = python(lighthouse(program__law="bands"))
        lines = listing.lines
        rules = {number: lines[i].strip() for i, kind, number in listing.marks if kind == "rule"}
        self.assertEqual(len(rules), 5)
        self.assertEqual(rules[4], "right = BAND_5_RIGHT")
        legs = {number for _, kind, number in python(demo_project("lantern").setup).marks if kind == "leg"}
        self.assertEqual(legs, {1, 3, 4, 7})
        self.assertNotIn("#@", listing.text)

    def test_its_loop_calibrates_logs_and_stops_on_the_button(self) -> None:
        options = Options("by a sweep", log=True, wheels=True, stop_button=True)
        for setup in (lighthouse(program__decision_loops=3), pair("difference")):
            space: dict[str, object] = {"__name__": "listing"}
            exec(python(setup, options).text, space)
            clock, said, sets, lights = [0.0], [], [], [12.0, 88.0, 40.0]

            def tick(clock: list[float] = clock) -> float:
                clock[0] += 0.004
                return clock[0]

            def light(lights: list[float] = lights) -> float:
                lights.append(lights.pop(0))
                return lights[-1]

            rig = {
                "clock": tick,
                "read_light": light,
                "read_second_light": light,
                "button": lambda clock=clock: int(clock[0] > 4.0),
            }
            space |= rig
            space["set_powers"] = lambda left, right, sets=sets: sets.append((left, right))
            space["print"] = lambda text, said=said: said.append(text)
            space["run"]()  # type: ignore[operator]
            self.assertEqual((space["DARK"], space["BRIGHT"]), (12.0, 88.0))
            self.assertEqual(sets[-1], (0.0, 0.0))
            self.assertEqual(said[0], "time_s,light,left_power,right_power,left_mm,right_mm")
            self.assertGreater(len(said), 20)
            self.assertEqual(len(said[1].split(",")), 6)


@GCC_THERE
class CTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    @settings(max_examples=max(EXAMPLES // 8, 10), deadline=None, phases=NO_SHRINKING)
    @given(SETUPS | PAIRS, st.none() | TRIPS, st.integers(0, 10_000))
    def test_in_double_it_decides_as_the_engine_does(self, setup: Setup, trip: object, seed: int) -> None:
        setup = setup_with(setup, program__trip=trip)
        rows = rows_for(setup, seed, 120)
        engine = by_engine(setup, rows)
        self.assertTrue(np.array_equal(by_c(setup, rows, self.folder, double=True), engine))

    def test_in_float_it_is_within_one_power_step_on_every_demo(self) -> None:
        for name in DEMOS:
            for law in LAW_NAMES:
                setup = setup_with(demo_project(name).setup, program__law=law)
                rows = run_rows(setup)
                found, engine = by_c(setup, rows, self.folder, double=False), by_engine(setup, rows)
                self.assertEqual(len(found), len(engine), (name, law))
                off = np.abs(found[:, :2] - engine[:, :2]).max(axis=1)
                beyond = off > setup.robot.drive.power_step + 1e-3
                if setup.program.chosen.gain:
                    self.assertFalse(beyond.any(), (name, law))
                # A law of steps jumps where a reading lies on a limit to the last figure of a float: to the other side.
                self.assertLess(float(beyond.mean()), 0.02, (name, law))
                near = []
                for first, second in ((1e-4, -1e-4), (-1e-4, 1e-4)):
                    moved = rows.copy()
                    moved[:, 0] += first
                    moved[:, 1] += second
                    near.append((by_engine(setup, moved)[: len(found), :2] == found[: len(found), :2]).all(axis=1))
                self.assertTrue((near[0] | near[1])[beyond].all(), (name, law))
                self.assertLess(float((off > 1e-3).mean()), 0.01, (name, law))

    def test_it_compiles_without_a_warning_with_every_option(self) -> None:
        options = [
            Options(),
            Options("by a sweep", True, True, True),
            Options("by hand", True),
            Options(stop_button=True),
        ]
        setups = [lighthouse(program__mixing=mixing, program__ease_off=0.2) for mixing in MIXING_NAMES]
        setups += [pair(arrangement) for arrangement in ARRANGEMENTS]
        setups += [
            demo_project("lantern").setup,
            lighthouse(light__sensor__scale="colour names", program__law="on-off"),
        ]
        for setup in setups:
            for option in options:
                path = self.folder / "whole.c"
                path.write_text(c99(setup, option).text)
                done = subprocess.run(
                    [*GCC, "-o", str(self.folder / "whole"), str(path), "-lm"], capture_output=True, text=True
                )
                self.assertEqual(done.stderr, "")


@SMALL_THERE
class SmallPythonTest(unittest.TestCase):
    def test_it_decides_alike_on_a_small_controllers_python(self) -> None:
        cases = []
        for name in DEMOS:
            for law in LAW_NAMES:
                setup = setup_with(demo_project(name).setup, program__law=law)
                cases.append((setup, rows_for(setup, len(cases))))
        for i, arrangement in enumerate(ARRANGEMENTS):
            for line in ("dark", "light"):
                setup = pair(arrangement, program__line=line, program__decision_loops=i + 1, program__edge="right")
                cases.append((setup, rows_for(setup, i)))
        found = by_small_python(cases)
        for (setup, rows), powers in zip(cases, found, strict=True):
            self.assertTrue(np.array_equal(powers, by_engine(setup, rows)), setup.title)

    @settings(max_examples=max(EXAMPLES // 20, 6), deadline=None, phases=NO_SHRINKING)
    @given(st.lists(st.tuples(SETUPS | PAIRS, st.none() | TRIPS, st.integers(0, 10_000)), min_size=1, max_size=8))
    def test_any_programs_do(self, asked: list[tuple[Setup, object, int]]) -> None:
        cases = []
        for setup, trip, seed in asked:
            whole = setup_with(setup, program__trip=trip)
            cases.append((whole, rows_for(whole, seed, 60)))
        for (setup, rows), powers in zip(cases, by_small_python(cases), strict=True):
            self.assertTrue(np.array_equal(powers, by_engine(setup, rows)))


if __name__ == "__main__":
    unittest.main()
