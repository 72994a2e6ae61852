"""Runs every check and ends with the counts: lint, format, types, import contracts, tests."""

import json
import os
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
BIN = Path(sys.executable).parent

TOOLS: tuple[tuple[str, list[str | Path]], ...] = (
    ("lint", [BIN / "ruff", "check", "--quiet", "."]),
    ("format", [BIN / "ruff", "format", "--quiet", "--check", "."]),
    ("types", [BIN / "mypy", "--no-error-summary"]),
    ("import contracts", [BIN / "lint-imports", "--no-logo"]),
)


def run_tool(tool: tuple[str, list[str | Path]]) -> bool:
    """Run one tool; show what it says only if it fails."""
    name, command = tool
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'}", flush=True)
    if done.returncode != 0:
        print(done.stdout + done.stderr)
    return done.returncode == 0


def run_some(names: Sequence[str]) -> unittest.TestResult:
    """Run the tests of some modules, with no monitor."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.path.insert(0, str(ROOT))
    suite = unittest.TestLoader().loadTestsFromNames(names)
    return unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)


def as_counts(result: unittest.TestResult) -> dict[str, Any]:
    """What a run came to, to be told between processes."""
    return {
        "run": result.testsRun,
        "failed": len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses),
        "skipped": [f"{test}: {reason}" for test, reason in result.skipped],
    }


def run_all() -> tuple[list[bool], dict[str, Any]]:
    """Run the tools, and the tests under tests/ or those named on the command line: which tools passed, and the counts.

    All is dealt out to all cores. Each module of tests has a process of its own, the longest first; what a process
    prints is shown when it has ended.
    """
    with ThreadPoolExecutor(os.cpu_count()) as pool:
        tools = pool.map(run_tool, TOOLS)
        if names := sys.argv[1:]:
            passed = list(tools)
            return passed, as_counts(run_some(names))
        modules = sorted((ROOT / "tests").rglob("test_*.py"), key=lambda path: -_weight(path))
        total: dict[str, Any] = {"run": 0, "failed": 0, "skipped": []}
        for counts in pool.map(_run_module, modules):
            total = {name: total[name] + counts[name] for name in total}
        return list(tools), total


def _weight(path: Path) -> float:
    """About how long a module takes: those with windows take longer for their length."""
    return path.stat().st_size * (3.0 if path.parent.name in ("app", "cli") else 1.0)


def _run_module(path: Path) -> dict[str, Any]:
    name = ".".join(path.relative_to(ROOT).with_suffix("").parts)
    with tempfile.TemporaryDirectory() as folder:
        told = Path(folder) / "counts.json"
        command = [sys.executable, str(Path(__file__)), "--tell", str(told), name]
        began = time.monotonic()
        done = subprocess.run(command, cwd=ROOT, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        try:
            counts: dict[str, Any] = json.loads(told.read_text())
        except (OSError, ValueError):
            counts = {"run": 1, "failed": 1, "skipped": []}
            print(f"{name}: the process ended with {done.returncode}", flush=True)
    if counts["failed"]:
        print(done.stdout)
    print(f"{name}: {counts['run']} run, {counts['failed']} failed, {time.monotonic() - began:.0f} s", flush=True)
    return counts


def main() -> int:
    """Exit code 0 if nothing failed; every failed tool counts as one failed check."""
    if sys.argv[1:2] == ["--tell"]:
        counts = as_counts(run_some(sys.argv[3:]))
        Path(sys.argv[2]).write_text(json.dumps(counts))
        return 1 if counts["failed"] else 0
    tools, counts = run_all()
    for each in counts["skipped"]:
        print(f"skipped {each}")
    skipped, failed = len(counts["skipped"]), tools.count(False) + counts["failed"]
    passed = tools.count(True) + counts["run"] - counts["failed"] - skipped
    print(f"{max(passed, 0)} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or counts["run"] == 0 else 0


if __name__ == "__main__":
    sys.exit(main())
