"""Opening and saving from the window: asks, reads, writes, and says what went wrong."""

from functools import partial
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtWidgets import QFileDialog, QMenu, QMessageBox, QWidget

from irontrail.app.session import Session
from irontrail.core.errors import IronTrailError
from irontrail.core.project import demo_project
from irontrail.files import project_file, trace_csv

FILTER = f"Iron Trail projects (*{project_file.SUFFIX})"
MAX_RECENT = 8


class FilesDesk:
    """The file actions of one window."""

    def __init__(self, window: QWidget, session: Session, settings: QSettings) -> None:
        self._window = window
        self._session = session
        self._settings = settings

    # --- opening

    def open_demo(self, name: str) -> None:
        """Open a demo, once what is open is safe."""
        if self.leave():
            self._session.open(demo_project(name), None)

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a project", self._folder(), FILTER)
        if name:
            self.open(Path(name))

    def open(self, path: Path) -> None:
        """Open a file; one that cannot be read is told, and what is open stays open."""
        try:
            project = project_file.read(path)
        except IronTrailError as error:
            self._session.notice(str(error))
            return
        if self.leave():
            self._session.open(project, path)
            self.remember(path)

    def fill_recent(self, menu: QMenu) -> None:
        """List the files opened or saved last."""
        menu.clear()
        for path in self._recent():
            menu.addAction(Path(path).name, partial(self.open, Path(path))).setToolTip(path)
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
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the project", str(start), FILTER)
        if not name:
            return False
        path = Path(name)
        return self.save_to(
            path if path.suffix == project_file.SUFFIX else path.with_name(path.name + project_file.SUFFIX)
        )

    def save_to(self, path: Path) -> bool:
        """Save to a file; one that cannot be written is told, and nothing is lost."""
        project = self._session.project
        try:
            project_file.write(path, project)
        except IronTrailError as error:
            self._session.notice(str(error))
            return False
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
        start = str(Path(self._folder()) / "trace.csv")
        name, _ = QFileDialog.getSaveFileName(self._window, "Export the trace", start, "CSV (*.csv)")
        if name:
            try:
                trace_csv.write(Path(name), view.run.trace)
                self._session.notice(f"The trace is in {name}: {len(view.run.trace)} rows.")
            except IronTrailError as error:
                self._session.notice(str(error))

    def leave(self) -> bool:
        """Whether what is open may be left: it is saved, or the person says so."""
        if self._session.document.is_saved:
            return True
        box = QMessageBox(self._window)
        box.setWindowTitle("Iron Trail")
        box.setText(f"Save the changes to “{self._session.setup.title}”?")
        choices = QMessageBox.StandardButton
        box.setStandardButtons(choices.Save | choices.Discard | choices.Cancel)
        answer = box.exec()
        box.deleteLater()
        if answer == choices.Save:
            return self.save()
        return bool(answer == choices.Discard)

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
