"""The law: choose it, see its curve, drag it, and what is wrong with it before it has driven a millimetre."""

from collections.abc import Callable
from dataclasses import replace

from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QWidget

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.steer.curve import CurveOnSheet, is_alike
from irontrail.app.stops.steer.remarks import RemarksOnSheet
from irontrail.app.theme import Theme
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.law_picture import LawPicture
from irontrail.core.quantity import Quantity, with_value
from irontrail.core.steering.laws.bands import BANDS, Bands, fewer_bands, more_bands
from irontrail.core.steering.laws.on_off import ON_OFF, with_power
from irontrail.core.steering.laws.pid import PID, per_loop
from irontrail.core.steering.program import Program
from irontrail.core.steering.registry import LAWS, LawName

TARGET = "program.target"
# What a hand-written loop adds up and takes differences with.
PER_LOOP = {
    "ki": Quantity(
        "times the sum of errors",
        "",
        0.0,
        2.0,
        0.0005,
        1.0,
        4,
        says="The integral gain as a program writes it that adds up one error each loop.",
    ),
    "kd": Quantity(
        "times the change of error",
        "",
        0.0,
        5000.0,
        0.1,
        1.0,
        2,
        says="The derivative gain as a program writes it that takes the change since the last loop.",
    ),
}


class LawSheet(Panel):
    """The five laws by their shapes, the curve, remarks on it, and the dials of the present law."""

    SAYS = "How the reading becomes steering."

    WANTS = frozenset({"remarks"})

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        laws = QGridLayout()
        laws.setSpacing(6)
        self.laws: dict[LawName, LawPicture] = {law: LawPicture(law, theme) for law in LAWS}
        for i, (law, picture) in enumerate(self.laws.items()):
            picture.clicked.connect(lambda _checked=False, law=law: self._choose(law))
            laws.addWidget(picture, i // 3, i % 3)
        one_of(self, self.laws.values())
        self.column.addLayout(laws)
        self.table_says = self.add_words(
            "The table of the two sensors decides, and no law: its four cases are on the sheet Pair. Choosing another "
            "arrangement there brings the law back."
        )
        self.on_sheet = CurveOnSheet(session, theme, lambda: not self.each_side.isChecked())
        self.curve = self.on_sheet.view
        self.column.addWidget(self.curve, 5)
        self.said = RemarksOnSheet(session, theme)
        self.remarks = self.said.view
        self.column.addWidget(self.remarks)
        self._on_off: dict[str, Dial] = {}
        for dial in dict.fromkeys(each for law in LAWS.values() for each in law.dials):
            part, _, name = dial.path.partition(".")
            if part == ON_OFF.field:
                self._on_off[name] = self._on_off_dial(name)
            else:
                self.add_dial(f"program.{dial.path}", dial.low, dial.high)
        self.each_side = QCheckBox("set each side by itself")
        self.each_side.setToolTip("Steer differently on the dark side and on the light side")
        self.each_side.setChecked(not is_alike(session.setup.program))
        self.each_side.toggled.connect(self._on_each_side)
        self.column.addWidget(self.each_side)
        self.band_row = QWidget()
        row = QHBoxLayout(self.band_row)
        row.setContentsMargins(0, 0, 0, 0)
        self.more, self.fewer = QPushButton("One band more"), QPushButton("One band fewer")
        self.more.setToolTip("Divide the readings into one band more on each side")
        self.fewer.setToolTip("Divide the readings into one band fewer on each side")
        for button, change in ((self.more, more_bands), (self.fewer, fewer_bands)):
            button.clicked.connect(lambda _checked=False, change=change: self._change_bands(change))
            row.addWidget(button)
        self.column.addWidget(self.band_row)
        self.add_dial(TARGET, 0.0, 100.0)
        self.per_loop_heading = self.add_heading("")
        self._per_loop = {name: self._per_loop_dial(name) for name in PER_LOOP}
        self.finish()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        program = self.session.setup.program
        for law, picture in self.laws.items():
            picture.setChecked(law == program.law)
            picture.setEnabled(program.chosen.name in LAWS)
        self._show_dials(program)

    def _show_dials(self, program: Program) -> None:
        """Only the dials of the present law."""
        law = program.chosen
        if not is_alike(program) and not self.each_side.isChecked():
            self.each_side.setChecked(True)
        each = self.each_side.isChecked()
        shown = {f"program.{dial.path}" for dial in law.dials if each or not dial.each_side}
        if law.uses_target and not program.astride:
            shown.add(TARGET)
        # A table of two sensors decides by itself, whatever law is chosen.
        self.table_says.setVisible(law not in LAWS.values())
        self.curve.setVisible(law in LAWS.values())
        self.band_row.setVisible(law is BANDS)
        for path, dial in self.dials.items():
            dial.setVisible(path in shown)
        for name, dial in self._on_off.items():
            dial.set_label(name.replace("_", " side, ") + " wheel" if each else f"{name.partition('_')[2]} wheel")
        self.each_side.setVisible(law.alike is not None)
        self.per_loop_heading.setVisible(law is PID)
        self.per_loop_heading.setText(f"As a hand-written loop of {1000 * program.decision_time_s:g} ms has them")
        values = per_loop(program.pid, program.decision_time_s)
        for name, dial in self._per_loop.items():
            dial.setVisible(law is PID)
            dial.set_value(getattr(values, name))
        self.dials[TARGET].set_label(law.target_name)

    def show_view(self) -> None:
        self.on_sheet.show_view()

    def show_advice(self) -> None:
        self.said.show()
        self.curve.set_rings(self.on_sheet.rings())

    def show_now(self, row: int) -> None:
        self.on_sheet.show_now(row)

    # --- editing

    def _choose(self, law: LawName) -> None:
        self.session.choose_law(law)
        self.show_project()

    def _per_loop_dial(self, name: str) -> Dial:
        """A gain as it is typed into a loop that adds up errors and takes plain differences."""
        dial = Dial(PER_LOOP[name], self.theme, 0.0, PER_LOOP[name].high / 100.0)
        dial.setObjectName(f"per loop {name}")
        dial.edited.connect(lambda value, settled: self._set_per_loop(name, value, settled))
        self.column.addWidget(dial)
        return dial

    def _set_per_loop(self, name: str, value: float, settled: bool) -> None:
        program = self.session.setup.program
        period = program.decision_time_s
        per_second = value / period if name == "ki" else value * period
        self._on_dial(f"program.pid.{name}", per_second, settled)

    def _on_off_dial(self, name: str) -> Dial:
        dial = self.make_dial(f"program.on_off.{name}", -100.0, 100.0)
        dial.edited.connect(lambda value, settled: self._set_on_off(name, value, settled))
        self.column.addWidget(dial)
        return dial

    def _set_on_off(self, name: str, value: float, settled: bool) -> None:
        """Set a power of one side, or of both while they are set together."""
        label = f"{name.replace('_', ' side, ')} wheel {value:.0f} %".replace("-", "−")
        changed = with_power(self.session.setup.program, name, value, not self.each_side.isChecked())
        self.on_sheet.take(label, changed, f"on-off {name}", settled)

    def _change_bands(self, change: Callable[[Bands], Bands]) -> None:
        bands = self.session.setup.program.bands
        changed = change(bands)
        if changed != bands:
            label = f"{len(changed.steps)} bands"
            self.session.edit(label, with_value(self.session.setup, "program.bands", changed))

    def _on_each_side(self, each: bool) -> None:
        program = self.session.setup.program
        evened = program.chosen.evened
        if not each and evened is not None and not is_alike(program):
            self.session.edit("both sides alike", replace(self.session.setup, program=evened(program)))
        self.show_project()
