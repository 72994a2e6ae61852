"""The robot's program: what it does each time round its loop."""

from dataclasses import dataclass
from typing import Annotated, Any

from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.law import Law
from irontrail.core.steering.laws.table import TABLE, Table
from irontrail.core.steering.legs import Trip
from irontrail.core.steering.mixing import Mixing
from irontrail.core.steering.pair import ASTRIDE, BALANCE, Arrangement, Pair, reach
from irontrail.core.steering.registry import LAWS, LawName, LawSettings
from irontrail.core.steering.side import Edge, Line


@dataclass(frozen=True)
class StopRules(Part):
    """When the program stops by itself: at the finish, or by time, distance or a marker's reading if that is sooner.

    The distance is that of the wheels' counts, the mean of both; a reading at or above `reading` for one loop is a
    marker brighter than the mat. 0 turns a rule off.
    """

    time_s: Annotated[
        float,
        Quantity(
            "stop after", "s", 0.0, 600.0, 0.5, 1.0, 1, says="The program stops by itself after so long; 0 for never."
        ),
    ] = 0.0
    distance_mm: Annotated[
        float,
        Quantity(
            "stop after", "mm", 0.0, 100_000.0, 50.0, says="The program stops by itself after so far; 0 for never."
        ),
    ] = 0.0
    reading: Annotated[
        float,
        Quantity(
            "stop at reading", "", 0.0, 100.0, 1.0, says="Stop when the sensor reads at least this much; 0 for never."
        ),
    ] = 0.0


@dataclass(frozen=True)
class Program(LawSettings):
    """The chosen law beside the settings of every law, and the loop around it.

    `target` is the reading that the robot steers toward; on-off takes it as its threshold. `line` says whether the
    line is darker or lighter than the mat. `ease_off` takes speed away in proportion to the error: all that share
    of it at half the calibrated span. `decision_loops` is how many loops a decision lasts; in between the program
    does not read. `delay_s` is the age of the sample that a decision acts on: sensor, driver and command together.
    Without a `trip` it follows the line until the finish. How two sensors make one error is the `arrangement`, by the
    numbers of `pair`; that of a table takes the powers of `table` in place of a law.
    """

    law: LawName = "proportional"
    edge: Edge = "left"
    line: Line = "dark"
    target: Annotated[
        float,
        Quantity(
            "target",
            "",
            0.0,
            100.0,
            1.0,
            says="The reading that the robot tries to keep: about half way between line and mat.",
        ),
    ] = 50.0
    speed: Annotated[
        float, Quantity("speed", "%", 0.0, 100.0, 1.0, says="The power of both wheels when it goes straight on.")
    ] = 50.0
    mixing: Mixing = "both wheels"
    ease_off: Annotated[
        float,
        Quantity(
            "ease-off", "%", 0.0, 1.0, 0.05, 100.0, says="How much slower it drives when it is far off the target."
        ),
    ] = 0.0
    stop: StopRules = StopRules()
    loop_time_s: Annotated[
        float,
        Quantity(
            "loop time",
            "ms",
            0.001,
            0.5,
            0.001,
            1000.0,
            says="How long the program takes once round: read, decide, set the motors.",
        ),
    ] = 0.01
    decision_loops: Annotated[
        int, Quantity("loops for a decision", "", 1, 2000, 1, says="It reads and decides only every so many loops.")
    ] = 1
    delay_s: Annotated[
        float,
        Quantity(
            "delay", "ms", 0.0, 0.5, 0.001, 1000.0, says="How old the reading is by the time the motors act on it."
        ),
    ] = 0.015
    trip: Trip | None = None
    arrangement: Arrangement = "one"
    pair: Pair = Pair()
    table: Table = Table()

    @property
    def chosen(self) -> Law:
        """What it steers by: its law, or the table of its two sensors."""
        return TABLE if self.arrangement == "table" else LAWS[self.law]

    @property
    def steers_by(self) -> str:
        """What it steers by, in a word or two: its law, and how two sensors make its error."""
        name = self.chosen.name
        return name if self.arrangement in ("one", name) else f"{self.arrangement}, {name}"

    @property
    def astride(self) -> bool:
        """It keeps the line between two sensors."""
        return self.arrangement in ASTRIDE

    @property
    def aim(self) -> float:
        """The value of what it steers by at which its error is none: its target, or two sensors even."""
        return self.target if self.arrangement == "one" else BALANCE

    @property
    def reach(self) -> tuple[float, float]:
        """The least and the greatest value that it can steer by."""
        return reach(self)

    @property
    def own(self) -> Any:
        """The settings of that law."""
        return getattr(self, self.chosen.field)

    @property
    def decision_time_s(self) -> float:
        """The time from one decision to the next: the decision period."""
        return self.decision_loops * self.loop_time_s
