"""The way of a leg and straight on beyond its end: what a hand drags the end of the leg along."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.light.profile import bilinear
from irontrail.core.light.reading import reading_of_patch
from irontrail.core.light.shadow import shadow_factor
from irontrail.core.mat.reflectance import MM_PER_PX
from irontrail.core.quantity import Quantity, quantities, with_value
from irontrail.core.result import LegRun, Run, point_way
from irontrail.core.setup import Setup
from irontrail.core.steering.legs import (
    AfterDistance,
    AfterTime,
    AtButton,
    AtMark,
    AtReading,
    CreepLeg,
    Leg,
    LineFound,
    TurnLeg,
    on_mark,
)
from irontrail.core.steering.pair import Which

Floats = NDArray[np.float64]

# How far beyond its end a leg is thought on, and by what steps.
BEYOND_MM, STEP_MM = 900.0, 2.0
# What a hand lands on, unless it is let go of the steps: lengths, times, angles and readings.
STEPS = {"distance_mm": 5.0, "time_s": 0.1, "angle_deg": 5.0}


@dataclass(frozen=True, eq=False)
class LegWay:
    """The way of a leg's sensor, shape (n,): places (mm), what the leg's wheels had counted, when, and what was read.

    `driven` of them were driven; the rest lie straight on from there. `axle` and `heading` are those at its beginning;
    `rolled_mm` and `turned_deg` are how far it rolled on, and turned on, after its end.
    """

    leg: int
    x_mm: Floats
    y_mm: Floats
    counted_mm: Floats
    time_s: Floats
    reading: Floats
    driven: int
    axle: tuple[float, float]
    heading: float
    rolled_mm: float
    turned_deg: float

    def nearest(self, x_mm: float, y_mm: float) -> int:
        """The row nearest to a place of the mat."""
        return int(np.argmin(np.hypot(self.x_mm - x_mm, self.y_mm - y_mm)))


def leg_way(setup: Setup, run: Run, leg: LegRun) -> LegWay:
    """The way of a leg of a setup's run."""
    trace = run.trace
    which = looked_at(setup, leg)
    seen = setup.seen_by(which)
    rows = slice(leg.begun, leg.over + 1)
    x, y = (column[rows] for column in point_way(trace, seen.robot.mount))
    read = trace.second_reading if which == "second" else trace.reading
    loop = float(trace.time_s[1]) if len(trace) > 1 else 0.0
    speed = 0.5 * (trace.left_speed_mm_s[rows] + trace.right_speed_mm_s[rows])
    counted = np.abs(np.concatenate(([0.0], np.cumsum(0.5 * (speed[1:] + speed[:-1]) * loop))))
    times = trace.time_s[rows] - trace.time_s[leg.begun]
    last = float(trace.heading_rad[leg.over]) + (np.pi if speed[: max(leg.ended - leg.begun, 1)].mean() < 0.0 else 0.0)
    ahead = np.arange(STEP_MM, BEYOND_MM, STEP_MM)
    far_x, far_y = x[-1] + ahead * np.cos(last), y[-1] + ahead * np.sin(last)
    ended = max(leg.ended, leg.begun)
    rests = leg is run.legs[-1]
    rolled = run.coast_mm if rests else float(counted[-1] - counted[ended - leg.begun])
    stood = run.rest_heading_rad if rests else float(trace.heading_rad[leg.over])
    going = float(np.abs(speed).max(initial=0.0)) or 1.0
    return LegWay(
        leg=leg.number,
        x_mm=np.concatenate((x, far_x)),
        y_mm=np.concatenate((y, far_y)),
        counted_mm=np.concatenate((counted, counted[-1] + ahead)),
        time_s=np.concatenate((times, times[-1] + ahead / going)),
        reading=np.concatenate((read[rows], readings_at(seen, far_x, far_y))),
        driven=x.size,
        axle=(float(trace.x_mm[leg.begun]), float(trace.y_mm[leg.begun])),
        heading=float(trace.heading_rad[leg.begun]),
        rolled_mm=rolled,
        turned_deg=float(np.degrees(stood - trace.heading_rad[ended])),
    )


def looked_at(setup: Setup, leg: LegRun) -> Which:
    """The sensor that the end which a hand drags looks at; the first where it looks at none."""
    trip = setup.program.trip
    if trip is None or leg.number >= len(trip.legs):
        return "first"
    asked = trip.legs[leg.number]
    which = main_end(asked, leg.ended_by)
    part: object = asked if which is None else asked.ends[which]
    return getattr(part, "sensor", "first")


