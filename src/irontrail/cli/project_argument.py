"""The argument FILE-or-demo, which several commands take."""

from pathlib import Path

from irontrail.core.demos import DEMOS, demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.project import Project
from irontrail.files import project_file


def load(argument: str) -> Project:
    """The demo of that name, else the project in that file; IronTrailError if it is neither."""
    if argument in DEMOS:
        return demo_project(argument)
    path = Path(argument)
    if not path.exists():
        raise IronTrailError("no such file or demo", argument, f"The demos are: {', '.join(DEMOS)}.")
    return project_file.read(path)
