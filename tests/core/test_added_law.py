"""A steering law is one file and its lines in the registry: one is added to a copy of the sources, and all know it."""

import json
import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path

from irontrail import kernel_cache
from tests.support import FolderTest

ROOT = Path(__file__).parent.parent.parent

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
from irontrail.core.engine.kernel import simulate
from irontrail.core.light.spot import _blur
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
    "others": {name: getattr(derive.figures(demo), name)
               for name in ("path_length_mm", "mean_speed_mm_s", "rms_edge_mm", "wobble_mm")},
    "memory": MEMORY_SIZE,
    "found": [sum(each.stats.cache_hits.values()) for each in (_blur, simulate)],
}))
"""


class AddedLawTest(FolderTest):
    def test_one_file_and_its_lines_in_the_registry_are_all_it_takes(self) -> None:
        source = self.folder / "irontrail"
        shutil.copytree(ROOT / "src" / "irontrail", source)
        (source / "core/steering/laws/square.py").write_text(SQUARE)
        registry = source / "core/steering/registry.py"
        text = registry.read_text()
        last_import, last_line = "import PROPORTIONAL, Proportional\n", "    pid: Annotated[Pid, PID] = Pid()\n"
        assert last_import in text and last_line in text
        registry.write_text(text.replace(last_import, last_import + IMPORT).replace(last_line, last_line + LINE))
        kept, filled = self.folder / "cache", kernel_cache.is_filled()
        if filled:
            # What takes nothing of the laws is found as it was compiled for the others.
            shutil.copytree(os.environ["NUMBA_CACHE_DIR"], kept)
        # Compiled as quickly as can be: few runs are driven by it.
        environment = os.environ | {"NUMBA_CACHE_DIR": str(kept), "PYTHONPATH": str(self.folder), "NUMBA_OPT": "0"}
        done = subprocess.run([sys.executable, "-c", ASK], env=environment, capture_output=True, text=True, timeout=300)
        self.assertEqual(done.returncode, 0, done.stderr)
        said = json.loads(done.stdout)
        self.assertEqual(said["found"], [1, 0] if filled else [0, 0])
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
        recorded = json.loads((ROOT / "tests" / "found" / "lighthouse.json").read_text())["figures"][0]
        self.assertEqual(len(said["others"]), 4)
        for name, value in said["others"].items():
            self.assertIn(f" {name} {value:.5g},", recorded)


if __name__ == "__main__":
    unittest.main()
