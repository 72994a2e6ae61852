"""The steering curve on a sheet: shown of the newest run, and what dragging it does to the program."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.curve_picture import SIDES, CurvePicture
from irontrail.app.widgets.steering_curve import SteeringCurveView
from irontrail.core.setup import Setup
from irontrail.core.steering.handles import handles, moved, nudged
from irontrail.core.steering.program import Program

# Power steps up to this are too fine to draw.
FINE_STEP = 2.0
LINE_AT = ("line to the left", "line to the right")


class CurveOnSheet:
    """Joins a steering curve to the session; `alike` tells whether both sides of it are set together."""

    def __init__(self, session: Session, theme: Theme, alike: Callable[[], bool]) -> None:
        self.session = session
        self.alike = alike
        self.view = SteeringCurveView(theme)
        self.view.dragged.connect(self._on_dragged)
        self.view.nudged.connect(self._on_nudged)

    # --- showing

    def show_view(self) -> None:
        """Show the curve of the newest run."""
        view = self.session.view
        if view is None:
            return
        setup, curve = view.setup, view.curve
        program = setup.program
        # Steps of a percent or two would only make the lines ragged.
        stepped = setup.robot.drive.power_step > FINE_STEP
        low = -100.0 if min(curve.left.min(), curve.right.min()) < -20.0 else -20.0
        self.view.set_picture(
            CurvePicture(
                reading=curve.reading,
                left=curve.left if stepped else np.clip(curve.wanted_left, -100.0, 100.0),
                right=curve.right if stepped else np.clip(curve.wanted_right, -100.0, 100.0),
                clipped=curve.clipped,
                target=program.aim,
                target_name=program.chosen.target_name,
                handles=handles(setup.effective_program),
                readings=view.run.trace.error + program.aim,
                low_power=low,
                rings=self.rings(),
                span=program.reach,
                zero=0.0 if program.arrangement == "one" else program.aim,
                sides=_sides(setup),
            )
        )

    def rings(self) -> tuple[tuple[str, float], ...]:
        """Where on the curve each remark belongs: its number and a reading."""
        advice = self.session.adviser.advice
        if advice is None or advice.remarks is None or advice.request.setup != self.session.setup:
            return ()
        return tuple(
            (str(i), 0.5 * (remark.low + remark.high))
            for i, remark in enumerate(advice.remarks, 1)
            if remark.low is not None and remark.high is not None
        )

    def show_now(self, row: int) -> None:
        """Show where the robot is on it, at a row of the trace."""
        view = self.session.view
        if view is not None:
            trace = view.run.trace
            value = float(trace.error[row]) + view.setup.program.aim
            self.view.set_now(value, float(trace.left_power[row]), float(trace.right_power[row]))

    # --- editing

    def _is_there(self, name: str) -> bool:
        """Whether the program has a handle: those in sight are of the last run, and keys are quicker than runs."""
        return any(handle.name == name for handle in handles(self.session.setup.effective_program))

    def _on_dragged(self, name: str, reading: float, power: float, settled: bool) -> None:
        if name != "target" and not self._is_there(name):
            return
        changed = moved(self.session.setup.effective_program, name, reading, power, self.alike())
        self.take(f"curve: {name.replace('_', ' ')}", changed, f"curve {name}", settled)

    def _on_nudged(self, name: str, by_reading: float, by_power: float) -> None:
        if not self._is_there(name):
            return
        changed = nudged(self.session.setup.effective_program, name, by_reading, by_power, self.alike())
        self.take(f"curve: {name.replace('_', ' ')}", changed, f"nudge {name}", True)

    def take(self, label: str, program: Program, merge_key: str, settled: bool) -> None:
        """Make a program of the curve the present one."""
        # The curve is that of the program as it acts; which line is looked for is not changed on it.
        program = replace(program, line=self.session.setup.program.line)
        self.session.edit(label, replace(self.session.setup, program=program), merge_key)
        if settled:
            self.session.settle()


def _sides(setup: Setup) -> tuple[str, str]:
    """What lies to either side of an error of none."""
    if not setup.program.astride:
        return SIDES
    return LINE_AT if setup.effective_program.line == "dark" else (LINE_AT[1], LINE_AT[0])


def is_alike(program: Program) -> bool:
    """Both sides of the present law are set together, if it has any."""
    return program.chosen.alike is None or program.chosen.alike(program)
