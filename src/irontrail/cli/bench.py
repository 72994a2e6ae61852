"""`irontrail bench`: the engine's speed, as ratios measured in one run."""

import argparse
import subprocess
import sys
from pathlib import Path

from irontrail.core.errors import IronTrailError

SCRIPT = Path(__file__).parents[3] / "bench" / "engine.py"


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    commands.add_parser("bench", help="measure the engine against plain Python, C and SciPy").set_defaults(act=act)


def act(options: argparse.Namespace) -> int:  # noqa: ARG001
    """Run the bench; it stands in the checkout, beside the package."""
    if not SCRIPT.exists():
        raise IronTrailError("the benches are not here", str(SCRIPT.name), "Run this in a checkout of Iron Trail.")
    return subprocess.run([sys.executable, str(SCRIPT)], check=False).returncode
