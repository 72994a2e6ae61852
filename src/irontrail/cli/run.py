"""`irontrail run FILE-or-demo`: one run, its measures, its trace; needs no display."""

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path

from irontrail.cli.project_argument import load
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser("run", help="compute a run and print its measures")
    parser.add_argument("project", metavar="FILE-or-demo")
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        metavar="PATH=VALUE",
        dest="settings",
        help="change a setting for this run, such as program.speed=60; may be given several times",
    )
    parser.add_argument("--seed", metavar="N", help="the seed of the noise; short for --set trial.seed=N")
    parser.add_argument("--trace", metavar="OUT.csv", help="write the trace, a row a loop; - is the terminal")
    parser.add_argument("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(act=act)


def act(options: argparse.Namespace) -> int:
    """Run, write the trace if asked to, print the measures."""
    from irontrail.core import derive
    from irontrail.core.stretches import leg_facts, stretches
    from irontrail.files import trace_csv
    from irontrail.files.settings_path import apply_setting

    setup = load(options.project).setup
    settings = options.settings + ([f"trial.seed={options.seed}"] if options.seed is not None else [])
    for setting in settings:
        setup = apply_setting(setup, setting)
    figures = derive.figures(setup)
    run = derive.run(setup)
    if options.trace == "-":
        # The rows alone stand on the terminal, so that another program can read them.
        sys.stdout.write(trace_csv.to_text(run.trace, run.sensors))
        return 0
    if options.trace is not None:
        trace_csv.write(_beside(Path(options.trace), options.project), run.trace, run.sensors)
    if options.json:
        by_stretch = [asdict(stretch) for stretch in stretches(run)]
        by_leg = [leg_facts(setup, run, leg) for leg in run.legs]
        print(json.dumps(asdict(figures) | {"stretches": by_stretch, "legs": by_leg}, indent=1))
    else:
        print(table(figures))
    return 0


def _beside(out: Path, project: str) -> Path:
    """A file to write to.

    Raises
    ------
    IronTrailError
        If it is the project's own.
    """
    if out.exists() and Path(project).exists() and out.samefile(project):
        raise IronTrailError("is the project itself", str(out), "Write the trace to another file.")
    return out


def table(figures: Figures) -> str:
    """The measures, a line each, figures lined up."""
    lines = []
    for name, value in asdict(figures).items():
        text = f"{value:.3f}".rstrip("0").rstrip(".") if isinstance(value, float) else str(value)
        lines.append(f"{name:20}{text:>12}")
    return "\n".join(lines)
