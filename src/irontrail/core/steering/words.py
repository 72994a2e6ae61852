"""The program's loop in plain numbered sentences, with today's numbers."""

from irontrail.core.steering.program import Program, light_turn


def in_words(program: Program) -> tuple[str, ...]:
    """One sentence for each thing the robot does in its loop, in the order it does them."""
    first = f"Every {1000 * program.loop_time_s:g} ms: read the light."
    if program.law == "on-off":
        on_off, light_right = program.on_off, light_turn(program.edge) > 0
        light = _wheels(on_off.light_outer, on_off.light_inner, light_right)
        dark = _wheels(on_off.dark_outer, on_off.dark_inner, not light_right)
        return (
            first,
            f"At {_number(program.target)} or more (light side): {light}.",
            f"Below {_number(program.target)} (dark side): {dark}.",
        )
    sign = "" if light_turn(program.edge) > 0 else "−"
    return (
        first,
        f"Error = reading − {_number(program.target)}.",
        f"Steer = {sign}{_number(program.proportional.gain)} × error (right is positive).",
        f"Left wheel {_number(program.speed)} + steer, right wheel {_number(program.speed)} − steer.",
    )


def _wheels(outer: float, inner: float, turns_right: bool) -> str:
    left, right = (outer, inner) if turns_right else (inner, outer)
    way = "turn right" if turns_right else "turn left"
    return f"{way}, left wheel {_number(left)}, right wheel {_number(right)}"


def _number(value: float) -> str:
    return f"{value:.3g}".replace("-", "−")
