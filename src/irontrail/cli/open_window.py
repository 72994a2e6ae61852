"""`irontrail open [FILE-or-demo]`: the window. It is what `irontrail` alone does, too."""

import argparse
from pathlib import Path

from irontrail.cli.project_argument import load
from irontrail.core.mat.demos import DEMO_MATS

DEFAULT_DEMO = "lighthouse"


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser("open", help="open the window, on the demo if nothing is named")
    parser.add_argument("project", nargs="?", metavar="FILE-or-demo")
    parser.set_defaults(act=act)


def act(options: argparse.Namespace) -> int:
    """Open the window; a file that cannot be opened is refused before there is one."""
    argument = options.project
    project = load(argument or DEFAULT_DEMO)
    path = None if argument is None or argument in DEMO_MATS else Path(argument)

    from irontrail.app import main

    return main.run(project, path)
