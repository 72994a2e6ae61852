"""Steer: choose a law, see its curve, drag it."""

from dataclasses import replace

import numpy as np
from PySide6.QtWidgets import QCheckBox, QHBoxLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.law_picture import SHAPES, LawPicture
from irontrail.app.widgets.steering_curve import CurvePicture, Handle, SteeringCurveView
from irontrail.core.quantity import quantity_at, with_value
from irontrail.core.steering.on_off import OnOff
from irontrail.core.steering.program import Program, light_turn
from irontrail.core.steering.words import in_words

# The slope's handle stands where the steer is this much, so that it is on the curve at any gain.
SLOPE_STEER = 34.0
# Power steps up to this are too fine to draw.
FINE_STEP = 2.0
ON_OFF_NUMBERS = ("dark_outer", "dark_inner", "light_outer", "light_inner")


class SteerPanel(Panel):
    """The panel of the Steer stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Steer")
        laws = QHBoxLayout()
        laws.setSpacing(8)
        self.laws = {law: LawPicture(law, theme) for law in SHAPES}
        for law, picture in self.laws.items():
            picture.clicked.connect(lambda _checked=False, law=law: self._choose(law))
            laws.addWidget(picture)
        self.column.addLayout(laws)
        self.curve = SteeringCurveView(theme)
        self.curve.dragged.connect(self._on_curve)
        self.curve.nudged.connect(self._on_nudge)
        self.column.addWidget(self.curve)

        self.add_dial("program.speed", 0.0, 100.0)
        self.add_dial("program.proportional.gain", 0.0, 3.0)
        self._on_off = {name: self._on_off_dial(name) for name in ON_OFF_NUMBERS}
        self.each_side = QCheckBox("set each side by itself")
        on_off = session.setup.program.on_off
        self.each_side.setChecked(not _is_even(on_off))
        self.each_side.toggled.connect(self._on_each_side)
        self.column.addWidget(self.each_side)
        self.add_dial("program.target", 0.0, 100.0)
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
        on_off = program.law == "on-off"
        self.dials["program.speed"].setVisible(not on_off)
        self.dials["program.proportional.gain"].setVisible(not on_off)
        if not _is_even(program.on_off) and not self.each_side.isChecked():
            self.each_side.setChecked(True)
        each = self.each_side.isChecked()
        for name, dial in self._on_off.items():
            dial.setVisible(on_off and (each or name.startswith("dark")))
            wheel = name.partition("_")[2]
            dial.set_label(name.replace("_", " side, ") + " wheel" if each else f"{wheel} wheel")
        self.each_side.setVisible(on_off)
        self.dials["program.target"].set_label("threshold" if on_off else "target")
        for edge, button in self.edges.items():
            button.setChecked(edge == program.edge)
        reverse = self.session.setup.trial.reverse
        self.ways["as laid"].setChecked(not reverse)
        self.ways["turned round"].setChecked(reverse)
        rows = (f"<tr><td>{i}&nbsp;&nbsp;</td><td>{said}</td></tr>" for i, said in enumerate(in_words(program), 1))
        self.words.setText(f"<table cellspacing=0 cellpadding=1>{''.join(rows)}</table>")

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        program, curve = view.setup.program, view.curve
        on_off = program.law == "on-off"
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
                target_name="threshold" if on_off else "target",
                handles=_on_off_handles(program) if on_off else _slope_handles(program),
                readings=view.run.trace.reading,
                low_power=low,
            )
        )

    def show_now(self, row: int) -> None:
        if self.session.view is not None:
            trace = self.session.view.run.trace
            self.curve.set_now(float(trace.reading[row]), float(trace.left_power[row]), float(trace.right_power[row]))

    # --- editing

    def _choose(self, law: str) -> None:
        self.session.choose_law("on-off" if law == "on-off" else "proportional")
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
        value = min(max(value, -100.0), 100.0)
        side, _, wheel = name.partition("_")
        names = [name] if self.each_side.isChecked() else [f"dark_{wheel}", f"light_{wheel}"]
        setup = self.session.setup
        for each in names:
            setup = with_value(setup, f"program.on_off.{each}", value)
        where = f"{side} side, " if self.each_side.isChecked() else ""
        self.session.edit(f"{where}{wheel} wheel {value:.0f} %".replace("-", "−"), setup, f"on-off {name}")
        if settled:
            self.session.settle()

    def _on_each_side(self, each: bool) -> None:
        on_off = self.session.setup.program.on_off
        if not each and not _is_even(on_off):
            even = replace(on_off, light_outer=on_off.dark_outer, light_inner=on_off.dark_inner)
            self.session.edit("both sides alike", with_value(self.session.setup, "program.on_off", even))
        self.show_project()

    def _on_curve(self, name: str, reading: float, power: float, settled: bool) -> None:
        program = self.session.setup.program
        key = f"curve {name}"
        if name in ON_OFF_NUMBERS:
            self._set_on_off(name, float(round(power)), settled)
            return
        if name == "gain":
            away = reading - program.target
            slope = light_turn(program.edge) * (power - program.speed) / away if abs(away) > 0.5 else 0.0
            self.session.set_value("program.proportional.gain", round(max(slope, 0.0), 2), key)
        else:
            values = {"program.target": float(round(reading))}
            if name == "speed":
                values["program.speed"] = float(round(power))
            self.session.set_values(values, key)
        if settled:
            self.session.settle()

    def _on_nudge(self, name: str, by_reading: float, by_power: float) -> None:
        program = self.session.setup.program
        if name in ON_OFF_NUMBERS:
            self._set_on_off(name, getattr(program.on_off, name) + by_power, True)
        elif name == "gain":
            step = quantity_at(program, "proportional.gain").step
            self.session.set_value("program.proportional.gain", round(program.proportional.gain + by_power * step, 2))
        else:
            moved = {"program.target": program.target + by_reading, "program.speed": program.speed + by_power}
            self.session.set_values(moved)


def _is_even(on_off: OnOff) -> bool:
    """Both sides turn with the same powers."""
    return on_off.dark_outer == on_off.light_outer and on_off.dark_inner == on_off.light_inner


def _on_off_handles(program: Program) -> tuple[Handle, ...]:
    """A handle in the middle of each of the four steps."""
    on_off = program.on_off
    return tuple(
        Handle(
            name,
            f"{name.replace('_', ' side, ')} wheel",
            program.target / 2 if name.startswith("dark") else (program.target + 100.0) / 2,
            float(getattr(on_off, name)),
            "power",
        )
        for name in ON_OFF_NUMBERS
    )


def _slope_handles(program: Program) -> tuple[Handle, ...]:
    """Where both lines cross (speed and target), and one out on the left wheel's line (gain)."""
    turn, gain = light_turn(program.edge), program.proportional.gain
    room = min(SLOPE_STEER, 98.0 - program.speed) if program.speed < 90.0 else SLOPE_STEER
    away = float(np.clip(room / gain if gain > 0.0 else 40.0, 3.0, 40.0))
    if program.target + away > 98.0:
        away = -min(away, program.target - 2.0)
    power = min(max(program.speed + turn * gain * away, -100.0), 100.0)
    return (
        Handle("speed", "speed and target", program.target, program.speed),
        Handle("gain", "gain: the slope", program.target + away, power),
    )
