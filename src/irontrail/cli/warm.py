"""`irontrail warm`: compile the engine now, so that no window has to wait for it."""

import argparse

from irontrail import kernel_cache


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    commands.add_parser("warm", help="compile the engine into the user's cache").set_defaults(act=act)


def act(options: argparse.Namespace) -> int:  # noqa: ARG001
    """Compile, unless it has been done."""
    if not kernel_cache.is_filled():
        kernel_cache.fill()
    return 0
