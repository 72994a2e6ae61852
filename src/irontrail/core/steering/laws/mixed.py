"""Mixed steering: proportional on one side of the target, one fixed turn on the other."""

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Annotated, Any, Literal

from irontrail.core.quantity import Part, Quantity, quantities
from irontrail.core.steering.law import DialRange, Handle, Law, Sentence, Tuned
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import (
    GAIN,
    SPEED_DIAL,
    at_or_above,
    handle_away,
    held,
    left_power,
    moved_slope,
    nudged_slope,
    number,
    slope_handles,
    slope_powers,
    to_dark,
)

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program


@dataclass(frozen=True)
class Mixed(Part):
    """A slope on `sloped_side` of the target, a fixed steer on the other; an error of 0 counts as light."""

    sloped_side: Literal["dark", "light"] = "light"
    gain: Annotated[float, GAIN] = 0.7
    fixed_steer: Annotated[
        float, Quantity("fixed steer", "%", 0.0, 200.0, 1.0, says="How hard it steers on the side that has no slope.")
    ] = 25.0


def _step(law: Any, reading: float, target: float, _memory: Any) -> tuple[float, float, float]:
    error = reading - target
    light = error >= 0.0
    rule = 0.0 if light else 1.0
    if light == (law.sloped_light > 0.0):
        return rule, law.gain * error, 0.0
    return rule, law.fixed_steer if light else -law.fixed_steer, 0.0


def _words(program: "Program") -> tuple[Sentence, ...]:
    law, sign = program.mixed, "" if steer_sign(program) > 0 else "−"
    opposite = "−" if sign == "" else ""
    slope, fixed = f"steer = {sign}{number(law.gain)} × error", number(law.fixed_steer)
    sides = {"light": slope, "dark": f"steer = {opposite}{fixed}"}
    if law.sloped_side == "dark":
        sides = {"light": f"steer = {sign}{fixed}", "dark": slope}
    return (
        Sentence(f"{at_or_above(program, program.aim)} (light side): {sides['light']}.", 0),
        Sentence(f"Below{'' if program.arrangement == 'one' else ' 0'} (dark side): {sides['dark']}.", 1),
    )


def _handles(program: "Program") -> tuple[Handle, ...]:
    law = program.mixed
    away, dark = handle_away(program, law.gain), law.sloped_side == "dark"
    low, high = program.reach
    reading = (program.aim + (high if dark else low)) / 2
    steer = steer_sign(program) * law.fixed_steer * (1.0 if dark else -1.0)
    fixed = Handle("fixed", "the fixed turn", reading, left_power(program, steer), "power")
    return (*slope_handles(program, to_dark(program, away) if dark else away), fixed)


def _moved(program: "Program", name: str, reading: float, power: float, alike: bool) -> "Program":
    if name == "fixed":
        return replace(program, mixed=held(program.mixed, fixed_steer=abs(power - program.speed)))
    return moved_slope(program, name, reading, power, alike)


def _listed(program: "Program") -> Steps:
    ranges, law = quantities(Mixed), program.mixed
    slope = "steer = GAIN * error"
    light, dark = (slope, "steer = -FIXED_STEER") if law.sloped_side == "light" else ("steer = FIXED_STEER", slope)
    return Steps(
        (
            Number.of("GAIN", ranges["gain"], law.gain),
            Number.of("FIXED_STEER", ranges["fixed_steer"], law.fixed_steer),
        ),
        ("if error >= 0.0:", f"    {light}  #@0", "else:", f"    {dark}  #@1"),
    )


MIXED = Law(
    name="mixed",
    field="mixed",
    settings=Mixed,
    record=(("sloped_light", "f8"), ("gain", "f8"), ("fixed_steer", "f8")),
    packed=lambda law, _period_s: (1.0 if law.sloped_side == "light" else 0.0, law.gain, law.fixed_steer),
    step=_step,
    gives="steer",
    says="Steer with a slope on one side of the target, and by a fixed amount on the other.",
    shape=((0.0, 0.1), (0.5, 0.1), (0.5, 0.4), (1.0, 1.0)),
    words=_words,
    handles=_handles,
    moved=_moved,
    nudged=nudged_slope,
    powers=slope_powers,
    dials=(SPEED_DIAL, DialRange("mixed.gain", 0.0, 3.0), DialRange("mixed.fixed_steer", 0.0, 100.0)),
    tuned=(Tuned("speed", 20.0, 100.0), Tuned("mixed.gain", 0.1, 2.5), Tuned("mixed.fixed_steer", 5.0, 80.0)),
    gain="gain",
    tuned_in_duels=False,
    listed=_listed,
    rescaled=lambda law, _moved, times: held(law, gain=law.gain * times),
)
