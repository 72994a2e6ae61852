"""Plants small faults in a copy of the sources, and sees whether tests notice: `python -m tests.plant ...`.

    python -m tests.plant look FOLDER [PART ...]           which tests (of core, files, cli, app, or of those parts of
                                                           them alone) reach each line; half an hour
    python -m tests.plant FOLDER SEED COUNT [PART ...]     faults in files whose path has one of the parts in it

In core and files a fault changes one comparison, sign, number or condition of a function; in the window it is one that
a person sees: what is shown or can be pressed is not, two words or figures of a sentence change places, something is
not joined or not told. The tests that reach its line are run. It tells of those that nobody noticed, and the share that
was. Some change nothing: how much is remembered, how finely a way is sampled. Modules with compiled functions are left
out: what is compiled is kept from fault to fault. Not run in ./check.
"""

import ast
import os
import queue
import random
import shutil
import subprocess
import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from itertools import pairwise
from pathlib import Path

ROOT = Path(__file__).parent.parent
SOURCES = ROOT / "src" / "irontrail"
# Longer than this, and the fault has been noticed: something runs without end.
MOST_S, MOST_TESTS = 240.0, 90
COMPARISONS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
SIGNS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult,
}  # fmt: skip
# What is planted in: the parts of the program, and the parts of the tests that reach them.
PLANTED, PARTS = ("core/", "files/", "app/"), ("core", "files", "cli", "app")
# What a view is told to show, and what joins it to others.
STATES = {"setVisible", "setEnabled", "setChecked"}
TOLD = {
    "connect", "setText", "notice", "set_figure", "set_words", "set_colour",
    "set_value", "show_project", "show_view",
}  # fmt: skip
# The line, what is done to it, and how.
Fault = tuple[int, str, Callable[[], None]]


def faults(tree: ast.Module, seen: bool = False) -> Iterator[Fault]:
    """What can be changed in a module: where, what, and how to do it to the tree; `seen`: what a person sees."""
    for function in ast.walk(tree):
        if not isinstance(function, ast.FunctionDef):
            continue
        for statement in function.body:
            for node in ast.walk(statement):
                yield from _to_be_seen(node) if seen else _of_node(node)


def _to_be_seen(node: ast.AST) -> Iterator[Fault]:
    line = getattr(node, "lineno", 0)
    if isinstance(node, ast.IfExp):
        yield line, f"{ast.unparse(node)} the other way", lambda: _exchange(node, "body", node, "orelse")
    elif isinstance(node, ast.JoinedStr):
        values = [part for part in node.values if isinstance(part, ast.FormattedValue)]
        for one, other in pairwise(values):
            if ast.unparse(one.value) != ast.unparse(other.value):
                told = f"{ast.unparse(one.value)} and {ast.unparse(other.value)} exchanged"
                yield line, told, lambda one=one, other=other: _exchange(one, "value", other, "value")
    elif isinstance(node, ast.Expr) and isinstance(node.value, ast.Call) and isinstance(node.value.func, ast.Attribute):
        call, name = node.value, node.value.func.attr
        if name in STATES and len(call.args) == 1:
            other = ast.UnaryOp(ast.Not(), call.args[0])
            yield line, f"{ast.unparse(node)} the other way", lambda: call.args.__setitem__(0, other)
        elif name in TOLD:
            yield line, f"{ast.unparse(node)} left out", lambda: setattr(node, "value", ast.Constant(None))


def _exchange(one: ast.AST, field: str, other: ast.AST, other_field: str) -> None:
    kept = getattr(one, field)
    setattr(one, field, getattr(other, other_field))
    setattr(other, other_field, kept)


def _of_node(node: ast.AST) -> Iterator[Fault]:
    line = getattr(node, "lineno", 0)
    if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARISONS:
        other = COMPARISONS[type(node.ops[0])]
        yield line, f"{ast.unparse(node)} turned round", lambda: node.ops.__setitem__(0, other())
    elif isinstance(node, ast.BinOp) and type(node.op) in SIGNS and not _is_text(node):
        sign = SIGNS[type(node.op)]
        yield line, f"{ast.unparse(node)} with {sign.__name__}", lambda: setattr(node, "op", sign())
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
        value = node.value
        yield line, f"{value} made {value * 2 + 1}", lambda: setattr(node, "value", value * 2 + 1)
    elif isinstance(node, ast.BoolOp):
        other_op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield line, f"{ast.unparse(node)} with the other of and, or", lambda: setattr(node, "op", other_op)
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.Not):
        yield line, f"{ast.unparse(node)} without its sign", lambda: setattr(node, "op", ast.UAdd())
    elif isinstance(node, ast.If):
        yield line, f"if {ast.unparse(node.test)} always", lambda: setattr(node, "test", ast.Constant(True))


def _is_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(part, ast.JoinedStr | ast.Constant) and not _is_number(part) for part in (node.left, node.right)
    )


def _is_number(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, int | float)


