"""A file read with care: an ordinary one, no larger than its kind can be, and JSON that says each thing once."""

import json
import os
import stat
from pathlib import Path
from typing import Any

from irontrail.core.errors import IronTrailError
from irontrail.core.plain import plain_name

ANOTHER = "Choose another file."


def read_bytes(path: Path, most_bytes: int, what: str) -> bytes:
    """What a file holds.

    Parameters
    ----------
    most_bytes : int
        A larger file is not what it is taken for.
    what : str
        What it should be, as in "a project file".

    Raises
    ------
    IronTrailError
        If it is no ordinary file (a pipe or a device could be waited for in vain), is too large, or cannot be read.
    """
    try:
        # Not waiting for whoever writes into a pipe.
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            found = os.fstat(handle)
            if not stat.S_ISREG(found.st_mode):
                kind = "a folder" if stat.S_ISDIR(found.st_mode) else "a pipe or a device"
                raise IronTrailError(f"{kind}, not {what}", str(path), ANOTHER)
            if found.st_size > most_bytes:
                raise IronTrailError(f"too large for {what} ({found.st_size:,} bytes)", str(path), ANOTHER)
            with os.fdopen(os.dup(handle), "rb") as file:
                content = file.read(most_bytes + 1)
        finally:
            os.close(handle)
    except (OSError, ValueError) as error:
        # Of a name with a null character there is no file.
        reason = getattr(error, "strerror", None) or error
        raise IronTrailError(f"cannot be read ({reason})", str(path), ANOTHER) from error
    return content[:most_bytes]


def text_of(content: bytes, where: str, what: str) -> str:
    """The text in a file: UTF-8, with or without a byte order mark.

    Raises
    ------
    IronTrailError
        If it is none.
    """
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise IronTrailError(f"not {what} (not text)", where, ANOTHER) from error


def json_of(text: str, where: str, what: str) -> Any:
    """What a JSON text holds.

    Raises
    ------
    IronTrailError
        If it is none, or says a thing twice: of which of the two would count, nobody could be sure.
    """
    try:
        return json.loads(text, object_pairs_hook=_once)
    except _TwiceError as error:
        raise IronTrailError(
            f"it says '{error.name}' twice in one place", where, "Take one of the two out with a text editor."
        ) from error
    except (ValueError, RecursionError) as error:
        reason = "it is too deep" if isinstance(error, RecursionError) else plain_name(str(error))
        raise IronTrailError(f"not {what} ({reason})", where, "Open a file that Iron Trail has saved.") from error


class _TwiceError(Exception):
    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = plain_name(name if len(name) <= 40 else name[:40] + "…")


def _once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    made = dict(pairs)
    if len(made) < len(pairs):
        seen: set[str] = set()
        for name, _ in pairs:
            if name in seen:
                raise _TwiceError(name)
            seen.add(name)
    return made
