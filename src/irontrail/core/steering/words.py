"""The program's loop in plain numbered sentences, with today's numbers."""

from irontrail.core.steering.pid import per_loop
from irontrail.core.steering.program import Mixing, Program, light_turn

_MIXED: dict[Mixing, str] = {
    "both wheels": "Left wheel {speed} + steer, right wheel {speed} − steer.",
    "left wheel only": "Left wheel {speed} + steer, right wheel {speed}.",
    "right wheel only": "Left wheel {speed}, right wheel {speed} − steer.",
    "inner wheel only": "The inner wheel {speed} less the size of steer, the outer wheel {speed}.",
}


def in_words(program: Program) -> tuple[str, ...]:
    """One sentence for each thing the robot does in its loop, in the order it does them."""
    held = f", hold each decision for {1000 * program.hold_s:g} ms" if program.hold_s > program.loop_time_s else ""
    first = f"Every {1000 * program.loop_time_s:g} ms: read the light{held}."
    if program.law == "on-off":
        return first, *_on_off(program)
    if program.law == "bands":
        return first, *_bands(program)
    error = f"Error = reading − {_number(program.target)}."
    eased = f"{_number(program.speed)}"
    last = []
    if program.ease_off > 0.0:
        eased = "speed"
        share = _number(100.0 * program.ease_off)
        last = [f"Speed = {_number(program.speed)}, less up to {share} % of it as the error grows to 50."]
    return first, error, *_steer(program), *last, _MIXED[program.mixing].format(speed=eased)


def _steer(program: Program) -> tuple[str, ...]:
    sign = "" if light_turn(program) > 0 else "−"
    gain = _number(program.proportional.gain)
    if program.law == "mixed":
        mixed = program.mixed
        slope = f"steer = {sign}{_number(mixed.gain)} × error"
        other, way = ("dark", "−") if mixed.sloped_side == "light" else ("light", "")
        fixed = _number(mixed.fixed_steer)
        way = way if sign == "" else ("" if way else "−")
        return (f"On the {mixed.sloped_side} side {slope}, on the {other} side steer = {way}{fixed}.",)
    if program.law == "PID":
        pid, loop = program.pid, per_loop(program.pid, max(program.loop_time_s, program.hold_s))
        terms = f"{_number(pid.kp)} × error + {_number(loop.ki)} × sum of errors + {_number(loop.kd)} × change of error"
        return (f"Steer = {sign}({terms}).",)
    if program.proportional.dark_ratio != 1.0:
        dark = _number(program.proportional.gain * program.proportional.dark_ratio)
        return (f"Steer = {sign}{gain} × error on the light side, {sign}{dark} × error on the dark side.",)
    return (f"Steer = {sign}{gain} × error (right is positive).",)


def _on_off(program: Program) -> tuple[str, ...]:
    on_off, light_right, target = program.on_off, light_turn(program) > 0, _number(program.target)
    light = _wheels(on_off.light_outer, on_off.light_inner, light_right)
    dark = _wheels(on_off.dark_outer, on_off.dark_inner, not light_right)
    return f"At {target} or more (light side): {light}.", f"Below {target} (dark side): {dark}."


def _bands(program: Program) -> tuple[str, ...]:
    said, steps = [], program.bands.steps
    for i, band in enumerate(steps):
        left, right = (band.left, band.right) if light_turn(program) > 0 else (band.right, band.left)
        which = f"Below {_number(band.below)}" if i + 1 < len(steps) else "Above"
        said.append(f"{which}: left wheel {_number(left)}, right wheel {_number(right)}.")
    return tuple(said)


def _wheels(outer: float, inner: float, turns_right: bool) -> str:
    left, right = (outer, inner) if turns_right else (inner, outer)
    way = "turn right" if turns_right else "turn left"
    return f"{way}, left wheel {_number(left)}, right wheel {_number(right)}"


def _number(value: float) -> str:
    return f"{value:.3g}".replace("-", "−")
