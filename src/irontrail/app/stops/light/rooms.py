"""Practice room and event hall: two lightings side by side, and what the present settings would do in each."""

from dataclasses import dataclass, replace

from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.worker import Ended, NewestWins
from irontrail.core import derive
from irontrail.core.errors import IronTrailError
from irontrail.core.figures import Figures
from irontrail.core.light.calibrate import calibrate_on
from irontrail.core.light.rooms import Room, as_found, in_room, with_readings
from irontrail.core.light.sensor import Calibration, calibrated
from irontrail.core.project import Project, Setup
from irontrail.core.quantity import quantities

WHICH = ("practice", "event")
TRACKS = {"room_light": (0.0, 1.0), "height_mm": (2.0, 25.0), "shield": (0.0, 1.0)}
# What is told of each room, down the table.
ROWS = ("dark, raw", "bright, raw", "best target, raw", "best target, of 100", "as set now", "calibrated there")


@dataclass(frozen=True, eq=False)
class RoomView:
    """What a room does: its raw readings, and the run there as the robot is set and calibrated anew."""

    readings: Calibration
    as_set: Figures
    calibrated: Figures


def setup_in(setup: Setup, room: Room) -> Setup:
    """The same setup in a room."""
    light, robot = in_room(setup.light, setup.robot, room)
    return replace(setup, light=light, robot=robot)


def look_at_rooms(project: Project) -> tuple[RoomView, ...]:
    """What both rooms do to the project's setup; a pure function."""
    views = []
    for which in WHICH:
        room: Room = getattr(project, which)
        there = setup_in(project.setup, room)
        readings = calibrate_on(there.mat, there.light, room.height_mm)
        anew = with_readings(there.light, there.program, readings.dark, readings.bright)
        again = replace(there, light=anew.light, program=anew.program)
        views.append(RoomView(readings, derive.figures(there), derive.figures(again)))
    return tuple(views)


class RoomsSheet(Panel):
    """A column for each room, and a new target and gain from two readings taken at the event."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.looker = NewestWins(look_at_rooms, self)
        self.looker.ended.connect(self._on_looked)
        session.closing.connect(self.looker.close)
        self.room_dials: dict[tuple[str, str], Dial] = {}
        self.work_here: dict[str, QPushButton] = {}
        self.as_now: dict[str, QPushButton] = {}
        columns = QHBoxLayout()
        columns.setSpacing(14)
        for which in WHICH:
            columns.addLayout(self._room_column(which))
        self.column.addLayout(columns)
        self.add_rule()
        grid = QGridLayout()
        grid.setVerticalSpacing(3)
        self.cells: dict[tuple[str, str], QLabel] = {}
        for column, which in enumerate(WHICH, 1):
            grid.addWidget(self._label(getattr(session.project, which).name, "heading"), 0, column)
        for row, name in enumerate(ROWS, 1):
            grid.addWidget(self._label(name, "quiet"), row, 0)
            for column, which in enumerate(WHICH, 1):
                cell = QLabel("–")
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
            button.setAccessibleName(tip)
            button.clicked.connect(lambda _checked=False, act=act: act(which))
            row.addWidget(button)
            buttons[which] = button
        column.addLayout(row)
        return column

    def _lay_out_readings(self) -> None:
        self.add_rule()
        self.add_heading("Two readings taken at the event, raw")
        ranges = quantities(Calibration)
        self.dark = Dial(ranges["dark"], self.theme, 0.0, 60.0, "on the line")
        self.bright = Dial(ranges["bright"], self.theme, 20.0, 100.0, "on the mat")
        for dial, value in ((self.dark, 10.0), (self.bright, 70.0)):
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

    def _change(self, which: str, name: str, value: float, settled: bool) -> None:
        room: Room = getattr(self.session.project, which)
        self._put(f"{room.name}: {name}", which, replace(room, **{name: value}), f"{which} {name}")  # type: ignore[arg-type]
        if settled:
            self.session.settle()

    def _go_there(self, which: str) -> None:
        room: Room = getattr(self.session.project, which)
        self.session.edit(f"in the {room.name}", setup_in(self.session.setup, room))

    def _take_now(self, which: str) -> None:
        room: Room = getattr(self.session.project, which)
        setup = self.session.setup
        self._put(f"{room.name} as now", which, as_found(room, setup.light, setup.robot))

    def take_readings(self) -> None:
        """Make the program read as before with the two readings."""
        setup = self.session.setup
        try:
            made = with_readings(setup.light, setup.program, self.dark.value, self.bright.value)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit("two readings", replace(setup, light=made.light, program=made.program))
        self.session.notice(made.says)

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        project = self.session.project
        for (which, name), dial in self.room_dials.items():
            dial.set_value(getattr(getattr(project, which), name))
        self._show_readings()
        self.looker.request(project)

    def _show_readings(self) -> None:
        setup = self.session.setup
        try:
            made = with_readings(setup.light, setup.program, self.dark.value, self.bright.value)
        except IronTrailError as error:
            self.readings_say.setText(str(error))
            self.take.setEnabled(False)
        else:
            self.readings_say.setText(made.says)
            self.take.setEnabled(True)

    def _on_looked(self, ended: Ended) -> None:
        if ended.error is not None:
            self.says.setText(f"These rooms cannot be told: {ended.error}")
            return
        project: Project = ended.request
        views: tuple[RoomView, ...] = ended.result
        calibration = project.setup.light.calibration
        for which, view in zip(WHICH, views, strict=True):
            readings = view.readings
            best = 0.5 * (readings.dark + readings.bright)
            told = (
                f"{readings.dark:.0f}", f"{readings.bright:.0f}", f"{best:.0f}",
                f"{float(calibrated(calibration, best)):.0f}",
                _outcome(view.as_set), _outcome(view.calibrated),
            )  # fmt: skip
            for name, words in zip(ROWS, told, strict=True):
                self.cells[name, which].setText(words)
        self.says.setText(_verdict(project, views))


def _outcome(figures: Figures) -> str:
    if figures.outcome != "finished":
        return figures.outcome.replace("-", " ")
    return f"{figures.time_s:.1f} s, swing {figures.wobble_mm:.1f}"


def _verdict(project: Project, views: tuple[RoomView, ...]) -> str:
    """What the present settings do in the event hall, in a sentence."""
    here, there = views
    hall, lost = project.event.name, _outcome(there.as_set)
    if there.as_set.outcome != "finished" and there.calibrated.outcome == "finished":
        return f"In the {hall}, as it is set, it is {lost}; calibrated there it finishes."
    if there.as_set.outcome != "finished":
        return f"In the {hall} it is {lost}, calibrated or not: lower or shield the sensor."
    apart = abs(0.5 * (there.readings.dark + there.readings.bright - here.readings.dark - here.readings.bright))
    return f"The best target is {apart:.0f} raw away from the {project.practice.name}'s; calibrate again at the event."
