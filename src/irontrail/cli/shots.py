"""`irontrail shots DIR`: the screenshots of the README, made from the demo."""

import argparse
from pathlib import Path


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    parser = commands.add_parser("shots", help="make the README's screenshots")
    parser.add_argument("folder", type=Path, metavar="DIR")
    parser.set_defaults(act=act)


def act(options: argparse.Namespace) -> int:
    """Make every screenshot and print the name of each."""
    from irontrail.app import shots

    for path in shots.make(options.folder):
        print(path)
    return 0
