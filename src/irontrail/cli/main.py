"""The command line's entry: reads the arguments and hands over to one command."""

import argparse
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NoReturn

from irontrail import __version__
from irontrail.cli import bench, demos, export, install, open_window, run, schema, shots, warm
from irontrail.core.errors import IronTrailError
from irontrail.files.mat_in import SUFFIXES as MAT_SUFFIXES
from irontrail.files.project_file import SUFFIX

# What a bad argument or file exits with; the same as argparse's own.
EXIT_REFUSED = 2


class _Parser(argparse.ArgumentParser):
    """Says what is wrong in one line."""

    def error(self, message: str) -> NoReturn:
        self.exit(EXIT_REFUSED, f"irontrail: {message}. See: irontrail --help\n")


def build_parser() -> argparse.ArgumentParser:
    """The parser of every command; each sets `act`, what to do with its arguments."""
    parser = _Parser(
        prog="irontrail",
        description="Model a line-following robot, watch why it swings, and tune it until it is smooth and fast.",
    )
    parser.add_argument("--version", action="version", version=f"Iron Trail {__version__}")
    commands = parser.add_subparsers(metavar="COMMAND", parser_class=_Parser)
    for command in (open_window, demos, run, export, bench, shots, schema, install, warm):
        command.add_to(commands)
    parser.set_defaults(act=open_window.act, project=None)
    return parser


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit code."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    if given and Path(given[0]).suffix.lower() in (SUFFIX, *MAT_SUFFIXES):
        # A file alone is opened, as a file manager gives it.
        given.insert(0, "open")
    options = build_parser().parse_args(given)
    try:
        code: int = options.act(options)
        sys.stdout.flush()
    except IronTrailError as error:
        print(f"irontrail: {error}", file=sys.stderr)
        return EXIT_REFUSED
    except BrokenPipeError:
        # Whoever read our output has gone; nothing more can be said, not even by the interpreter on its way out.
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 1
    except KeyboardInterrupt:
        return 130
    return code
