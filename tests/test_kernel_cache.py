"""Where the compiled kernels are kept: by what is compiled in; what is damaged or cannot be written."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from irontrail import kernel_cache
from tests.support import FolderTest

ROOT = Path(__file__).parent.parent


# What sheets work out in the window's own thread, and a picture that is traced.
USE = """
import os
import numpy as np
from irontrail import kernel_cache
from irontrail.core import derive, many
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.mat.trace import trace

def kept():
    return sum(len([f for f in files if f.endswith(".nbc")]) for _, _, files in os.walk(os.environ["NUMBA_CACHE_DIR"]))

print(kept())
kernel_cache.fill()
print(kept())
for name in DEMOS:
    setup = demo_project(name).setup
    derive.figures(setup), derive.curve(setup), many.sweep([setup])
    derive.profile(setup), derive.probe(setup, 9.0, 9.0)
    if setup.second is not None:
        derive.powers_beside(setup, 5.0)
seen = np.full((300, 600, 3), 0.9, np.float32)
seen[148:152, 50:550] = 0.1
trace(seen, 2.0)
print(kept())
"""


class FilledTest(FolderTest):
    def test_nothing_is_compiled_again(self) -> None:
        folder = self.folder / "kept"
        if not kernel_cache.is_filled():
            kernel_cache.fill()
        self.assertTrue(kernel_cache.is_filled())
        shutil.copytree(os.environ["NUMBA_CACHE_DIR"], folder)
        environment = os.environ | {"NUMBA_CACHE_DIR": str(folder), "PYTHONPATH": str(ROOT / "src")}
        done = subprocess.run([sys.executable, "-c", USE], env=environment, capture_output=True, text=True, timeout=300)
        self.assertEqual(done.returncode, 0, done.stderr)
        # Filled again, the entries are found; nor is anything compiled by what the window's sheets work out.
        before, filled, used = map(int, done.stdout.split())
        self.assertGreater(before, 5)
        self.assertEqual((filled, used), (before, before))


class KernelCacheTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        self.source = self.folder / "one" / "irontrail"
        shutil.copytree(ROOT / "src" / "irontrail", self.source, ignore=shutil.ignore_patterns("__pycache__"))

    def cache_of(self, source: Path) -> str:
        """The folder that sources at a place keep what is compiled in."""
        code = "from irontrail import kernel_cache; print(kernel_cache._folder(), kernel_cache.is_filled())"
        environment = os.environ | {"PYTHONPATH": str(source.parent), "XDG_CACHE_HOME": str(self.folder / "c")}
        environment.pop("NUMBA_CACHE_DIR", None)
        done = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True)
        folder, filled = done.stdout.rsplit(maxsplit=1)
        self.assertEqual(filled, "False")
        return folder

    def test_a_constant_of_any_module_that_is_compiled_in_a_place_or_a_time_stamp_names_another_cache(self) -> None:
        def folder() -> str:
            return self.cache_of(self.source)

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
        other = self.folder / "two" / "irontrail"
        shutil.copytree(self.source, other)
        names.add(here := folder())
        self.assertNotIn(self.cache_of(other), names)
        judge = self.source / "core" / "engine" / "judge.py"
        stamp = judge.stat()
        os.utime(judge)
        self.assertNotIn(folder(), names)
        os.utime(judge, ns=(stamp.st_atime_ns, stamp.st_mtime_ns))
        self.assertEqual(folder(), here)

    def test_a_damaged_or_full_cache_is_made_anew(self) -> None:
        damages = (
            ("nbc", lambda content: content[:-1] + bytes([content[-1] ^ 1])), ("nbc", lambda content: content[:50]),
            ("nbi", lambda content: content[:20]), ("nbi", lambda _content: b"none"), ("nbc", lambda _content: b""),
        )  # fmt: skip
        module = self.folder / "tripled.py"
        module.write_text(
            "from irontrail.core.compiled import compiled\n"
            + "".join(
                f"@compiled\ndef tripled_{i}(x):\n    return 3.0 * x\n"
                f"print(tripled_{i}(2.0), sum(tripled_{i}.stats.cache_hits.values()))\n"
                for i in range(len(damages))
            )
        )
        cache = self.folder / "kept"
        environment = os.environ | {"NUMBA_CACHE_DIR": str(cache), "PYTHONPATH": str(ROOT / "src")}

        def run() -> str:
            done = subprocess.run(
                [sys.executable, str(module)], env=environment, capture_output=True, text=True, timeout=120
            )
            self.assertEqual(done.returncode, 0, done.stderr)
            return done.stdout

        compiled, found = "6.0 0\n" * len(damages), "6.0 1\n" * len(damages)
        self.assertEqual(run(), compiled)
        self.assertEqual(run(), found)
        # Each function's files are damaged in another way.
        for i, (ending, damage) in enumerate(damages):
            (path,) = cache.rglob(f"*tripled_{i}*.{ending}")
            path.write_bytes(damage(path.read_bytes()))
        self.assertEqual(run(), compiled)
        self.assertEqual(run(), found)
        shutil.rmtree(cache)
        # Nothing can be kept in what is a file.
        cache.write_text("")
        self.assertEqual(run(), compiled)

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
