"""What the panels of all stops have in common: numbers of the setup joined to dials, and following the session."""

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar

from PySide6.QtCore import Signal
from PySide6.QtGui import QHideEvent, QImage, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from irontrail.app.adviser import Wants
from irontrail.app.column import Column
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.figure_editor import take_typed
from irontrail.app.widgets.mat_hand import MatHand
from irontrail.core.capital import capital
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import Quantity, quantity_at, value_at
from irontrail.core.setup import Setup
from irontrail.core.steering.pair import SENSORS, Which

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

WIDTH = 332


class Panel(Column):
    """The panel of one stop, or one sheet of it (without a title).

    It joins widgets, which know nothing of the project, to the session. `WANTS` names what it shows of advice.
    """

    WANTS: ClassVar[frozenset[Wants]] = frozenset()
    # A sheet that there is only for a robot with two sensors.
    FOR_TWO: ClassVar[bool] = False
    # What of it is printed when something is: the mat if nothing.
    PRINTS: ClassVar[str] = ""
    # What a sheet is for, in a sentence.
    SAYS: ClassVar[str] = ""
    # The panel goes: its project is closed, or another one is open, and whatever it works on ends.
    retired = Signal()

    def __init__(self, session: Session, theme: Theme, title: str = "") -> None:
        super().__init__(title)
        self.session = session
        self.theme = theme
        self.dials: dict[str, Dial] = {}
        # What the pointer can take hold of on the mat while this panel is in sight.
        self.hand: MatHand | None = None
        self._wanting = False
        self._sensor_row: QWidget | None = None
        self.sensors: dict[str, QPushButton] = {}
        session.closing.connect(self.retired)

    # --- joining

    def add_dial(self, path: str, low: float, high: float, label: str = "") -> Dial:
        """A dial for one number of the setup; low and high are what its track covers, in the stored unit."""
        dial = self.make_dial(path, low, high, label)
        dial.edited.connect(lambda value, settled: self._on_dial(path, value, settled))
        self.column.addWidget(dial)
        return dial

    def make_dial(self, path: str, low: float, high: float, label: str = "") -> Dial:
        """A dial that shows a number of the setup, and is not yet joined to it the other way."""
        dial = Dial(quantity_at(self.session.setup, path), self.theme, low, high, label)
        dial.setObjectName(path)
        self.dials[path] = dial
        return dial

    def add_sensor_choice(self, beside: QHBoxLayout | None = None) -> None:
        """Which of two sensors the panel is about; out of sight while there is but one."""
        self._sensor_row, row = self.add_row_apart(beside)
        self.sensors = self.add_choice(
            "Sensor",
            SENSORS,
            self._look_at,
            row,
            "Look at the {} of the two sensors, wherever there is one to be seen.",
        )
        self.session.looking.sensor_changed.connect(self._on_sensor_changed)

    @property
    def which(self) -> Which:
        """The sensor that the panel is about."""
        return self.session.looking.sensor if self.session.setup.second is not None else "first"

    @property
    def seen(self) -> Setup:
        """The setup with the sensor that the panel is about as its only one."""
        return self.session.setup.seen_by(self.which)

    def _look_at(self, name: str) -> None:
        self.session.looking.look_at("second" if name == "second" else "first")
        self._show_sensor_choice()

    def _on_sensor_changed(self) -> None:
        if self.isVisible():
            self.show_project()
            self.show_view()

    def _show_sensor_choice(self) -> None:
        if self._sensor_row is not None:
            self._sensor_row.setVisible(self.session.setup.second is not None)
            for name, button in self.sensors.items():
                button.setChecked(name == self.which)

    def add_act(self, text: str, tip: str, act: Callable[[], object], row: QHBoxLayout | None = None) -> QPushButton:
        """A small button that does something to what is chosen, after taking the figure being typed."""

        def press() -> None:
            self.take_typed()
            act()

        button = QPushButton(text)
        button.setProperty("small", "true")
        button.setToolTip(tip)
        # A sign is no name; words are, and the tip describes them.
        if text and not any(letter.isalpha() for letter in text):
            button.setAccessibleName(tip)
        button.clicked.connect(press)
        if row is not None:
            row.addWidget(button)
        return button

    def add_number(self, quantity: Quantity, low: float, high: float, told: Callable[[float, bool], None]) -> Dial:
        """A dial for a number that is not one of the project."""
        dial = Dial(quantity, self.theme, low, high)
        dial.setObjectName(quantity.label)
        dial.edited.connect(told)
        self.column.addWidget(dial)
        return dial

    @property
    def in_sight(self) -> "Panel":
        """What is seen of it: one of its sheets, if it has several."""
        return self

    def print_on(self, printer: "QPrinter") -> None:
        """Print what `PRINTS` names."""
        raise NotImplementedError

    def finish(self) -> None:
        """All is added: push it to the top. The present is shown when the panel is."""
        self.column.addStretch(1)
        self.session.project_changed.connect(self._on_project)
        self.session.view_changed.connect(self._on_view)
        self.session.adviser.changed.connect(self._on_advice)

    def showEvent(self, event: QShowEvent) -> None:
        """What changed while the panel was out of sight is shown now."""
        self.show_project()
        self.show_view()
        self.show_advice()
        if self.hand is not None:
            self.session.lent.lend(self.hand)
        self._want(True)
        super().showEvent(event)

    def hideEvent(self, event: QHideEvent) -> None:
        if self.hand is not None:
            self.session.lent.withdraw(self.hand)
        self._want(False)
        super().hideEvent(event)

    def _want(self, in_sight: bool) -> None:
        if in_sight != self._wanting:
            self._wanting = in_sight
            self.session.adviser.want(self.WANTS, in_sight)

    def take_typed(self) -> None:
        """Take the figure that is being typed: it is of what is chosen now, and not of what will be."""
        take_typed(self)

    # --- following

    def show_project(self) -> None:
        """Show the project as it stands; panels add to it."""
        reference = self.session.kept_runs.reference
        self._show_sensor_choice()
        for path, dial in self.dials.items():
            path = self._path(path)
            dial.set_value(value_at(self.session.setup, path))
            known = reference is not None and (reference.setup.second is not None or not path.startswith("second."))
            dial.set_kept(value_at(reference.setup, path) if reference is not None and known else None)

    def show_view(self) -> None:
        """Show the newest run; panels add to it."""

    def show_advice(self) -> None:
        """Show what is said of the newest run; panels that do, add to it."""

    def take_in(self, path: Path) -> None:
        """Take a file that was dropped or given; panels that can, do."""

    def take_image(self, image: QImage) -> None:
        """Take a picture that was dropped or pasted; panels that can, do."""

    def show_now(self, row: int) -> None:
        """Show the robot at a row of the trace; panels that do, add to it."""

    def _on_project(self, _old: object, _new: object) -> None:
        if self.isVisible():
            self.show_project()

    def _on_view(self) -> None:
        if self.isVisible():
            self.show_view()

    def _on_advice(self) -> None:
        if self.isVisible():
            self.show_advice()

    def _path(self, path: str) -> str:
        """Where the sensor that the panel is about has a number; panels that do not ask are about the first."""
        return self.session.setup.path_of(path, self.which) if self._sensor_row is not None else path

    def _on_dial(self, path: str, value: float, settled: bool) -> None:
        path = self._path(path)
        try:
            self.session.set_value(path, value, f"dial {path}")
        except IronTrailError as error:
            # Two numbers that cannot be together: those of before stay, and are shown again.
            self.show_project()
            if settled:
                self.session.notice(f"{capital(error.what)}. {error.remedy}".strip())
        if settled:
            self.session.settle()
