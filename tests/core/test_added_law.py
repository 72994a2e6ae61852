"""A steering law is one file and its lines in the registry: one is added to a copy of the sources, and all know it.

The copy's kernels are kept by themselves: filled means that nothing is compiled again.
"""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

SOURCES = Path(__file__).parent.parent.parent / "src" / "irontrail"

# Steers with the square of the error: gently near the target, hard far off it.
SQUARE = """
from dataclasses import dataclass
from typing import Annotated

from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.law import DialRange, Handle, Law, Sentence, Tuned
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.slope import SPEED_DIAL, held, slope_powers


@dataclass(frozen=True)
class Square(Part):
    gain: Annotated[float, Quantity("bend of the curve", "% per unit", 0.0, 5.0, 0.05, 1.0, 2)] = 1.2


def _step(law, reading, target, memory):
    error = reading - target
    memory[3] += 1.0
    return 0.0 if error >= 0.0 else 1.0, law.gain * error * abs(error) / 25.0, 0.0


SQUARE = Law(
    name="square",
    field="square",
    settings=Square,
    record=(("gain", "f8"),),
    packed=lambda law, _period_s: (law.gain,),
    step=_step,
    gives="steer",
    memory=1,
    shape=((0.0, 0.0), (0.5, 0.5), (1.0, 1.0)),
    words=lambda program: (Sentence(f"Steer = {program.square.gain:g} x error x size of error / 25.", 0),),
    handles=lambda program: (Handle("speed", "speed and target", program.target, program.speed),),
    moved=lambda program, _name, reading, power, _alike: held(program, target=reading, speed=power),
    powers=slope_powers,
    dials=(SPEED_DIAL, DialRange("square.gain", 0.0, 5.0)),
    tuned=(Tuned("speed", 20.0, 100.0), Tuned("square.gain", 0.1, 4.0)),
    listed=lambda program: Steps(
        (Number("BEND", program.square.gain, "bend of the curve, % per unit"),),
        ("steer = BEND * error * abs(error) / 25.0",),
    ),
    rescaled=lambda law, _moved, times: held(law, gain=law.gain * times * times),
)
"""
IMPORT = "from irontrail.core.steering.laws.square import SQUARE, Square\n"
LINE = "    square: Annotated[Square, SQUARE] = Square()\n"

ASK = """
import json
from dataclasses import replace
import numpy as np
from irontrail.core import derive, many
from irontrail.core.advice.changes import changes
from irontrail.core.causes.told import told
from irontrail.core.advice.proofread import proofread
from irontrail.core.control.record import MEMORY_SIZE
from irontrail.core.demos import demo_project
from irontrail.core.listing.python import python
from irontrail.core.project import Project
from irontrail.core.steering.handles import handles, moved
from irontrail.core.steering.registry import LAW_NAMES
from irontrail.core.steering.words import in_words
from irontrail.core.theory.turning import tightest_turns
from irontrail.core.tune.axes import all_numbers, axis, of_law
from irontrail.core.tune.duel import DUELLISTS
from irontrail.files import project_file
from irontrail.files.settings_path import apply_setting

demo = demo_project("lighthouse").setup
setup = apply_setting(apply_setting(demo, "program.law=square"), "program.square.gain=0.9")
curve, trace = derive.curve(setup), derive.run(setup).trace
expected = 0.9 * trace.error * np.abs(trace.error) / 25.0
swept = many.sweep([setup, demo])
tuned = axis(setup, "program.square.gain")
listing = {"__name__": "listing"}
exec(python(setup).text, listing)
listed = []
for light in trace.raw_output:
    listing["decide"](float(light))
    listed.append((listing["left_power"], listing["right_power"]))
print(json.dumps({
    "listed": bool(np.array_equal(listed, np.column_stack((trace.left_power, trace.right_power)))),
    "laws": LAW_NAMES,
    "outcome": derive.figures(setup).outcome,
    "swept": swept.outcomes()[0],
    "steer": float(np.abs(trace.steer - expected).max()),
    "rules": sorted(set(trace.rule.tolist())),
    "curve": [float(curve.wanted_left[0]), float(curve.wanted_left[-1])],
    "words": [each.says for each in in_words(setup.program)],
    "handle": moved(setup.program, handles(setup.program)[0].name, 48.0, 40.0).speed,
    "turn": tightest_turns(setup).left_mm,
    "of law": of_law("square"),
    "duels": "square" in DUELLISTS,
    "tuned": tuned.put(setup, 2.5).program.square.gain,
    "numbers": [path for path in all_numbers(setup) if "square" in path or "pid" in path],
    "changes": changes(demo, setup),
    "remarks": [each.kind for each in proofread(setup)],
    "findings": isinstance(told(setup), tuple),
    "file": project_file.from_text(project_file.to_text(Project(setup)), "x").setup == setup,
    "schema": "Square" in project_file.schema()["$defs"],
    "others": derive.figures(demo).time_s,
    "memory": MEMORY_SIZE,
}))
"""

COUNT = """
import os, sys
from irontrail import kernel_cache
if "fill" in sys.argv:
    kernel_cache.fill()
if "filled" in sys.argv:
    exec(sys.argv[2])
assert kernel_cache.is_filled() == ("fill" in sys.argv or "filled" in sys.argv), kernel_cache._folder()
print(sum(len([f for f in files if f.endswith(".nbc")]) for _, _, files in os.walk(kernel_cache._folder())))
"""

