"""The panels of the stops, of which one is in sight; each is made when it is first asked for."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QScrollArea, QStackedWidget

from irontrail.app import panel
from irontrail.app.looking import STOPS
from irontrail.app.session import Session
from irontrail.app.sheets import SheetedPanel
from irontrail.app.stops import make_panel
from irontrail.app.theme import Theme, dress


class PanelStack(QStackedWidget):
    """A scrolled area for each stop, and in it the stop's panel of the project that is open."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session, self._theme = session, theme
        self._panels: dict[str, SheetedPanel] = {}
        self.areas: dict[str, QScrollArea] = {}
        self.setFixedWidth(panel.WIDTH)
        for stop in STOPS:
            area = QScrollArea()
            area.setWidgetResizable(True)
            area.setFrameShape(QScrollArea.Shape.NoFrame)
            area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
            area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.addWidget(area)
            self.areas[stop] = area

    def panel(self, stop: str) -> SheetedPanel:
        """The panel of a stop, made if there is none yet."""
        if stop not in self._panels:
            self._panels[stop] = make_panel(stop, self._session, self._theme)
            self.areas[stop].setWidget(self._panels[stop])
        return self._panels[stop]

    def go_to(self, stop: str) -> None:
        """Bring a stop's panel to sight."""
        self.panel(stop)
        dress(self.areas[stop].verticalScrollBar())
        self.setCurrentIndex(STOPS.index(stop))

    def wear(self) -> None:
        """Take on the theme that is worn now; what is out of sight does when it is shown."""
        for stop, shown in self._panels.items():
            if shown.isVisible():
                dress(self.areas[stop].verticalScrollBar())
                shown.dress()

    def forget(self) -> None:
        """Another project is open: what the panels held of the one before goes with them."""
        for stop, gone in self._panels.items():
            gone.retired.emit()
            self.areas[stop].takeWidget()
            gone.hide()
            gone.deleteLater()
        self._panels.clear()
