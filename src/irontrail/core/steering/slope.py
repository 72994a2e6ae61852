"""What laws that steer by a slope share: the handles of its curve, its powers, its words."""

from dataclasses import replace
from typing import TYPE_CHECKING

from irontrail.core.quantity import PartT, Quantity, quantities, value_at, with_value
from irontrail.core.steering.law import DialRange, Handle, Power
from irontrail.core.steering.mixing import MIXING_NAMES, mixed_powers
from irontrail.core.steering.pair import BALANCE
from irontrail.core.steering.side import steer_sign

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

# A slope's handle stands where the steer is this much, so that it is on the curve at any gain.
SLOPE_STEER = 34.0
# How near to the target and how far from it a slope's handle may stand, in units of the reading.
NEAR, FAR = 3.0, 40.0
# What a slope's gain means, for every law that has one.
GAIN = Quantity(
    "gain", "% per unit", 0.0, 20.0, 0.02, 1.0, 2,
    says="How hard it steers for each unit that the reading is off the target.",
)  # fmt: skip
SPEED_DIAL = DialRange("speed", 0.0, 100.0)


def held(part: PartT, **values: float) -> PartT:
    """A part with some numbers changed, each held inside its range."""
    ranges = quantities(type(part))
    return replace(part, **{name: ranges[name].clamped(value) for name, value in values.items()})


def number(value: float) -> str:
    """A number as words have it, with a true minus sign."""
    return f"{value:.3g}".replace("-", "−")


def at_or_above(program: "Program", value: float) -> str:
    """How words begin of what is done at a value or above it, which is the light side's."""
    if program.arrangement == "one":
        return f"At {number(value)} or more"
    return f"Error {number(value - BALANCE)} or more"


def below(program: "Program", value: float) -> str:
    """How words begin of what is done below a value."""
    if program.arrangement == "one":
        return f"Below {number(value)}"
    return f"Error below {number(value - BALANCE)}"


def gain_of(program: "Program") -> float:
    """The gain of a program's law."""
    return float(value_at(program, program.chosen.gain_path))


def with_gain(program: "Program", gain: float) -> "Program":
    """The program with another gain of its law, held inside its range."""
    law = program.chosen
    quantity = quantities(law.settings)[law.gain]
    return with_value(program, law.gain_path, quantity.clamped(round(gain, 2)))


def with_speed(program: "Program", speed: float) -> "Program":
    """The program at another speed, held inside its range."""
    return held(program, speed=speed)


def slope_powers(program: "Program") -> tuple[Power, ...]:
    """The one power that a slope names: its speed."""
    return (Power("The speed's", program.speed, None, None, with_speed),)


def handle_away(program: "Program", gain: float) -> float:
    """How far from its target a slope's handle stands, so that it is on the drawn part of the curve."""
    room = min(SLOPE_STEER, 98.0 - program.speed) if program.speed < 90.0 else SLOPE_STEER
    return min(max(room / gain if gain > 0.0 else FAR, NEAR), FAR)


def to_dark(program: "Program", away: float) -> float:
    """The same distance on the dark side, as far as there are readings."""
    return -min(away, max(program.aim - program.reach[0] - 2.0, 1.0))


def slope_handles(program: "Program", away: float) -> tuple[Handle, ...]:
    """Where both lines cross (speed and target), and one out on the left wheel's line (gain)."""
    away = min(away, program.reach[1] - program.aim)
    power = left_power(program, steer_sign(program) * gain_of(program) * away)
    return (
        crossing_handle(program),
        Handle("gain", "gain: the slope", program.aim + away, power),
    )


def crossing_handle(program: "Program") -> Handle:
    """Where both lines cross: speed and target; two sensors are even there, whatever is done."""
    if program.arrangement == "one":
        return Handle("speed", "speed and target", program.target, program.speed)
    return Handle("speed", "speed", program.aim, program.speed, "power")


def left_power(program: "Program", steer: float) -> float:
    """The left wheel's power at a steer, by the program's mixing, as drawn."""
    left, _ = mixed_powers(MIXING_NAMES.index(program.mixing), program.speed, steer)
    return min(max(left, -100.0), 100.0)


def slope_through(program: "Program", reading: float, power: float) -> float | None:
    """The slope of a left line through a place, 0 or more; None too near to the target to tell."""
    away = reading - program.aim
    if abs(away) < 0.5:
        return None
    return max(steer_sign(program) * (power - program.speed) / away, 0.0)


def moved_slope(program: "Program", name: str, reading: float, power: float, _alike: bool) -> "Program":
    """The program after the handle of its crossing or of its slope has been put somewhere."""
    if name == "speed":
        # The error of two sensors is none where they are even: that stays.
        return (
            held(program, target=reading, speed=power) if program.arrangement == "one" else held(program, speed=power)
        )
    slope = slope_through(program, reading, power)
    return program if slope is None else with_gain(program, slope)


def nudged_slope(program: "Program", name: str, by_power: float, _alike: bool) -> "Program | None":
    """The program after a slope's handle has been moved by some steps of its gain; None for other handles."""
    if name != "gain":
        return None
    step = quantities(program.chosen.settings)[program.chosen.gain].step
    return with_gain(program, gain_of(program) + by_power * step)
