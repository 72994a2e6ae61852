"""Every listing decides as the engine does: on Python, on a small-controller Python, and in C."""

import ast
import shutil
import subprocess
import tempfile
import unittest
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from irontrail.core import derive
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.engine.plant import PLANT_STATE
from irontrail.core.engine.run import open_loop
from irontrail.core.listing.c99 import c99
from irontrail.core.listing.languages import changed_lines
from irontrail.core.listing.python import python
from irontrail.core.listing.robot import Options
from irontrail.core.listing.source import source
from irontrail.core.setup import Setup
from irontrail.core.steering.legs import Trip, TurnLeg
from irontrail.core.steering.mixing import MIXING_NAMES
from irontrail.core.steering.pair import ARRANGEMENTS
from irontrail.core.steering.registry import LAW_NAMES
from tests.core.listing.rig import GCC, by_c, by_engine, by_python, by_small_python, has_small_python
from tests.core.test_any_setup import EXAMPLES, PAIRS, SETUPS, TRIPS
from tests.core.test_pair import pair
from tests.support import FolderTest, lighthouse, setup_with

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
    @given(SETUPS | PAIRS, TRIPS, st.integers(0, 10_000))
    def test_any_program_and_any_trip_decide_as_the_engine_does(self, setup: Setup, trip: object, seed: int) -> None:
        self.same(setup, rows_for(setup, seed, 60))
        self.same(setup_with(setup, program__trip=trip), rows_for(setup, seed, 200))

    def test_it_turns_as_the_engine_does_by_angles_of_next_to_nothing_too(self) -> None:
        for angle in (-5e-324, -0.0, 5e-324, -1e-9):
            setup = setup_with(lighthouse(), program__trip=Trip((TurnLeg(angle_deg=angle),)))
            self.same(setup, rows_for(setup, 1, 20))

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


TICK = 1.0 / 1024.0


def swinging(ticks: int) -> float:
    """A light that goes from 12 to 88 and back, 380 ticks a swing."""
    return 12.0 + 0.4 * abs(ticks % 380 - 190)


def even(_ticks: int) -> float:
    """A light that stays as it is."""
    return 40.0


class Bench:
    """A rig on a table: a clock that each look moves on by a tick, a light by the tick, a button pressed when told."""

    def __init__(self, setup: Setup, options: Options, light: Callable[[int], float], pressed_from: float) -> None:
        self.ticks = 0
        self.said: list[str] = []
        self.sets: list[tuple[float, float, float]] = []
        self.space: dict[str, Any] = {"__name__": "listing"}
        exec(python(setup, options).text, self.space)
        self.space |= {
            "clock": self.clock,
            "read_light": lambda: light(self.ticks),
            "read_second_light": lambda: light(self.ticks + 100),
            "button": lambda: int(self.clock() > pressed_from),
            "set_powers": lambda left, right: self.sets.append((self.ticks * TICK, left, right)),
            "print": self.said.append,
        }

    def clock(self) -> float:
        self.ticks += 1
        return self.ticks * TICK

    def rows(self) -> list[dict[str, float]]:
        """What the log printed, by column."""
        names = self.said[self.first()].split(",")
        return [dict(zip(names, map(float, row.split(",")), strict=True)) for row in self.said[self.first() + 1 :]]

    def first(self) -> int:
        return next(i for i, text in enumerate(self.said) if text.startswith("time_s"))


