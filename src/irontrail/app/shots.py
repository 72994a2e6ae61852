"""The README's screenshots, made from the demo without a screen."""

import os
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QSettings

from irontrail.app.main import application
from irontrail.app.session import Session
from irontrail.app.shot_scenes import MOMENT_S, SHOTS, Shot, settle
from irontrail.app.window import Window
from irontrail.core.demos import demo_project
from irontrail.core.errors import IronTrailError

SIZE = (1280, 800)


def make(folder: Path) -> list[Path]:
    """Make every screenshot in a folder; IronTrailError if one cannot be written."""
    if "DISPLAY" not in os.environ:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    application()
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise IronTrailError(f"cannot be made ({error.strerror})", str(folder)) from error
    return [_take(shot, folder) for shot in SHOTS]


def _take(shot: Shot, folder: Path) -> Path:
    settings = QSettings(str(folder / ".no-such-settings"), QSettings.Format.InvalidFormat)
    # Every picture begins as a first start does.
    settings.clear()
    session = Session(demo_project(shot.demo))
    window = Window(session, settings)
    window.resize(*SIZE)
    window.wear(shot.theme)
    window.show()
    settle(session)
    session.playback.pause()
    shot.act(session, window)
    settle(session)
    session.playback.seek(MOMENT_S)
    settle(session)
    path = folder / f"{shot.name}.png"
    picture = window.grab()
    session.document.mark_saved(session.project)
    window.close()
    QCoreApplication.sendPostedEvents(None, 52)
    if not picture.save(str(path)):
        raise IronTrailError("cannot be written", str(path), "Choose another folder.")
    return path
