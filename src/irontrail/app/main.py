"""Starts the application."""

import logging
import signal
import sys
from pathlib import Path

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtWidgets import QApplication

from irontrail.app import theme
from irontrail.app.session import Session
from irontrail.app.window import Window
from irontrail.core.project import Project

# How often Python gets to look at signals while Qt waits.
SIGNAL_MS = 400
SWITCH_S = 0.001


def application() -> QApplication:
    """The one application object, with the bundled typeface."""
    app = QApplication.instance()
    if not isinstance(app, QApplication):
        app = QApplication(sys.argv[:1])
        app.setApplicationName("irontrail")
        app.setApplicationDisplayName("Iron Trail")
        app.setDesktopFileName("irontrail")
        theme.load_fonts()
    return app


def user_settings() -> QSettings:
    """What the person likes, kept between sessions: theme, recent files."""
    return QSettings(QSettings.Format.IniFormat, QSettings.Scope.UserScope, "irontrail", "irontrail")


def run(project: Project, path: Path | None) -> int:
    """Open the window on a project and stay until it is closed; returns the exit code."""
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    # The worker's short bits of Python should not wait long for the interface thread, nor the other way.
    sys.setswitchinterval(SWITCH_S)
    app = application()
    signal.signal(signal.SIGINT, lambda *_: app.quit())
    beat = QTimer()
    beat.timeout.connect(lambda: None)
    beat.start(SIGNAL_MS)
    session = Session(project, path)
    window = Window(session, user_settings())
    window.show()
    code = app.exec()
    session.close()
    return code