class Reached:
    """Which tests reach each line of the sources, as coverage.py saw it: a data file for each module of tests."""

    def __init__(self, folder: Path) -> None:
        from coverage import CoverageData

        self._tests: dict[tuple[str, int], set[str]] = defaultdict(set)
        # Modules of tests that reach a line as they set up, which coverage.py does not count to a test.
        self._setting_up: dict[tuple[str, int], set[str]] = defaultdict(set)
        self._most: Counter[tuple[str, str]] = Counter()
        for file in sorted(folder.glob("reached.*")):
            data, of_tests = CoverageData(basename=str(file)), file.name.removeprefix("reached.")
            data.read()
            for path in data.measured_files():
                module = str(Path(path).relative_to(SOURCES))
                for line, tests in data.contexts_by_lineno(path).items():
                    self._tests[module, line] |= set(filter(None, tests))
                    self._most[module, of_tests] += len(tests)
                    if "" in tests:
                        self._setting_up[module, line].add(of_tests)
        # Templates of pages are told of, too.
        self.modules = sorted({name for name, _ in self._tests if name.startswith(PLANTED) and name.endswith(".py")})

    def tests(self, module: str, line: int) -> list[str]:
        """The tests that reach a line, those of a module that is named after it first."""
        name = Path(module).stem
        return sorted(self._tests.get((module, line), ()), key=lambda test: (name not in test, test))

    def modules_of_tests(self, module: str, line: int) -> list[str]:
        """The modules of tests that reach a line of the window as they set up, that of most of its lines first."""
        if not module.startswith("app/"):
            return []
        return sorted(self._setting_up.get((module, line), ()), key=lambda tests: -self._most[module, tests])


def look(folder: Path, parts: Sequence[str]) -> None:
    """Run each module of those parts of the tests, and note what each test reaches."""
    folder.mkdir(parents=True, exist_ok=True)
    settings = folder / "settings"
    settings.write_text(f"[run]\ndynamic_context = test_function\nsource = {SOURCES}\n")
    modules = [path for part in parts for path in sorted((ROOT / "tests" / part).rglob("test_*.py"))]

    def run(path: Path) -> None:
        name = ".".join(path.relative_to(ROOT).with_suffix("").parts)
        command = [sys.executable, "-m", "coverage", "run", f"--rcfile={settings}"]
        environment = os.environ | {"COVERAGE_FILE": str(folder / f"reached.{name}"), "QT_QPA_PLATFORM": "offscreen"}
        subprocess.run([*command, "-m", "unittest", "-q", name], cwd=ROOT, env=environment, capture_output=True)
        print(name, flush=True)

    with ThreadPoolExecutor(os.cpu_count()) as pool:
        list(pool.map(run, modules))


class Plot:
    """A copy of the sources to plant faults in, one after the other."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        shutil.copytree(SOURCES, folder / "src" / "irontrail", ignore=shutil.ignore_patterns("__pycache__"))

    def try_one(self, module: str, reached: Reached, number: int) -> tuple[str, bool] | None:
        """Plant one fault and run the tests: what it was, and whether it was noticed; None if it changes nothing."""
        tree = ast.parse((SOURCES / module).read_text())
        before = ast.unparse(tree)
        line, told, plant = _planted(module, tree)[number]
        plant()
        ast.fix_missing_locations(tree)
        try:
            after = ast.unparse(tree)
        except (TypeError, ValueError):
            return None
        if after == before:
            return None
        there = self.folder / "src" / "irontrail" / module
        there.write_text(after)
        try:
            noticed = self._notices(reached.tests(module, line), reached.modules_of_tests(module, line))
            return f"{module} line {line}: {told}", noticed
        finally:
            shutil.copy2(SOURCES / module, there)

    def _notices(self, tests: list[str], modules: list[str]) -> bool:
        # A few first: most faults are noticed by any.
        parts = [tests[:6], *([module] for module in modules[:2]), tests[6:30], tests[30:MOST_TESTS]]
        return any(self._fail(part) for part in (*parts, *([module] for module in modules[2:])) if part)

    def _fail(self, tests: list[str]) -> bool:
        environment = os.environ | {
            "PYTHONPATH": f"{self.folder / 'src'}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1",
            "QT_QPA_PLATFORM": "offscreen",
        }  # fmt: skip
        command = [sys.executable, "-m", "unittest", "-f", "-q", *tests]
        try:
            done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, timeout=MOST_S)
        except subprocess.TimeoutExpired:
            return True
        return done.returncode != 0


def _planted(module: str, tree: ast.Module) -> list[Fault]:
    return list(faults(tree, seen=module.startswith("app/")))


def is_compiled(source: str) -> bool:
    """Whether a module has functions that are compiled."""
    return "from irontrail.core.compiled import" in source


def main() -> int:
    """Look, or plant and tell; 0."""
    if sys.argv[1] == "look":
        look(Path(sys.argv[2]), sys.argv[3:] or PARTS)
        return 0
    reached, chance, count = Reached(Path(sys.argv[1])), random.Random(int(sys.argv[2])), int(sys.argv[3])
    places: list[tuple[str, int]] = []
    for module in reached.modules:
        source = (SOURCES / module).read_text()
        if not is_compiled(source) and any(part in module for part in sys.argv[4:] or [""]):
            places += [(module, i) for i in range(len(_planted(module, ast.parse(source))))]
    chosen = chance.sample(places, min(count, len(places)))
    noticed = tried = 0
    with tempfile.TemporaryDirectory() as folder:
        plots: queue.Queue[Plot] = queue.Queue()
        for i in range(os.cpu_count() or 1):
            plots.put(Plot(Path(folder) / str(i)))

        def try_somewhere(place: tuple[str, int]) -> tuple[str, bool] | None:
            plot = plots.get()
            try:
                return plot.try_one(place[0], reached, place[1])
            finally:
                plots.put(plot)

        with ThreadPoolExecutor(os.cpu_count()) as pool:
            for result in pool.map(try_somewhere, chosen):
                if result is not None:
                    told, seen = result
                    tried += 1
                    noticed += seen
                    if not seen:
                        print(f"unnoticed: {told}", flush=True)
    print(f"{noticed} of {tried} noticed ({100 * noticed / max(tried, 1):.0f} %)")
    return 0


if __name__ == "__main__":
    sys.exit(main())