# What sheets work out in the window's own thread, and a picture that is traced.
USE = """
import numpy as np
from irontrail.core import derive, many
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.mat.trace import trace
for name in DEMOS:
    setup = demo_project(name).setup
    derive.figures(setup), derive.curve(setup), many.sweep([setup])
    derive.profile(setup), derive.probe(setup, 9.0, 9.0)
    if setup.second is not None:
        derive.powers_beside(setup, 5.0)
seen = np.full((300, 600, 3), 0.9, np.float32)
seen[148:152, 50:550] = 0.1
trace(seen, 2.0)
"""


class AddedLawTest(unittest.TestCase):
    """Of one copy of the sources: what it takes to compile them is paid once."""

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        cls.source = cls.folder / "one" / "irontrail"
        shutil.copytree(SOURCES, cls.source, ignore=shutil.ignore_patterns("__pycache__"))
        (cls.source / "core/steering/laws/square.py").write_text(SQUARE)
        registry = cls.source / "core/steering/registry.py"
        text = registry.read_text()
        last_import, last_line = "import PROPORTIONAL, Proportional\n", "    pid: Annotated[Pid, PID] = Pid()\n"
        assert last_import in text and last_line in text
        registry.write_text(text.replace(last_import, last_import + IMPORT).replace(last_line, last_line + LINE))
        assert cls.count(cls.source) == 0
        cls.filled = cls.count(cls.source, "fill")

    @classmethod
    def run_code(cls, place: Path, code: str, *words: str) -> str:
        """What a program prints that finds the sources at a place."""
        environment = os.environ | {"XDG_CACHE_HOME": str(cls.folder / "cache"), "PYTHONPATH": str(place.parent)}
        environment.pop("NUMBA_CACHE_DIR", None)
        done = subprocess.run(
            [sys.executable, "-c", code, *words], env=environment, capture_output=True, text=True, timeout=300
        )
        assert done.returncode == 0, done.stderr
        return done.stdout

    @classmethod
    def count(cls, place: Path, *words: str) -> int:
        """Compiled functions in the cache of the sources at a place, filled first if asked to."""
        return int(cls.run_code(place, COUNT, *words))

    def test_filled_nothing_is_compiled_again_and_another_place_or_time_stamp_has_a_cache_of_its_own(self) -> None:
        self.assertGreater(self.filled, 5)
        # Filled again, the entries are found; nor is anything compiled by what the window's sheets work out.
        self.assertEqual(self.count(self.source, "fill"), self.filled)
        self.assertEqual(self.count(self.source, "filled", USE), self.filled)
        other = self.folder / "two" / "irontrail"
        shutil.copytree(self.source, other)
        self.assertEqual(self.count(other), 0)
        stamp = (self.source / "core" / "engine" / "judge.py").stat()
        os.utime(self.source / "core" / "engine" / "judge.py")
        self.assertEqual(self.count(self.source), 0)
        os.utime(self.source / "core" / "engine" / "judge.py", ns=(stamp.st_atime_ns, stamp.st_mtime_ns))
        self.assertEqual(self.count(self.source, "filled", "pass"), self.filled)

    def test_each_function_is_compiled_once_but_for_those_of_two_records(self) -> None:
        again = {found.name.split("-")[0] for found in (self.folder / "cache").rglob("*.2.nbc")}
        of_two = {"plant.point_of", "sense.levels_at", "samples._copy", "trip.seen_by", "ink._cover_flat"}
        self.assertEqual(again, of_two)

    def test_one_file_and_its_lines_in_the_registry_are_all_it_takes(self) -> None:
        from irontrail.core import derive
        from tests.support import lighthouse

        said = json.loads(self.run_code(self.source, ASK))
        self.assertEqual(said["laws"], ["on-off", "bands", "mixed", "proportional", "PID", "square"])
        self.assertEqual((said["outcome"], said["swept"]), ("finished", "finished"))
        self.assertTrue(said["listed"])
        self.assertLess(said["steer"], 1e-9)
        self.assertEqual(said["rules"], [0.0, 1.0])
        self.assertEqual(said["curve"], [50.0 - 90.0, 50.0 + 90.0])
        self.assertIn("Steer = 0.9 x error x size of error / 25.", said["words"])
        self.assertEqual(said["words"][-1], "Left wheel 50 + steer, right wheel 50 − steer.")
        self.assertEqual((said["handle"], said["tuned"]), (40.0, 2.5))
        self.assertAlmostEqual(said["turn"], 55.0 * (-40.0 + 100.0) / (100.0 + 40.0), places=6)
        self.assertEqual(said["of law"], ["program.speed", "program.square.gain"])
        self.assertEqual(said["numbers"], ["program.square.gain"])
        self.assertEqual(said["changes"], ["law proportional → square", "bend of the curve 1.20 → 0.90 % per unit"])
        self.assertTrue(said["duels"] and said["findings"] and said["file"] and said["schema"])
        self.assertEqual(said["remarks"], [])
        # The laws that were there run as they did.
        self.assertEqual(said["others"], derive.figures(lighthouse()).time_s)


if __name__ == "__main__":
    unittest.main()