class BesideDrivingTest(unittest.TestCase):
    """Calibrating, the log and the stop, run on a bench."""

    def test_a_sweep_takes_the_extremes_and_the_run_ends_on_the_button(self) -> None:
        options = Options("by a sweep", log=True, wheels=True, stop_button=True)
        for setup in (lighthouse(program__decision_loops=3), pair("difference")):
            bench = Bench(setup, options, swinging, 6.0)
            bench.space["run"]()
            self.assertAlmostEqual(bench.space["DARK"], 12.0, delta=0.1)
            self.assertAlmostEqual(bench.space["BRIGHT"], 88.0, delta=0.1)
            self.assertEqual(bench.sets[-1][1:], (0.0, 0.0))
            self.assertGreater(len(bench.rows()), 20)

    def test_the_log_has_what_was_decided_on(self) -> None:
        for setup in (lighthouse(), pair("difference")):
            bench = Bench(setup, Options(log=True, stop_button=True), swinging, 3.0)
            decide, decided = bench.space["decide"], []

            def listening(*given: float, decide: Any = decide, decided: list[Any] = decided) -> None:
                decided.append(given)
                decide(*given)

            bench.space["decide"] = listening
            bench.space["run"]()
            lights = [name for name in bench.rows()[0] if "light" in name]
            self.assertEqual(len(lights), len(setup.sensors))
            self.assertEqual([tuple(row[name] for name in lights) for row in bench.rows()], decided)
            self.assertEqual([(row["left_power"], row["right_power"]) for row in bench.rows()],
                             [powers[1:] for powers in bench.sets[:-1]])  # fmt: skip

    def test_the_log_ends_when_its_room_does_and_the_robot_drives_on(self) -> None:
        bench = Bench(lighthouse(), Options(log=True, stop_button=True), even, 3.0)
        bench.space["LOG_ROWS"] = 25
        bench.space["run"]()
        self.assertEqual(len(bench.rows()), 25)
        self.assertGreater(len(bench.sets), 100)

    def test_where_a_sweep_sees_no_difference_the_numbers_stay_and_it_says_so(self) -> None:
        bench = Bench(pair("difference"), Options("by a sweep"), even, 3.0)
        before = {name: bench.space[name] for name in ("DARK", "BRIGHT", "DARK_2", "BRIGHT_2")}
        bench.space["calibrate"]()
        self.assertEqual(before, {name: bench.space[name] for name in before})
        self.assertEqual([text.split(":")[0] for text in bench.said],
                         ["The first sensor saw no difference", "The second sensor saw no difference"])  # fmt: skip

    def test_by_hand_it_asks_for_dark_first_wherever_that_is(self) -> None:
        for line, order in (("dark", ["the line", "the mat"]), ("light", ["the mat", "the line"])):
            held = iter((9.0, 81.0))
            bench = Bench(lighthouse(program__line=line), Options("by hand"), lambda _ticks, held=held: next(held), 0.0)
            presses = iter((0, 0, 1, 1, 0, 0, 1, 0))
            bench.space["button"] = lambda presses=presses: next(presses)
            bench.space["calibrate"]()
            self.assertEqual(bench.said, [f"Hold it over {over} and press the button." for over in order])
            self.assertEqual((bench.space["DARK"], bench.space["BRIGHT"]), (9.0, 81.0))

    def test_what_reads_high_on_dark_has_its_dark_reading_above(self) -> None:
        setup = lighthouse(light__sensor__reads_high_on="dark")
        bench = Bench(setup, Options("by a sweep"), swinging, 0.0)
        bench.space["calibrate"]()
        self.assertGreater(bench.space["DARK"], bench.space["BRIGHT"])

    def test_of_what_counts_the_numbers_are_raw_percent(self) -> None:
        counts = lighthouse(light__sensor__scale="counts", light__sensor__highest_count=1000)
        for how in ("by a sweep", "by hand"):
            held = iter([120.0, 880.0])
            bench = Bench(counts, Options(how), lambda ticks: 10.0 * swinging(ticks), 0.0)
            if how == "by hand":
                presses = iter((1, 0, 1, 0))
                bench.space |= {"button": lambda p=presses: next(p), "read_light": lambda h=held: next(h)}
            bench.space["calibrate"]()
            self.assertAlmostEqual(bench.space["DARK"], 12.0, delta=0.5)
            self.assertAlmostEqual(bench.space["BRIGHT"], 88.0, delta=0.5)

    def test_the_press_that_starts_it_does_not_end_it(self) -> None:
        bench = Bench(lighthouse(), Options(log=True, stop_button=True), swinging, -1.0)
        bench.space["run"]()
        self.assertGreater(bench.rows()[-1]["time_s"], 0.4)
        self.assertLess(bench.rows()[-1]["time_s"], 0.6)

    def test_of_two_sensors_the_nearer_one_is_swept_as_far(self) -> None:
        for first, second in ((60.0, 150.0), (150.0, 60.0)):
            setup = setup_with(pair("weighted"), robot__mount__ahead_mm=first, second__mount__ahead_mm=second)
            alone = lighthouse(robot__mount__ahead_mm=60.0)
            alone = replace(alone, robot=replace(alone.robot, drive=setup.robot.drive))
            times = [
                next(line for line in python(each, Options("by a sweep")).lines if line.startswith("SWEEP_TIME"))
                for each in (setup, alone)
            ]
            self.assertEqual(*(time.split("#")[0].strip() for time in times))

    def test_a_sweep_takes_the_sensor_to_both_sides_and_back(self) -> None:
        robots = [demo_project(name).setup for name in DEMOS]
        robots += [lighthouse(robot__mount__ahead_mm=ahead) for ahead in (30.0, 150.0)]
        robots += [lighthouse(robot__drive__dead_band=30.0), lighthouse(robot__drive__response_time_s=0.3)]
        fast = lighthouse(robot__drive__top_speed_mm_s=3000.0, robot__drive__track_width_mm=30.0)
        fast = setup_with(fast, robot__drive__response_time_s=0.0, robot__mount__ahead_mm=300.0)
        self.assertIn("SWEEP_TIME = 0.00333 ", python(fast, Options("by a sweep")).text)
        for setup in robots:
            bench = Bench(setup, Options("by a sweep"), even, 0.0)
            bench.space["calibrate"]()
            times = [time for time, _, _ in bench.sets]
            powers = [
                np.tile([left, right], (round((until - time) / TICK), 1))
                for (time, left, right), until in zip(bench.sets, [*times[1:], times[-1] + 1.0], strict=True)
            ]
            heading = open_loop(setup.robot, np.concatenate(powers), TICK)["heading"]
            aside = setup.robot.mount.ahead_mm * np.sin(heading)
            for farthest in (aside.max(), -aside.min()):
                self.assertGreater(farthest, 22.0, setup.robot)
                self.assertLess(farthest, 65.0, setup.robot)
            self.assertLess(abs(float(aside[-1])), 8.0, setup.robot)


