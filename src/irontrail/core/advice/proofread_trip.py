"""Proofreading a trip without running it: what can never come, what cannot turn or start, and what is never driven."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.proofread import NOISE_SIGMAS
from irontrail.core.advice.proofread_watcher import proofread_watcher
from irontrail.core.advice.remark import Remark
from irontrail.core.capital import capital
from irontrail.core.light.reading import reading_of_patch, reading_per_raw
from irontrail.core.mat.route import Route, stroke_route
from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup, starts_on_line, zone_pose
from irontrail.core.steering.leg_words import leg_title, number, ordinal
from irontrail.core.steering.legs import (
    RAMP_LEAST,
    AfterDistance,
    AtFinish,
    AtMark,
    AtReading,
    CreepLeg,
    End,
    FollowLeg,
    Leg,
    LineFound,
    StraightLeg,
    TurnLeg,
)
from irontrail.core.steering.pair import Which

# Lines that meet at less than this angle do not cross, and crossings nearer than this along a line are one.
CROSSES_DEG, APART_MM = 35.0, 30.0
# A crossing that the sensor is set down so near to may be seen as ahead, or not at all.
ON_MM = 30.0
# A mend leaves a power so far above the dead band.
ABOVE_DEAD_BAND = 4.0


@dataclass(frozen=True)
class _Plan:
    """What every check looks at: the setup, and the least and greatest reading that each sensor can give on its mat."""

    setup: Setup
    reads: dict[Which, tuple[float, float]]

    @property
    def legs(self) -> tuple[Leg, ...]:
        trip = self.setup.program.trip
        return trip.legs if trip is not None else ()

    def changed(self, leg: int, name: str, value: object) -> Setup:
        return with_value(self.setup, f"program.trip.legs.{leg}.{name}", value)


def proofread_trip(setup: Setup) -> tuple[Remark, ...]:
    """All remarks on a setup's trip, in the order of its legs; none without one."""
    if setup.program.trip is None:
        return ()
    plan = _Plan(setup, {which: readings_on(setup.seen_by(which)) for which in setup.sensors})
    said = [*_no_line(plan)]
    for place in range(len(plan.legs)):
        said += [*_weak(plan, place), *_never(plan, place), *_cannot_end(plan, place)]
    return (*said, *proofread_watcher(setup))


def readings_on(setup: Setup) -> tuple[float, float]:
    """The least and the greatest reading that a sensor can give on its mat, with three standard deviations of noise."""
    light, seen = setup.light, derive.field(setup)
    if light.sensor.names_colours:
        values = [named.reads_as for named in light.sensor.palette]
        return min(values), max(values)
    ends = np.array([[seen.min()], [seen.max()]])
    made = reading_of_patch(light, setup.robot.mount.height_mm, ends, setup.mat.gloss)
    noise = NOISE_SIGMAS * light.sensor.noise * reading_per_raw(light)
    return max(float(made.min()) - noise, 0.0), min(float(made.max()) + noise, 100.0)


# --- readings and marks that never come


def _never(plan: _Plan, place: int) -> Iterator[Remark]:
    leg = plan.legs[place]
    for i, end in enumerate(leg.ends):
        why = _impossible(plan, end) or _behind(plan, place, end)
        if why:
            mended = _without(plan, place, i)
            yield _remark(
                "never comes", f"Leg {place + 1} waits for what never comes: {why}", "Take that end away", mended
            )
    if isinstance(leg, CreepLeg):
        low, high = plan.reads[leg.sensor]
        if leg.dark_reading < low:
            says = f"Leg {place + 1} creeps to a reading of {number(leg.dark_reading)}: {_darkest(plan, leg.sensor)}"
            value = min(float(np.ceil(low + 6.0)), 100.0)
            yield _remark("never dark", says, f"Dark at {number(value)}", plan.changed(place, "dark_reading", value))
        if leg.border_reading > high:
            says = f"Leg {place + 1} waits for a border of {number(leg.border_reading)}: {_brightest(plan, leg.sensor)}"
            yield _remark("never bright", says, "Wait for no border", plan.changed(place, "border_reading", 0.0))


