"""Runs every check and ends with the counts: lint, format, types, import contracts, tests."""

import os
import subprocess
import sys
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent
BIN = Path(sys.executable).parent

TOOLS = (
    ("lint", [BIN / "ruff", "check", "--quiet", "."]),
    ("format", [BIN / "ruff", "format", "--quiet", "--check", "."]),
    ("types", [BIN / "mypy", "--no-error-summary"]),
    ("import contracts", [BIN / "lint-imports", "--no-logo"]),
)


def run_tool(name: str, command: list[str | Path]) -> bool:
    """Run one tool; show what it says only if it fails."""
    done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True)
    print(f"{name}: {'ok' if done.returncode == 0 else 'FAILED'}", flush=True)
    if done.returncode != 0:
        print(done.stdout + done.stderr)
    return done.returncode == 0


def run_tests() -> unittest.TestResult:
    """Run the tests under tests/, or those named on the command line, with no monitor."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    sys.path.insert(0, str(ROOT))
    loader = unittest.TestLoader()
    if names := sys.argv[1:]:
        suite = loader.loadTestsFromNames(names)
    else:
        suite = loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))
    return unittest.TextTestRunner(verbosity=1, stream=sys.stdout).run(suite)


def main() -> int:
    """Exit code 0 if nothing failed; every failed tool counts as one failed check."""
    tools = [run_tool(name, command) for name, command in TOOLS]
    result = run_tests()
    unexpected = len(result.unexpectedSuccesses)
    failed = tools.count(False) + len(result.failures) + len(result.errors) + unexpected
    skipped = len(result.skipped)
    for test, reason in result.skipped:
        print(f"skipped {test}: {reason}")
    passed = tools.count(True) + result.testsRun - len(result.failures) - len(result.errors) - unexpected - skipped
    print(f"{max(passed, 0)} passed, {failed} failed" + (f", {skipped} skipped" if skipped else ""))
    return 1 if failed or result.testsRun == 0 else 0


if __name__ == "__main__":
    sys.exit(main())
