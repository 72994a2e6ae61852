"""What a file held when it was last read or written here, to see whether another program has changed it since."""

import hashlib
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from irontrail.core.errors import IronTrailError
from irontrail.files.reading import read_bytes

# A larger file is none of ours.
MOST_BYTES = 256 * 1024 * 1024
# When it was changed (ns), how long it is, and which file it is on its disk.
Stamp = tuple[int, int, int]


@dataclass
class OnDisk:
    """A file as it is known here; it is only read again where its stamp is another one."""

    path: Path
    stamp: Stamp | None
    digest: bytes

    @classmethod
    def of(cls, path: Path) -> "OnDisk":
        """A file as it stands now, or as none, if there is none."""
        return cls(path, _stamp(path), _digest(path))

    @classmethod
    def at(cls, path: Path, when: datetime) -> "OnDisk":
        """A file as it stood at a time: if it has been written since, it counts as changed."""
        known = cls.of(path)
        written_since = known.stamp is not None and known.stamp[0] > when.timestamp() * 1e9
        return cls(path, None, b"") if written_since else known

    def changed(self) -> bool:
        """Whether it holds something else than it did; a file that is gone holds nothing that could be lost."""
        stamp = _stamp(self.path)
        if stamp is None or stamp == self.stamp:
            return False
        if _digest(self.path) != self.digest:
            return True
        self.stamp = stamp
        return False


def _stamp(path: Path) -> Stamp | None:
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_mtime_ns, found.st_size, found.st_ino


def _digest(path: Path) -> bytes:
    try:
        return hashlib.sha256(read_bytes(path, MOST_BYTES, "a file of ours")).digest()
    except IronTrailError:
        return b""
