"""What the pointer can take hold of on the mat; each stop may lend the mat a hand of its own."""

from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from PySide6.QtCore import QObject, QPointF, Qt, Signal
from PySide6.QtGui import QPainter, QTransform

from irontrail.app.theme import Theme
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way, with_ctrl, with_shift
from irontrail.app.widgets.robot_drawing import Eye
from irontrail.core.robot.mount import Robot

# What a key pulls the robot by.
PULL_MM, TURN_DEG = 2.0, 5.0


@dataclass(frozen=True)
class Touch:
    """Where the pointer is on the mat, how many pixels a millimetre has there, and which keys are held."""

    mm: QPointF
    px_per_mm: float
    shift: bool = False
    ctrl: bool = False

    def px_to(self, x_mm: float, y_mm: float) -> float:
        """How many pixels away a place of the mat is."""
        return float(np.hypot(self.mm.x() - x_mm, self.mm.y() - y_mm)) * self.px_per_mm


class Work(Protocol):
    """What a hand has drawn under the run's trail; it is drawn anew when it is another one."""

    def draw(self, painter: QPainter, to_px: QTransform) -> None:
        """Draw it on the mat."""


class MatHand(Keyed, QObject):
    """Takes hold of things on the mat; says `changed()` when it wants to be drawn again."""

    changed = Signal()
    # Lies over all else: neither the robot nor its trail is there to be touched.
    covers = False

    def grips(self, touch: Touch) -> bool:  # noqa: ARG002
        """Whether it takes hold where the pointer is pressed."""
        return False

    def drag(self, touch: Touch) -> None:
        """The pointer has moved with what is held."""

    def let_go(self, touch: Touch, dragged: bool) -> None:
        """The pointer is released, after a drag or a mere press."""

    def cursor(self, touch: Touch) -> Qt.CursorShape | None:  # noqa: ARG002
        """The pointer's shape over what could be held; None over nothing."""
        return None

    def work(self) -> Work | None:
        """What is to be seen under the run's trail."""
        return None

    def draw(self, painter: QPainter, theme: Theme, to_px: QTransform) -> None:
        """Draw what can be held, over all else."""


@dataclass(frozen=True)
class RobotNow:
    """The robot at the playhead."""

    robot: Robot
    spot_mm: float
    x_mm: float
    y_mm: float
    heading: float
    light_side: bool
    rule: str = ""
    # What the first of two sensors sees itself, and the second one.
    first_light: bool | None = None
    second: Eye | None = None


class RobotHand(MatHand):
    """Pulls the robot off its way.

    Says `pulled(x, y, heading, settled)` (mm, rad), or `pressed(mm)` when it is only touched.
    """

    pulled = Signal(float, float, float, bool)
    pressed = Signal(QPointF)
    WHERE = "On the mat"
    KEYS = (
        Key(with_ctrl(ARROWS), "pull the robot off its way", lambda hand, name: hand.pull(PULL_MM, *way(name))),
        Key(with_ctrl(with_shift(ARROWS)), "pull it tenfold", lambda hand, name: hand.pull(10.0 * PULL_MM, *way(name))),
        Key(("Alt+Left", "Alt+Right"), "turn the robot", lambda hand, name: hand.turn(-way(name)[0] * TURN_DEG)),
    )

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.now: RobotNow | None = None
        self._grip = QPointF()

    def grips(self, touch: Touch) -> bool:
        if self.now is None:
            return False
        reach = max(0.4 * self.now.robot.drive.track_width_mm * touch.px_per_mm, 8.0)
        self._grip = touch.mm - QPointF(self.now.x_mm, self.now.y_mm)
        return touch.px_to(self.now.x_mm, self.now.y_mm) < reach

    def drag(self, touch: Touch) -> None:
        self._pull(touch, False)

    def let_go(self, touch: Touch, dragged: bool) -> None:
        if dragged:
            self._pull(touch, True)
        else:
            self.pressed.emit(touch.mm)

    def _pull(self, touch: Touch, settled: bool) -> None:
        """The robot goes with the pointer; with Shift it turns toward it."""
        if self.now is None:
            return
        axle, heading = touch.mm - self._grip, self.now.heading
        if touch.shift:
            axle = QPointF(self.now.x_mm, self.now.y_mm)
            to = touch.mm - axle
            heading = float(np.arctan2(to.y(), to.x()))
        self.pulled.emit(axle.x(), axle.y(), heading, settled)

    def pull(self, far: float, right: float, up: float) -> bool:
        """Pull the robot so far along the mat; whether there is one."""
        if self.now is None:
            return False
        self._put(replace(self.now, x_mm=self.now.x_mm + far * right, y_mm=self.now.y_mm + far * up))
        return True

    def turn(self, by_deg: float) -> bool:
        """Turn the robot where it is; whether there is one."""
        if self.now is None:
            return False
        self._put(replace(self.now, heading=self.now.heading + float(np.radians(by_deg))))
        return True

    def _put(self, now: RobotNow) -> None:
        """Put the robot there by a key; the next key goes on from there, whether or not its run has been driven."""
        self.pulled.emit(now.x_mm, now.y_mm, now.heading, False)
        self.now = now
