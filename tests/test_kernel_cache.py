"""Where the compiled kernels are kept: by what is compiled in; what is damaged or cannot be written."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path
from types import SimpleNamespace
from unittest import mock

from irontrail import kernel_cache
from irontrail.core import compiled_sources
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

    def test_another_version_of_numba_finds_nothing_compiled(self) -> None:
        if not kernel_cache.is_filled():
            kernel_cache.fill()
        (self.folder / "numba-0.1.dist-info").mkdir()
        other = SimpleNamespace(submodule_search_locations=[str(self.folder / "numba")])
        with mock.patch("irontrail.kernel_cache.find_spec", return_value=other):
            self.assertFalse(kernel_cache.is_filled())
        self.assertTrue(kernel_cache.is_filled())


class KernelCacheTest(FolderTest):
    def setUp(self) -> None:
        super().setUp()
        self.source = self.folder / "one" / "irontrail"
        shutil.copytree(ROOT / "src" / "irontrail", self.source)

    def keys_of(self, source: Path) -> dict[str, str]:
        """By module, the key that sources at a place keep by what is compiled of it; "" is the key of all."""
        code = (
            "import json\n"
            "from irontrail import kernel_cache\n"
            "from irontrail.core.compiled_sources import compiled_sources, key_of, module_of\n"
            "assert not kernel_cache.is_filled()\n"
            "made = dict(module_of(path).split('-') for path in compiled_sources())\n"
            "print(json.dumps(made | {'': key_of(compiled_sources())}))\n"
        )
        environment = os.environ | {"PYTHONPATH": str(source.parent), "NUMBA_CACHE_DIR": str(self.folder / "c")}
        done = subprocess.run([sys.executable, "-c", code], env=environment, capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stderr)
        keys: dict[str, str] = json.loads(done.stdout)
        return keys

    def test_what_is_compiled_is_kept_by_what_stands_in_its_file_and_in_all_that_it_takes(self) -> None:
        keys = self.keys_of(self.source)
        kernel, sweep, sense, judge, place = (
            f"irontrail.core.engine.{name}" for name in ("kernel", "sweep", "sense", "judge", "place")
        )
        spot = "irontrail.core.light.spot"
        self.assertLessEqual({kernel, sweep, sense, judge, place, spot, "irontrail.app.ink"}, set(keys))
        for file, takes_it, takes_it_not in (
            ("measures.py", sweep, spot), ("mat/zones.py", judge, place), ("steering/laws/pid.py", kernel, spot),
            ("light/names.py", sense, judge), ("result.py", sweep, spot), ("light/reading.py", spot, judge),
        ):  # fmt: skip
            path = self.source / "core" / file
            path.write_text(path.read_text() + "\n")
            before, keys = keys, self.keys_of(self.source)
            self.assertNotEqual(keys[""], before[""], file)
            self.assertNotEqual(keys[takes_it], before[takes_it], file)
            self.assertEqual(keys[takes_it_not], before[takes_it_not], file)
        # What is said of a run is not compiled in; where and when all was written is nothing to it.
        path = self.source / "core" / "advice" / "findings.py"
        path.write_text(path.read_text() + "\n")
        other = self.folder / "two" / "irontrail"
        shutil.copytree(self.source, other)
        os.utime(other / "core" / "engine" / "judge.py", (1e9, 1e9))
        self.assertEqual(self.keys_of(other), keys)

    def test_what_nothing_uses_any_more_is_let_go_of(self) -> None:
        folder = self.folder / "kernels"
        used = compiled_sources.module_of(ROOT / "src" / "irontrail" / "core" / "mat" / "thin.py")
        long_ago = time.time() - 40 * 86_400
        places = [
            folder / name for name in (used, "irontrail.core.mat.thin-0123", "filled-39-0123", "another's", "new")
        ]
        places += [self.folder / "kernels-0123"]
        for place in places:
            (place / "in it").mkdir(parents=True)
            if place.name != "new":
                os.utime(place, (long_ago, long_ago))
        kernel_cache._drop_unused(folder)
        self.assertEqual([place.exists() for place in places], [True, False, False, True, True, False])
        kernel_cache._drop_unused(folder)
        self.assertGreater((folder / str(used)).stat().st_mtime, long_ago + 86_400)

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
        # One process that runs it anew whenever it is told to.
        code = f"import runpy, sys\nfor _ in sys.stdin:\n    runpy.run_path({str(module)!r})\n    sys.stdout.flush()\n"
        process = self.enterContext(
            subprocess.Popen(
                [sys.executable, "-c", code], env=environment, text=True, stdin=subprocess.PIPE, stdout=subprocess.PIPE
            )
        )
        assert process.stdin is not None and process.stdout is not None
        told, said = process.stdin, process.stdout

        def run() -> str:
            print(file=told, flush=True)
            return "".join(said.readline() for _ in damages)

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
