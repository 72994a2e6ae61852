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
from irontrail.core.quantity import value_at
from irontrail.core.steering.law import DialRange, Parts, PerLoop
from irontrail.core.steering.program import Program
from irontrail.core.steering.registry import LAWS, LawName

TARGET = "program.target"


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
        self._of_both: dict[DialRange, Dial] = {}
        for dial in dict.fromkeys(each for law in LAWS.values() for each in law.dials):
            if dial.put is not None:
                self._of_both[dial] = self._dial_of_both(dial)
            else:
                self.add_dial(f"program.{dial.path}", dial.low, dial.high)
        self.each_side = QCheckBox("set each side by itself")
        self.each_side.setToolTip("Steer differently on the dark side and on the light side")
        self.each_side.setChecked(not is_alike(session.setup.program))
        self.each_side.toggled.connect(self._on_each_side)
        self.column.addWidget(self.each_side)
        self._parts_rows = {law: self._parts_row(parts) for law in LAWS.values() if (parts := law.parts) is not None}
        self.add_dial(TARGET, 0.0, 100.0)
        self.per_loop_heading = self.add_heading("")
        self._per_loop = {each: self._per_loop_dial(each) for law in LAWS.values() for each in law.per_loop}
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
        for of_law, row in self._parts_rows.items():
            row.setVisible(law is of_law)
        for path, dial in self.dials.items():
            dial.setVisible(path in shown)
        for of_both, dial in self._of_both.items():
            dial.set_label(of_both.label if each else of_both.of_both)
        self.each_side.setVisible(law.alike is not None)
        self.per_loop_heading.setVisible(bool(law.per_loop))
        self.per_loop_heading.setText(f"As a hand-written loop of {1000 * program.decision_time_s:g} ms has them")
        for number, dial in self._per_loop.items():
            dial.setVisible(number in law.per_loop)
            dial.set_value(value_at(program, number.path) * number.factor(program.decision_time_s))
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

    def _parts_row(self, parts: Parts) -> QWidget:
        """Buttons by which what a law has several of are more or fewer."""
        row = QWidget()
        side_by_side = QHBoxLayout(row)
        side_by_side.setContentsMargins(0, 0, 0, 0)
        for which, change in (("more", parts.more), ("fewer", parts.fewer)):
            button = QPushButton(f"One {parts.one} {which}")
            button.setToolTip(f"Divide the readings into one {parts.one} {which} on each side")
            button.clicked.connect(lambda _checked=False, change=change: self._change_parts(parts, change))
            side_by_side.addWidget(button)
        self.column.addWidget(row)
        return row

    def _per_loop_dial(self, number: PerLoop) -> Dial:
        """A number as it is typed into a loop that adds up errors and takes plain differences."""
        dial = Dial(number.quantity, self.theme, 0.0, number.quantity.high / 100.0)
        dial.setObjectName(f"per loop {number.path.rpartition('.')[2]}")
        dial.edited.connect(lambda value, settled: self._set_per_loop(number, value, settled))
        self.column.addWidget(dial)
        return dial

    def _set_per_loop(self, number: PerLoop, value: float, settled: bool) -> None:
        factor = number.factor(self.session.setup.program.decision_time_s)
        self._on_dial(f"program.{number.path}", value / factor, settled)

    def _dial_of_both(self, number: DialRange) -> Dial:
        dial = self.make_dial(f"program.{number.path}", number.low, number.high)
        dial.edited.connect(lambda value, settled: self._set_of_both(number, value, settled))
        self.column.addWidget(dial)
        return dial

    def _set_of_both(self, number: DialRange, value: float, settled: bool) -> None:
        """Set a number of one side, or of both while they are set together."""
        if number.put is not None:
            label = f"{number.label} {value:.0f} %".replace("-", "−")
            changed = number.put(self.session.setup.program, value, not self.each_side.isChecked())
            self.on_sheet.take(label, changed, f"dial {number.path}", settled)

    def _change_parts(self, parts: Parts, change: Callable[[Program], Program]) -> None:
        program = self.session.setup.program
        changed = change(program)
        if changed != program:
            self.session.edit(f"{parts.count(changed)} {parts.one}s", replace(self.session.setup, program=changed))

    def _on_each_side(self, each: bool) -> None:
        program = self.session.setup.program
        evened = program.chosen.evened
        if not each and evened is not None and not is_alike(program):
            self.session.edit("both sides alike", replace(self.session.setup, program=evened(program)))
        self.show_project()
