"""Proportional steering: the further the reading is from the target, the harder the robot steers back."""

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, Any

from irontrail.core.quantity import Part, Quantity, quantities
from irontrail.core.steering.law import P_SHARE, DialRange, Gains, Handle, Law, Sentence, Tuned
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import (
    FAR,
    GAIN,
    SPEED_DIAL,
    handle_away,
    held,
    left_power,
    moved_slope,
    nudged_slope,
    number,
    slope_handles,
    slope_powers,
    slope_through,
    to_dark,
    with_gain,
)

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program


@dataclass(frozen=True)
class Proportional(Part):
    """`gain`: percent of steer for each unit that the reading is off the target.

    On the dark side the gain is `dark_ratio` times as much.
    """

    gain: Annotated[float, GAIN] = 0.7
    dark_ratio: Annotated[
        float,
        Quantity(
            "gain ratio dark to light",
            "",
            0.0,
            10.0,
            0.05,
            1.0,
            2,
            says="How much harder it steers on the dark side than on the light side.",
        ),
    ] = 1.0


def _step(law: Any, reading: float, target: float, memory: Any) -> tuple[float, float, float]:
    error = reading - target
    steer = law.gain * error * (law.dark_ratio if error < 0.0 else 1.0)
    memory[P_SHARE] = steer
    rule = 1.0 if error < 0.0 and law.dark_ratio != 1.0 else 0.0
    return rule, steer, 0.0


def is_alike(program: "Program") -> bool:
    """Both sides have the same gain."""
    return program.proportional.dark_ratio == 1.0


def _evened(program: "Program") -> "Program":
    return replace(program, proportional=replace(program.proportional, dark_ratio=1.0))


def _words(program: "Program") -> tuple[Sentence, ...]:
    """The light side's sentence first, where the sides differ."""
    sign, law = "" if steer_sign(program) > 0 else "−", program.proportional
    if is_alike(program):
        return (Sentence(f"Steer = {sign}{number(law.gain)} × error (right is positive).", 0),)
    return (
        Sentence(f"On the light side steer = {sign}{number(law.gain)} × error.", 0),
        Sentence(f"On the dark side steer = {sign}{number(law.gain * law.dark_ratio)} × error.", 1),
    )


def _handles(program: "Program") -> tuple[Handle, ...]:
    law = program.proportional
    away = handle_away(program, law.gain)
    light = min(away, program.reach[1] - program.aim)
    dark = to_dark(program, light if light > 0.0 else FAR)
    steer = steer_sign(program) * law.gain * law.dark_ratio * dark
    place = Handle("dark gain", "gain of the dark side", program.aim + dark, left_power(program, steer))
    return (*slope_handles(program, away), place)


def _moved(program: "Program", name: str, reading: float, power: float, alike: bool) -> "Program":
    slope = slope_through(program, reading, power)
    if name == "dark gain":
        return program if slope is None else _with_dark_slope(program, slope, alike)
    ratio = program.proportional.dark_ratio
    if name == "gain" and slope is not None and reading < program.aim and ratio > 0.0:
        return with_gain(program, slope / ratio)
    return moved_slope(program, name, reading, power, alike)


def _nudged(program: "Program", name: str, by_power: float, alike: bool) -> "Program | None":
    if name != "dark gain":
        return nudged_slope(program, name, by_power, alike)
    law = program.proportional
    return _with_dark_slope(
        program, law.gain * law.dark_ratio + by_power * quantities(Proportional)["gain"].step, alike
    )


def _with_dark_slope(program: "Program", slope: float, alike: bool) -> "Program":
    """The program with another slope on the dark side, or on both sides while they are alike."""
    if alike:
        return with_gain(_evened(program), slope)
    gain = program.proportional.gain
    ratio = round(slope / gain, 3) if gain > 0.0 else 1.0
    return replace(program, proportional=held(program.proportional, dark_ratio=ratio))


def _gains(program: "Program") -> Gains | None:
    """None with a slope of its own on each side: what bends at the target is not linear there."""
    return Gains(program.proportional.gain) if is_alike(program) else None


def _listed(program: "Program") -> Steps:
    ranges, law = quantities(Proportional), program.proportional
    gain = Number.of("GAIN", ranges["gain"], law.gain)
    if is_alike(program):
        return Steps((gain,), ("steer = GAIN * error  #@0",))
    return Steps(
        (gain, Number.of("DARK_RATIO", ranges["dark_ratio"], law.dark_ratio)),
        ("if error < 0.0:", "    steer = GAIN * error * DARK_RATIO  #@1", "else:", "    steer = GAIN * error  #@0"),
    )


PROPORTIONAL = Law(
    name="proportional",
    field="proportional",
    settings=Proportional,
    record=(("gain", "f8"), ("dark_ratio", "f8")),
    packed=lambda law, _period_s: (law.gain, law.dark_ratio),
    step=_step,
    gives="steer",
    says="Steer harder the farther the reading is off the target.",
    shape=((0.0, 0.0), (1.0, 1.0)),
    words=_words,
    handles=_handles,
    moved=_moved,
    nudged=_nudged,
    powers=slope_powers,
    dials=(
        SPEED_DIAL,
        DialRange("proportional.gain", 0.0, 3.0),
        DialRange("proportional.dark_ratio", 0.0, 3.0, each_side=True),
    ),
    tuned=(
        Tuned("speed", 20.0, 100.0),
        Tuned("proportional.gain", 0.1, 2.5),
        Tuned("proportional.dark_ratio", 0.4, 2.5),
    ),
    gain="gain",
    dark_ratio=lambda program: program.proportional.dark_ratio,
    calmed_by="PID",
    alike=is_alike,
    evened=_evened,
    gains=_gains,
    listed=_listed,
    rescaled=lambda law, _moved, times: held(law, gain=law.gain * times),
)
