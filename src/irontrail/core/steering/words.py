"""The program's loop in plain numbered sentences, with today's numbers, and which of them decides when."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.steering.pid import per_loop
from irontrail.core.steering.program import Mixing, Program, light_turn

_MIXED: dict[Mixing, str] = {
    "both wheels": "Left wheel {speed} + steer, right wheel {speed} − steer.",
    "left wheel only": "Left wheel {speed} + steer, right wheel {speed}.",
    "right wheel only": "Left wheel {speed}, right wheel {speed} − steer.",
    "inner wheel only": "The inner wheel {speed} less the size of steer, the outer wheel {speed}.",
}


@dataclass(frozen=True)
class Sentence:
    """One thing the robot does in its loop; a rule is one of several that may decide, told by its number."""

    says: str
    rule: int | None = None


def in_words(program: Program) -> tuple[Sentence, ...]:
    """One sentence for each thing the robot does in its loop, in the order it does them."""
    held = f", hold each decision for {1000 * program.hold_s:g} ms" if program.hold_s > program.loop_time_s else ""
    first = Sentence(f"Every {1000 * program.loop_time_s:g} ms: read the light{held}.")
    return first, *_law(program), *_stop(program)


def deciding(program: Program, side: NDArray[np.float64], band: NDArray[np.float64]) -> NDArray[np.int64]:
    """The number of the rule that decided in each row of a trace, from its columns `side` and `band`; shape (n,)."""
    if program.law == "bands":
        return band.astype(np.int64)
    if program.law in ("on-off", "mixed") or _lopsided(program):
        return (1 - side).astype(np.int64)
    return np.zeros(side.size, np.int64)


def _lopsided(program: Program) -> bool:
    return program.law == "proportional" and program.proportional.dark_ratio != 1.0


def _law(program: Program) -> tuple[Sentence, ...]:
    if program.law == "on-off":
        return _on_off(program)
    if program.law == "bands":
        return _bands(program)
    error = Sentence(f"Error = reading − {_number(program.target)}.")
    eased, last = _number(program.speed), []
    if program.ease_off > 0.0:
        share = _number(100.0 * program.ease_off)
        last = [Sentence(f"Speed = {eased}, less up to {share} % of it as the error grows to 50.")]
        eased = "speed"
    return error, *_steer(program), *last, Sentence(_MIXED[program.mixing].format(speed=eased))


def _steer(program: Program) -> tuple[Sentence, ...]:
    """The light side's sentence first, where the sides differ."""
    sign = "" if light_turn(program) > 0 else "−"
    gain = _number(program.proportional.gain)
    if program.law == "mixed":
        mixed = program.mixed
        slope = f"steer = {sign}{_number(mixed.gain)} × error"
        fixed = _number(mixed.fixed_steer)
        opposite = "−" if sign == "" else ""
        sides = {"light": slope, "dark": f"steer = {opposite}{fixed}"}
        if mixed.sloped_side == "dark":
            sides = {"light": f"steer = {sign}{fixed}", "dark": slope}
        return (
            Sentence(f"At {_number(program.target)} or more (light side): {sides['light']}.", 0),
            Sentence(f"Below (dark side): {sides['dark']}.", 1),
        )
    if program.law == "PID":
        pid, loop = program.pid, per_loop(program.pid, max(program.loop_time_s, program.hold_s))
        terms = f"{_number(pid.kp)} × error + {_number(loop.ki)} × sum of errors + {_number(loop.kd)} × change of error"
        return (Sentence(f"Steer = {sign}({terms}).", 0),)
    if _lopsided(program):
        dark = _number(program.proportional.gain * program.proportional.dark_ratio)
        return (
            Sentence(f"On the light side steer = {sign}{gain} × error.", 0),
            Sentence(f"On the dark side steer = {sign}{dark} × error.", 1),
        )
    return (Sentence(f"Steer = {sign}{gain} × error (right is positive).", 0),)


def _on_off(program: Program) -> tuple[Sentence, ...]:
    on_off, light_right, target = program.on_off, light_turn(program) > 0, _number(program.target)
    light = _wheels(on_off.light_outer, on_off.light_inner, light_right)
    dark = _wheels(on_off.dark_outer, on_off.dark_inner, not light_right)
    return (
        Sentence(f"At {target} or more (light side): {light}.", 0),
        Sentence(f"Below {target} (dark side): {dark}.", 1),
    )


def _bands(program: Program) -> tuple[Sentence, ...]:
    said, steps = [], program.bands.steps
    for i, band in enumerate(steps):
        left, right = (band.left, band.right) if light_turn(program) > 0 else (band.right, band.left)
        which = f"Below {_number(band.below)}" if i + 1 < len(steps) else "Above"
        said.append(Sentence(f"{which}: left wheel {_number(left)}, right wheel {_number(right)}.", i))
    return tuple(said)


def _stop(program: Program) -> tuple[Sentence, ...]:
    """When it stops by itself, before the finish."""
    stop, rules = program.stop, []
    if stop.time_s > 0.0:
        rules.append(f"after {_number(stop.time_s)} s")
    if stop.distance_mm > 0.0:
        rules.append(f"after {stop.distance_mm:.0f} mm by the wheels' counts")
    if stop.reading > 0.0:
        rules.append(f"at a reading of {_number(stop.reading)} or more")
    return (Sentence(f"Stop {', or '.join(rules)}."),) if rules else ()


def _wheels(outer: float, inner: float, turns_right: bool) -> str:
    left, right = (outer, inner) if turns_right else (inner, outer)
    way = "turn right" if turns_right else "turn left"
    return f"{way}, left wheel {_number(left)}, right wheel {_number(right)}"


def _number(value: float) -> str:
    return f"{value:.3g}".replace("-", "−")