@GCC_THERE
class CTest(FolderTest):
    @settings(max_examples=max(EXAMPLES // 8, 10), deadline=None, phases=NO_SHRINKING)
    @given(SETUPS | PAIRS, st.none() | TRIPS, st.integers(0, 10_000))
    def test_in_double_it_decides_as_the_engine_does(self, setup: Setup, trip: object, seed: int) -> None:
        setup = setup_with(setup, program__trip=trip)
        rows = rows_for(setup, seed, 120)
        engine = by_engine(setup, rows)
        self.assertTrue(np.array_equal(by_c(setup, rows, self.folder, double=True), engine))

    def test_a_program_that_reads_nothing_is_whole_too(self) -> None:
        one = replace(lighthouse().program.bands, steps=lighthouse().program.bands.steps[:1])
        setup = lighthouse(program__law="bands", program__bands=one)
        self.assertEqual(source(setup).inputs, ())
        rows = rows_for(setup, 3, 20)
        engine = by_engine(setup, rows)
        self.assertTrue(np.array_equal(by_c(setup, rows, self.folder, double=True), engine))
        self.assertTrue(np.array_equal(by_python(setup, rows), engine))

    def test_in_float_it_is_within_one_power_step_on_every_demo(self) -> None:
        for i, name in enumerate(DEMOS):
            # By its own law, and each law on another two or three.
            for law in {demo_project(name).setup.program.law, *(LAW_NAMES[(i + k) % len(LAW_NAMES)] for k in (0, 2))}:
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

    def test_its_loop_calibrates_logs_and_stops_as_the_one_in_python_does(self) -> None:
        options = Options("by a sweep", log=True, stop_button=True)
        rig = {
            "float read_light(void)\n{\n    return 0.0f;": "12.0f + 0.4f * fabsf((float)(ticks % 380 - 190))",
            "float clock_s(void)\n{\n    return 0.0f;": f"(float)(ticks = ticks + 1) * {TICK!r}f",
            "int button(void)\n{\n    return 0;": "clock_s() > 5.0f",
        }
        setup = lighthouse()
        text = c99(setup, options).text.replace("#include <stdio.h>", "#include <stdio.h>\nstatic long ticks = 0;")
        for asked, gives in rig.items():
            self.assertIn(asked, text)
            text = text.replace(asked, f"{asked.rpartition('    return')[0]}    return {gives};")
        (self.folder / "whole.c").write_text(text)
        whole = str(self.folder / "whole")
        subprocess.run([*GCC, "-o", whole, str(self.folder / "whole.c"), "-lm"], check=True)
        said = subprocess.run([whole], capture_output=True, text=True, timeout=20, check=True).stdout.splitlines()
        bench = Bench(setup, options, swinging, 5.0)
        bench.space["run"]()
        self.assertEqual(said[0], ",".join(bench.rows()[0]))
        c = np.array([[float(value) for value in row.split(",")] for row in said[1:]])
        python_s = np.array([list(row.values()) for row in bench.rows()])
        self.assertGreater(len(python_s), 300)
        self.assertEqual(c.shape, python_s.shape)
        off = np.abs(c - python_s).max(axis=0)
        self.assertTrue((off <= (2e-5, 1e-4, 1.0, 1.0)).all(), off)
        self.assertGreater(float((c[:, 2] == python_s[:, 2]).mean()), 0.98)

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
                    [*GCC, "-c", "-o", str(self.folder / "whole.o"), str(path)], capture_output=True, text=True
                )
                self.assertEqual(done.stderr, "")


class NamesTest(unittest.TestCase):
    """Names are a team's own, and come out of files that others wrote: in a listing they are no more than words."""

    NAMES = (
        "a*/b", "a\nimport os", "a\rb", "a\u2028b", "a\x00b", "back\\", "??/", "/*", "/**/", "*?/", "x  #@leg 3",
        "%s{}", "é·“",
    )  # fmt: skip

    @GCC_THERE
    def test_whatever_a_mat_a_robot_or_a_colour_is_called_the_listing_stands(self) -> None:
        plain = lighthouse(light__sensor__scale="colour names", program__law="on-off")
        with tempfile.TemporaryDirectory() as folder:
            for name in self.NAMES:
                palette = tuple(
                    replace(colour, name=f"{name}{i}") for i, colour in enumerate(plain.light.sensor.palette)
                )
                setup = setup_with(plain, mat__name=name, robot__name=name, light__sensor__palette=palette)
                for made, other in ((python(setup), python(plain)), (c99(setup), c99(plain))):
                    self.assertEqual(len(made.lines), len(other.lines), name)
                    self.assertEqual(made.marks, other.marks, name)
                tree, other = ast.parse(python(setup).text), ast.parse(python(plain).text)
                self.assertEqual(ast.dump(tree), ast.dump(other), name)
                path = Path(folder) / "named.c"
                path.write_text(c99(setup).text)
                done = subprocess.run(
                    [*GCC, "-c", "-o", f"{folder}/named.o", str(path)], capture_output=True, text=True
                )
                self.assertEqual(done.stderr, "", name)


class ChangedLinesTest(unittest.TestCase):
    def test_lines_that_are_new_or_otherwise_are_told_and_those_taken_out_are_not(self) -> None:
        before = "a = 1\nb = 2\nc = 3\n"
        self.assertEqual(changed_lines(before, before), ())
        self.assertEqual(changed_lines(before, "a = 1\nb = 5\nc = 3\n"), (1,))
        self.assertEqual(changed_lines(before, "a = 1\nx = 0\ny = 0\nb = 2\nc = 3\nd = 4\n"), (1, 2, 5))
        self.assertEqual(changed_lines(before, "a = 1\nc = 3\n"), ())


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
        engines = [by_engine(setup, rows) for setup, rows in cases]
        for (setup, _), engine, powers in zip(cases, engines, by_small_python(cases), strict=True):
            self.assertTrue(np.array_equal(powers, engine), setup.title)

    @settings(max_examples=max(EXAMPLES // 20, 6), deadline=None, phases=NO_SHRINKING)
    @given(st.lists(st.tuples(SETUPS | PAIRS, st.none() | TRIPS, st.integers(0, 10_000)), min_size=1, max_size=8))
    def test_any_programs_do(self, asked: list[tuple[Setup, object, int]]) -> None:
        cases = []
        for setup, trip, seed in asked:
            whole = setup_with(setup, program__trip=trip)
            cases.append((whole, rows_for(whole, seed, 60)))
        # The engine first: it tells when its button is pressed.
        engines = [by_engine(setup, rows) for setup, rows in cases]
        for engine, powers in zip(engines, by_small_python(cases), strict=True):
            self.assertTrue(np.array_equal(powers, engine))


if __name__ == "__main__":
    unittest.main()
