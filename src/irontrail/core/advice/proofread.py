"""Proofreading a program without running it: what cannot work as it stands, where on the curve, and the mend.

Each check knows the curve, the readings that the sensor can meet across its line, and the bends of the route. One that
is not sure says nothing.
"""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from math import ceil

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.proofread_pair import proofread_pair
from irontrail.core.advice.remark import Remark
from irontrail.core.advice.tight_bends import too_gentle
from irontrail.core.light.reading import reading_per_raw
from irontrail.core.quantity import value_at, with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.curve import SteeringCurve
from irontrail.core.steering.law import Change
from irontrail.core.steering.program import Program
from irontrail.core.steering.side import edge_sign

# How far from its edge the sensor is when it must know which way to turn.
WELL_OFF_MM = 8.0
# Readings within this many standard deviations of the noise are met.
NOISE_SIGMAS = 3.0
# Readings that differ by less than this across the edge tell nothing.
CONTRAST = 5.0
# A slope that is clipped over more than this share of the readings is really on-off.
CLIPPED_SHARE = 0.7
# Power that a speed should leave below the limit, for the outer wheel to speed up.
ROOM = 12.0


@dataclass(frozen=True, eq=False)
class _Page:
    """What every check looks at."""

    setup: Setup
    curve: SteeringCurve
    low: float
    high: float
    noise: float
    off_line: float
    on_line: float

    @property
    def program(self) -> Program:
        return self.setup.program

    @property
    def sloped(self) -> bool:
        return bool(self.program.chosen.gain)


def proofread(setup: Setup) -> tuple[Remark, ...]:
    """All remarks on a setup's program, the gravest first."""
    of_pair = proofread_pair(setup)
    if setup.program.arrangement != "one":
        if any(remark.kind in ("unlike", "see the same") for remark in of_pair):
            return of_pair
        return (*of_pair, *(remark for check in _OF_PAIR for remark in check(_page(setup))))
    page = _page(setup)
    if page.high - page.low < CONTRAST:
        says = f"The sensor reads {page.low:.0f} to {page.high:.0f} across this edge: there is nothing to steer by."
        return (Remark("no contrast", says, page.low, page.high),)
    checks: tuple[Callable[[_Page], Iterator[Remark]], ...] = (
        _turned_away, _never, _clipped, _no_room, _dead_band, _too_gentle,
    )  # fmt: skip
    return (*of_pair, *(remark for check in checks for remark in check(page)))


def _page(setup: Setup) -> _Page:
    profile, light = derive.profile(setup), setup.light
    tape = setup.mat.followed.width_mm
    well = min(WELL_OFF_MM, 0.45 * tape)
    # Beyond the middle of the tape its other edge begins.
    across = profile.edge_mm >= (-np.inf if setup.program.astride else -0.5 * tape)
    noise = 0.0 if light.sensor.names_colours else NOISE_SIGMAS * light.sensor.noise * reading_per_raw(light)
    return _Page(
        setup=setup,
        curve=derive.curve(setup),
        low=float(profile.reading[across].min()),
        high=float(profile.reading[across].max()),
        noise=noise,
        off_line=float(np.interp(well, profile.edge_mm, profile.reading)),
        on_line=float(np.interp(-well, profile.edge_mm, profile.reading)),
    )


# --- the checks


def _turned_away(page: _Page) -> Iterator[Remark]:
    """Off the line the robot must turn toward it, on the line off it."""
    if page.sloped and page.program.target in (0.0, 100.0):
        return  # one side has no error at all, which another check says
    toward = edge_sign(page.program.edge) * _steer(page, page.off_line)
    away = -edge_sign(page.program.edge) * _steer(page, page.on_line)
    if toward > 0.0 and away > 0.0:
        return
    program = page.program
    if toward <= 0.0 and away <= 0.0 and toward + away < 0.0:
        reads = "dark" if page.on_line < page.off_line else "light"
        if reads == page.setup.effective_program.line:
            # The line is what it is told to be.
            mended = _changed_over(page)
            yield Remark(
                "turned away",
                "It turns away from its edge on both sides: its two wheels are changed over.",
                page.low,
                page.high,
                "Change the two wheels over" if mended else "",
                mended,
            )
            return
        line = "light" if program.line == "dark" else "dark"
        yield Remark(
            "turned away",
            f"It turns away from its edge on both sides: a {program.line} line is looked for, and the line here is "
            f"the {line}er of the two.",
            page.low,
            page.high,
            f"Follow a {line} line",
            with_value(page.setup, "program.line", line),
        )
        return
    for name, turn, reading in (("off", toward, page.off_line), ("on", away, page.on_line)):
        if turn <= 0.0:
            what = "turns the wrong way" if turn < 0.0 else "drives straight on"
            swapped = program.chosen.swapped(program, reading) if turn < 0.0 else None
            mended = replace(page.setup, program=swapped) if swapped is not None else None
            yield Remark(
                "turned away",
                f"Well {name} the line, where it reads {reading:.0f}, the robot {what}.",
                min(reading, program.target),
                max(reading, program.target),
                "Change the two wheels over" if mended else "",
                mended,
            )


