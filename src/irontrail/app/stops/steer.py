"""Steer: choose a law, see its curve, drag it."""

from dataclasses import replace

import numpy as np
from PySide6.QtWidgets import QCheckBox, QGridLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.law_picture import SHAPES, LawPicture
from irontrail.app.widgets.steering_curve import CurvePicture, SteeringCurveView
from irontrail.core.quantity import with_value
from irontrail.core.steering.handles import handles, is_alike, moved, nudged, with_on_off
from irontrail.core.steering.program import LawName, Program
from irontrail.core.steering.words import in_words

# Power steps up to this are too fine to draw.
FINE_STEP = 2.0
ON_OFF_NUMBERS = ("dark_outer", "dark_inner", "light_outer", "light_inner")
TARGET, SPEED = "program.target", "program.speed"
# The dials of each law, besides those of on-off and the target: path and what the track covers.
LAW_DIALS: dict[LawName, tuple[tuple[str, float, float], ...]] = {
    "on-off": (),
    "bands": (),
    "mixed": ((SPEED, 0.0, 100.0), ("program.mixed.gain", 0.0, 3.0), ("program.mixed.fixed_steer", 0.0, 100.0)),
    "proportional": ((SPEED, 0.0, 100.0), ("program.proportional.gain", 0.0, 3.0)),
    "PID": (
        (SPEED, 0.0, 100.0),
        ("program.pid.kp", 0.0, 3.0),
        ("program.pid.ki", 0.0, 3.0),
        ("program.pid.kd", 0.0, 0.2),
    ),
}