def _impossible(plan: _Plan, end: End) -> str:
    """Why an end can never come; empty if it may."""
    low, high = plan.reads[getattr(end, "sensor", "first")]
    if isinstance(end, AtReading | AtMark):
        below = end.side == "below" if isinstance(end, AtReading) else end.mark == "crossing"
        if below and end.reading < low:
            return f"a reading of {number(end.reading)} or less. {capital(_darkest(plan, end.sensor))}"
        if not below and end.reading > high:
            return f"a reading of {number(end.reading)} or more. {capital(_brightest(plan, end.sensor))}"
    if isinstance(end, AtMark) and end.mark == "crossing":
        times = max(len(places) for places in crossings(plan.setup.mat))
        if end.count > times:
            there = f"no line of this mat is crossed more than {times} times" if times else "no lines cross on this mat"
            return f"the {ordinal(end.count)} crossing. {capital(there)}."
    if isinstance(end, LineFound):
        dark = plan.setup.effective_program.line == "dark"
        if end.reading < low if dark else end.reading > high:
            most = _darkest(plan, end.sensor) if dark else _brightest(plan, end.sensor)
            return f"a line that reads {number(end.reading)}. {capital(most)}"
    return ""


def _behind(plan: _Plan, place: int, end: End) -> str:
    """Why a crossing cannot come on the way of a first leg along an open line; empty where the way is not known."""
    setup, mat = plan.setup, plan.setup.mat
    crossing = isinstance(end, AtMark) and end.mark == "crossing"
    known = place == 0 and isinstance(plan.legs[0], FollowLeg) and starts_on_line(setup) and not mat.followed.closed
    if not crossing or not known or not isinstance(end, AtMark):
        return ""
    way, start = derive.route(mat, setup.trial.reverse), derive.start_mm(setup)
    places = crossings(mat)[mat.goal]
    ahead = [s for s in places if (way.length_mm - s if setup.trial.reverse else s) > start + ON_MM]
    if end.count <= len(ahead):
        return ""
    there = (
        "no line crosses ahead" if not ahead else f"only {len(ahead)} lie ahead" if len(ahead) > 1 else "one lies ahead"
    )
    return f"the {ordinal(end.count)} crossing. {capital(there)} of where the robot is set down."


def _darkest(plan: _Plan, which: Which) -> str:
    return f"the darkest that {_sensor(which)} reads here is {plan.reads[which][0]:.0f}."


def _brightest(plan: _Plan, which: Which) -> str:
    return f"the brightest that {_sensor(which)} reads here is {plan.reads[which][1]:.0f}."


def _sensor(which: Which) -> str:
    return "the sensor" if which == "first" else "the second sensor"


def _without(plan: _Plan, place: int, end: int) -> Setup | None:
    """The setup without an end, if its leg still ends."""
    leg = plan.legs[place]
    rest = leg.ends[:end] + leg.ends[end + 1 :]
    if not rest and not isinstance(leg, TurnLeg | CreepLeg):
        return None
    return plan.changed(place, "ends", rest)


def _cannot_end(plan: _Plan, place: int) -> Iterator[Remark]:
    """A leg of which nothing can end leaves those after it undriven."""
    leg, later = plan.legs[place], len(plan.legs) - place - 1
    own = isinstance(leg, TurnLeg) or (isinstance(leg, CreepLeg) and _creep_ends(plan, leg))
    if later and not own and all(_impossible(plan, end) or _behind(plan, place, end) for end in leg.ends):
        which = f"leg {place + 2} is" if later == 1 else f"legs {place + 2} to {len(plan.legs)} are"
        yield _remark("never driven", f"Leg {place + 1} never ends: {which} never driven.")


def _creep_ends(plan: _Plan, leg: CreepLeg) -> bool:
    low, high = plan.reads[leg.sensor]
    return leg.dark_reading >= low and leg.border_reading <= high


@lru_cache(maxsize=16)
def crossings(mat: Mat) -> tuple[tuple[float, ...], ...]:
    """Where each line of a mat is crossed by others, by arc length (mm), rising; a common beginning is no crossing."""
    routes = [stroke_route(stroke, mat.name) for stroke in mat.lines]
    return tuple(_crossed(i, routes) for i in range(len(routes)))