def _changed_over(page: _Page) -> Setup | None:
    """The setup with its wheels changed over on both sides; None where that cannot be."""
    program = page.program
    for reading in (page.off_line, page.on_line):
        swapped = program.chosen.swapped(program, reading)
        if swapped is None:
            return None
        program = swapped
    return replace(page.setup, program=program)


def _never(page: _Page) -> Iterator[Remark]:
    """A rule that no reading met here can bring up."""
    program, low, high = page.program, page.low - page.noise, page.high + page.noise
    for unused in program.chosen.unused(program, low, high):
        says = unused.says
        if says.endswith(":"):
            says += f" across this edge {_span(page)}."
        mend, mended = _changed(page.setup, unused.change)
        yield Remark("never", says, unused.low, unused.high, mend, mended)
    if not program.chosen.uses_target or program.arrangement != "one":
        return
    name = program.chosen.target_name
    midway = round(0.5 * (page.low + page.high))
    mended = with_value(page.setup, "program.target", float(midway))
    reads = f"what the sensor reads across this edge ({page.low:.0f} to {page.high:.0f})"
    if program.target <= low or program.target == 0.0:
        side, where, span = "dark", "below", (0.0, program.target)
    elif program.target > high or (page.sloped and program.target == 100.0):
        side, where, span = "light", "above", (program.target, 100.0)
    else:
        return
    says = f"The {name} {program.target:g} lies {where} {reads}: the {side} side never decides."
    yield Remark("never", says, *span, f"Set it to {midway}, midway", mended)


def _clipped(page: _Page) -> Iterator[Remark]:
    """A slope so steep that it is clipped over most of the readings met."""
    if not page.sloped or _has_no_room(page.program):
        return
    reading = page.curve.reading
    met = (reading >= page.low) & (reading <= page.high)
    share = float(page.curve.clipped[met].mean()) if met.any() else 0.0
    if share < CLIPPED_SHARE:
        return
    path = f"program.{page.program.chosen.gain_path}"
    room = max(100.0 - page.program.speed, 5.0)
    gain = round(room / (0.5 * 0.5 * (page.high - page.low)), 2)
    where = reading[met & page.curve.clipped]
    mended = with_value(page.setup, path, gain) if 0.0 < gain < value_at(page.setup, path) else None
    yield Remark(
        "clipped",
        f"A wheel is at its limit over {100 * share:.0f} % of the readings: this steers like on-off.",
        float(where.min()),
        float(where.max()),
        f"Gain {gain:g}: clipped from half way out" if mended else "",
        mended,
    )


def _no_room(page: _Page) -> Iterator[Remark]:
    """A speed near the limit: the outer wheel cannot speed up, so half of the steer is lost."""
    program = page.program
    if not page.sloped or not _has_no_room(program):
        return
    room, speed = 100.0 - program.speed, 100.0 - 2.0 * ROOM
    yield Remark(
        "no room",
        f"Speed {program.speed:g} leaves {room:g} below the limit: the outer wheel can hardly speed up, "
        "and half of the steer is lost.",
        mend=f"Speed {speed:g}",
        mended=with_value(page.setup, "program.speed", speed),
    )


def _span(page: _Page) -> str:
    """What comes up across the edge: readings, or an error of two."""
    if page.program.arrangement == "one":
        return f"the sensor reads {page.low:.0f} to {page.high:.0f}"
    low, high = (f"{end - page.program.aim:.0f}".replace("-", "−") for end in (page.low, page.high))
    return f"the error is {low} to {high}"


def _has_no_room(program: Program) -> bool:
    return program.mixing != "inner wheel only" and program.speed > 100.0 - ROOM


def _dead_band(page: _Page) -> Iterator[Remark]:
    """A power that is wanted and does not turn its wheel."""
    program, dead = page.program, page.setup.robot.drive.dead_band
    least = float(ceil(dead))
    for power in program.chosen.powers(program):
        if 0.0 < abs(power.value) < dead:
            moving = power.put(program, least if power.value > 0.0 else -least)
            yield _asleep(power.whose, power.value, dead, power.low, power.high, replace(page.setup, program=moving))


def _asleep(whose: str, power: float, dead: float, low: float | None, high: float | None, mended: Setup) -> Remark:
    return Remark(
        "dead band",
        f"{whose} power {power:g} is inside the dead band of {dead:g}: it does not turn.".replace("-", "−"),
        low,
        high,
        f"Raise it to {ceil(dead)}",
        mended,
    )


def _too_gentle(page: _Page) -> Iterator[Remark]:
    """Powers that turn too wide for the tightest bend."""
    remark = too_gentle(page.setup)
    if remark is not None:
        yield remark


# What two sensors can be wrong by as one can.
_OF_PAIR: tuple[Callable[[_Page], Iterator[Remark]], ...] = (_never, _clipped, _no_room, _dead_band, _too_gentle)

# --- what the checks share


def _steer(page: _Page, reading: float) -> float:
    """Half the difference of the wanted powers at a reading, left less right."""
    curve = page.curve
    left = np.interp(reading, curve.reading, curve.wanted_left)
    return 0.5 * float(left - np.interp(reading, curve.reading, curve.wanted_right))


def _changed(setup: Setup, change: Change | None) -> tuple[str, Setup | None]:
    """What a change of the program says, and the setup with it."""
    return ("", None) if change is None else (change.says, replace(setup, program=change.program))
