"""Starts the application."""

import os
import sys
from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtGui import QFontDatabase, QGuiApplication, QIcon
from PySide6.QtWidgets import QApplication

from irontrail.app import accessible, theme
from irontrail.app.garbage import Garbage
from irontrail.app.preloading import Preloading
from irontrail.app.running import Running
from irontrail.app.session import Session
from irontrail.app.signals import SystemSignals
from irontrail.app.trouble import Trouble, keep_log
from irontrail.app.window import Window
from irontrail.core.project import Project
from irontrail.core.turns import go_first

# How long a thread goes on that the interface thread waits for: it waits at nearly all that it draws.
SWITCH_S = 0.0001
# The letters of desktops as they come are of 9 to 10 points; the window's sizes are made for those.
USUAL_POINTS, MOST_SCALED = 10.0, 2.0
ICON = Path(__file__).parent.parent / "desktop" / "irontrail.svg"


def text_scale(points: float) -> float:
    """By how much everything is larger where the desktop's letters are of so many points; never smaller."""
    return min(max(points / USUAL_POINTS, 1.0), MOST_SCALED)


def _follow_text_size() -> None:
    """Have Qt scale the window as the desktop's letters are: it must know before the application is made."""
    probe = QGuiApplication(["irontrail"])
    scale = text_scale(QFontDatabase.systemFont(QFontDatabase.SystemFont.GeneralFont).pointSizeF())
    probe.shutdown()
    if scale > 1.0:
        os.environ["QT_SCALE_FACTOR"] = f"{scale * float(os.environ.get('QT_SCALE_FACTOR') or 1.0):.3f}"


def application() -> QApplication:
    """The one application object, with the bundled typeface."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        if os.environ.get("QT_QPA_PLATFORM") != "offscreen":
            _follow_text_size()
        # To share out among threads what takes a tenth of a millisecond to draw takes longer than to draw it.
        os.environ.setdefault("QT_NO_GUI_THREADPOOL", "1")
        # Its windows are of the class that the desktop entry names.
        app = QApplication(["irontrail"])
        go_first()
        app.setApplicationName("irontrail")
        app.setApplicationDisplayName("Iron Trail")
        app.setDesktopFileName("irontrail")
        theme.load_fonts()
        app.setStyle("Fusion")
        app.setFont(theme.font(12))
        accessible.install()
        Garbage(app)
        app.setWindowIcon(QIcon(str(ICON)))
    return app


def user_settings() -> QSettings:
    """What the person likes, kept between sessions: theme, recent files."""
    return QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "irontrail", "irontrail")


def last_project() -> Path | None:
    """The file that was open when the window was last closed, if it is still there."""
    last = str(user_settings().value("last", ""))
    return Path(last) if last and Path(last).is_file() else None


def run(project: Project, path: Path | None, given: Path | None = None) -> int:
    """Open the window on a project and stay until it is closed; returns the exit code.

    `given` is a picture or a drawing of a mat to be taken in at once.
    """
    keep_log()
    sys.setswitchinterval(SWITCH_S)
    app = application()
    session = Session(project, path)
    window = Window(session, user_settings())
    Preloading(window).follow(session)
    trouble = Trouble(window.keeping.in_words)
    trouble.watch()
    signals = SystemSignals()

    def leave(number: int) -> None:
        window.leave_now()
        app.exit(128 + number)

    signals.caught.connect(leave)
    running = Running()
    running.asked.connect(window.take_in)
    window.show()
    if given is not None:
        window.take_in(given)
    window.left_behind.offer()
    code = app.exec()
    session.close()
    running.close()
    signals.close()
    return code
