"""One end of a leg: what it is, and its few numbers."""

from collections.abc import Sequence
from typing import Any, get_args, get_type_hints

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.dial import Dial
from irontrail.core.quantity import quantities
from irontrail.core.steering.legs import ENDS, SEEING, AtMark, AtReading, End
from irontrail.core.steering.pair import SENSORS

NAMES = {
    "time": "after a time", "distance": "after a distance", "reading": "at a reading", "mark": "at a mark",
    "line found": "line found", "button": "at the button", "finish": "at the finish",
}  # fmt: skip
TRACKS = {
    "time_s": (0.0, 10.0), "distance_mm": (1.0, 1500.0), "reading": (0.0, 100.0), "for_mm": (0.0, 60.0),
    "count": (1.0, 6.0),
}  # fmt: skip
# The choices that an end has beside its numbers.
OPTIONS: dict[type[End], str] = {AtReading: "side", AtMark: "mark"}


class EndEditor(QWidget):
    """Says `became(kind)`, `edited(name, value, settled)` for a number, `opted(name, option)`, and `removed()`."""

    became = Signal(str)
    edited = Signal(str, float, bool)
    opted = Signal(str, str)
    removed = Signal()

    def __init__(self, theme: Theme, kinds: Sequence[str]) -> None:
        super().__init__()
        self.theme = theme
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        row = QHBoxLayout()
        self.kinds = QComboBox()
        self.kinds.setAccessibleName("what ends the leg")
        self.kinds.setToolTip("What ends the leg; with several, whichever comes first")
        for kind in kinds:
            self.kinds.addItem(NAMES[kind], kind)
        self.kinds.activated.connect(lambda _index: self.became.emit(str(self.kinds.currentData())))
        self.remove = QPushButton("Take away")
        self.remove.setProperty("small", "true")
        self.remove.setToolTip("The leg does not end by this any more")
        self.remove.clicked.connect(self.removed)
        row.addWidget(self.kinds, 1)
        row.addWidget(self.remove)
        column.addLayout(row)
        self.dials: dict[tuple[str, str], Dial] = {}
        self.options: dict[tuple[str, str], QPushButton] = {}
        self.sensors: dict[str, tuple[QWidget, dict[str, QPushButton]]] = {}
        for kind in kinds:
            part = ENDS[kind]
            if part in OPTIONS:
                column.addLayout(self._option_row(kind, OPTIONS[part]))
            if part in SEEING:
                self.sensors[kind] = self._sensor_row()
                column.addWidget(self.sensors[kind][0])
            for name, quantity in quantities(part).items():
                dial = Dial(quantity, theme, *TRACKS[name])
                dial.setObjectName(f"{kind}.{name}")
                dial.edited.connect(lambda value, settled, name=name: self.edited.emit(name, value, settled))
                column.addWidget(dial)
                self.dials[kind, name] = dial

    def _sensor_row(self) -> tuple[QWidget, dict[str, QPushButton]]:
        """Which of two sensors is looked at."""
        holder = QWidget()
        row = QHBoxLayout(holder)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(6)
        buttons: dict[str, QPushButton] = {}
        for sensor in SENSORS:
            button = QPushButton(f"{sensor} sensor")
            button.setCheckable(True)
            button.setProperty("choice", "true")
            button.setToolTip(f"It is the {sensor} sensor that is looked at")
            button.clicked.connect(lambda _on=False, sensor=sensor: self.opted.emit("sensor", sensor))
            row.addWidget(button, 1)
            buttons[sensor] = button
        one_of(self, buttons.values())
        return holder, buttons

    def _option_row(self, kind: str, name: str) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        hint: Any = get_type_hints(ENDS[kind])[name]
        buttons = []
        for option in get_args(hint):
            button = QPushButton({"below": "or darker", "above": "or brighter"}.get(option, option))
            button.setCheckable(True)
            button.setProperty("choice", "true")
            button.setAccessibleName(f"{name}: {option}")
            button.setToolTip(f"The leg ends at {option}" if name == "mark" else f"The reading is {option} the value")
            button.clicked.connect(lambda _on=False, option=option: self.opted.emit(name, option))
            row.addWidget(button, 1)
            self.options[kind, option] = button
            buttons.append(button)
        one_of(self, buttons)
        return row

    def set_end(self, end: End, can_go: bool, two: bool = False) -> None:
        """Show an end; `can_go`: the leg would still end without it; `two`: the robot has two sensors."""
        for kind, (holder, buttons) in self.sensors.items():
            holder.setVisible(two and kind == end.kind)
            for sensor, button in buttons.items():
                button.setChecked(sensor == getattr(end, "sensor", ""))
        self.kinds.setCurrentIndex(self.kinds.findData(end.kind, Qt.ItemDataRole.UserRole))
        self.remove.setVisible(can_go)
        for (kind, name), dial in self.dials.items():
            dial.setVisible(kind == end.kind)
            if kind == end.kind:
                dial.set_value(float(getattr(end, name)))
        for (kind, option), button in self.options.items():
            button.setVisible(kind == end.kind)
            if kind == end.kind:
                button.setChecked(getattr(end, OPTIONS[type(end)]) == option)
