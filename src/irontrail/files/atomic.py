"""Writing a file so that it is either the new one, whole, or still the old one."""

import os
import tempfile
from pathlib import Path

from irontrail.core.errors import IronTrailError


def write_text(path: Path, text: str) -> None:
    """Write text (UTF-8) to a file, replacing it in one step; see `write_bytes`."""
    write_bytes(path, text.encode("utf-8"))


def write_bytes(path: Path, content: bytes) -> None:
    """Write a file, replacing it in one step.

    Raises
    ------
    IronTrailError
        If it cannot be written; what stood there before is left as it was.
    """
    temporary: str | None = None
    try:
        target = path.resolve()
        if path.exists() and not path.is_file() and not path.is_dir():
            # A terminal or another program reads it: there is nothing to replace.
            path.write_bytes(content)
            return
        handle, temporary = tempfile.mkstemp(dir=target.parent, prefix=f".{target.name}.")
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).chmod(_mode(target))
        os.replace(temporary, target)  # noqa: PTH105  (the one call that is known to be atomic)
        temporary = None
    except OSError as error:
        raise IronTrailError(
            f"cannot be written ({error.strerror or error})",
            str(path),
            "Choose another folder, or free some space; what stood there is unchanged.",
        ) from error
    finally:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)


def _mode(target: Path) -> int:
    """The permissions of the file to be replaced, or those a new file gets."""
    if target.exists():
        return target.stat().st_mode & 0o777
    mask = os.umask(0)
    os.umask(mask)
    return 0o666 & ~mask
