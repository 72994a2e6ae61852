"""Where the compiled kernels are kept: by what is compiled in; what is damaged or cannot be written."""

import os
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent


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
