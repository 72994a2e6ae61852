"""Plants small faults in a copy of the sources, and sees whether the nearest tests notice: `python -m tests.plant ...`.

    python -m tests.plant SEED COUNT MODULE=TESTS[,TESTS] ...

as in `core/quantity.py=tests.core.test_document`. Each fault changes one comparison, sign, number or condition of one
function. It tells of those that nobody noticed, and the share that was. Modules with compiled functions are left out of
it: what is compiled is kept from fault to fault. Not run in ./check.
"""

import ast
import os
import queue
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent
SOURCES = ROOT / "src" / "irontrail"
# Longer than this, and the fault has been noticed: something runs without end.
MOST_S = 240.0
COMPARISONS: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.GtE, ast.LtE: ast.Gt, ast.Gt: ast.LtE, ast.GtE: ast.Lt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In,
}  # fmt: skip
SIGNS: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult,
}  # fmt: skip
Fault = tuple[str, Callable[[], None]]


def faults(tree: ast.Module) -> Iterator[Fault]:
    """What can be changed in a module: where and what, and how to change it in the tree."""
    for function in ast.walk(tree):
        if not isinstance(function, ast.FunctionDef):
            continue
        for node in ast.walk(function):
            yield from _of_node(node)


def _of_node(node: ast.AST) -> Iterator[Fault]:
    line = f"line {getattr(node, 'lineno', 0)}"
    if isinstance(node, ast.Compare) and type(node.ops[0]) in COMPARISONS:
        other = COMPARISONS[type(node.ops[0])]
        yield f"{line}: {ast.unparse(node)} turned round", lambda: node.ops.__setitem__(0, other())
    elif isinstance(node, ast.BinOp) and type(node.op) in SIGNS and not _is_text(node):
        sign = SIGNS[type(node.op)]
        yield f"{line}: {ast.unparse(node)} with {sign.__name__}", lambda: setattr(node, "op", sign())
    elif isinstance(node, ast.Constant) and type(node.value) in (int, float):
        value = node.value
        yield f"{line}: {value} made {value * 2 + 1}", lambda: setattr(node, "value", value * 2 + 1)
    elif isinstance(node, ast.BoolOp):
        other_op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        yield f"{line}: {ast.unparse(node)} with the other of and, or", lambda: setattr(node, "op", other_op)
    elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub | ast.Not):
        yield f"{line}: {ast.unparse(node)} without its sign", lambda: setattr(node, "op", ast.UAdd())
    elif isinstance(node, ast.If):
        yield f"{line}: if {ast.unparse(node.test)} always", lambda: setattr(node, "test", ast.Constant(True))


def _is_text(node: ast.BinOp) -> bool:
    return any(
        isinstance(part, ast.JoinedStr | ast.Constant) and not _is_number(part) for part in (node.left, node.right)
    )


def _is_number(node: ast.expr) -> bool:
    return isinstance(node, ast.Constant) and isinstance(node.value, int | float)


class Plot:
    """A copy of the sources to plant faults in, one after the other."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        shutil.copytree(SOURCES, folder / "src" / "irontrail", ignore=shutil.ignore_patterns("__pycache__"))

    def try_one(self, module: str, tests: list[str], number: int) -> tuple[str, bool] | None:
        """Plant one fault and run the tests: what it was, and whether it was noticed; None if it changes nothing."""
        tree = ast.parse((SOURCES / module).read_text())
        before = ast.unparse(tree)
        told, plant = list(faults(tree))[number]
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
            return f"{module} {told}", self._notices(tests)
        finally:
            shutil.copy2(SOURCES / module, there)

    def _notices(self, tests: list[str]) -> bool:
        environment = os.environ | {
            "PYTHONPATH": f"{self.folder / 'src'}:{ROOT}", "PYTHONDONTWRITEBYTECODE": "1",
            "QT_QPA_PLATFORM": "offscreen", "NUMBA_CACHE_DIR": str(self.folder / "kernels"),
        }  # fmt: skip
        command = [sys.executable, "-m", "unittest", "-f", "-q", *tests]
        try:
            done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, timeout=MOST_S)
        except subprocess.TimeoutExpired:
            return True
        return done.returncode != 0


def main() -> int:
    """Plant, and tell; 0."""
    chance, count = random.Random(int(sys.argv[1])), int(sys.argv[2])
    places: list[tuple[str, list[str], int]] = []
    for argument in sys.argv[3:]:
        module, _, tests = argument.partition("=")
        found = len(list(faults(ast.parse((SOURCES / module).read_text()))))
        places += [(module, tests.split(","), i) for i in range(found)]
    chosen = chance.sample(places, min(count, len(places)))
    noticed = tried = 0
    with tempfile.TemporaryDirectory() as folder:
        plots: queue.Queue[Plot] = queue.Queue()
        for i in range(os.cpu_count() or 1):
            plots.put(Plot(Path(folder) / str(i)))

        def try_somewhere(place: tuple[str, list[str], int]) -> tuple[str, bool] | None:
            plot = plots.get()
            try:
                return plot.try_one(*place)
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
