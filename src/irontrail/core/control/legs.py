"""The legs of a trip as plain numbers, and what is remembered of one while it is driven."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from irontrail.core.setup import Setup
from irontrail.core.steering.legs import (
    ENDS,
    LEGS,
    MAX_ENDS,
    MAX_LEGS,
    SEEING,
    AfterDistance,
    AfterTime,
    AtButton,
    AtMark,
    AtReading,
    CreepLeg,
    End,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    Trip,
    TurnLeg,
    WaitLeg,
    leg_edge,
)
from irontrail.core.steering.pair import SENSORS
from irontrail.core.steering.program import Program
from irontrail.core.steering.side import Edge, edge_sign, steer_sign

FOLLOW, STRAIGHT, TURN, CREEP, WAIT = range(len(LEGS))
TIME, DISTANCE, READING, MARK, FOUND, BUTTON, FINISH = range(len(ENDS))
# What has ended a leg that goes on; else the number of one of its ends, from 1, or OWN_END.
GOES_ON = 0

# `sign` is +1 for a reading at or above the value, -1 for one at or below it.
END = np.dtype([("kind", "i8"), ("count", "i8"), ("sensor", "i8"), ("sign", "f8"), ("value", "f8"), ("for_mm", "f8")])
# `scale` is that of a law's own powers; `turn` how far the wheels turn against each other, in mm, left positive;
# `length` the way after which it is to slow down, infinite if none is known.
LEG = np.dtype(
    [(name, "i8") for name in ("kind", "end_count", "brakes", "held", "one_wheel", "sensor")]
    + [
        (name, "f8")
        for name in (
            "speed", "scale", "steer_sign", "edge_sign", "power", "turn", "per_reading", "least", "dark", "border",
            "ramp_up", "ramp_down", "length",
        )
    ]
    + [("ends", END, (MAX_ENDS,))]
)  # fmt: skip
# The leg that is driven, from 0; whether it brakes after its end, and what ended it. `driven` is how far the wheels
# have turned since it began, either way. Of each end: which side of its value was read last, since when (driven),
# whether it is on a mark or armed, and how many it has seen.
TRIP = np.dtype(
    [(name, "i8") for name in ("leg", "begun", "braking", "ended", "done", "bordered")]
    + [(name, "f8") for name in ("began", "left", "right", "driven", "last_left", "last_right", "last_time")]
    + [("beyond", "i8", (MAX_ENDS,)), ("since", "f8", (MAX_ENDS,)), ("on", "i8", (MAX_ENDS,))]
    + [("seen", "i8", (MAX_ENDS,))]
)


@dataclass(frozen=True)
class _Follower:
    """What legs need to know of the program around them, and of the robot."""

    speed: float
    mean_power: float
    edge: Edge
    steer_sign: float
    astride: bool
    dark_line: bool
    track_mm: float


def packed_legs(setup: Setup) -> NDArray[np.void]:
    """The legs of a setup's trip, shape (MAX_LEGS,); those past the last are zero."""
    program, trip = setup.program, setup.program.trip
    if trip is None:
        return np.zeros(MAX_LEGS, LEG)
    effective = setup.effective_program
    return _packed(
        trip,
        _Follower(
            program.speed, mean_power(program), program.edge, steer_sign(effective), program.astride,
            effective.line == "dark", setup.robot.drive.track_width_mm,
        ),
    )  # fmt: skip


@lru_cache(maxsize=64)
def _packed(trip: Trip, follower: _Follower) -> NDArray[np.void]:
    records = np.zeros(MAX_LEGS, LEG)
    for record, leg in zip(records, trip.legs, strict=False):
        record["kind"] = list(LEGS).index(leg.kind)
        record["brakes"] = leg.then == "brake"
        record["end_count"] = len(leg.ends)
        record["steer_sign"] = follower.steer_sign
        record["edge_sign"] = 1.0 if follower.astride else edge_sign(follower.edge)
        record["length"] = min((end.distance_mm for end in leg.ends if isinstance(end, AfterDistance)), default=np.inf)
        for place, end in enumerate(leg.ends):
            for name, value in _end(end, follower.dark_line, isinstance(leg, WaitLeg)).items():
                record["ends"][place][name] = value
        for name, value in _PACKED[type(leg)](leg, follower).items():
            record[name] = value
    records.setflags(write=False)
    return records


def _end(end: End, dark_line: bool, stands: bool) -> dict[str, float]:
    values: dict[str, float] = {"kind": list(ENDS).index(end.kind)}
    if isinstance(end, SEEING):
        values["sensor"] = SENSORS.index(end.sensor)
    if isinstance(end, AfterTime | AtButton):
        values["value"] = end.time_s
    elif isinstance(end, AfterDistance):
        values["value"] = end.distance_mm
    elif isinstance(end, AtReading):
        # A robot that stands turns no wheel while a reading is to be held.
        held = 0.0 if stands else end.for_mm
        values |= {"value": end.reading, "sign": 1.0 if end.side == "above" else -1.0, "for_mm": held}
    elif isinstance(end, AtMark):
        sign = 1.0 if end.mark == "bright mark" else -1.0
        values |= {"value": end.reading, "sign": sign, "for_mm": end.for_mm, "count": end.count}
    elif isinstance(end, LineFound):
        values |= {"value": end.reading, "sign": -1.0 if dark_line else 1.0}
    return values


def mean_power(program: Program) -> float:
    """The mean of the powers that a program's law names, without their signs: about how fast it drives."""
    powers = program.chosen.powers(program)
    return float(np.mean([abs(power.value) for power in powers])) if powers else program.speed


def _follow(leg: FollowLeg, follower: _Follower) -> dict[str, float]:
    # Astride the line there is no edge to change.
    edge = follower.edge if follower.astride else leg_edge(leg, follower.edge)
    scaled = leg.speed > 0.0 and follower.mean_power > 0.0
    return {
        "speed": leg.speed or follower.speed,
        "scale": leg.speed / follower.mean_power if scaled else 1.0,
        "steer_sign": follower.steer_sign if edge == follower.edge else -follower.steer_sign,
        "edge_sign": 1.0 if follower.astride else edge_sign(edge),
        "ramp_up": leg.ramp_up_mm,
        "ramp_down": leg.ramp_down_mm,
    }


def _straight(leg: StraightLeg, _follower: _Follower) -> dict[str, float]:
    return {"power": leg.power, "held": leg.held, "ramp_up": leg.ramp_up_mm, "ramp_down": leg.ramp_down_mm}


def _turn(leg: TurnLeg, follower: _Follower) -> dict[str, float]:
    turn = float(np.radians(leg.angle_deg)) * follower.track_mm
    return {
        "power": leg.power,
        "turn": turn,
        "one_wheel": leg.about == "wheel",
        "ramp_down": leg.ramp_down_mm,
        # Both wheels turn half of it; `driven` is their mean.
        "length": 0.5 * abs(turn),
    }


def _creep(leg: CreepLeg, _follower: _Follower) -> dict[str, float]:
    return {
        "per_reading": leg.power_per_reading,
        "least": leg.least_power,
        "dark": leg.dark_reading,
        "border": leg.border_reading,
        "sensor": SENSORS.index(leg.sensor),
    }


_PACKED: dict[type[Leg], Callable[[Any, _Follower], dict[str, float]]] = {
    FollowLeg: _follow,
    StraightLeg: _straight,
    TurnLeg: _turn,
    CreepLeg: _creep,
    WaitLeg: lambda _leg, _follower: {},
}