class SteerPanel(Panel):
    """The panel of the Steer stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Steer")
        laws = QGridLayout()
        laws.setSpacing(6)
        self.laws: dict[LawName, LawPicture] = {law: LawPicture(law, theme) for law in SHAPES}
        for i, (law, picture) in enumerate(self.laws.items()):
            picture.clicked.connect(lambda _checked=False, law=law: self._choose(law))
            laws.addWidget(picture, i // 3, i % 3)
        self.column.addLayout(laws)
        self.curve = SteeringCurveView(theme)
        self.curve.dragged.connect(self._on_curve)
        self.curve.nudged.connect(self._on_nudge)
        self.column.addWidget(self.curve, 1)

        for path, low, high in dict.fromkeys(each for some in LAW_DIALS.values() for each in some):
            self.add_dial(path, low, high)
        self._on_off = {name: self._on_off_dial(name) for name in ON_OFF_NUMBERS}
        self.each_side = QCheckBox("set each side by itself")
        self.each_side.setChecked(not is_alike(session.setup.program.on_off))
        self.each_side.toggled.connect(self._on_each_side)
        self.column.addWidget(self.each_side)
        self.add_dial(TARGET, 0.0, 100.0)
        self.edges = self.add_choice("Edge", ("left", "right"))
        self.ways = self.add_choice("Direction", ("as laid", "turned round"))
        for edge, button in self.edges.items():
            button.clicked.connect(lambda _checked=False, edge=edge: self._on_edge(edge))
        for way, button in self.ways.items():
            button.clicked.connect(lambda _checked=False, way=way: self._on_way(way))
        self.add_heading("In words")
        self.words = self.add_words()
        self.finish()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        program = self.session.setup.program
        for law, picture in self.laws.items():
            picture.setChecked(law == program.law)
        self._show_dials(program)
        for edge, button in self.edges.items():
            button.setChecked(edge == program.edge)
        reverse = self.session.setup.trial.reverse
        self.ways["as laid"].setChecked(not reverse)
        self.ways["turned round"].setChecked(reverse)
        rows = (f"<tr><td>{i}&nbsp;&nbsp;</td><td>{said}</td></tr>" for i, said in enumerate(in_words(program), 1))
        self.words.setText(f"<table cellspacing=0 cellpadding=1>{''.join(rows)}</table>")

    def _show_dials(self, program: Program) -> None:
        """Only the dials of the present law."""
        shown = {path for path, _, _ in LAW_DIALS[program.law]}
        if program.law != "bands":
            shown.add(TARGET)
        on_off = program.law == "on-off"
        if not is_alike(program.on_off) and not self.each_side.isChecked():
            self.each_side.setChecked(True)
        each = self.each_side.isChecked()
        if on_off:
            shown |= {f"program.on_off.{name}" for name in ON_OFF_NUMBERS if each or name.startswith("dark")}
        for path, dial in self.dials.items():
            dial.setVisible(path in shown)
        for name, dial in self._on_off.items():
            dial.set_label(name.replace("_", " side, ") + " wheel" if each else f"{name.partition('_')[2]} wheel")
        self.each_side.setVisible(on_off)
        self.dials[TARGET].set_label("threshold" if on_off else "target")

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        program, curve = view.setup.program, view.curve
        # Steps of a percent or two would only make the lines ragged.
        stepped = view.setup.robot.drive.power_step > FINE_STEP
        low = -100.0 if min(curve.left.min(), curve.right.min()) < -20.0 else -20.0
        self.curve.set_picture(
            CurvePicture(
                reading=curve.reading,
                left=curve.left if stepped else np.clip(curve.wanted_left, -100.0, 100.0),
                right=curve.right if stepped else np.clip(curve.wanted_right, -100.0, 100.0),
                clipped=curve.clipped,
                target=program.target,
                target_name="threshold" if program.law == "on-off" else "target",
                handles=handles(program),
                readings=view.run.trace.reading,
                low_power=low,
            )
        )

    def show_now(self, row: int) -> None:
        if self.session.view is not None:
            trace = self.session.view.run.trace
            self.curve.set_now(float(trace.reading[row]), float(trace.left_power[row]), float(trace.right_power[row]))

    # --- editing

    def _choose(self, law: LawName) -> None:
        self.session.choose_law(law)
        self.show_project()

    def _on_edge(self, edge: str) -> None:
        if edge != self.session.setup.program.edge:
            self.session.swap_edge()
        self.show_project()

    def _on_way(self, way: str) -> None:
        if (way == "turned round") != self.session.setup.trial.reverse:
            self.session.turn_round()
        self.show_project()

    def _on_off_dial(self, name: str) -> Dial:
        dial = self.make_dial(f"program.on_off.{name}", -100.0, 100.0)
        dial.edited.connect(lambda value, settled: self._set_on_off(name, value, settled))
        self.column.addWidget(dial)
        return dial

    def _set_on_off(self, name: str, value: float, settled: bool) -> None:
        """Set a power of one side, or of both while they are set together."""
        label = f"{name.replace('_', ' side, ')} wheel {value:.0f} %".replace("-", "−")
        changed = with_on_off(self.session.setup.program, name, value, not self.each_side.isChecked())
        self._take(label, changed, f"on-off {name}", settled)

    def _on_each_side(self, each: bool) -> None:
        on_off = self.session.setup.program.on_off
        if not each and not is_alike(on_off):
            even = replace(on_off, light_outer=on_off.dark_outer, light_inner=on_off.dark_inner)
            self.session.edit("both sides alike", with_value(self.session.setup, "program.on_off", even))
        self.show_project()

    def _on_curve(self, name: str, reading: float, power: float, settled: bool) -> None:
        program = self.session.setup.program
        changed = moved(program, name, reading, power, not self.each_side.isChecked())
        self._take(f"curve: {name.replace('_', ' ')}", changed, f"curve {name}", settled)

    def _on_nudge(self, name: str, by_reading: float, by_power: float) -> None:
        program = self.session.setup.program
        changed = nudged(program, name, by_reading, by_power, not self.each_side.isChecked())
        self._take(f"curve: {name.replace('_', ' ')}", changed, f"nudge {name}", True)

    def _take(self, label: str, program: Program, merge_key: str, settled: bool) -> None:
        self.session.edit(label, replace(self.session.setup, program=program), merge_key)
        if settled:
            self.session.settle()
