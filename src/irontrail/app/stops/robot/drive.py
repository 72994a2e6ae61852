"""The drive's numbers, and the motors: which output drives which wheel, and which way round it is mounted."""

from dataclasses import replace

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.motor_picture import Motor, MotorPicture
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import with_value
from irontrail.core.robot.wiring import OUTPUTS, Wiring
from irontrail.core.steering.pair import SENSORS

# What is tried on the picture: both wheels' powers, forward positive.
MOVES = {"forward": (50.0, 50.0), "left": (-30.0, 30.0), "right": (30.0, -30.0)}
MOUNTED = ("as it is", "mirrored")


class DriveSheet(Panel):
    """The motors drawn with what each output is set to, then the numbers of the drive."""

    SAYS = "The motors and how they answer."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.picture = MotorPicture(theme)
        self.column.addWidget(self.picture)
        self.moves = self.add_choice("Check", tuple(MOVES), self._on_move, says="See which way each wheel turns: {}.")
        outputs = tuple(str(output) for output in OUTPUTS)
        self.left = self.add_choice(
            "Left on",
            outputs,
            lambda name: self._change(left_output=int(name)),
            says="The left motor is plugged into {}.",
        )
        self.right = self.add_choice(
            "Right on",
            outputs,
            lambda name: self._change(right_output=int(name)),
            says="The right motor is plugged into {}.",
        )
        self.left_way = self.add_choice(
            "Left is",
            MOUNTED,
            lambda name: self._change(left_mirrored=name == "mirrored"),
            says="The left motor is built in {}.",
        )
        self.right_way = self.add_choice(
            "Right is",
            MOUNTED,
            lambda name: self._change(right_mirrored=name == "mirrored"),
            says="The right motor is built in {}.",
        )
        self.input_rows, self.inputs = [], {}
        for which, number in zip(SENSORS, (1, 2), strict=True):
            widget, row = self.add_row_apart()
            self.input_rows.append(widget)
            self.inputs[which] = self.add_choice(
                f"Sensor {number} on",
                outputs,
                lambda name, which=which: self._change(**{f"{which}_input": int(name)}),  # type: ignore[misc]
                row,
                f"The {which} sensor is plugged into input {{}}.",
            )
        for path, low, high in (
            ("top_speed_mm_s", 100.0, 1000.0),
            ("response_time_s", 0.0, 0.2),
            ("battery", 0.5, 1.1),
            ("dead_band", 0.0, 30.0),
            ("mismatch_percent", -10.0, 10.0),
            ("grip", 0.1, 1.5),
            ("power_step", 0.1, 10.0),
        ):
            self.add_dial(f"robot.drive.{path}", low, high)
        self.checked = "forward"
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        wiring = self.session.setup.robot.wiring
        for move, button in self.moves.items():
            button.setChecked(move == self.checked)
        for buttons, output in ((self.left, wiring.left_output), (self.right, wiring.right_output)):
            for name, button in buttons.items():
                button.setChecked(name == str(output))
        for buttons, mirrored in ((self.left_way, wiring.left_mirrored), (self.right_way, wiring.right_mirrored)):
            for name, button in buttons.items():
                button.setChecked((name == "mirrored") == mirrored)
        for which, buttons in self.inputs.items():
            for name, button in buttons.items():
                button.setChecked(name == str(getattr(wiring, f"{which}_input")))
        for input_row in self.input_rows:
            input_row.setVisible(self.session.setup.second is not None)
        left, right = MOVES[self.checked]
        commands = wiring.commands(left, right)
        self.picture.set_motors(
            self.checked,
            Motor(wiring.left_output, wiring.left_mirrored, left, commands[wiring.left_output]),
            Motor(wiring.right_output, wiring.right_mirrored, right, commands[wiring.right_output]),
        )

    def _on_move(self, move: str) -> None:
        self.checked = move
        self.show_project()

    def _change(self, **values: int | bool) -> None:
        """Wire it otherwise; an output taken from the other wheel is exchanged with it."""
        wiring: Wiring = self.session.setup.robot.wiring
        if values.get("left_output") == wiring.right_output:
            values["right_output"] = wiring.left_output
        elif values.get("right_output") == wiring.left_output:
            values["left_output"] = wiring.right_output
        for this, other in (("first_input", "second_input"), ("second_input", "first_input")):
            if values.get(this) == getattr(wiring, other):
                values[other] = getattr(wiring, this)
        try:
            changed = replace(wiring, **values)  # type: ignore[arg-type]
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        self.session.edit("motors", with_value(self.session.setup, "robot.wiring", changed))
        self.show_project()
