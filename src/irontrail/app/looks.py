"""How a window looks, from one start to the next: its theme, its size, the stop and sheets it was left at."""

from pathlib import Path

from PySide6.QtCore import QByteArray, QSettings, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication, QMainWindow

from irontrail.app import theme
from irontrail.app.looking import STOPS, Looking

SYSTEM = "system"
THEMES = {SYSTEM: None, "light": theme.LIGHT, "dark": theme.DARK}


class Looks:
    """The theme that is worn, under its name; the rest is taken up from the settings, and remembered there."""

    def __init__(self, settings: QSettings) -> None:
        self._settings = settings
        stored = str(settings.value("theme", SYSTEM))
        self.name = stored if stored in THEMES else SYSTEM
        self.theme = theme.worn(_made(self.name))

    def wear(self, name: str) -> None:
        """Take the colours of a theme; "system" is light or dark as the desktop is."""
        self.name = name
        self.theme.wear(_made(name))
        self._settings.setValue("theme", name)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            theme.apply(app, self.theme)

    def take_up(self, window: QMainWindow, looking: Looking) -> None:
        """Look as it did when it was last closed."""
        settings = self._settings
        geometry = settings.value("geometry")
        if isinstance(geometry, QByteArray):
            window.restoreGeometry(geometry)
        stop, sheets = settings.value("stop"), settings.value("sheets")
        if stop in STOPS:
            looking.stop = str(stop)
        if isinstance(sheets, dict):
            looking.sheets |= {str(name): str(sheet) for name, sheet in sheets.items()}

    def remember(self, window: QMainWindow, looking: Looking, path: Path | None) -> None:
        """Keep how it looks, and which file was open, for the next start."""
        settings = self._settings
        settings.setValue("geometry", window.saveGeometry())
        settings.setValue("stop", looking.stop)
        settings.setValue("sheets", looking.sheets)
        settings.setValue("last", str(path.absolute()) if path is not None else "")


def _made(name: str) -> theme.Theme:
    """The colours of a theme by its name."""
    made = THEMES[name]
    if made is None:
        dark = QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark
        return theme.DARK if dark else theme.LIGHT
    return made
