"""On-off steering: one pair of wheel powers on the dark side of the threshold, another on the light side."""

from dataclasses import dataclass, replace
from math import floor
from typing import TYPE_CHECKING, Annotated, Any

from irontrail.core.quantity import Part, Quantity, quantities, with_value
from irontrail.core.steering.law import Change, DialRange, Handle, Law, Power, Sentence, Tuned
from irontrail.core.steering.listed import Number, Steps
from irontrail.core.steering.side import steer_sign
from irontrail.core.steering.slope import at_or_above, below, held, number

if TYPE_CHECKING:
    from irontrail.core.steering.program import Program

WHEELS = ("dark_outer", "dark_inner", "light_outer", "light_inner")


@dataclass(frozen=True)
class OnOff(Part):
    """Wheel powers of the two turns; the outer wheel of a turn is the one that swings round it.

    On the dark side the robot turns off the line, on the light side onto it; which of its wheels is the outer
    one follows from the edge it is on.
    """

    dark_outer: Annotated[
        float,
        Quantity(
            "dark: outer wheel",
            "%",
            -100.0,
            100.0,
            1.0,
            says="The power of the wheel on the outside of the turn while it sees dark.",
        ),
    ] = 55.0
    dark_inner: Annotated[
        float,
        Quantity(
            "dark: inner wheel",
            "%",
            -100.0,
            100.0,
            1.0,
            says="The power of the wheel on the inside of the turn while it sees dark.",
        ),
    ] = 0.0
    light_outer: Annotated[
        float,
        Quantity(
            "light: outer wheel",
            "%",
            -100.0,
            100.0,
            1.0,
            says="The power of the wheel on the outside of the turn while it sees light.",
        ),
    ] = 55.0
    light_inner: Annotated[
        float,
        Quantity(
            "light: inner wheel",
            "%",
            -100.0,
            100.0,
            1.0,
            says="The power of the wheel on the inside of the turn while it sees light.",
        ),
    ] = 0.0


def _step(law: Any, reading: float, target: float, _memory: Any) -> tuple[float, float, float]:
    """A reading at the threshold counts as light."""
    if reading >= target:
        return 0.0, law.light_outer, law.light_inner
    return 1.0, law.dark_inner, law.dark_outer


def _words(program: "Program") -> tuple[Sentence, ...]:
    on_off, light_right = program.on_off, steer_sign(program) > 0
    light = _turn(on_off.light_outer, on_off.light_inner, light_right)
    dark = _turn(on_off.dark_outer, on_off.dark_inner, not light_right)
    return (
        Sentence(f"{at_or_above(program, program.aim)} (light side): {light}.", 0),
        Sentence(f"{below(program, program.aim)} (dark side): {dark}.", 1),
    )


def _turn(outer: float, inner: float, turns_right: bool) -> str:
    left, right = (outer, inner) if turns_right else (inner, outer)
    way = "turn right" if turns_right else "turn left"
    return f"{way}, left wheel {number(left)}, right wheel {number(right)}"


def _handles(program: "Program") -> tuple[Handle, ...]:
    """A handle in the middle of each of the four steps."""
    low, high = program.reach
    middles = {"dark": (low + program.aim) / 2, "light": (program.aim + high) / 2}
    return tuple(
        Handle(name, name.replace("_", " side, ") + " wheel", middles[name.split("_")[0]], power, "power")
        for name, power in ((name, getattr(program.on_off, name)) for name in WHEELS)
    )  # fmt: skip


def with_power(program: "Program", name: str, power: float, alike: bool) -> "Program":
    """The program with another power of one wheel, or of that wheel on both sides."""
    wheel = name.partition("_")[2]
    names = (f"dark_{wheel}", f"light_{wheel}") if alike else (name,)
    return replace(program, on_off=held(program.on_off, **dict.fromkeys(names, power)))


def _moved(program: "Program", name: str, _reading: float, power: float, alike: bool) -> "Program":
    return with_power(program, name, power, alike)


def _powers(program: "Program") -> tuple[Power, ...]:
    found = []
    for name in WHEELS:
        side, wheel = name.split("_")
        least, most = program.reach
        low, high = (least, program.aim) if side == "dark" else (program.aim, most)
        found.append(
            Power(
                f"On the {side} side the {wheel} wheel's",
                getattr(program.on_off, name),
                low,
                high,
                lambda other, power, name=name: with_power(other, name, power, False),  # type: ignore[misc]
            )
        )
    return tuple(found)


