"""`irontrail open [FILE-or-demo]`: the window. It is what `irontrail` alone does, too, and `irontrail FILE`."""

import argparse
from pathlib import Path

from irontrail.cli import screen
from irontrail.cli.hand_over import hand_over
from irontrail.cli.project_argument import load
from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.project import blank_project
from irontrail.files.mat_in import SUFFIXES as MAT_SUFFIXES

DEFAULT_DEMO = "lighthouse"


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser(
        "open", help="open the window; on the last project, or else the demo, if nothing is named"
    )
    parser.add_argument("project", nargs="?", metavar="FILE-or-demo")
    parser.set_defaults(act=act)


def act(options: argparse.Namespace) -> int:
    """Open the window; a file that cannot be opened is refused before there is one."""
    argument = options.project
    path = None if argument is None or argument in DEMOS else Path(argument)
    drawn = path if path is not None and path.suffix.lower() in MAT_SUFFIXES else None
    if drawn is not None and not drawn.is_file():
        raise IronTrailError("no such file", argument, "Check the name, or open one from the window: ./start")
    named = load(argument) if argument is not None and drawn is None else None
    if path is not None and hand_over(path):
        print(f"{argument} is open in the window that was there.")
        return 0
    if (problem := screen.problem()) is not None:
        raise IronTrailError(*problem)

    from irontrail.app import main

    if drawn is not None:
        return main.run(blank_project(), None, drawn)
    if named is not None:
        return main.run(named, path)
    try:
        path = main.last_project()
        return main.run(load(str(path)) if path is not None else demo_project(DEFAULT_DEMO), path)
    except IronTrailError:
        return main.run(demo_project(DEFAULT_DEMO), None)
