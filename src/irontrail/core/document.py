"""The current project, its history, and who wants to know when it changes."""

from collections.abc import Callable
from dataclasses import dataclass

from irontrail.core.project import Project

Subscriber = Callable[[Project, Project], None]

# Old roots share their parts with the new, so that a step costs little; this many are kept.
MAX_STEPS = 500


@dataclass(frozen=True)
class Step:
    """One undoable step: what was done, and the project before and after it."""

    label: str
    before: Project
    after: Project


class Document:
    """Holds a frozen project; `apply` is the only way to change it.

    Successive applications with the same merge key are one step, until `settle` ends it: so a whole drag is
    undone at once.
    """

    def __init__(self, project: Project) -> None:
        self._project = project
        self._saved: Project | None = project
        self._done: list[Step] = []
        self._undone: list[Step] = []
        self._merge_key: str | None = None
        self._subscribers: list[Subscriber] = []

    @property
    def project(self) -> Project:
        return self._project

    @property
    def is_saved(self) -> bool:
        """The project is as it was last read or written."""
        return self._project is self._saved or self._project == self._saved

    @property
    def undo_label(self) -> str | None:
        """What undo would take back; None if there is nothing."""
        return self._done[-1].label if self._done else None

    @property
    def redo_label(self) -> str | None:
        """What redo would do again; None if there is nothing."""
        return self._undone[-1].label if self._undone else None

    def subscribe(self, subscriber: Subscriber) -> Callable[[], None]:
        """Call `subscriber(old, new)` after every change; returns the way to stop it."""
        self._subscribers.append(subscriber)
        return lambda: self._subscribers.remove(subscriber)

    def apply(self, label: str, project: Project, merge_key: str | None = None) -> None:
        """Make `project` the current one, as a step of history called `label`."""
        if project == self._project:
            return
        merging = merge_key is not None and merge_key == self._merge_key and bool(self._done)
        before = self._done.pop().before if merging else self._project
        if project != before:
            self._done.append(Step(label, before, project))
            del self._done[:-MAX_STEPS]
        self._undone.clear()
        self._merge_key = merge_key if project != before or not merging else None
        self._become(project)

    def settle(self) -> None:
        """End the current merged step: what comes next is a step of its own."""
        self._merge_key = None

    def undo(self) -> None:
        """Take the last step back; nothing if there is none."""
        if self._done:
            step = self._done.pop()
            self._undone.append(step)
            self.settle()
            self._become(step.before)

    def redo(self) -> None:
        """Do the last step taken back again; nothing if there is none."""
        if self._undone:
            step = self._undone.pop()
            self._done.append(step)
            self.settle()
            self._become(step.after)

    def replace(self, project: Project, saved: bool = True) -> None:
        """Start over with another project: no history; `saved` tells whether it stands in a file."""
        self._done.clear()
        self._undone.clear()
        self.settle()
        self._saved = project if saved else None
        self._become(project)

    def mark_saved(self, project: Project) -> None:
        """That state of the project has been written."""
        self._saved = project

    def _become(self, project: Project) -> None:
        old, self._project = self._project, project
        for subscriber in tuple(self._subscribers):
            subscriber(old, project)
