"""The house rules: the import contracts bite, the examples in the docstrings hold, the toolkit keeps its references."""

import ast
import doctest
import importlib
import os
import pkgutil
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import irontrail
from irontrail.core.steering import registry
from irontrail.core.steering.registry import DECIDING, LAW_FIELDS

ROOT = Path(__file__).parent.parent


def load_tests(_loader: unittest.TestLoader, tests: unittest.TestSuite, _pattern: object) -> unittest.TestSuite:
    """Every example in a docstring is a test."""
    for module in pkgutil.walk_packages(irontrail.__path__, "irontrail."):
        if ".app" not in module.name and not module.name.endswith("__main__"):
            tests.addTests(doctest.DocTestSuite(importlib.import_module(module.name)))
    return tests


class ContractTest(unittest.TestCase):
    OFFENDERS = (
        ("core/measures.py", "import PySide6.QtCore"),
        ("core/mat/route.py", "import irontrail.core.engine.kernel"),
        ("files/atomic.py", "import irontrail.app.theme"),
        ("app/stops/run/figures.py", "import irontrail.app.stops.steer"),
    )

    def test_a_planted_offender_is_found(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder)
            shutil.copytree(ROOT / "src", copy / "src", ignore=shutil.ignore_patterns("__pycache__"))
            shutil.copy(ROOT / "pyproject.toml", copy)
            self.assertEqual(self.lint(copy).returncode, 0)
            for file, offence in self.OFFENDERS:
                path = copy / "src/irontrail" / file
                text = path.read_text()
                path.write_text(f"{text}\n{offence}\n")
                done = self.lint(copy)
                path.write_text(text)
                self.assertIn("BROKEN", done.stdout, file)
                self.assertEqual(done.returncode, 1, file)

    def lint(self, folder: Path) -> subprocess.CompletedProcess[str]:
        code = f"import sys; sys.path.insert(0, {str(folder / 'src')!r}); "
        code += "from importlinter.cli import lint_imports; sys.exit(lint_imports(no_cache=True))"
        return subprocess.run([sys.executable, "-c", code], cwd=folder, capture_output=True, text=True, timeout=120)


class TreeTest(unittest.TestCase):
    def test_a_window_and_its_stops_need_nothing_compiled_to_stand(self) -> None:
        code = (
            "import sys, irontrail.app.main, irontrail.app.window\n"
            "from importlib import import_module; from irontrail.app.stops import MODULES\n"
            "for stop in MODULES: import_module(stop)\n"
            "print([name for name in ('numba', 'scipy', 'pydantic', 'pyqtgraph', 'cma') if name in sys.modules])"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=True)
        self.assertEqual(done.stdout.strip(), "[]")

    def test_numpys_libraries_are_told_to_keep_to_one_thread_before_they_are_loaded(self) -> None:
        code = "import irontrail, os, sys; print('numpy' in sys.modules, os.environ['OPENBLAS_NUM_THREADS'])"
        plain = {name: value for name, value in os.environ.items() if name != "OPENBLAS_NUM_THREADS"}
        done = subprocess.run([sys.executable, "-c", code], env=plain, capture_output=True, text=True, timeout=120)
        self.assertEqual(done.stdout, "False 1\n", done.stderr)

    def test_files_stay_short(self) -> None:
        for path in (ROOT / "src").rglob("*.py"):
            self.assertLessEqual(len(path.read_text().splitlines()), 400, path.name)

    def test_nothing_asks_which_law_it_is(self) -> None:
        """A comparison with a law, its name or its field; but where laws are chosen from, which the registry tells."""
        laws = {name: law for name, law in vars(registry).items() if law in DECIDING.values()}
        names = {*DECIDING, *LAW_FIELDS}

        def is_law(node: ast.AST) -> bool:
            if isinstance(node, ast.Tuple | ast.List | ast.Set):
                return any(map(is_law, node.elts))
            if isinstance(node, ast.Constant):
                return node.value in names
            return ast.unparse(node).split(".")[0] in laws

        asked = []
        for path in (ROOT / "src/irontrail").rglob("*.py"):
            if "laws" not in path.parts and path.name != "registry.py":
                compared = (node for node in ast.walk(ast.parse(path.read_text())) if isinstance(node, ast.Compare))
                asking = (each for each in compared if any(map(is_law, (each.left, *each.comparators))))
                asked += [f"{path.name}: {ast.unparse(each)}" for each in asking]
        # The table is an arrangement of two sensors, and no law that can be chosen.
        self.assertEqual([each for each in asked if "arrangement" not in each], [])

    def test_nothing_of_one_machine_is_in_the_tree(self) -> None:
        listed = subprocess.run(["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=False).stdout
        offences = re.compile(r"/(work|root|home)/\w|https?://(?!json-schema\.org|www\.w3\.org)")
        for name in listed.split("\n"):
            path = ROOT / name
            if path.suffix in {".py", ".md", ".toml", ".in", ".txt", ".sh", ".json", ".irontrail"} and path.exists():
                if path == Path(__file__):
                    continue
                found = offences.search(path.read_text())
                self.assertIsNone(found, f"{name}: {found and found.group()}")


class SoakTest(unittest.TestCase):
    def test_the_toolkit_keeps_its_references_to_none(self) -> None:
        from PySide6.QtCore import QObject

        thing = QObject()
        before = sys.getrefcount(None)
        for _ in range(20_000):
            thing.setObjectName("a")
        # Python 3.12 and newer never count them; a faulty binding loses one at each call and dies.
        self.assertGreater(sys.getrefcount(None), before - 1000)


if __name__ == "__main__":
    unittest.main()
