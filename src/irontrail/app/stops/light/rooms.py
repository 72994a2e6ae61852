"""Practice room and event hall: two lightings side by side, and what the present settings would do in each."""

from dataclasses import replace

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from irontrail.app.panel import Panel
from irontrail.app.preloading import when_loaded
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.label import Label
from irontrail.app.worker import NewestWins
from irontrail.core.advice.rooms import (
    RoomView,
    in_brief,
    look_at_rooms,
    readings_here,
    setup_in,
    take_readings,
    verdict,
)
from irontrail.core.errors import IronTrailError
from irontrail.core.light.reading import calibrated
from irontrail.core.light.rooms import Room, as_found
from irontrail.core.light.sensor import Calibration
from irontrail.core.project import Project
from irontrail.core.quantity import put, quantities
from irontrail.core.setup import Setup
from irontrail.core.steering.pair import Which

WHICH = ("practice", "event")
# Where a room has the numbers of a second sensor.
SECOND = {"height_mm": "second_height_mm", "shield": "second_shield"}
TRACKS = {"room_light": (0.0, 1.0), "height_mm": (2.0, 25.0), "shield": (0.0, 1.0)}
# What is told of each room, down the table.
ROWS = ("dark, raw", "bright, raw", "best, raw", "best, of 100", "as set now", "calibrated")


