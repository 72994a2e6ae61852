"""`irontrail install` and `irontrail uninstall`: the program among the desktop's applications, for this user."""

import argparse
import os
import shutil
import subprocess
import sys
from pathlib import Path

from irontrail.core.errors import IronTrailError
from irontrail.files import atomic

SOURCES = Path(__file__).parent.parent / "desktop"
# Where each file goes, under the user's folder of data.
PLACES = {
    "irontrail.desktop": "applications/irontrail.desktop",
    "irontrail.xml": "mime/packages/irontrail.xml",
    "irontrail.svg": "icons/hicolor/scalable/apps/irontrail.svg",
    "irontrail.1": "man/man1/irontrail.1",
}
# What tells the desktop of changed files; where a tool is missing, the desktop finds them by itself, later.
TOLD = (
    ("update-mime-database", "mime"),
    ("update-desktop-database", "applications"),
    ("gtk-update-icon-cache", "icons/hicolor"),
)


def add_to(commands: "argparse._SubParsersAction[argparse.ArgumentParser]") -> None:
    """Add both commands to the parser."""
    parser = commands.add_parser("install", help="put it among the desktop's applications, for this user")
    parser.set_defaults(act=lambda _options: install())
    parser = commands.add_parser("uninstall", help="undo that")
    parser.set_defaults(act=lambda _options: uninstall())


def _data_home() -> Path:
    named = os.environ.get("XDG_DATA_HOME", "")
    return Path(named) if named.startswith("/") else Path.home() / ".local" / "share"


def _command_file() -> Path:
    return Path.home() / ".local" / "bin" / "irontrail"


def command() -> tuple[str, ...]:
    """What starts this very program: the checkout's own script, or Python with the package."""
    start = Path(__file__).parents[3] / "start"
    if start.is_file() and os.access(start, os.X_OK):
        return (str(start),)
    return sys.executable, "-m", "irontrail"


def install() -> int:
    """Write desktop entry, icon, file type, man page and a command."""
    home, entry = _data_home(), " ".join(_quoted(part) for part in command())
    shell = " ".join("'" + part.replace("'", "'\\''") + "'" for part in command())
    for name, place in PLACES.items():
        text = (SOURCES / name).read_text(encoding="utf-8").replace("@COMMAND@", entry)
        _write(home / place, text)
    own = _command_file()
    if own.exists() and not _is_ours(own):
        raise IronTrailError("there is another program of this name", str(own), "Take it away first, or rename it.")
    _write(own, f'#!/bin/sh\n# Made by Iron Trail\'s install; its uninstall takes it away.\nexec {shell} "$@"\n')
    own.chmod(0o755)
    _tell(home)
    print(f"Iron Trail is among your applications, and opens .irontrail files. The command is {own}")
    if str(own.parent) not in os.environ.get("PATH", "").split(os.pathsep):
        print(f"{own.parent} is not in your PATH: sign in anew, or add it there.")
    return 0


def uninstall() -> int:
    """Take away what `install` wrote; projects and mats stay."""
    home = _data_home()
    found = [home / place for place in PLACES.values()]
    if _is_ours(_command_file()):
        found.append(_command_file())
    for path in found:
        try:
            path.unlink(missing_ok=True)
        except OSError as error:
            raise IronTrailError(
                f"cannot be taken away ({error.strerror or error})", str(path), "Take it away by hand."
            ) from error
    _tell(home)
    print("Iron Trail is no longer among your applications. Your projects and mats are where they were.")
    return 0


def _is_ours(path: Path) -> bool:
    try:
        return "Made by Iron Trail's install" in path.read_text(encoding="utf-8")
    except (OSError, UnicodeDecodeError):
        return False


def _write(path: Path, text: str) -> None:
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise IronTrailError(
            f"cannot be made ({error.strerror or error})", str(path.parent), "Allow writing there, then try again."
        ) from error
    atomic.write_text(path, text)


def _tell(home: Path) -> None:
    for tool, folder in TOLD:
        if shutil.which(tool) and (home / folder).is_dir():
            subprocess.run([tool, str(home / folder)], check=False, capture_output=True)


def _quoted(part: str) -> str:
    """An argument as a desktop entry's Exec has it: quoted for the command, and then as a string of the file."""
    inner = "".join(f"\\{letter}" if letter in '"`$\\' else letter for letter in part)
    return '"' + inner.replace("\\", "\\\\").replace("%", "%%") + '"'