def _crossed(i: int, routes: list[Route]) -> tuple[float, ...]:
    from scipy.spatial import cKDTree

    own, places = routes[i], []
    for other in (route for j, route in enumerate(routes) if j != i):
        away, near = cKDTree(np.column_stack((other.x_mm, other.y_mm))).query(np.column_stack((own.x_mm, own.y_mm)))
        meets = (away < 1.5) & (np.abs(np.sin(own.heading - other.heading[near])) > np.sin(np.radians(CROSSES_DEG)))
        places += own.s_mm[meets].tolist()
    found: list[float] = []
    for place in sorted(places):
        if not found or place - found[-1] > APART_MM:
            found.append(place)
    return tuple(found)


# --- powers


def _weak(plan: _Plan, place: int) -> Iterator[Remark]:
    """A power that lies in the dead band drives nothing."""
    leg, dead = plan.legs[place], plan.setup.robot.drive.dead_band
    for name, power, what in _powers(leg):
        if abs(power) < dead:
            says = (
                f"Leg {place + 1} ({leg_title(leg)}): {what} {number(power)}, and below {number(dead)} no wheel turns."
            )
            up = min(float(np.ceil(dead + ABOVE_DEAD_BAND)), 100.0)
            mended = plan.changed(place, name, -up if power < 0.0 else up)
            yield _remark("too weak", says, f"Power {number(up)}", mended)
        elif _ramped(leg) and RAMP_LEAST * abs(power) < dead:
            says = (
                f"Leg {place + 1} ({leg_title(leg)}): at the end of its ramp the power is "
                f"{RAMP_LEAST * abs(power):.0f}, and below {number(dead)} no wheel turns."
            )
            name = "ramp_down_mm" if getattr(leg, "ramp_down_mm", 0.0) > 0.0 else "ramp_up_mm"
            yield _remark("ramp too low", says, "Without that ramp", plan.changed(place, name, 0.0))


def _powers(leg: Leg) -> Iterator[tuple[str, float, str]]:
    if isinstance(leg, StraightLeg | TurnLeg):
        yield "power", leg.power, "its power is"
    if isinstance(leg, CreepLeg):
        yield "least_power", leg.least_power, "its least power is"


def _ramped(leg: Leg) -> bool:
    return not isinstance(leg, FollowLeg) and (
        getattr(leg, "ramp_up_mm", 0.0) > 0.0 or getattr(leg, "ramp_down_mm", 0.0) > 0.0
    )


# --- where no line is


def _no_line(plan: _Plan) -> Iterator[Remark]:
    """A leg that follows, and begins where a reckoning from the start finds no line."""
    setup = plan.setup
    pose = zone_pose(setup)
    if pose is None:
        return
    x, y, heading = pose
    for place, leg in enumerate(plan.legs):
        if isinstance(leg, FollowLeg):
            ahead = setup.reference.ahead_mm
            off = _from_lines(setup.mat, x + ahead * np.cos(heading), y + ahead * np.sin(heading))
            # What it rolls on between legs is not reckoned with.
            if off > setup.trial.lost_distance_mm + 40.0:
                yield _remark("no line", f"Leg {place + 1} follows the line, and begins about {off:.0f} mm from any.")
            return
        if isinstance(leg, StraightLeg) and len(leg.ends) == 1 and isinstance(leg.ends[0], AfterDistance):
            way = leg.ends[0].distance_mm * (1.0 if leg.power >= 0.0 else -1.0)
            x, y = x + way * float(np.cos(heading)), y + way * float(np.sin(heading))
        elif isinstance(leg, TurnLeg) and not leg.ends and leg.about == "spot":
            heading += float(np.radians(leg.angle_deg))
        elif leg.kind != "wait":
            return


def _from_lines(mat: Mat, x: float, y: float) -> float:
    """How far a place is from the nearest line of a mat."""
    routes = (stroke_route(stroke, mat.name) for stroke in mat.lines)
    return min(float(np.hypot(route.x_mm - x, route.y_mm - y).min()) for route in routes)


def ends_at_finish(setup: Setup) -> bool:
    """Whether the mat's finish means something to a setup's program: without legs, or to one of them."""
    trip = setup.program.trip
    return trip is None or any(isinstance(end, AtFinish) for leg in trip.legs for end in leg.ends)


def _remark(kind: str, says: str, mend: str = "", mended: Setup | None = None) -> Remark:
    if mended is None:
        return Remark(kind, says)
    return replace(Remark(kind, says), mend=mend, mended=mended)
