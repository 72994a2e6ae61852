"""A trip: the legs that a run is made of, what each does, and what ends it."""

from dataclasses import dataclass
from typing import Annotated, Literal, get_args

from irontrail.core.errors import OutOfRangeError
from irontrail.core.quantity import Part, Quantity
from irontrail.core.steering.pair import Which
from irontrail.core.steering.side import Edge

MAX_LEGS = 24
MAX_ENDS = 6
# What a leg was ended by, if not by one of its ends, from 1: the angle of a turn, or the dark reading of a creep.
OWN_END = MAX_ENDS + 1
# A ramp never asks for less than this share of the power.
RAMP_LEAST = 0.3
# A wheel that turns slower than this, by its counts, stands.
STANDS_MM_S = 2.0
# How much power is moved from the wheel that is ahead to the other, for each mm, where a straight is held by counts.
HOLD_PER_MM = 1.5
# The line is found only after a reading has been so far off it.
OFF_LINE = 10.0
Then = Literal["brake", "roll on"]
LegEdge = Literal["the program's", "left", "right"]


def _reading(says: str) -> Quantity:
    return Quantity("reading", "", 0.0, 100.0, 1.0, says=says)


def _held(says: str) -> Quantity:
    return Quantity("held for", "mm", 0.0, 500.0, 1.0, says=says)


# --- what ends a leg


@dataclass(frozen=True)
class AfterTime(Part):
    """So long after the leg began."""

    time_s: Annotated[
        float, Quantity("time", "s", 0.0, 600.0, 0.1, 1.0, 1, says="The leg ends this long after it began.")
    ] = 1.0
    kind: Literal["time"] = "time"


@dataclass(frozen=True)
class AfterDistance(Part):
    """So far from where the leg began, by the mean of both wheels' counts, forward or back."""

    distance_mm: Annotated[
        float,
        Quantity(
            "distance", "mm", 1.0, 20_000.0, 10.0, says="The leg ends this far on, by what the wheels have counted."
        ),
    ] = 300.0
    kind: Literal["distance"] = "distance"


@dataclass(frozen=True)
class AtReading(Part):
    """The reading is at or below a value, or at or above it, and stays so while the wheels turn so far."""

    side: Literal["below", "above"] = "below"
    reading: Annotated[float, _reading("The leg ends when the light reads this, or beyond it.")] = 20.0
    for_mm: Annotated[float, _held("How far it must stay so: more lets a short flicker pass.")] = 0.0
    kind: Literal["reading"] = "reading"
    sensor: Which = "first"


@dataclass(frozen=True)
class AtMark(Part):
    """The so many-th mark seen since the leg began: a dark line that crosses, or a bright patch.

    A mark is seen once the reading has stayed at or beyond a value for so far, and counts again only after it has been
    back on the other side of it for as far.
    """

    count: Annotated[
        int, Quantity("which one", "", 1, 50, 1, says="1 ends the leg at the first mark, 2 at the second.")
    ] = 1
    mark: Literal["crossing", "bright mark"] = "crossing"
    reading: Annotated[float, _reading("A crossing reads this or darker, a bright mark this or brighter.")] = 12.0
    for_mm: Annotated[float, _held("How far it must read so, that following the edge is not taken for a mark.")] = 8.0
    kind: Literal["mark"] = "mark"
    sensor: Which = "first"


@dataclass(frozen=True)
class LineFound(Part):
    """The line comes under the sensor: the reading crosses a value onto the line, after it was clearly off it."""

    reading: Annotated[float, _reading("The line is found when the light reads this, coming from the mat.")] = 50.0
    kind: Literal["line found"] = "line found"
    sensor: Which = "first"


@dataclass(frozen=True)
class AtButton(Part):
    """The robot's button, pressed so long after the leg began: a stand-in for a finger."""

    time_s: Annotated[
        float,
        Quantity("pressed after", "s", 0.0, 600.0, 0.1, 1.0, 1, says="When in this leg somebody presses the button."),
    ] = 1.0
    kind: Literal["button"] = "button"


@dataclass(frozen=True)
class AtFinish(Part):
    """The mat's finish: a stand-in for the person who lifts the robot off."""

    kind: Literal["finish"] = "finish"


# Those that look at what a sensor reads, and name it.
SEEING = (AtReading, AtMark, LineFound)

End = AfterTime | AfterDistance | AtReading | AtMark | LineFound | AtButton | AtFinish
ENDS: dict[str, type[End]] = {end.__dataclass_fields__["kind"].default: end for end in get_args(End)}

# --- legs

_UP = Quantity(
    "speeds up over", "mm", 0.0, 1000.0, 10.0, says="Over how much of its beginning the power grows; 0 for at once."
)
_DOWN = Quantity(
    "slows down over",
    "mm",
    0.0,
    1000.0,
    10.0,
    says="Over how much before its distance or angle is reached the power falls; 0 for not at all.",
)


@dataclass(frozen=True)
class FollowLeg(Part):
    """Follows the line with the program's follower, at a speed and on an edge of its own if it is given them.

    Its memory is cleared when the leg begins. A law that names powers of its own has them all scaled so that their
    mean is the speed. 0 for the program's speed.
    """

    ends: tuple[End, ...] = (AfterDistance(600.0),)
    then: Then = "brake"
    speed: Annotated[
        float,
        Quantity("speed", "%", 0.0, 100.0, 1.0, says="How fast it follows in this leg; 0 for the follower's own."),
    ] = 0.0
    edge: LegEdge = "the program's"
    ramp_up_mm: Annotated[float, _UP] = 0.0
    ramp_down_mm: Annotated[float, _DOWN] = 0.0
    kind: Literal["follow"] = "follow"


