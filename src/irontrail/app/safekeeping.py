"""Puts unsaved work by while it is done, so that no crash, kill or power cut takes more than its last seconds."""

import logging
from pathlib import Path

from PySide6.QtCore import QObject, QTimer

from irontrail.app.session import Session
from irontrail.app.worker import NewestWins
from irontrail.core.errors import IronTrailError
from irontrail.core.project import Project
from irontrail.files import unsaved

log = logging.getLogger(__name__)

# Work is put by so long after the first change that is not.
AFTER_MS = 2000
# A project to put by and its file, or no project: then nothing is to stay put by.
_Asked = tuple[Project | None, Path | None]


class Safekeeping(QObject):
    """Follows a session: what is not saved is put by, what is saved is put by no longer."""

    def __init__(self, session: Session, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._place = unsaved.Place()
        self._put: Project | None = None
        self._worker = NewestWins(self._write, self._on_written, self._not_written)
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.setInterval(AFTER_MS)
        self._due.timeout.connect(self._ask)
        session.project_changed.connect(self._follow)
        session.path_changed.connect(self._follow)

    def take(self, work: unsaved.Unsaved) -> None:
        """Go on with work that was left behind; it is let go of there once it has been put by here."""
        self._session.open(work.project, work.path, saved=False)
        if self.now():
            unsaved.forget(work)

    def now(self) -> bool:
        """Put what is not saved by at once; whether there is nothing to fear for."""
        self._due.stop()
        session = self._session
        if session.document.is_saved:
            return True
        try:
            self._place.put(session.project, session.path)
        except IronTrailError as error:
            log.error("unsaved work could not be put by: %s", error)
            return False
        self._put = session.project
        return True

    def in_words(self) -> str:
        """What of the work is safe, in a sentence."""
        if self._session.document.is_saved:
            return "Everything you did is saved."
        if self.now():
            return "What you have not saved has been put by; if Iron Trail ends, it is offered when it next starts."
        return "What you have not saved could not be put by: save it now (Ctrl+S)."

    def close(self, leave_behind: bool) -> None:
        """The window closes: the work is saved or given up, or left behind for the next start."""
        self._due.stop()
        self._worker.close()
        if leave_behind:
            self._place.leave()
        else:
            self._place.clear()

    def _follow(self, *_changed: object) -> None:
        if self._session.document.is_saved:
            self._due.stop()
            self._put = None
            self._worker.request((None, None))
        elif not self._due.isActive():
            self._due.start()

    def _ask(self) -> None:
        session = self._session
        if session.project is not self._put:
            self._worker.request((session.project, session.path))

    def _write(self, asked: _Asked) -> None:
        """In a thread of its own: a large project takes a moment to write."""
        project, path = asked
        if project is None:
            self._place.clear()
        else:
            self._place.put(project, path)

    def _on_written(self, asked: _Asked, _nothing: None) -> None:
        self._put = asked[0]

    def _not_written(self, _asked: _Asked, error: Exception) -> None:
        self._session.notice(f"Unsaved work could not be put by, in case Iron Trail ends: {error}")
