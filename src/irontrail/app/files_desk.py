"""Opening and saving from the window: asks, reads, writes, and says what went wrong."""

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings, Qt
from PySide6.QtWidgets import QFileDialog, QLineEdit, QMenu, QMessageBox, QWidget

from irontrail.app import print_mat
from irontrail.app.asked_path import asked_path, what_of
from irontrail.app.preloading import when_it_can_be_read
from irontrail.app.session import Session
from irontrail.app.theme import dress
from irontrail.app.widgets.figure_editor import take_typed
from irontrail.app.widgets.label import plain_tip
from irontrail.app.worker import EachInTurn
from irontrail.core.counted import counted
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError
from irontrail.core.project import blank_project
from irontrail.core.result import Run
from irontrail.files import project_file, trace_csv
from irontrail.files.on_disk import OnDisk
from irontrail.files.unsaved import Unsaved

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

FILTER = f"Iron Trail projects (*{project_file.SUFFIX})"
MAX_RECENT = 8
CHANGED = "has been changed by another program or window since it was opened here."


class FilesDesk:
    """The file actions of one window."""

    def __init__(self, window: QWidget, session: Session, settings: QSettings) -> None:
        self._window = window
        self._session = session
        self._settings = settings
        # The project's file as it was last read or written here.
        self._known = OnDisk.of(session.path) if session.path else None
        self._told: object = None
        self._exporter = EachInTurn(_write_trace, self._on_written, self._not_written)
        session.closing.connect(self._exporter.close)

    # --- opening

    def open_demo(self, name: str) -> None:
        """Open a demo, once what is open is safe."""
        if self.leave():
            self._known = None
            self._session.open(demo_project(name), None)

    def new(self) -> None:
        """Begin a project of one's own: a plain line to lay tape on, and the usual robot."""
        if self.leave():
            self._known = None
            self._session.open(blank_project(), None)

    def revert(self) -> None:
        """Go back to what stands in the file, as one step; undo brings the changes back."""
        session = self._session
        if session.path is None:
            session.notice(
                "There is no file to go back to: this project has not been saved yet. Undo takes steps back."
            )
            return
        known = OnDisk.of(session.path)
        try:
            project = project_file.read(session.path)
        except IronTrailError as error:
            session.notice(str(error))
            return
        self.gather()
        self._known = known
        session.document.apply(f"back to {session.path.name}", project)
        session.document.mark_saved(session.project)
        session.path_changed.emit()

    def take_up(self, work: Unsaved) -> None:
        """What is open is work that was left behind: its file is known as it stood when the work was put by."""
        self._known = OnDisk.at(work.path, work.when) if work.path is not None else None

    def look_at_disk(self) -> None:
        """Tell, once, if another program has changed the project's file."""
        known, session = self._known, self._session
        if known is not None and known.path == session.path and known.changed():
            now = OnDisk.of(known.path).digest
            if now != self._told:
                self._told = now
                session.offered.emit(
                    f"{known.path.name} {CHANGED}",
                    {"Take what it holds now": self.revert},
                )

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a project", self._folder(), FILTER)
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Open a file; one that cannot be read is told, and what is open stays open."""
        when_it_can_be_read(self._window, lambda: self._open(path))

    def _open(self, path: Path) -> None:
        known = OnDisk.of(path)
        try:
            project = project_file.read(path)
        except IronTrailError as error:
            self._session.notice(str(error))
            return
        if self.leave():
            self._known = known
            self._session.open(project, path)
            self.remember(path)

    def fill_recent(self, menu: QMenu) -> None:
        """List the files opened or saved last."""
        menu.clear()
        for path in self._recent():
            shown = Path(path).name.replace("&", "&&")
            menu.addAction(shown, partial(self.open, Path(path))).setToolTip(plain_tip(path))
        if menu.isEmpty():
            menu.addAction("none yet").setEnabled(False)

    # --- saving

    def save(self) -> bool:
        """Save to the project's file, asking for one if it has none; whether it has been saved."""
        return self.save_to(self._session.path) if self._session.path else self.ask_save_as()

    def ask_save_as(self) -> bool:
        """Ask where, and save there."""
        start = self._session.path or Path(self._folder()) / (
            self._session.project.setup.mat.name + project_file.SUFFIX
        )
        path = asked_path(self._window, "Save the project", start, {project_file.SUFFIX: "Iron Trail projects"})
        if path is None:
            return False
        return self.save_to(path, asked=True)

    def save_to(self, path: Path, asked: bool = False) -> bool:
        """Save to a file; one that cannot be written is told, and nothing is lost.

        `asked` tells that the person has just said that what is there may be replaced.
        """
        self.gather()
        project = self._session.project
        known = self._known
        if not asked and known is not None and known.path == path and known.changed():
            answer = what_of(self._window, path, f"{path.name} {CHANGED}")
            if answer != "over":
                return answer == "elsewhere" and self.ask_save_as()
        try:
            project_file.write(path, project)
        except IronTrailError as error:
            self._session.notice(str(error))
            return False
        self._known = OnDisk.of(path)
        self._session.path = path
        self._session.document.mark_saved(project)
        self.remember(path)
        self._session.path_changed.emit()
        return True

    def ask_trace(self) -> None:
        """Ask where, and write the run's trace there."""
        view = self._session.view
        if view is None:
            return
        start = Path(self._folder()) / "trace.csv"
        path = asked_path(self._window, "Export the trace", start, {".csv": "CSV"})
        if path is not None:
            # Of the longest runs it takes seconds.
            self._exporter.request((path, view.run))

    def _on_written(self, asked: tuple[Path, Run], _given: None) -> None:
        path, run = asked
        self._session.notice(f"The trace is in {path}: {len(run.trace)} rows.")

    def _not_written(self, _asked: tuple[Path, Run], error: Exception) -> None:
        self._session.notice(str(error))

    def gather(self) -> None:
        """Take what is being typed as if its field had been left, and keep the runs that are to be kept."""
        take_typed(self._window)
        field = self._window.focusWidget()
        if isinstance(field, QLineEdit) and field.isModified():
            field.editingFinished.emit()
        self._session.keep_all()

    def print_mat(self, printer: "QPrinter") -> None:
        """Print the mat at true scale, in tiles to tape together; what cannot be printed is told."""
        try:
            made = print_mat.print_on(printer, self._session.setup.mat, ground=False)
        except IronTrailError as error:
            self._session.notice(str(error))
            return
        self._session.notice(f"The mat is on {counted(len(made.tiles), 'sheet')}: measure the check bar.")

    def leave(self) -> bool:
        """Whether what is open may be left: it is saved, or the person says so."""
        self.gather()
        choices = QMessageBox.StandardButton
        if self._session.to_keep:
            lost = "A run is to be kept and waits for the engine. Leave without it?"
            if self._answer(lost, choices.Discard | choices.Cancel) != choices.Discard:
                return False
        # It may have been driven while that was asked.
        if self._session.document.is_saved:
            return True
        changes = f"Save the changes to “{self._session.setup.title}”?"
        answer = self._answer(changes, choices.Save | choices.Discard | choices.Cancel)
        if answer == choices.Save:
            return self.save()
        return bool(answer == choices.Discard)

    def _answer(self, text: str, choices: QMessageBox.StandardButton) -> int:
        """What the person answers to a question."""
        box = QMessageBox(self._window)
        box.setWindowTitle("Iron Trail")
        box.setTextFormat(Qt.TextFormat.PlainText)
        box.setText(text)
        box.setStandardButtons(choices)
        dress(box)
        answer = box.exec()
        box.deleteLater()
        return answer

    # --- remembering

    def remember(self, path: Path) -> None:
        """Put a file first among the recent ones."""
        text = str(path.resolve())
        self._settings.setValue("recent", [text, *(p for p in self._recent() if p != text)][:MAX_RECENT])

    def _recent(self) -> list[str]:
        stored = self._settings.value("recent", [])
        paths = [stored] if isinstance(stored, str) else stored if isinstance(stored, list) else []
        return [path for path in paths if isinstance(path, str) and Path(path).exists()]

    def _folder(self) -> str:
        recent = self._recent()
        return str(Path(recent[0]).parent) if recent else str(Path.home())


def _write_trace(asked: tuple[Path, Run]) -> None:
    path, run = asked
    trace_csv.write(path, run.trace, run.sensors)
