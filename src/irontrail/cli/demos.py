"""`irontrail demos`: what there is to open without a file."""

import argparse

from irontrail.core.demos import DEMOS


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    commands.add_parser("demos", help="list the demos by name").set_defaults(act=act)


def act(options: argparse.Namespace) -> int:  # noqa: ARG001
    """Print a line for each demo: its name, and what it is."""
    for name, demo in DEMOS.items():
        print(f"{name:16}{demo.title}: {demo.says}")
    return 0
