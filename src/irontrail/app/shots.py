"""The README's screenshots, made from the demo without a screen."""

import os
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QDeadlineTimer, QEventLoop, QSettings
from PySide6.QtWidgets import QApplication

from irontrail.app.main import application
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.errors import IronTrailError
from irontrail.core.project import demo_project
from irontrail.core.steering.program import LawName

SIZE = (1280, 800)
# Where the robot is shown: in the harbour, coming out of its second bend.
MOMENT_S = 12.6


@dataclass(frozen=True)
class Shot:
    """One picture: its file's name, the demo and theme, and what is done before it is taken."""

    name: str
    act: Callable[[Session, Window], None]
    demo: str = "lighthouse"
    theme: str = "light"


def _settle(session: Session) -> None:
    """Let the window catch up with the session."""
    deadline = QDeadlineTimer(60_000)
    while not session.idle and not deadline.hasExpired():
        QApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 50)
    for _ in range(3):
        QCoreApplication.processEvents()


def _keep_on_off(session: Session) -> None:
    """Keep an on-off run to compare with, then steer in proportion."""
    session.choose_law("on-off")
    _settle(session)
    session.keep()
    session.choose_law("proportional")
    _settle(session)


def _steer(session: Session, _window: Window) -> None:
    _keep_on_off(session)


def _law(law: LawName) -> Callable[[Session, Window], None]:
    return lambda session, _window: session.choose_law(law)


def _pid(session: Session, _window: Window) -> None:
    _keep_on_off(session)
    session.choose_law("PID")
    session.set_value("program.speed", 60.0)


def _run(session: Session, _window: Window) -> None:
    _keep_on_off(session)
    session.go_to("Run")


def _too_fast(session: Session, _window: Window) -> None:
    session.set_value("program.speed", 68.0)


def _stop(name: str) -> Callable[[Session, Window], None]:
    return lambda session, _window: session.go_to(name)


SHOTS = (
    Shot("steer-proportional", _steer),
    Shot("steer-proportional-dark", _steer, theme="dark"),
    Shot("steer-on-off", _law("on-off")),
    Shot("steer-bands", _law("bands")),
    Shot("steer-mixed", _law("mixed")),
    Shot("steer-pid", _pid),
    Shot("steer-too-fast", _too_fast),
    Shot("run", _run),
    Shot("mat-quarry", _stop("Mat"), demo="quarry"),
    Shot("robot", _stop("Robot")),
    Shot("light", _stop("Light")),
    Shot("tune-to-come", _stop("Tune")),
)


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
    session = Session(demo_project(shot.demo))
    window = Window(session, settings)
    window.resize(*SIZE)
    window.wear(shot.theme)
    window.show()
    _settle(session)
    session.playback.pause()
    shot.act(session, window)
    _settle(session)
    session.playback.seek(MOMENT_S)
    _settle(session)
    path = folder / f"{shot.name}.png"
    picture = window.grab()
    session.document.mark_saved(session.project)
    window.close()
    QCoreApplication.sendPostedEvents(None, 52)
    if not picture.save(str(path)):
        raise IronTrailError("cannot be written", str(path), "Choose another folder.")
    return path