class RoomsSheet(Panel):
    """A column for each room, and a new target and gain from two readings taken at the event."""

    SAYS = "The practice room and the event's, side by side."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.looker = NewestWins(lambda asked: look_at_rooms(*asked), self._on_looked, self._not_told)
        self.retired.connect(self.looker.close)
        self.room_dials: dict[tuple[str, str], Dial] = {}
        self.work_here: dict[str, QPushButton] = {}
        self.as_now: dict[str, QPushButton] = {}
        self.add_sensor_choice()
        columns = QHBoxLayout()
        columns.setSpacing(14)
        for which in WHICH:
            columns.addLayout(self._room_column(which))
        self.column.addLayout(columns)
        self.add_rule()
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        grid.setHorizontalSpacing(12)
        self.cells: dict[tuple[str, str], QLabel] = {}
        for column, which in enumerate(WHICH, 1):
            grid.addWidget(self._label(getattr(session.project, which).name, "heading"), 0, column)
        for row, name in enumerate(ROWS, 1):
            grid.addWidget(self._label(name, "quiet"), row, 0)
            for column, which in enumerate(WHICH, 1):
                cell = Label("–")
                grid.addWidget(cell, row, column)
                self.cells[name, which] = cell
        grid.setColumnStretch(1, 1)
        grid.setColumnStretch(2, 1)
        self.column.addLayout(grid)
        self.says = self.add_words()
        self._lay_out_readings()
        self.finish()

    def _room_column(self, which: str) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(3)
        room: Room = getattr(self.session.project, which)
        column.addWidget(self._label(room.name, "heading"))
        for name, track in TRACKS.items():
            dial = Dial(
                quantities(Room)[name],
                self.theme,
                *track,
                label=name.partition("_")[0] if name != "room_light" else "light",
            )
            dial.setObjectName(f"{which}.{name}")
            dial.edited.connect(lambda value, settled, name=name: self._change(which, name, value, settled))
            column.addWidget(dial)
            self.room_dials[which, name] = dial
        row = QHBoxLayout()
        for words, tip, buttons, act in (
            ("Go there", f"Set light, height and shield as in the {room.name}", self.work_here, self._go_there),
            ("As now", f"The {room.name} is as light, height and shield are set now", self.as_now, self._take_now),
        ):
            button = QPushButton(words)
            button.setProperty("small", "true")
            button.setToolTip(tip)
            button.setAccessibleName(f"{words}: {room.name}")
            button.clicked.connect(lambda _checked=False, act=act: act(which))
            row.addWidget(button)
            buttons[which] = button
        column.addLayout(row)
        return column

    def _lay_out_readings(self) -> None:
        self.add_rule()
        self.add_heading("Two readings taken at the event, raw")
        ranges = quantities(Calibration)
        self.dark = Dial(ranges["dark"], self.theme, 0.0, 100.0, "on the line")
        self.bright = Dial(ranges["bright"], self.theme, 0.0, 100.0, "on the mat")
        setup = self.session.setup
        inverted = not setup.light.calibrate and setup.light.sensor.reads_high_on == "dark"
        for dial, value in ((self.dark, 90.0 if inverted else 10.0), (self.bright, 30.0 if inverted else 70.0)):
            dial.set_value(value)
            dial.edited.connect(lambda _value, _settled: self._show_readings())
            self.column.addWidget(dial)
        self.readings_say = self.add_words()
        self.take = QPushButton("Take these")
        self.take.setToolTip("Change calibration, or target and gains, as said")
        self.take.clicked.connect(self.take_readings)
        self.column.addWidget(self.take)

    # --- acting

    def _put(self, label: str, which: str, room: Room, key: str | None = None) -> None:
        project = replace(self.session.project, **{which: room})  # type: ignore[arg-type]
        self.session.document.apply(label, project, key)

    def _name(self, name: str) -> str:
        """The field of a room that has a number of the sensor looked at."""
        return SECOND.get(name, name) if self.which == "second" else name

    def _change(self, which: str, name: str, value: float, settled: bool) -> None:
        room: Room = getattr(self.session.project, which)
        name = self._name(name)
        self._put(f"{room.name}: {name}", which, put(room, name, value), f"{which} {name}")
        if settled:
            self.session.settle()

    def _go_there(self, which: str) -> None:
        room: Room = getattr(self.session.project, which)
        self.session.edit(f"in the {room.name}", setup_in(self.session.setup, room))

    def _take_now(self, which: str) -> None:
        room: Room = getattr(self.session.project, which)
        setup = self.session.setup
        self._put(f"{room.name} as now", which, as_found(room, setup.light, setup.robot, setup.second))

    def take_readings(self) -> None:
        """Make the program read as before with the two readings."""
        setup = self.session.setup
        try:
            made, says = self._with_readings(setup)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit("two readings", made)
        self.session.notice(says)

    def _with_readings(self, setup: Setup) -> tuple[Setup, str]:
        found = Calibration(self.dark.value, self.bright.value)
        return take_readings(setup, self.which, found, readings_here(setup, self.which))

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        project = self.session.project
        for (which, name), dial in self.room_dials.items():
            dial.set_value(getattr(getattr(project, which), self._name(name)))
        self._show_readings()
        when_loaded(self, lambda: self.looker.request((self.session.project, self.which)))

    def _show_readings(self) -> None:
        setup = self.session.setup
        try:
            _, says = self._with_readings(setup)
        except IronTrailError as error:
            self.readings_say.setText(str(error))
            self.take.setEnabled(False)
        else:
            self.readings_say.setText(says)
            self.take.setEnabled(True)

    def _not_told(self, _asked: tuple[Project, Which], error: Exception) -> None:
        for cell in self.cells.values():
            cell.setText("–")
        self.says.setText(f"These rooms cannot be told: {error}")

    def _on_looked(self, asked: tuple[Project, Which], views: tuple[RoomView, RoomView]) -> None:
        project, which_sensor = asked
        calibration = project.setup.seen_by(which_sensor).light.calibration
        for which, view in zip(WHICH, views, strict=True):
            readings = view.readings
            best = 0.5 * (readings.dark + readings.bright)
            told = (
                f"{readings.dark:.0f}", f"{readings.bright:.0f}", f"{best:.0f}",
                f"{float(calibrated(calibration, best)):.0f}",
                in_brief(view.as_set), in_brief(view.calibrated),
            )  # fmt: skip
            for name, words in zip(ROWS, told, strict=True):
                self.cells[name, which].setText(words)
        self.says.setText(verdict(project, views))
