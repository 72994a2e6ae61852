"""A listing drives the engine's robot around its mat, and the run is that of the engine."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from collections.abc import Callable
from dataclasses import fields
from pathlib import Path

import numpy as np

from irontrail.core import derive
from irontrail.core.demos import demo_project
from irontrail.core.listing.parts import INPUTS
from irontrail.core.listing.python import python
from irontrail.core.listing.source import source
from irontrail.core.project import Project
from irontrail.core.result import COLUMNS, Trace
from irontrail.core.setup import Setup
from irontrail.files import project_file
from tests.core.listing.rig import SMALL_PYTHON, compiled_c, has_small_python
from tests.core.listing.test_listing import GCC_THERE, SMALL_THERE
from tests.support import setup_with, two_bends

ROOT = Path(__file__).parent.parent.parent.parent
# An edge, a trip of seven legs, two sensors; and the other laws.
SETUPS = {
    "edge": two_bends(),
    "trip": demo_project("lantern").setup,
    "trip, on-off": demo_project("lantern-on-off").setup,
    "pair": demo_project("ropewalk").setup,
    "table": setup_with(demo_project("ropewalk").setup, program__arrangement="table"),
    "bands": two_bends(program__law="bands"),
    "PID": setup_with(demo_project("quarry").setup, program__law="PID"),
}
# Driven by the slowest too: one of each kind.
SMALL = ("edge", "trip, on-off", "table", "PID")
TALK = """
import sys
for row in sys.stdin:
    numbers = [float(word) for word in row.split()]
    decide(*[numbers[i] for i in {places}])
    print(repr(left_power), repr(right_power), stopped, flush=True)
"""


def places(setup: Setup) -> list[int]:
    """Which of the inputs a setup's program asks for."""
    return [INPUTS.index(name) for name in source(setup).inputs]


def python_command(setup: Setup, folder: Path) -> list[str]:
    """What runs the listing in Python, in a process of its own."""
    file = folder / "listing.py"
    file.write_text(python(setup).text.partition("if __name__")[0] + TALK.format(places=places(setup)))
    return [sys.executable, str(file)]


def small_python_command(setup: Setup, folder: Path) -> list[str]:
    """What runs it on a small-controller Python."""
    file = folder / "listing.py"
    file.write_text(python(setup).text)
    return ["node", str(SMALL_PYTHON / "talk.mjs"), str(file), ", ".join(map(str, places(setup)))]


class ClosedLoopTest(unittest.TestCase):
    driven: dict[tuple[str, str], np.ndarray]

    @classmethod
    def setUpClass(cls) -> None:
        commands: dict[str, Callable[[Setup, Path], list[str]]] = {"Python": python_command}
        if shutil.which("gcc"):
            commands["C"] = lambda setup, folder: [str(compiled_c(setup, folder, double=False))]
        if has_small_python():
            commands["small Python"] = small_python_command
        with tempfile.TemporaryDirectory() as name:
            folder, jobs, asked = Path(name), [], []
            for language, command in commands.items():
                for i, (what, setup) in enumerate(SETUPS.items()):
                    if language == "small Python" and what not in SMALL:
                        continue
                    place = folder / f"{language}-{i}"
                    place.mkdir()
                    project_file.write(place / "project", Project(setup))
                    jobs.append((str(place / "project"), str(place / "trace.npy"), command(setup, place)))
                    asked.append((language, what))
            (folder / "jobs").write_text(json.dumps(jobs))
            paths = os.pathsep.join([str(ROOT), str(ROOT / "src"), os.environ.get("PYTHONPATH", "")])
            subprocess.run(
                [sys.executable, "-m", "tests.core.listing.closed", str(folder / "jobs")],
                cwd=ROOT, env=os.environ | {"PYTHONPATH": paths}, check=True, timeout=500,
            )  # fmt: skip
            cls.driven = {key: np.load(out) for key, (_, out, _) in zip(asked, jobs, strict=True)}

    def engine(self, what: str) -> np.ndarray:
        trace = derive.run(SETUPS[what]).trace
        self.assertEqual([each.name for each in fields(Trace)], list(COLUMNS))
        return np.column_stack([getattr(trace, name) for name in COLUMNS])

    def test_in_python_it_is_the_engines_run_to_the_last_figure(self) -> None:
        for what in SETUPS:
            self.assertTrue(np.array_equal(self.driven["Python", what], self.engine(what), equal_nan=True), what)

    @SMALL_THERE
    def test_on_a_small_controllers_python_likewise(self) -> None:
        for what in SMALL:
            self.assertTrue(np.array_equal(self.driven["small Python", what], self.engine(what), equal_nan=True), what)

    @GCC_THERE
    def test_in_c_with_float_it_stays_within_a_tenth_of_a_millimetre(self) -> None:
        x, y, left, right = (list(COLUMNS).index(name) for name in ("x_mm", "y_mm", "left_power", "right_power"))
        for what, setup in SETUPS.items():
            listing, engine = self.driven["C", what], self.engine(what)
            self.assertEqual(listing.shape, engine.shape, what)
            off = np.abs(listing - engine)
            self.assertLess(off[:, [x, y]].max(), 0.1, what)
            self.assertLessEqual(off[:, [left, right]].max(), setup.robot.drive.power_step + 1e-3, what)
            self.assertLess(float((off[:, [left, right]] > 1e-3).mean()), 0.01, what)


if __name__ == "__main__":
    unittest.main()
