"""`irontrail demos`: what there is to open without a file."""

import argparse

from irontrail.core.mat.demos import DEMO_MATS


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    commands.add_parser("demos", help="list the demos by name").set_defaults(act=act)


def act(options: argparse.Namespace) -> int:  # noqa: ARG001
    """Print a line for each demo: its name, and what it is."""
    for name, make in DEMO_MATS.items():
        story = (make.__doc__ or "").splitlines()[0]
        print(f"{name:12}{make().name}: {story}")
    return 0
