"""`irontrail schema`: the JSON schema of project files, as published in docs/format/."""

import argparse
import json


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add the command to the parser."""
    commands.add_parser("schema", help="print the JSON schema of project files").set_defaults(act=act)


def act(options: argparse.Namespace) -> int:  # noqa: ARG001
    """Print the schema."""
    from irontrail.files import project_file

    print(json.dumps(project_file.schema(), indent=1))
    return 0