def is_alike(program: "Program") -> bool:
    """Both sides turn with the same powers."""
    law = program.on_off
    return law.dark_outer == law.light_outer and law.dark_inner == law.light_inner


def _evened(program: "Program") -> "Program":
    law = program.on_off
    return replace(program, on_off=replace(law, light_outer=law.dark_outer, light_inner=law.dark_inner))


def _swapped(program: "Program", reading: float) -> "Program":
    """Both wheels of the side of a reading changed over."""
    law = program.on_off
    if reading >= program.aim:
        return replace(program, on_off=replace(law, light_outer=law.light_inner, light_inner=law.light_outer))
    return replace(program, on_off=replace(law, dark_outer=law.dark_inner, dark_inner=law.dark_outer))


def _within(program: "Program", radius_mm: float, track_mm: float, dark: bool) -> Change:
    """The inner wheel of a side with which the axle turns within a radius."""
    law, side = program.on_off, "dark" if dark else "light"
    outer = getattr(law, f"{side}_outer")
    inner = float(floor(outer * (2.0 * radius_mm - track_mm) / (2.0 * radius_mm + track_mm)))
    changed = held(law, **{f"{side}_inner": inner})
    if law.dark_inner == law.light_inner:
        changed = held(law, dark_inner=inner, light_inner=inner)
    return Change(f"Inner wheel {inner:g}".replace("-", "−"), replace(program, on_off=changed))


def _speed(program: "Program") -> float:
    law = program.on_off
    return 0.25 * (law.dark_outer + law.dark_inner + law.light_outer + law.light_inner)


def _steer(program: "Program") -> float:
    law = program.on_off
    return 0.25 * (law.dark_outer - law.dark_inner + law.light_outer - law.light_inner)


def _with(program: "Program", speed: float, steer: float) -> "Program":
    # Wheels that turn the other way than they say have a steer below 0.
    outer, inner = speed + steer, speed - steer
    made = held(program.on_off, dark_outer=outer, dark_inner=inner, light_outer=outer, light_inner=inner)
    return with_value(program, "on_off", made)


def _listed(program: "Program") -> Steps:
    ranges = quantities(OnOff)
    numbers = tuple(Number.of(name.upper(), ranges[name], getattr(program.on_off, name)) for name in WHEELS)
    return Steps(
        numbers,
        (
            "if value >= AIM:",
            "    left = LIGHT_OUTER  #@0",
            "    right = LIGHT_INNER  #@0",
            "else:",
            "    left = DARK_INNER  #@1",
            "    right = DARK_OUTER  #@1",
        ),
    )


ON_OFF = Law(
    name="on-off",
    field="on_off",
    settings=OnOff,
    record=tuple((name, "f8") for name in WHEELS),
    packed=lambda law, _period_s: tuple(getattr(law, name) for name in WHEELS),
    step=_step,
    gives="powers",
    says="Turn one way while it sees dark, and the other way while it sees light.",
    shape=((0.0, 0.0), (0.5, 0.0), (0.5, 1.0), (1.0, 1.0)),
    words=_words,
    handles=_handles,
    moved=_moved,
    powers=_powers,
    dials=tuple(
        DialRange(
            f"on_off.{name}", -100.0, 100.0, name.startswith("light"), name.replace("_", " side, ") + " wheel",
            name.partition("_")[2] + " wheel",
            lambda program, power, alike, name=name: with_power(program, name, power, alike),  # type: ignore[misc]
        )
        for name in WHEELS
    ),
    tuned=(
        Tuned(
            "on_off.speed", 10.0, 90.0,
            Quantity("speed of both turns", "%", 0.0, 100.0, 1.0, says="How fast both turns drive, together."),
            _speed, lambda program, speed: _with(program, speed, _steer(program)),
        ),
        Tuned(
            "on_off.steer", 4.0, 60.0,
            Quantity("steer of both turns", "%", 0.0, 100.0, 1.0, says="How hard both turns turn."),
            _steer, lambda program, steer: _with(program, _speed(program), steer),
        ),
    ),
    target_name="threshold",
    alike=is_alike,
    evened=_evened,
    swapped=_swapped,
    within=_within,
    both=_with,
    listed=_listed,
)  # fmt: skip
