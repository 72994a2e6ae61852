"""What the window's parts share: the document, the run that follows from it, and what is being looked at."""

import sys
from collections.abc import Callable, Iterator, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QProcess, QProcessEnvironment, QTimer, Signal

from irontrail import kernel_cache
from irontrail.app.advice import Advice, AdviceRequest, Tried, advise
from irontrail.app.long_work import LongWork
from irontrail.app.playback import Playback
from irontrail.app.view import Request, RunView, compute
from irontrail.app.widgets.mat_ground import Underlay
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.app.worker import NewestWins
from irontrail.core.advice.luck import Luck
from irontrail.core.document import Document
from irontrail.core.mat.tape import Mat
from irontrail.core.project import KeptRun, Project, Pull, Setup
from irontrail.core.quantity import quantity_at, value_at, with_value
from irontrail.core.steering.registry import LawName

STOPS = ("Mat", "Robot", "Light", "Steer", "Run", "Compare", "Tune", "Pit")
# A run is advised on when it has been in sight for so long.
ADVICE_AFTER_MS = 60
MAX_SHOWN = 3


class Session(QObject):
    """One open project and the way it is looked at. Selection, zoom and playhead are here, not in the file."""

    project_changed = Signal(object, object)
    view_changed = Signal()
    stop_changed = Signal(str)
    advice_changed = Signal()
    luck_changed = Signal()
    row_asked = Signal(int)
    hand_lent = Signal(object)
    underlay_changed = Signal()
    preparing_changed = Signal(bool)
    noticed = Signal(str)
    path_changed = Signal()
    closing = Signal()

    def __init__(self, project: Project, path: Path | None = None) -> None:
        super().__init__()
        self.document = Document(project)
        self.path = path
        self.view: RunView | None = None
        self.advice: Advice | None = None
        self.stop = "Steer"
        self.sheets: dict[str, str] = {}
        self.let_go_mm = 10.0
        self.by_place = True
        self.hidden: frozenset[int] = frozenset()
        self.compared: int | None = None
        self.playback = Playback(self)
        self._worker = NewestWins(compute, self._on_computed, self._not_computed)
        self._adviser = NewestWins(advise, self._on_advised, self.could_not("What is said of this run"))
        self._advice_due = QTimer(self)
        self._advice_due.setSingleShot(True)
        self._advice_due.setInterval(ADVICE_AFTER_MS)
        self._advice_due.timeout.connect(self._advise)
        self._tried: Tried | None = None
        self.long_work = LongWork(self)
        self.luck: Luck | None = None
        self._hand: MatHand | None = None
        # A picture of the mat to lay tape over, and the mat's name it is shown with.
        self.underlay: Underlay | None = None
        self._unsubscribe = self.document.subscribe(self._on_document)
        self._compiler: QProcess | None = None
        self._closed = False
        if kernel_cache.is_filled():
            self._request()
        else:
            self._prepare()

    # --- reading

    @property
    def project(self) -> Project:
        return self.document.project

    @property
    def setup(self) -> Setup:
        return self.document.project.setup

    @property
    def shown(self) -> tuple[KeptRun, ...]:
        """The kept runs shown beside the current one: the newest few on the same mat that are not hidden."""
        mat, newest = self.setup.mat, []
        for kept in self._newest_or_compared_first():
            if kept.number not in self.hidden and kept.setup.mat == mat:
                newest.append(kept)
                if len(newest) == MAX_SHOWN:
                    break
        return tuple(reversed(newest))

    def _newest_or_compared_first(self) -> Iterator[KeptRun]:
        """All kept runs, that which figures are to be compared with before the newest."""
        yield from (kept for kept in self.project.kept if kept.number == self.compared)
        yield from (kept for kept in reversed(self.project.kept) if kept.number != self.compared)

    @property
    def reference(self) -> KeptRun | None:
        """The kept run that figures are compared with: the one chosen for it, or the newest one shown."""
        return self.shown[-1] if self.shown else None

    @property
    def preparing(self) -> bool:
        """The engine is being compiled, in another process."""
        return self._compiler is not None

    @property
    def idle(self) -> bool:
        """The view is that of the current project."""
        return not self.preparing and self._worker.idle

    @property
    def advised(self) -> bool:
        """All that is said is said of the current project, as far as it is looked at."""
        return self.idle and self._adviser.idle and not self._advice_due.isActive()

    # --- changing

    def edit(self, label: str, setup: Setup, merge_key: str | None = None) -> None:
        """Make a setup the current one, as a step of history."""
        self.document.apply(label, replace(self.project, setup=setup), merge_key)

    def set_value(self, path: str, value: Any, merge_key: str | None = None) -> None:
        """Change one number of the setup, held inside its range."""
        self.set_values({path: value}, merge_key)

    def set_values(self, values: Mapping[str, float], merge_key: str | None = None) -> None:
        """Change some numbers of the setup as one step, each held inside its range."""
        setup, labels = self.setup, []
        for path, value in values.items():
            quantity = quantity_at(setup, path)
            clamped = quantity.clamped(value)
            if clamped != value_at(setup, path):
                setup = with_value(setup, path, clamped)
                labels.append(f"{quantity.label} {quantity.shown(clamped)} {quantity.unit}".strip())
        if labels:
            self.edit(", ".join(labels), setup, merge_key)

    def settle(self) -> None:
        """The pointer has let go: the next change is a step of its own."""
        self.document.settle()

    def choose_law(self, law: LawName) -> None:
        """Steer by another law; every law keeps its own settings."""
        self.edit(f"{law} steering", with_value(self.setup, "program.law", law))

    def choose_mat(self, mat: Mat) -> None:
        """Put another mat on the table."""
        self.edit(f"mat {mat.name}", replace(self.setup, mat=mat))

    def swap_edge(self) -> None:
        """Follow the other edge of the line."""
        edge = "right" if self.setup.program.edge == "left" else "left"
        self.edit(f"{edge} edge", with_value(self.setup, "program.edge", edge))

    def turn_round(self) -> None:
        """Drive the route the other way."""
        self.edit("direction", with_value(self.setup, "trial.reverse", not self.setup.trial.reverse))

    def keep(self) -> None:
        """Put the current run by for comparison."""
        if self.view is None or self.view.setup != self.setup:
            return
        number = max((kept.number for kept in self.project.kept), default=0) + 1
        kept = KeptRun(number, self.setup, self.view.figures)
        self.document.apply(f"keep run {number}", replace(self.project, kept=(*self.project.kept, kept)))

    def drop(self, number: int) -> None:
        """Drop a kept run; undo brings it back."""
        kept = tuple(kept for kept in self.project.kept if kept.number != number)
        self.document.apply(f"drop run {number}", replace(self.project, kept=kept))

    def try_mend(self, label: str, setup: Setup) -> None:
        """Try an advised change as one step of history, and say what it did; advice on an older setup is let be."""
        current = self.advice is not None and self.advice.request.setup == self.setup
        if self.view is not None and current:
            self._tried = Tried(label, setup, self.view.figures)
            self.edit(label, setup)

    def pull(self, pull: Pull | None) -> None:
        """A hand lifts the robot at a time and sets it down elsewhere; None puts it back on its way."""
        label = "pull the robot" if pull is not None else "put the robot back"
        self.edit(label, with_value(self.setup, "trial.pull", pull), "pull" if pull is not None else None)

    def take_back(self, number: int) -> None:
        """Make a kept run's settings the current ones."""
        for kept in self.project.kept:
            if kept.number == number:
                self.edit(f"settings of run {number}", kept.setup)

    def show_kept(self, number: int, shown: bool) -> None:
        """Show or hide a kept run on the mat and the strip."""
        self.hidden = self.hidden - {number} if shown else self.hidden | {number}
        self._request()

    def compare_with(self, number: int | None) -> None:
        """Compare figures with one kept run, which is then shown; with None with the newest again."""
        self.compared = number
        if number is not None:
            self.hidden = self.hidden - {number}
        self._request()

    def open(self, project: Project, path: Path | None) -> None:
        """Start over with another project."""
        self.path = path
        self.hidden, self.compared = frozenset(), None
        self.document.replace(project)
        self.playback.seek(0.0)
        self.path_changed.emit()

    def go_to(self, stop: str) -> None:
        """Visit a stop of the work line."""
        self.stop = stop
        self.stop_changed.emit(stop)
        self.ask_advice()

    def look_at_sheet(self, stop: str, sheet: str) -> None:
        """Look at one sheet of a stop."""
        self.sheets[stop] = sheet
        self.ask_advice()

    def ask_advice(self) -> None:
        """Have said of the run in sight what is looked at, once it has stood for a moment.

        What is said is worked out beside the painting and slows it: while a dial moves on, it waits.
        """
        if self.view is not None and not self._closed:
            self._advice_due.start()

    def _advise(self) -> None:
        if self.view is None or self._closed:
            return
        kept = self.view.kept[-1].kept.setup if self.view.kept else None
        self._adviser.request(AdviceRequest(self.view.setup, kept, self._looked_at(), self.let_go_mm))

    def _looked_at(self) -> str:
        return self.sheets.get(self.stop, "")

    def set_luck(self, luck: Luck | None) -> None:
        """Show the trails of many shaken runs, or take them off."""
        self.luck = luck
        self.luck_changed.emit()

    def show_row(self, row: int) -> None:
        """Go to a row of the trace and show it everywhere."""
        self.playback.pause()
        self.row_asked.emit(row)

    def lay_under(self, underlay: Underlay | None) -> None:
        """Show a picture under the tape of a mat, to lay tape over; None takes it away."""
        self.underlay = underlay
        self.underlay_changed.emit()

    def lend_hand(self, hand: MatHand | None) -> None:
        """Let the pointer take hold of other things on the mat; None for nothing but the robot."""
        self._hand = hand
        self.hand_lent.emit(hand)

    def withdraw_hand(self, hand: MatHand) -> None:
        """A hand is lent no more, unless another one has already taken its place."""
        if self._hand is hand:
            self.lend_hand(None)

    def annotate(self, number: int, note: str | None = None, star: bool | None = None) -> None:
        """Write a note to a kept run, or star it."""
        kept = tuple(
            replace(run, note=run.note if note is None else note, star=run.star if star is None else star)
            if run.number == number
            else run
            for run in self.project.kept
        )
        self.document.apply(f"note on run {number}", replace(self.project, kept=kept))

    def notice(self, text: str) -> None:
        """Say something to the person, in the window."""
        self.noticed.emit(text)

    def close(self) -> None:
        """Stop all that works in the background; closing again does nothing."""
        if self._closed:
            return
        self._closed = True
        self.closing.emit()
        self.playback.pause()
        self._unsubscribe()
        self._advice_due.stop()
        self._worker.close()
        self._adviser.close()
        self.long_work.close()
        if self._compiler is not None:
            self._compiler.finished.disconnect()
            self._compiler.kill()
            self._compiler.waitForFinished(2000)
            self._compiler = None

    # --- following

    def _on_document(self, old: Project, new: Project) -> None:
        if old.setup is not new.setup or old.kept is not new.kept:
            self._request()
        self.project_changed.emit(old, new)

    def _request(self) -> None:
        if not self.preparing:
            self._worker.request(Request(self.setup, self.shown))

    def could_not(self, what: str) -> Callable[[object, Exception], None]:
        """What tells the person that something could not be worked out, and why."""
        return lambda _request, error: self.notice(f"{what} could not be worked out: {error}")

    def _not_computed(self, _request: Request, error: Exception) -> None:
        self.notice(f"This run could not be computed: {error}")

    def _on_computed(self, _request: Request, view: RunView) -> None:
        first = self.view is None
        self.view = view
        self.playback.set_duration(float(view.run.trace.time_s[-1]))
        self.view_changed.emit()
        if self._tried is not None and self._tried.setup == view.setup:
            self.notice(self._tried.outcome(view.figures))
            self._tried = None
        self.ask_advice()
        if first:
            self.playback.play()

    def _on_advised(self, _request: AdviceRequest, advice: Advice) -> None:
        self.advice = advice
        self.advice_changed.emit()

    def _prepare(self) -> None:
        """Fill the cache of compiled kernels from another process; the window stays alive meanwhile."""
        self._compiler = QProcess(self)
        self._compiler.setProcessEnvironment(QProcessEnvironment.systemEnvironment())
        self._compiler.finished.connect(self._on_prepared)
        self._compiler.errorOccurred.connect(self._on_prepared)
        self._compiler.start(sys.executable, ["-m", "irontrail", "warm"])

    def _on_prepared(self) -> None:
        if self._compiler is None:
            return
        self._compiler = None
        self.preparing_changed.emit(False)
        self._request()
