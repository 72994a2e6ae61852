"""The frozen root of all that is saved: a setup, and what a team keeps beside it."""

from dataclasses import dataclass
from typing import Annotated

from irontrail.core.figures import Figures
from irontrail.core.light.rooms import EVENT, PRACTICE, Room
from irontrail.core.mat.demos import blank_mat
from irontrail.core.plain import Name, Text, keep_plain
from irontrail.core.quantity import Part, Quantity
from irontrail.core.setup import Setup
from irontrail.core.shaking import AT_EVENT, Shaking


@dataclass(frozen=True)
class RealRun(Part):
    """What the real robot did with the settings of a kept run: its time by the stopwatch, and whether it finished."""

    time_s: Annotated[float, Quantity("real time", "s", 0.0, 600.0, 0.1, 1.0, 2, says="How long the real robot took.")]
    finished: bool = True


@dataclass(frozen=True)
class KeptRun(Part):
    """A run put by for comparison: its settings and figures, not its trace; a note and a star of the team's own.

    `real` is what the real robot did with it, in the order it was driven.
    """

    number: Annotated[int, Quantity("number", "", 1, 1_000_000, 1, says="The number of a kept run.")]
    setup: Setup
    figures: Figures
    note: Text = ""
    star: bool = False
    real: tuple[RealRun, ...] = ()

    def __post_init__(self) -> None:
        super().__post_init__()
        keep_plain(self, "note", lines=True)


@dataclass(frozen=True)
class Evidence(Part):
    """What the team itself says on its pages for judges, and the numbers of the kept runs that stand there.

    Without runs of its own choice it is about all of them.
    """

    title: Name = ""
    opening: Text = ""
    tried: Text = ""
    learned: Text = ""
    runs: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        super().__post_init__()
        keep_plain(self, "title")
        keep_plain(self, "opening", "tried", "learned", lines=True)


@dataclass(frozen=True)
class Project(Part):
    """A project: the setup as it stands, the runs kept so far in the order they were kept, and the two rooms.

    `exported` is the setup whose program last went out as a listing; `evidence` what the team says on its pages;
    `at_event` by how much more than in practice a start may be off there.
    """

    setup: Setup
    kept: tuple[KeptRun, ...] = ()
    practice: Room = PRACTICE
    event: Room = EVENT
    exported: Setup | None = None
    evidence: Evidence = Evidence()
    at_event: Shaking = AT_EVENT


def blank_project() -> Project:
    """A project to begin with: a bare mat with a first strip of tape, and the usual robot."""
    return Project(Setup(blank_mat()))
