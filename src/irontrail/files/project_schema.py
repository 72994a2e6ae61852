"""The schema of a project file, read off the project's own parts: made on import, which takes a third of a second."""

from dataclasses import dataclass
from typing import Literal

from pydantic import TypeAdapter

from irontrail.core.project import Project
from irontrail.core.quantity import Part


@dataclass(frozen=True)
class ProjectFile(Part):
    """What stands in a file."""

    format: Literal[2]
    project: Project


PROJECT_FILE = TypeAdapter(ProjectFile)
