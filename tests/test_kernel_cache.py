"""The cache of compiled kernels: filled means that nothing is compiled again."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent
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
from irontrail.core import derive
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.mat.trace import trace
for name in DEMOS:
    setup = demo_project(name).setup
    derive.figures(setup), derive.curve(setup), derive.sweep([setup])
    derive.profile(setup), derive.probe(setup, 9.0, 9.0)
    if setup.second is not None:
        derive.powers_beside(setup, 5.0)
seen = np.full((300, 600, 3), 0.9, np.float32)
seen[148:152, 50:550] = 0.1
trace(seen, 2.0)
"""


class KernelCacheTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.source = self.folder / "one" / "irontrail"
        shutil.copytree(ROOT / "src" / "irontrail", self.source, ignore=shutil.ignore_patterns("__pycache__"))

    def test_a_constant_of_any_module_that_is_compiled_in_names_another_cache(self) -> None:
        def folder() -> str:
            code = "from irontrail import kernel_cache; print(kernel_cache._folder())"
            environment = os.environ | {"PYTHONPATH": str(self.source.parent), "XDG_CACHE_HOME": str(self.folder / "c")}
            environment.pop("NUMBA_CACHE_DIR", None)
            return subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True).stdout

        names = {folder()}
        for file in ("measures.py", "mat/zones.py", "steering/laws/pid.py", "light/names.py", "result.py"):
            path = self.source / "core" / file
            path.write_text(path.read_text() + "\n")
            name = folder()
            self.assertTrue(name.strip())
            self.assertNotIn(name, names, file)
            names.add(name)
        # What is said of a run is not compiled in.
        path = self.source / "core" / "advice" / "findings.py"
        path.write_text(path.read_text() + "\n")
        self.assertIn(folder(), names)

    def count(self, place: Path, *words: str) -> int:
        """Compiled functions in the cache of the sources at a place, filled first if asked to."""
        environment = os.environ | {"XDG_CACHE_HOME": str(self.folder / "cache"), "PYTHONPATH": str(place.parent)}
        environment.pop("NUMBA_CACHE_DIR", None)
        done = subprocess.run(
            [sys.executable, "-c", COUNT, *words], env=environment, capture_output=True, text=True, timeout=300
        )
        self.assertEqual(done.returncode, 0, done.stderr)
        return int(done.stdout)

    def test_another_place_and_a_new_time_stamp_have_a_cache_of_their_own(self) -> None:
        self.assertEqual(self.count(self.source), 0)
        filled = self.count(self.source, "fill")
        self.assertGreater(filled, 5)
        # Filled again, nothing is compiled again: the entries are found; nor by what the window's sheets work out.
        self.assertEqual(self.count(self.source, "fill"), filled)
        self.assertEqual(self.count(self.source, "filled", USE), filled)
        other = self.folder / "two" / "irontrail"
        shutil.copytree(self.source, other)
        self.assertEqual(self.count(other), 0)
        os.utime(self.source / "core" / "engine" / "judge.py")
        self.assertEqual(self.count(self.source), 0)

    def test_a_damaged_or_full_cache_is_made_anew(self) -> None:
        module = self.folder / "tripled.py"
        module.write_text(
            "from irontrail.core.compiled import compiled\n@compiled\ndef tripled(x):\n    return 3.0 * x\n"
            "print(tripled(2.0), sum(tripled.stats.cache_hits.values()))\n"
        )
        cache = self.folder / "kept"
        environment = os.environ | {"NUMBA_CACHE_DIR": str(cache), "PYTHONPATH": str(ROOT / "src")}

        def run() -> str:
            done = subprocess.run(
                [sys.executable, str(module)], env=environment, capture_output=True, text=True, timeout=120
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            return done.stdout

        self.assertEqual(run(), "6.0 0\n")
        self.assertEqual(run(), "6.0 1\n")
        for ending, damage in (
            ("nbc", lambda content: content[:-1] + bytes([content[-1] ^ 1])), ("nbc", lambda content: content[:50]),
            ("nbi", lambda content: content[:20]), ("nbi", lambda _content: b"none"), ("nbc", lambda _content: b""),
        ):  # fmt: skip
            for path in cache.rglob(f"*.{ending}"):
                path.write_bytes(damage(path.read_bytes()))
            self.assertEqual(run(), "6.0 0\n")
            self.assertEqual(run(), "6.0 1\n")
        shutil.rmtree(cache)
        # Nothing can be kept in what is a file.
        cache.write_text("")
        self.assertEqual(run(), "6.0 0\n")

    def test_without_a_writable_cache_it_goes_elsewhere(self) -> None:
        blocked = self.folder / "file"
        blocked.write_text("")
        environment = os.environ | {"XDG_CACHE_HOME": str(blocked)}
        environment.pop("NUMBA_CACHE_DIR", None)
        code = "from irontrail import kernel_cache; print(kernel_cache._folder())"
        done = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True, timeout=60)
        self.assertIn(tempfile.gettempdir(), done.stdout)


if __name__ == "__main__":
    unittest.main()
