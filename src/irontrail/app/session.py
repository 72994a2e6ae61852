"""What the window's parts share: one open project, the run that follows from it, and how both are looked at."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, Signal

from irontrail import kernel_cache
from irontrail.app.adviser import Adviser
from irontrail.app.compiler import Compiler
from irontrail.app.kept_runs import KeptRuns
from irontrail.app.lent import Lent
from irontrail.app.looking import Looking
from irontrail.app.playback import Playback
from irontrail.app.run_keeper import RunKeeper
from irontrail.app.view import Request, RunView, compute
from irontrail.app.worker import NewestWins
from irontrail.core.document import Document
from irontrail.core.mat.tape import Mat
from irontrail.core.project import Project
from irontrail.core.quantity import put, quantity_at, value_at, with_value
from irontrail.core.setup import Pull, Setup
from irontrail.core.steering.registry import LawName


class Session(QObject):
    """One open project: its changes go in here, and the run that follows from them comes out.

    Beside it stand, each by itself, its kept runs (`kept_runs`), how it is looked at (`looking`), what is said of it
    (`adviser`), what panels lend to the mat (`lent`), the playhead (`playback`) and the compiler of the engine.
    """

    project_changed = Signal(object, object)
    view_changed = Signal()
    preparing_changed = Signal(bool)
    noticed = Signal(str)
    # Something to say, and what can be done about it: names of buttons and what each does.
    offered = Signal(str, object)
    path_changed = Signal()
    opened = Signal()
    closing = Signal()

    def __init__(self, project: Project, path: Path | None = None) -> None:
        super().__init__()
        self.document = Document(project)
        self.path = path
        self.view: RunView | None = None
        self.kept_runs = KeptRuns(self.document, self)
        self.looking = Looking(self)
        self.lent = Lent(self)
        self.playback = Playback(self)
        self.adviser = Adviser(self.could_not("What is said of this run"), self)
        self.compiler = Compiler(self)
        self._worker = NewestWins(compute, self._on_computed, self._not_computed)
        self._keeper = RunKeeper(self.document, self.kept_runs, self.notice)
        self._closed = False
        self._unsubscribe = self.document.subscribe(self._on_document)
        self.kept_runs.shown_changed.connect(self._request)
        self.looking.row_asked.connect(self.playback.pause)
        self.adviser.tried.connect(self.notice)
        self.compiler.ended.connect(self._on_prepared)
        if kernel_cache.is_filled():
            self._request()
        else:
            self.compiler.start()

    # --- reading

    @property
    def project(self) -> Project:
        return self.document.project

    @property
    def setup(self) -> Setup:
        return self.document.project.setup

    @property
    def preparing(self) -> bool:
        """The engine is being compiled, in another process."""
        return self.compiler.running

    @property
    def idle(self) -> bool:
        """The view is that of the current project, and what was to be kept is."""
        return not self.preparing and self._worker.idle and self._keeper.idle

    @property
    def computes_newest(self) -> bool:
        """What is being computed is the view of the current project, and not of one before it."""
        return not self._worker.idle and self._worker.wanted

    @property
    def to_keep(self) -> bool:
        """A run is to be kept that has not been driven yet."""
        return self._keeper.waits

    @property
    def advised(self) -> bool:
        """All that is said is said of the current project, as far as it is looked at."""
        return self.idle and self.adviser.idle

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
            before, setup = setup, put(setup, path, value)
            if setup != before:
                quantity = quantity_at(setup, path)
                labels.append(f"{quantity.label} {quantity.in_unit(value_at(setup, path))}")
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
        """Follow the other edge of the line; two sensors astride it follow none."""
        if self.setup.program.astride:
            self.notice("The two sensors ride astride the line: there is no edge to change.")
            return
        edge = "right" if self.setup.program.edge == "left" else "left"
        self.edit(f"{edge} edge", with_value(self.setup, "program.edge", edge))

    def turn_round(self) -> None:
        """Drive the route the other way."""
        self.edit("direction", with_value(self.setup, "trial.reverse", not self.setup.trial.reverse))

    def pull(self, pull: Pull | None) -> None:
        """A hand lifts the robot at a time and sets it down elsewhere; None puts it back on its way."""
        label = "pull the robot" if pull is not None else "put the robot back"
        self.edit(label, with_value(self.setup, "trial.pull", pull), "pull" if pull is not None else None)

    def keep(self) -> None:
        """Put the current run by for comparison, as soon as it has been driven."""
        setup = self.setup
        if self.view is not None and self.view.setup == setup:
            self.kept_runs.keep(setup, self.view.figures)
            return
        self._keeper.add(setup)
        if self.preparing:
            self.notice("The engine is still being made ready; this run is kept as soon as it is.")

    def keep_all(self, wait: bool = False) -> None:
        """Put by what is to be kept and has not been driven yet, before the project is saved or left.

        Before the first run the window would stand still until the engine is there: unless one `wait`s for that, it is
        kept once it is driven.
        """
        if self.view is not None or (wait and not self.preparing):
            self._keeper.keep_all()

    def try_mend(self, label: str, setup: Setup) -> None:
        """Try an advised change as one step of history, and say what it did; advice on an older setup is let be."""
        if self.adviser.try_mend(label, setup, self.setup):
            self.edit(label, setup)

    def open(self, project: Project, path: Path | None, saved: bool = True) -> None:
        """Start over with another project; `saved` tells whether it stands so in its file."""
        self.path = path
        self._keeper.forget()
        self.kept_runs.forget()
        self.looking.set_luck(None)
        self.document.replace(project, saved)
        self.playback.seek(0.0)
        self.path_changed.emit()
        self.opened.emit()

    def notice(self, text: str) -> None:
        """Say something to the person, in the window."""
        self.noticed.emit(text)

    def could_not(self, what: str) -> Callable[[object, Exception], None]:
        """What tells the person that something could not be worked out, and why."""
        return lambda _request, error: self.notice(f"{what} could not be worked out: {error}")

    def close(self) -> None:
        """Stop all that works in the background; closing again does nothing."""
        if self._closed:
            return
        self._closed = True
        self.closing.emit()
        self.playback.pause()
        self._unsubscribe()
        self._worker.close()
        self._keeper.close()
        self.adviser.close()
        self.compiler.close()

    # --- following

    def _on_document(self, old: Project, new: Project) -> None:
        if not self.preparing:
            self._keeper.go_on()
        if old.setup is not new.setup or old.kept is not new.kept:
            self._request()
        self.project_changed.emit(old, new)

    def _request(self) -> None:
        if not self.preparing:
            self._worker.request(Request(self.setup, self.kept_runs.shown))

    def _on_prepared(self) -> None:
        self.preparing_changed.emit(False)
        self._request()
        self._keeper.go_on()

    def _not_computed(self, request: Request, error: Exception) -> None:
        self._keeper.drop(request.setup)
        self.notice(f"This run could not be computed: {error}")

    def _on_computed(self, _request: Request, view: RunView) -> None:
        first = self.view is None
        self.view = view
        self._keeper.drove(view.setup, view.figures)
        self.playback.set_duration(float(view.run.trace.time_s[-1]))
        self.view_changed.emit()
        self.adviser.show(view)
        if first:
            self.playback.play()
