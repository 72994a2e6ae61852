"""Writing a file so that it is either the new one, whole, or still the old one."""

import os
import stat
import tempfile
import time
from contextlib import suppress
from pathlib import Path

from irontrail.core.errors import IronTrailError

# What is being written has such a name beside the file; one so old has been left by a program that was ended.
BEGINS, ENDS = ".irontrail-", ".saving"
LEFT_AFTER_S = 3600.0


def write_text(path: Path, text: str) -> None:
    """Write text (UTF-8) to a file, replacing it in one step; see `write_bytes`."""
    write_bytes(path, text.encode("utf-8"))


def write_bytes(path: Path, content: bytes) -> None:
    """Write a file, replacing it in one step; what others say of it (owner, permissions, attributes) stays.

    A file with other names (hard links) is written in its place, so that it stays one file. A pipe or a terminal gets
    what is written.

    Raises
    ------
    IronTrailError
        If it cannot be written; what stood there before is left as it was.
    """
    temporary: Path | None = None
    try:
        # What a terminal's or a pipe's name leads to is none itself.
        if path.exists() and not path.is_file() and not path.is_dir():
            _pour(path, content)
            return
        target = path.resolve()
        if target.is_file():
            _refuse_read_only(target, path)
        temporary = _written_beside(target, content)
        if target.is_file() and target.stat().st_nlink > 1:
            # Its copy stays beside it until it is whole.
            _write_in_place(target, content)
            temporary.unlink()
        else:
            _take_over(target, temporary)
            os.replace(temporary, target)  # noqa: PTH105  (the one call that is known to be atomic)
        temporary = None
        _sweep(target.parent)
    except (OSError, ValueError, RuntimeError) as error:
        # Links that lead round in a circle, and names with a null character, are no OSErrors.
        reason = getattr(error, "strerror", None) or error
        raise IronTrailError(
            f"cannot be written ({reason})",
            str(path),
            "Choose another folder, or free some space; what stood there is unchanged.",
        ) from error
    finally:
        if temporary is not None:
            with suppress(OSError):
                temporary.unlink(missing_ok=True)


def _written_beside(target: Path, content: bytes) -> Path:
    handle, name = tempfile.mkstemp(dir=target.parent, prefix=BEGINS, suffix=ENDS)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
    except OSError:
        Path(name).unlink(missing_ok=True)
        raise
    return Path(name)


def _refuse_read_only(target: Path, path: Path) -> None:
    """Where nobody may write, nobody replaces either, though the folder would let them."""
    nobody = not target.stat().st_mode & (stat.S_IWUSR | stat.S_IWGRP | stat.S_IWOTH)
    if nobody or not os.access(target, os.W_OK):
        raise IronTrailError(
            "it may only be read", str(path), "Save under another name, or allow writing to it; it is unchanged."
        )


def _take_over(target: Path, temporary: Path) -> None:
    """Permissions, owner and extended attributes of the file to be replaced, as far as the system lets one."""
    if not target.exists():
        mask = os.umask(0)
        os.umask(mask)
        temporary.chmod(0o666 & ~mask)
        return
    found = target.stat()
    with suppress(OSError):
        os.chown(temporary, found.st_uid, found.st_gid)
    temporary.chmod(stat.S_IMODE(found.st_mode))
    with suppress(OSError):
        for name in os.listxattr(target):
            with suppress(OSError):
                os.setxattr(temporary, name, os.getxattr(target, name))


def _write_in_place(target: Path, content: bytes) -> None:
    before = target.read_bytes()
    try:
        _overwrite(target, content)
    except OSError:
        # Half of each would be neither.
        _overwrite(target, before)
        raise


def _overwrite(target: Path, content: bytes) -> None:
    with target.open("r+b") as file:
        if len(content) > target.stat().st_size:
            # Room for all of it, before the first byte is another one.
            os.posix_fallocate(file.fileno(), 0, len(content))
        file.write(content)
        file.truncate()
        file.flush()
        os.fsync(file.fileno())


def _pour(path: Path, content: bytes) -> None:
    """Write to a terminal, or into a pipe that somebody reads: there is nothing to replace."""
    if path.is_block_device():
        raise IronTrailError("a disk, not a file", str(path), "Choose another name.")
    # Without a reader it says so, rather than wait for one.
    handle = os.open(path, os.O_WRONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    os.set_blocking(handle, True)
    with os.fdopen(handle, "wb") as file:
        file.write(content)


def _sweep(folder: Path) -> None:
    """Take away what programs of ours that were ended long ago had begun to write here."""
    limit = time.time() - LEFT_AFTER_S
    with suppress(OSError):
        for left in folder.glob(f"{BEGINS}*{ENDS}"):
            with suppress(OSError):
                if left.stat().st_mtime < limit:
                    left.unlink()
