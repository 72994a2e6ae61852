"""The runs put by for comparison: which there are, which of them are shown beside the current one."""

from collections.abc import Callable, Iterator
from dataclasses import replace

from PySide6.QtCore import QObject, Signal

from irontrail.core.document import Document
from irontrail.core.figures import Figures
from irontrail.core.project import KeptRun, RealRun
from irontrail.core.setup import Setup

# So many of the newest are shown unasked, and so many at most where they were asked for.
UNASKED, MAX_SHOWN = 3, 6


class KeptRuns(QObject):
    """The kept runs of a document; what is hidden and compared with is a way of looking, and in no file."""

    shown_changed = Signal()

    def __init__(self, document: Document, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self.hidden: frozenset[int] = frozenset()
        self.asked_for: frozenset[int] = frozenset()
        self.compared: int | None = None

    @property
    def all(self) -> tuple[KeptRun, ...]:
        """Every kept run, in the order they were kept."""
        return self._document.project.kept

    @property
    def shown(self) -> tuple[KeptRun, ...]:
        """Those shown beside the current one: the newest few on its mat that are not hidden, and those asked for."""
        found: list[KeptRun] = []
        mat, unasked = self._document.project.setup.mat, 0
        for kept in self._compared_and_newest_first():
            if kept.number in self.hidden or kept.setup.mat != mat:
                continue
            asked = kept.number in self.asked_for
            if (asked or unasked < UNASKED) and len(found) < MAX_SHOWN:
                found.append(kept)
                unasked += not asked
        return tuple(reversed(found))

    @property
    def reference(self) -> KeptRun | None:
        """The one that figures are compared with: that chosen for it, or the newest one shown."""
        return self.shown[-1] if self.shown else None

    def _compared_and_newest_first(self) -> Iterator[KeptRun]:
        yield from (kept for kept in self.all if kept.number == self.compared)
        yield from (kept for kept in reversed(self.all) if kept.number != self.compared)

    def keep(self, setup: Setup, figures: Figures) -> None:
        """Put a run by."""
        number = max((kept.number for kept in self.all), default=0) + 1
        self._put(f"keep run {number}", (*self.all, KeptRun(number, setup, figures)))

    def drop(self, number: int) -> None:
        """Drop a run; undo brings it back."""
        self._put(f"drop run {number}", tuple(kept for kept in self.all if kept.number != number))

    def take_back(self, number: int) -> None:
        """Make a run's settings the current ones."""
        for kept in self.all:
            if kept.number == number:
                project = self._document.project
                self._document.apply(f"settings of run {number}", replace(project, setup=kept.setup))

    def annotate(self, number: int, note: str | None = None, star: bool | None = None) -> None:
        """Write a note to a run, or star it."""
        kept = tuple(
            replace(run, note=run.note if note is None else note, star=run.star if star is None else star)
            if run.number == number
            else run
            for run in self.all
        )
        self._put(f"note on run {number}", kept)

    def add_real(self, number: int, real: RealRun) -> None:
        """Write down what the real robot did with a run's settings."""
        self._put_real(number, lambda run: (*run.real, real), f"real time of run {number}")

    def drop_real(self, number: int, place: int) -> None:
        """Strike one of a run's real times out; undo brings it back."""
        self._put_real(number, lambda run: run.real[:place] + run.real[place + 1 :], f"no real time of run {number}")

    def _put_real(self, number: int, made: Callable[[KeptRun], tuple[RealRun, ...]], label: str) -> None:
        self._put(label, tuple(replace(run, real=made(run)) if run.number == number else run for run in self.all))

    def show(self, number: int, shown: bool) -> None:
        """Show or hide a run on the mat and the strip."""
        self.hidden = self.hidden - {number} if shown else self.hidden | {number}
        self.asked_for = self.asked_for | {number} if shown else self.asked_for - {number}
        self.shown_changed.emit()

    def compare_with(self, number: int | None) -> None:
        """Compare figures with one run, which is then shown; with None with the newest again."""
        self.compared = number
        if number is not None:
            self.hidden = self.hidden - {number}
        self.shown_changed.emit()

    def forget(self) -> None:
        """Another project has been opened: nothing is hidden or compared with."""
        self.hidden, self.asked_for, self.compared = frozenset(), frozenset(), None

    def _put(self, label: str, kept: tuple[KeptRun, ...]) -> None:
        self._document.apply(label, replace(self._document.project, kept=kept))