def readings_at(setup: Setup, x_mm: Floats, y_mm: Floats) -> Floats:
    """What the program would read with its sensor over some places (mm), without noise."""
    light, height = setup.light, setup.robot.mount.height_mm
    seen = bilinear(derive.field(setup), x_mm / MM_PER_PX, y_mm / MM_PER_PX)
    factor = shadow_factor(light.areas, x_mm, y_mm)
    return np.asarray(reading_of_patch(light, height, seen, setup.mat.gloss, factor), np.float64)


def main_end(leg: Leg, ended_by: int) -> int | None:
    """Which of a leg's ends a hand drags: the one that came, or the first; None for its own, or where it has none."""
    if 0 < ended_by <= len(leg.ends):
        return ended_by - 1
    own = isinstance(leg, TurnLeg | CreepLeg)
    return None if own or not leg.ends else 0


def dragged(setup: Setup, way: LegWay, ended_by: int, x_mm: float, y_mm: float, free: bool = False) -> Setup:
    """A setup whose leg ends where a hand has dragged its end's mark.

    A distance or a time follows the hand, a turn turns toward it, both less what the robot rolls on; a reading becomes
    what is read there, and a count that of the marks on the way there: where that comes first, the leg will end.
    `free`: not in whole steps.
    """
    trip = setup.program.trip
    if trip is None or way.leg >= len(trip.legs):
        return setup
    leg, path = trip.legs[way.leg], f"program.trip.legs.{way.leg}"
    which = main_end(leg, ended_by)
    row = way.nearest(x_mm, y_mm)
    if which is None:
        if isinstance(leg, TurnLeg):
            return _put(setup, f"{path}.angle_deg", leg, "angle_deg", _turned_to(leg, way, x_mm, y_mm), free)
        if isinstance(leg, CreepLeg):
            return _put(setup, f"{path}.dark_reading", leg, "dark_reading", float(round(way.reading[row])), True)
        return setup
    end, path = leg.ends[which], f"{path}.ends.{which}"
    if isinstance(end, AfterDistance):
        return _put(setup, f"{path}.distance_mm", end, "distance_mm", float(way.counted_mm[row]) - way.rolled_mm, free)
    if isinstance(end, AfterTime | AtButton):
        return _put(setup, f"{path}.time_s", end, "time_s", float(way.time_s[row]), free)
    if isinstance(end, AtReading | LineFound):
        return _put(setup, f"{path}.reading", end, "reading", float(round(way.reading[row])), True)
    if isinstance(end, AtMark):
        return with_value(setup, f"{path}.count", max(marks_by(way, end, row), 1))
    return setup


def marks_by(way: LegWay, mark: AtMark, row: int) -> int:
    """How many marks lie on a leg's way up to a row, as its program counts them; one that it stands on counts."""
    sign = 1.0 if mark.mark == "bright mark" else -1.0
    beyond = sign * (way.reading - mark.reading) >= 0.0
    turned = np.concatenate(([0.0], np.cumsum(np.hypot(np.diff(way.x_mm), np.diff(way.y_mm)))))
    was = on = int(beyond[0])
    since, seen = 0.0, 0
    for i in range(row + 1):
        side, was_on = int(beyond[i]), on
        since, on = on_mark(side, was, since, on, float(turned[i]), mark.for_mm)
        was = side
        seen += on > was_on
    return seen


def _turned_to(leg: TurnLeg, way: LegWay, x_mm: float, y_mm: float) -> float:
    """The angle that points a turn at a place, as near as can be to what it is now."""
    toward = np.degrees(np.arctan2(y_mm - way.axle[1], x_mm - way.axle[0]) - way.heading) - way.turned_deg
    return leg.angle_deg + float((toward - leg.angle_deg + 180.0) % 360.0 - 180.0)


def _put(setup: Setup, path: str, part: object, name: str, value: float, free: bool) -> Setup:
    quantity: Quantity = quantities(type(part))[name]
    step = STEPS.get(name, 0.0)
    if not free and step:
        value = round(value / step) * step
    return with_value(setup, path, quantity.clamped(quantity.as_shown(value)))


def nudged(setup: Setup, number: int, ended_by: int, steps: float) -> Setup:
    """A setup whose leg's end has been moved on by some steps of its number."""
    trip = setup.program.trip
    if trip is None or number >= len(trip.legs):
        return setup
    leg, path = trip.legs[number], f"program.trip.legs.{number}"
    which = main_end(leg, ended_by)
    part: object = leg if which is None else leg.ends[which]
    name = next((each for each in NUDGED if each in quantities(type(part))), "")
    if which is not None:
        path = f"{path}.ends.{which}"
    if not name:
        return setup
    quantity = quantities(type(part))[name]
    value = quantity.clamped(quantity.as_shown(getattr(part, name) + steps * quantity.step))
    return with_value(setup, f"{path}.{name}", value)


# The number of an end that moves it, by what comes first of these.
NUDGED = ("angle_deg", "dark_reading", "distance_mm", "time_s", "count", "reading")
