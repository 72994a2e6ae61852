"""The robot's program: what it does each time round its loop."""

from dataclasses import dataclass
from typing import Annotated, Literal

from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.on_off import OnOff
from irontrail.core.steering.proportional import Proportional

Edge = Literal["left", "right"]
LawName = Literal["on-off", "proportional"]


@dataclass(frozen=True)
class Program(Part):
    """The chosen law, and the settings of every law, so that changing the law and back loses nothing.

    `target` is the reading that the robot steers toward; on-off takes it as its threshold. `delay_s` is the age
    of the sample that a decision acts on: sensor, driver and command together.
    """

    law: LawName = "proportional"
    edge: Edge = "left"
    target: Annotated[float, Quantity("target", "", 0.0, 100.0, 1.0)] = 50.0
    speed: Annotated[float, Quantity("speed", "%", 0.0, 100.0, 1.0)] = 50.0
    on_off: OnOff = OnOff()
    proportional: Proportional = Proportional()
    loop_time_s: Annotated[float, Quantity("loop time", "ms", 0.001, 0.5, 0.001, 1000.0)] = 0.01
    delay_s: Annotated[float, Quantity("delay", "ms", 0.0, 0.5, 0.001, 1000.0)] = 0.015


def light_turn(edge: Edge) -> float:
    """The way the robot turns on the light side: +1 right, -1 left.

    On the left edge of a dark line the line lies to the right, so a robot that sees light turns right.
    """
    return 1.0 if edge == "left" else -1.0
