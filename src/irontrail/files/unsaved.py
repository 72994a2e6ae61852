"""Work that has not been saved, put by in the user's state folder so that it survives whatever ends the program.

Each open project has one file there, beside none of the person's own, and a lock that ends with its process, however
that ends: a file whose lock nobody holds has been left behind.
"""

import fcntl
import json
import os
import secrets
import threading
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from irontrail.core.errors import IronTrailError
from irontrail.core.project import Project
from irontrail.files import atomic, places, project_file

SUFFIX = ".unsaved"


def folder() -> Path:
    """Where unsaved work is put by."""
    return places.state() / "unsaved"


@dataclass(frozen=True)
class Unsaved:
    """Work that was put by: the project, the file it belongs to (None if it has none yet), and when."""

    place: Path
    project: Project
    path: Path | None
    when: datetime


class Place:
    """Where one open project is put by; nobody else takes it while this process lives."""

    def __init__(self) -> None:
        self.file = folder() / f"{os.getpid()}-{secrets.token_hex(4)}{SUFFIX}"
        self._lock: int | None = None
        # It is put by from a thread, and at once by the interface when time is short.
        self._one = threading.Lock()

    def put(self, project: Project, path: Path | None) -> None:
        """Put a project by, in one step; IronTrailError if it cannot be written."""
        content = {
            "path": str(path.absolute()) if path is not None else None,
            "when": datetime.now(UTC).isoformat(),
            "project": project_file.to_text(project),
        }
        with self._one:
            if self._lock is None:
                self._lock = self._hold()
            atomic.write_text(self.file, json.dumps(content, ensure_ascii=False))

    def _hold(self) -> int:
        try:
            self.file.parent.mkdir(parents=True, exist_ok=True)
            lock = os.open(_lock_of(self.file), os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise IronTrailError(
                f"cannot be made ({error.strerror or error})", str(self.file), "Save your work to a file of your own."
            ) from error
        return lock

    def clear(self) -> None:
        """The work is safe elsewhere, or given up: nothing of it stays."""
        with self._one:
            if self._lock is not None:
                _drop(self.file)
                os.close(self._lock)
                self._lock = None

    def leave(self) -> None:
        """Let go of the work and leave it behind, for the next start to find."""
        with self._one:
            if self._lock is not None:
                os.close(self._lock)
                self._lock = None


def left_behind() -> tuple[Unsaved, ...]:
    """All work that was left behind and can be read, the newest first; what cannot be read is let be."""
    found = []
    for file in folder().glob(f"*{SUFFIX}"):
        if _is_held(file):
            continue
        try:
            found.append(_read(file))
        except (OSError, ValueError, KeyError, TypeError, IronTrailError):
            continue
    return tuple(sorted(found, key=lambda each: each.when, reverse=True))


def forget(work: Unsaved) -> None:
    """Take work that was left behind away for good."""
    _drop(work.place)


def _read(file: Path) -> Unsaved:
    content = json.loads(file.read_text(encoding="utf-8"))
    path = content["path"]
    return Unsaved(
        file,
        project_file.from_text(content["project"], str(file)),
        Path(path) if path is not None else None,
        datetime.fromisoformat(content["when"]),
    )


def _lock_of(file: Path) -> Path:
    return file.with_suffix(".lock")


def _is_held(file: Path) -> bool:
    """Whether the process that put a file by still lives."""
    try:
        handle = os.open(_lock_of(file), os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def _drop(file: Path) -> None:
    file.unlink(missing_ok=True)
    _lock_of(file).unlink(missing_ok=True)
