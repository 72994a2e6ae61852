"""Which side of the tape is followed, and which way the robot turns there."""

from typing import Literal, Protocol

from irontrail.core.steering.pair import ASTRIDE, Arrangement

Edge = Literal["left", "right"]
Line = Literal["dark", "light"]


class Sided(Protocol):
    """What tells the sides apart: a program."""

    @property
    def edge(self) -> Edge: ...

    @property
    def line(self) -> Line: ...

    @property
    def arrangement(self) -> Arrangement: ...


def steer_sign(program: Sided) -> float:
    """The way the robot turns on the light side: +1 right, -1 left.

    On the left edge of a dark line the line lies to the right, so a robot that sees light turns right; the other edge
    and a light line each swap that. Two sensors astride the line are as on its left edge: where the left one sees more
    light, the line lies to the right. A table names its powers for what is on the line.
    """
    if program.arrangement == "table":
        return 1.0
    if program.arrangement in ASTRIDE:
        return 1.0 if program.line == "dark" else -1.0
    right = (program.edge == "left") == (program.line == "dark")
    return 1.0 if right else -1.0


def edge_sign(edge: Edge) -> float:
    """The side of the tape's middle that the followed edge lies on: +1 left, -1 right."""
    return 1.0 if edge == "left" else -1.0