@dataclass(frozen=True)
class StraightLeg(Part):
    """Drives straight on, both wheels at one power; `held` keeps their counts alike, whatever the motors do."""

    ends: tuple[End, ...] = (AfterDistance(200.0),)
    then: Then = "brake"
    power: Annotated[
        float, Quantity("power", "%", -100.0, 100.0, 1.0, says="The power of both wheels; less than 0 drives back.")
    ] = 40.0
    held: bool = True
    ramp_up_mm: Annotated[float, _UP] = 0.0
    ramp_down_mm: Annotated[float, _DOWN] = 0.0
    kind: Literal["straight"] = "straight"


@dataclass(frozen=True)
class TurnLeg(Part):
    """Turns by an angle of the wheels' counts, left if positive, or until another end comes first.

    On the spot both wheels turn against each other; about one wheel, that on the inside stands.
    """

    angle_deg: Annotated[
        float,
        Quantity("angle", "°", -720.0, 720.0, 5.0, says="How far it turns, by its wheels; to the left is more than 0."),
    ] = 90.0
    power: Annotated[float, Quantity("power", "%", 1.0, 100.0, 1.0, says="The power of the wheels that turn it.")] = (
        25.0
    )
    about: Literal["spot", "wheel"] = "spot"
    ends: tuple[End, ...] = ()
    then: Then = "brake"
    ramp_down_mm: Annotated[float, _DOWN] = 0.0
    kind: Literal["turn"] = "turn"


@dataclass(frozen=True)
class CreepLeg(Part):
    """Drives straight on at a power in proportion to the reading, never below a least one: slowly over a dark line.

    It is over at the dark reading. If there is a border reading, it must have read that first: a light rim along the
    line.
    """

    power_per_reading: Annotated[
        float,
        Quantity(
            "power per reading", "", 0.0, 5.0, 0.05, 1.0, 2, says="How much power for each point that the light reads."
        ),
    ] = 0.4
    least_power: Annotated[
        float, Quantity("least power", "%", 0.0, 100.0, 1.0, says="It never drives slower than this.")
    ] = 12.0
    dark_reading: Annotated[float, _reading("It is over when the light reads this or darker.")] = 12.0
    border_reading: Annotated[
        float, _reading("It first waits until the light reads this or brighter; 0 waits for nothing.")
    ] = 0.0
    ends: tuple[End, ...] = ()
    then: Then = "brake"
    kind: Literal["creep"] = "creep"
    sensor: Which = "first"


@dataclass(frozen=True)
class WaitLeg(Part):
    """Stands."""

    ends: tuple[End, ...] = (AfterTime(1.0),)
    then: Then = "brake"
    kind: Literal["wait"] = "wait"


Leg = FollowLeg | StraightLeg | TurnLeg | CreepLeg | WaitLeg
LEGS: dict[str, type[Leg]] = {leg.__dataclass_fields__["kind"].default: leg for leg in get_args(Leg)}
# Legs that would never end by themselves.
ENDLESS = (FollowLeg, StraightLeg, WaitLeg)


@dataclass(frozen=True)
class Trip(Part):
    """Legs, driven in order; each ends on the first of its ends that comes."""

    legs: tuple[Leg, ...]

    def __post_init__(self) -> None:
        super().__post_init__()
        if not self.legs:
            raise OutOfRangeError("a trip has no legs", "Trip.legs", "Give it at least one, or leave the trip out.")
        if len(self.legs) > MAX_LEGS:
            raise OutOfRangeError(f"{len(self.legs)} legs are more than {MAX_LEGS}", "Trip.legs")
        for i, leg in enumerate(self.legs):
            where = f"Trip.legs.{i}"
            if isinstance(leg, ENDLESS) and not leg.ends:
                raise OutOfRangeError(
                    f"leg {i + 1} ({leg.kind}) ends on nothing",
                    where,
                    "Give it a time, a distance or a mark to end on.",
                )
            if len(leg.ends) > MAX_ENDS:
                raise OutOfRangeError(f"{len(leg.ends)} ends are more than {MAX_ENDS}", where)
            kinds = [end.kind for end in leg.ends]
            if isinstance(leg, WaitLeg) and not set(kinds) <= {"time", "button", "reading"}:
                raise OutOfRangeError(f"leg {i + 1} stands, and waits for what only a drive brings", where)


def on_mark(beyond: int, was_beyond: int, since: float, on: int, driven: float, for_mm: float) -> tuple[float, int]:
    """One look at what may be a mark: since when (driven, mm) it has been on this side, and whether it is on one.

    Plain Python that Numba compiles for the legs' step; what draws and words a trip asks it as it is.

    >>> on_mark(1, 0, 0.0, 0, 30.0, 5.0), on_mark(1, 1, 30.0, 0, 35.0, 5.0)
    ((30.0, 0), (30.0, 1))
    """
    if beyond != was_beyond:
        since = driven
    return since, beyond if driven - since >= for_mm else on


def leg_edge(leg: FollowLeg, edge: Edge) -> Edge:
    """The edge that a leg follows, where the program's own is `edge`."""
    return edge if leg.edge == "the program's" else leg.edge
