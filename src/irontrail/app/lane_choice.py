"""Which lanes the strip shows: those usual for the program, until a person chooses others."""

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QMenu, QWidget

from irontrail.app.session import Session
from irontrail.app.widgets.strip_picture import LANES, MOST_LANES, PAIR_LANES, TERM_LANES, USUAL_LANES
from irontrail.app.widgets.tool_button import ToolButton
from irontrail.core.capital import capital


class LaneChoice(ToolButton):
    """The button in the strip's corner that asks for them; says `changed()`."""

    changed = Signal()

    def __init__(self, session: Session, strip: QWidget) -> None:
        super().__init__("Lanes", strip)
        self._session = session
        self._chosen: tuple[str, ...] | None = None
        self.setToolTip("Choose what the strip shows")
        self.clicked.connect(self._ask)

    @property
    def names(self) -> tuple[str, ...]:
        """The lanes that are shown, from the top."""
        if self._chosen is not None:
            return self._chosen
        program = self._session.setup.program
        if program.chosen.terms:
            return TERM_LANES
        return USUAL_LANES if program.arrangement == "one" else PAIR_LANES

    def choose(self, names: tuple[str, ...]) -> None:
        """Show other lanes, in their usual order; at least one."""
        chosen = tuple(name for name in LANES if name in names)[:MOST_LANES]
        if chosen and chosen != self.names:
            self._chosen = chosen
            self.changed.emit()

    def show_lane(self, name: str, shown: bool) -> None:
        """Show a lane, or leave it out."""
        self.choose((*self.names, name) if shown else tuple(other for other in self.names if other != name))

    def fill(self, menu: QMenu) -> None:
        """List all lanes, those that are shown ticked; one more than there is room for cannot be."""
        menu.clear()
        for name in LANES:
            action = menu.addAction(capital(name))
            action.setCheckable(True)
            action.setChecked(name in self.names)
            action.setEnabled(name in self.names or len(self.names) < MOST_LANES)
            action.triggered.connect(lambda on, name=name: self.show_lane(name, on))

    def _ask(self) -> None:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.fill(menu)
        menu.popup(self.mapToGlobal(self.rect().topRight()))
