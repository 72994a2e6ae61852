"""Where this program keeps what is neither a project nor a setting: in the user's own folders, as the desktop says."""

import os
from pathlib import Path

import platformdirs

NAME = "irontrail"


def data() -> Path:
    """The folder of what the person keeps here: the team's mats."""
    return platformdirs.user_data_path(NAME)


def state() -> Path:
    """The folder of what outlives a session: the log, and work that was not saved."""
    return platformdirs.user_state_path(NAME)


def socket() -> Path:
    """Where a running window is spoken to."""
    folder = os.environ.get("XDG_RUNTIME_DIR", "")
    return (Path(folder) if folder.startswith("/") else state()) / f"{NAME}.socket"
