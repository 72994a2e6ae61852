"""Two sensors on one robot: how they make one error, by names and by numbers.

What is steered by is `BALANCE` plus that error, so that a law that knows a target keeps two sensors even.
"""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Literal

from irontrail.core.quantity import Part, Quantity

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

Which = Literal["first", "second"]
SENSORS: tuple[Which, ...] = ("first", "second")

Arrangement = Literal["one", "table", "difference", "each its side", "weighted"]
# By name, in the order of their codes: what each does, in a sentence that a newcomer understands.
ARRANGEMENTS: dict[Arrangement, str] = {
    "one": "The first sensor follows its edge; the second one only watches.",
    "table": "One sensor on either side of the line, each on it or off it: four cases, a pair of powers for each.",
    "difference": "One sensor on either side of the line: steer by how much lighter the left one reads.",
    "each its side": "One sensor on either side of the line: each steers while it sees the line, else straight on.",
    "weighted": "Both sensors steer by the edge, each with its share of the error.",
}
# Those that keep the line between their sensors.
ASTRIDE: tuple[Arrangement, ...] = ("table", "difference", "each its side")
BALANCE = 50.0


@dataclass(frozen=True)
class Pair(Part):
    """The numbers of the arrangements.

    `weight` is the first sensor's share of the error of a weighted pair, the second one has the rest; `edges` says
    whether the second sensor rides on the same edge of the line as the first, or on the opposite one. A sensor is on
    the line where it reads below its threshold; above it, of a light line.
    """

    weight: Annotated[
        float,
        Quantity("weight of the first", "%", 0.0, 1.0, 0.05, 100.0, says="The first sensor's share of the error."),
    ] = 0.8
    edges: Literal["same", "opposite"] = "same"
    left_threshold: Annotated[
        float,
        Quantity("left threshold", "", 0.0, 100.0, 1.0, says="Below this reading the left sensor is on the line."),
    ] = 50.0
    right_threshold: Annotated[
        float,
        Quantity("right threshold", "", 0.0, 100.0, 1.0, says="Below this reading the right sensor is on the line."),
    ] = 50.0


def reach(program: "Program") -> tuple[float, float]:
    """The least and the greatest value that a program can steer by.

    A reading goes from 0 to 100; two sensors make an error of more or less than that, about `BALANCE`. The cases of a
    table are numbered from 0.
    """
    pair, target, dark = program.pair, program.target, program.line == "dark"
    most = 100.0
    if program.arrangement == "table":
        return 0.0, 3.0
    if program.arrangement == "difference":
        return BALANCE - most, BALANCE + most
    if program.arrangement == "each its side":
        left, right = (pair.left_threshold, pair.right_threshold) if dark else (
            most - pair.right_threshold, most - pair.left_threshold,
        )  # fmt: skip
        return BALANCE - left, BALANCE + right
    if program.arrangement == "weighted":
        low, high, rest = -target, most - target, 1.0 - pair.weight
        other_low, other_high = (low, high) if pair.edges == "same" else (-high, -low)
        return BALANCE + pair.weight * low + rest * other_low, BALANCE + pair.weight * high + rest * other_high
    return 0.0, most
