"""A stop whose panel has several sheets, one in sight."""

from collections.abc import Mapping

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme, dress
from irontrail.app.widgets.choice import one_of

Makers = Mapping[str, type[Panel]]


class SheetedPanel(Panel):
    """The title with the names of the sheets beside it; each sheet is a panel, made when it is first looked at."""

    def __init__(self, session: Session, theme: Theme, title: str, makers: Makers) -> None:
        super().__init__(session, theme)
        self.title = title
        self._makers = makers
        self._sheets: dict[str, Panel] = {}
        self.column.setContentsMargins(16, 10, 16, 6)
        self._head = QWidget()
        row = QHBoxLayout(self._head)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(2)
        row.addWidget(self._label(title, "title"))
        row.addStretch(1)
        self.names: dict[str, QPushButton] = {}
        for name in makers:
            button = QPushButton(name)
            button.setCheckable(True)
            button.setProperty("sheet", "true")
            button.setCursor(Qt.CursorShape.PointingHandCursor)
            button.setAccessibleName(f"{title}: {name}")
            button.setToolTip(f"{makers[name].SAYS} (Ctrl+PgDown turns on)")
            button.clicked.connect(lambda _checked=False, name=name: self.turn_to(name))
            row.addWidget(button)
            self.names[name] = button
        one_of(self, self.names.values())
        self.column.addWidget(self._head)
        self.finish()
        # A sheet has a stretch of its own, and takes all the height there is.
        self.column.setStretch(self.column.count() - 1, 0)
        self._show_names()
        first = session.looking.sheets.get(title, "")
        self.turn_to(first if first in self.there else self.usual)

    def dress(self) -> None:
        """Wear the theme that is worn, as far as it is in sight: each sheet does by itself, with all that is in it."""
        dress(self._head)
        dress(self.in_sight)

    def showEvent(self, event: QShowEvent) -> None:
        self.dress()
        super().showEvent(event)

    @property
    def there(self) -> list[str]:
        """The sheets that there are for this robot."""
        two = self.session.setup.second is not None
        return [name for name, maker in self._makers.items() if two or not maker.FOR_TWO]

    @property
    def usual(self) -> str:
        """The sheet to begin with."""
        return next(name for name, maker in self._makers.items() if not maker.FOR_TWO)

    def show_project(self) -> None:
        super().show_project()
        # Nothing is there yet while the panel is made.
        if self._sheets:
            self._show_names()
            if self.current not in self.there:
                self.turn_to(self.usual)

    def _show_names(self) -> None:
        there = self.there
        for name, button in self.names.items():
            button.setVisible(name in there)

    @property
    def current(self) -> str:
        """The name of the sheet in sight."""
        return next(name for name, button in self.names.items() if button.isChecked())

    @property
    def in_sight(self) -> Panel:
        return self._sheets[self.current]

    def sheet(self, name: str) -> Panel:
        """A sheet, made if it has not been looked at yet."""
        if name not in self._sheets:
            made = self._makers[name](self.session, self.theme)
            made.hide()
            self.retired.connect(made.retired)
            self.column.insertWidget(self.column.count() - 1, made, 1)
            self._sheets[name] = made
        return self._sheets[name]

    def turn_to(self, name: str) -> None:
        """Bring a sheet into sight; one that this robot has no use for gives way to the usual one."""
        name = name if name in self.there else self.usual
        self.session.looking.sheets[self.title] = name
        for other, button in self.names.items():
            button.setChecked(other == name)
        shown = self.sheet(name)
        dress(shown)
        for sheet in self._sheets.values():
            sheet.setVisible(sheet is shown)

    def turn_on(self, by: int = 1) -> None:
        """Bring a sheet further on into sight; the one before with -1."""
        names = self.there
        self.turn_to(names[(names.index(self.current) + by) % len(names)])

    def show_now(self, row: int) -> None:
        self.in_sight.show_now(row)
