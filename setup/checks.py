"""Runs every check and ends with the counts: lint, format, types, import contracts, tests.

    checks.py [MODULE.CLASS.TEST ...]

Each tool and each module of tests is a job with a process of its own, one more at a time than there are cores: now and
then one waits. They are forked from one process that has loaded once what nearly all of them load: a second or two of
each.
"""

import gc
import json
import os
import subprocess
import sys
import tempfile
import time
import traceback
import unittest
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parent.parent
BIN = Path(sys.executable).parent

TOOLS: tuple[tuple[str, list[str | Path]], ...] = (
    ("types", [BIN / "mypy", "--no-error-summary"]),
    ("import contracts", [BIN / "lint-imports", "--no-logo"]),
    ("lint", [BIN / "ruff", "check", "--quiet", "."]),
    ("format", [BIN / "ruff", "format", "--quiet", "--check", "."]),
)


# What takes long for how short it is: all of the engine is compiled, or pictures are traced and files broken. The first
# of all runs beside the loading of what the others share, of which it needs nothing.
FIRST = "test_added_law"
LONG = {FIRST, "test_pictures_in", "test_kernel_cache", "test_mutated", "test_found"}


@dataclass(frozen=True)
class Counts:
    """How many checks were run, failed and were skipped, and why."""

    run: int = 0
    failed: int = 0
    skipped: tuple[str, ...] = ()

    def __add__(self, other: "Counts") -> "Counts":
        return Counts(self.run + other.run, self.failed + other.failed, self.skipped + other.skipped)


@dataclass(frozen=True)
class Job:
    """Something to be run in a process of its own; what it prints is shown only if it fails."""

    name: str
    act: Callable[[], Counts]


@dataclass(frozen=True)
class Running:
    """A job that has begun, and the files to which its process tells what it prints and what it came to."""

    job: Job
    began: float
    printed: Path
    told: Path


def run_tool(command: list[str | Path]) -> Counts:
    """Run one tool: a check of its own."""
    done = subprocess.run(command, cwd=ROOT)
    return Counts(1, int(done.returncode != 0))


def run_tests(names: Sequence[str]) -> Counts:
    """Run the tests of some modules, with no monitor."""
    suite = unittest.TestLoader().loadTestsFromNames(names)
    result = unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)
    return Counts(
        result.testsRun,
        len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses),
        tuple(f"{test}: {reason}" for test, reason in result.skipped),
    )


def load_what_all_need() -> None:
    """Import what most tests import, and have the compiled engine read from its cache, or compiled."""
    import hypothesis
    import numpy
    import pydantic
    import scipy.ndimage
    import scipy.optimize
    from PySide6 import QtWidgets

    from irontrail import kernel_cache
    from irontrail.app import looking, main, preloading, stops

    assert all((hypothesis, numpy, pydantic, scipy.ndimage, scipy.optimize, QtWidgets, main))
    for stop in looking.STOPS:
        stops.panel_type(stop)
    # A class of Qt is made when it is first asked for.
    for package in preloading.PACKAGES:
        if package.startswith("PySide6"):
            preloading.load(package)
    kernel_cache.fill()
    # What is here stays, and need not be looked at for what can go.
    gc.collect()
    gc.freeze()


def run_all(jobs: Sequence[Job], load: Callable[[], None] = lambda: None) -> Counts:
    """Run jobs in their order, some at a time, each in a process forked from this one; one that dies has failed.

    All but the first find loaded what `load` does.
    """
    total, waiting, running = Counts(), list(reversed(jobs)), dict[int, Running]()
    with tempfile.TemporaryDirectory() as folder:
        pid, begun = _begin(waiting.pop(), Path(folder))
        running[pid] = begun
        load()
        while waiting or running:
            while waiting and len(running) <= (os.cpu_count() or 1):
                pid, begun = _begin(waiting.pop(), Path(folder))
                running[pid] = begun
            pid, status = os.wait()
            if pid in running:
                total += _end(running.pop(pid), status)
    return total


def _begin(job: Job, folder: Path) -> tuple[int, Running]:
    begun = Running(job, time.monotonic(), folder / f"{job.name}.txt", folder / f"{job.name}.json")
    sys.stdout.flush()
    pid = os.fork()
    if pid == 0:
        code = 1
        try:
            output = os.open(begun.printed, os.O_WRONLY | os.O_CREAT)
            os.dup2(output, 1)
            os.dup2(output, 2)
            counts = job.act()
            begun.told.write_text(json.dumps([counts.run, counts.failed, counts.skipped]))
            code = 0
        except BaseException:
            traceback.print_exc()
        finally:
            sys.stdout.flush()
            sys.stderr.flush()
            # Nothing of the process that it was forked from is wound up by it.
            os._exit(code)
    return pid, begun


def _end(ended: Running, status: int) -> Counts:
    try:
        run, failed, skipped = json.loads(ended.told.read_text())
        counts = Counts(run, failed, tuple(skipped))
    except (OSError, ValueError):
        counts = Counts(1, 1)
        print(f"{ended.job.name}: the process ended with {os.waitstatus_to_exitcode(status)}")
    if counts.failed:
        print(ended.printed.read_text(errors="replace"))
    took = time.monotonic() - ended.began
    print(f"{ended.job.name}: {counts.run} run, {counts.failed} failed, {took:.0f} s", flush=True)
    return counts


def all_modules() -> list[str]:
    """The modules under tests/, about the longest first: those with windows take longer for their length."""

    def weight(path: Path) -> float:
        known = 1e9 * ((path.stem in LONG) + (path.stem == FIRST))
        return known + path.stat().st_size * (3.0 if path.parent.name in ("app", "cli") else 1.0)

    paths = sorted((ROOT / "tests").rglob("test_*.py"), key=weight, reverse=True)
    return [".".join(path.relative_to(ROOT).with_suffix("").parts) for path in paths]


def main() -> int:
    """Exit code 0 if nothing failed."""
    os.chdir(ROOT)
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.path.insert(0, str(ROOT))
    tools = [Job(name, lambda command=command: run_tool(command)) for name, command in TOOLS]
    if names := sys.argv[1:]:
        counts = run_all([*tools, Job("tests", lambda: run_tests(names))])
    else:
        first, *others = [Job(name, lambda name=name: run_tests([name])) for name in all_modules()]
        counts = run_all([first, *tools, *others], load_what_all_need)
    for each in counts.skipped:
        print(f"skipped {each}")
    skipped = len(counts.skipped)
    passed = counts.run - counts.failed - skipped
    print(f"{max(passed, 0)} passed, {counts.failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if counts.failed or counts.run <= len(TOOLS) else 0


if __name__ == "__main__":
    sys.exit(main())
