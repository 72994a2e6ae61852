"""The loop around the law: edge, direction, how steer becomes powers, how often it decides, when it stops."""

from dataclasses import replace

import numpy as np

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.loop_picture import LoopPicture, LoopTimes
from irontrail.app.widgets.robot_drawing import Eye
from irontrail.app.widgets.turn_picture import Turning, TurnPicture, TurnScene
from irontrail.core import derive
from irontrail.core.light.reading import spot_sigma_mm
from irontrail.core.quantity import with_value
from irontrail.core.steering.mixing import Mixing
from irontrail.core.steering.program import Program

# How far off its edge each of the two small robots stands.
WELL_OFF_MM = 8.0
MIXINGS: dict[str, Mixing] = {
    "both": "both wheels",
    "left": "left wheel only",
    "right": "right wheel only",
    "inner": "inner wheel only",
}


class LoopSheet(Panel):
    """Which way it turns, drawn; how often it decides, drawn; and the numbers of both."""

    SAYS = "Which edge, which way, and how often the program looks."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.turns = TurnPicture(theme)
        self.column.addWidget(self.turns)
        row = self.add_row()
        self.edges = self.add_choice(
            "Edge", ("left", "right"), self._on_edge, row, "Follow the {} edge of the line (E)."
        )
        self.lines = self.add_choice(
            "of a", ("dark", "light"), self._on_line, row, "The line is {}, and the mat is not."
        )
        row.addWidget(self._label("line", "words"))
        self.ways = self.add_choice(
            "Direction", ("as laid", "turned round"), self._on_way, says="Drive the line {} (R)."
        )
        self.mixings = self.add_choice(
            "Steer by", tuple(MIXINGS), self._on_mixing, says="How steering is shared between the wheels: {}."
        )
        for name, button in self.mixings.items():
            button.setToolTip(f"Steer changes {MIXINGS[name]}")
        self.add_dial("program.ease_off", 0.0, 1.0)
        self.dials["program.ease_off"].setToolTip("Share of the speed taken away as the error grows to 50")
        self.loop = LoopPicture(theme)
        self.column.addWidget(self.loop)
        self.add_dial("program.loop_time_s", 0.001, 0.1)
        self.add_dial("program.delay_s", 0.0, 0.1)
        self.add_dial("program.decision_loops", 1.0, 30.0)
        self.add_heading("Stops by itself (0: never)")
        self.add_dial("program.stop.time_s", 0.0, 60.0, "after")
        self.add_dial("program.stop.distance_mm", 0.0, 6000.0, "after, by its wheels")
        self.add_dial("program.stop.reading", 0.0, 100.0, "at a reading of")
        self.finish()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        setup = self.session.setup
        program = setup.program
        for edge, button in self.edges.items():
            button.setChecked(edge == program.edge)
            button.setEnabled(not program.astride)
        self.ways["as laid"].setChecked(not setup.trial.reverse)
        self.ways["turned round"].setChecked(setup.trial.reverse)
        for line, button in self.lines.items():
            button.setChecked(line == program.line)
        sloped = program.chosen.gives == "steer"
        for name, button in self.mixings.items():
            button.setChecked(MIXINGS[name] == program.mixing)
            button.setEnabled(sloped)
        self.dials["program.ease_off"].setEnabled(sloped)
        self.loop.set_times(
            LoopTimes(program.loop_time_s, program.delay_s, program.decision_loops, self._speed_mm_s(program))
        )

    def _speed_mm_s(self, program: Program) -> float:
        """About how fast it drives: the speed of a slope, the mean of a turn's wheels else."""
        drive = self.session.setup.robot.drive
        speed = float(np.mean([power.value for power in program.chosen.powers(program)]))
        return abs(speed) / 100.0 * drive.top_speed_mm_s * drive.battery

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        setup, curve, profile = view.setup, view.curve, view.profile
        tape, side = setup.mat.followed.width_mm, setup.side
        well = min(WELL_OFF_MM, 0.45 * tape)
        both, pair = [], setup.program.arrangement != "one"
        for off in (-well, well):
            value = float(np.interp(off, profile.edge_mm, profile.reading))
            if pair:
                left, right = derive.powers_beside(setup, off)
            else:
                left, right = (float(np.interp(value, curve.reading, each)) for each in (curve.left, curve.right))
            aside, aim = side * (setup.off_middle_mm + off), setup.program.aim
            both.append(Turning(value >= aim, value - (aim if pair else 0.0), left, right, aside))
        spot = spot_sigma_mm(setup.light.sensor, setup.robot.mount.height_mm)
        line = setup.mat.followed
        second = None
        if setup.second is not None:
            other = setup.second
            second = Eye(other.mount, spot_sigma_mm(other.sensor, other.mount.height_mm), None)
        scene = TurnScene(
            setup.robot, spot, tape, line.colour, setup.mat.colour, (both[0], both[1]), setup.reference, second, pair
        )
        self.turns.set_scene(scene)

    # --- editing

    def _on_edge(self, edge: str) -> None:
        if edge != self.session.setup.program.edge:
            self.session.swap_edge()
        self.show_project()

    def _on_way(self, way: str) -> None:
        if (way == "turned round") != self.session.setup.trial.reverse:
            self.session.turn_round()
        self.show_project()

    def _on_line(self, line: str) -> None:
        if line != self.session.setup.program.line:
            self.session.edit(f"follow a {line} line", with_value(self.session.setup, "program.line", line))
        self.show_project()

    def _on_mixing(self, name: str) -> None:
        setup = self.session.setup
        if MIXINGS[name] != setup.program.mixing:
            program = replace(setup.program, mixing=MIXINGS[name])
            self.session.edit(f"steer by {MIXINGS[name]}", replace(setup, program=program))
        self.show_project()
