"""The robot's program: what it does each time round its loop."""

from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.bands import Bands
from irontrail.core.steering.on_off import OnOff
from irontrail.core.steering.pid import Pid
from irontrail.core.steering.proportional import Mixed, Proportional

Edge = Literal["left", "right"]
LawName = Literal["on-off", "bands", "mixed", "proportional", "PID"]
LAW_NAMES: tuple[LawName, ...] = get_args(LawName)
Mixing = Literal["both wheels", "left wheel only", "right wheel only", "inner wheel only"]
MIXING_NAMES: tuple[Mixing, ...] = get_args(Mixing)


@dataclass(frozen=True)
class Stop(Part):
    """When the program stops by itself: at the finish, or by time, distance or a marker's reading if that is sooner.

    The distance is that of the wheels' counts, the mean of both; a reading at or above `reading` for one loop is a
    marker brighter than the mat. 0 turns a rule off.
    """

    time_s: Annotated[float, Quantity("stop after", "s", 0.0, 600.0, 0.5, 1.0, 1)] = 0.0
    distance_mm: Annotated[float, Quantity("stop after", "mm", 0.0, 100_000.0, 50.0)] = 0.0
    reading: Annotated[float, Quantity("stop at reading", "", 0.0, 100.0, 1.0)] = 0.0


@dataclass(frozen=True)
class Program(Part):
    """The chosen law, and the settings of every law, so that changing the law and back loses nothing.

    `target` is the reading that the robot steers toward; on-off takes it as its threshold. `line` says whether the
    line is darker or lighter than the mat. `ease_off` takes speed away in proportion to the error: all that share
    of it at half the calibrated span. `hold_s` is how long a decision is held before the program reads again, if
    that is longer than its loop. `delay_s` is the age of the sample that a decision acts on: sensor, driver and
    command together.
    """

    law: LawName = "proportional"
    edge: Edge = "left"
    line: Literal["dark", "light"] = "dark"
    target: Annotated[float, Quantity("target", "", 0.0, 100.0, 1.0)] = 50.0
    speed: Annotated[float, Quantity("speed", "%", 0.0, 100.0, 1.0)] = 50.0
    mixing: Mixing = "both wheels"
    ease_off: Annotated[float, Quantity("ease-off", "%", 0.0, 1.0, 0.05, 100.0)] = 0.0
    on_off: OnOff = OnOff()
    bands: Bands = Bands()
    mixed: Mixed = Mixed()
    proportional: Proportional = Proportional()
    pid: Pid = Pid()
    stop: Stop = Stop()
    loop_time_s: Annotated[float, Quantity("loop time", "ms", 0.001, 0.5, 0.001, 1000.0)] = 0.01
    hold_s: Annotated[float, Quantity("hold", "ms", 0.0, 2.0, 0.01, 1000.0)] = 0.0
    delay_s: Annotated[float, Quantity("delay", "ms", 0.0, 0.5, 0.001, 1000.0)] = 0.015


def light_turn(program: Program) -> float:
    """The way the robot turns on the light side: +1 right, -1 left.

    On the left edge of a dark line the line lies to the right, so a robot that sees light turns right; the other edge
    and a light line each swap that.
    """
    right = (program.edge == "left") == (program.line == "dark")
    return 1.0 if right else -1.0


def edge_sign(edge: Edge) -> float:
    """The side of the tape's middle that the followed edge lies on: +1 left, -1 right."""
    return 1.0 if edge == "left" else -1.0
