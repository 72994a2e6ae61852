"""The source of a listing: all that the robot's own processor does, in a plain part of Python that printers translate.

It does to the letter what `control_step` does, with this program's numbers by name, and without what it has no use
for. It is built here and nowhere else; `python.py` and `c99.py` print it.
"""

from dataclasses import dataclass

from irontrail.core.light.sensor import Light
from irontrail.core.listing.leg_ends import named_in
from irontrail.core.listing.parts import INPUTS, Function, in_a_comment
from irontrail.core.listing.trip import TripSource
from irontrail.core.quantity import quantities, quantity_at
from irontrail.core.robot.drive import Drive
from irontrail.core.setup import Setup
from irontrail.core.steering.listed import Number, Steps, Variable
from irontrail.core.steering.pair import BALANCE, Which
from irontrail.core.steering.program import Program
from irontrail.core.steering.side import steer_sign


@dataclass(frozen=True)
class Source:
    """A program as a listing has it: the numbers, what is remembered, the functions, and what a decision is given."""

    title: str
    numbers: tuple[Number, ...]
    memory: tuple[Variable, ...]
    functions: tuple[Function, ...]
    inputs: tuple[str, ...]
    loop_s: Number
    decision_loops: int
    calibrates: bool


def source(setup: Setup) -> Source:
    """The source of a setup's program."""
    program = setup.program
    steps, trip = program.chosen.listed(program), TripSource(setup)
    steered, decide = _steered(setup, steps, trip), _decide(setup, steps, trip)
    follows = f"{steered.name}(" in "\n".join(decide.lines)
    looked = [
        which for which, name in zip(setup.sensors, ("light", "second_light"), strict=False) if name in decide.takes
    ]
    functions = [_limited(), *_readings(setup, looked), *trip.functions, *([steered] if follows else []), decide]
    own = steps.numbers if follows else ()
    numbers = (*_numbers(setup, looked), *own, *trip.numbers, *_stops(program)[0])
    memory = (
        Variable("left_power", 0.0, "what the wheels are set to"),
        Variable("right_power", 0.0),
        Variable("stopped", 0, "1 when the program is over"),
        Variable("wanted_left", 0.0, "what the law wants of them"),
        Variable("wanted_right", 0.0),
        *(steps.memory if follows else ()),
        *trip.memory,
    )
    # What gives names has nothing to calibrate.
    named = any(setup.seen_by(which).light.sensor.names_colours for which in looked)
    calibrates = setup.light.calibrate and bool(looked) and not named
    loop = Number.of("LOOP_TIME", quantities(Program)["loop_time_s"], program.loop_time_s)
    return Source(
        setup.title, numbers, memory, tuple(functions), decide.takes, loop, program.decision_loops, calibrates
    )


# --- the numbers


def _numbers(setup: Setup, looked: list[Which]) -> list[Number]:
    program, ranges = setup.program, quantities(Program)
    found: list[Number] = []
    for which in looked:
        alone, end = setup.seen_by(which), "" if which == "first" else "_2"
        found += _reading_numbers(alone.light, end)
    if (program.arrangement == "one" and program.chosen.uses_target) or program.arrangement == "weighted":
        found.append(Number.of("TARGET", ranges["target"], program.target, program.chosen.target_name))
    elif program.arrangement == "one" and program.chosen.gives == "steer":
        found.append(Number.of("TARGET", ranges["target"], program.target))
    if program.chosen.gives == "steer":
        found.append(Number.of("SPEED", ranges["speed"], program.speed))
        if program.ease_off > 0.0:
            found.append(Number.of("EASE_OFF", ranges["ease_off"], program.ease_off))
    found += _pair_numbers(program)
    power_step = setup.robot.drive.power_step
    return [*found, Number.of("POWER_STEP", quantities(Drive)["power_step"], power_step)]


def _reading_numbers(light: Light, end: str) -> list[Number]:
    sensor, found = light.sensor, []
    which = " of the second sensor" if end else ""
    if sensor.names_colours:
        return [
            Number(f"READS_{i}{end}", named.reads_as, f"what the name {in_a_comment(named.name)} is taken for{which}")
            for i, named in enumerate(sensor.palette)
        ]
    if sensor.scale == "counts":
        found.append(Number(f"RAW_PER_COUNT{end}", sensor.raw_per_output, f"percent for each count{which}"))
    if light.calibrate:
        for name in ("dark", "bright"):
            quantity = quantity_at(light, f"calibration.{name}")
            value = getattr(light.calibration, name)
            found.append(Number.of(f"{name.upper()}{end}", quantity, value, f"{quantity.label}{which}"))
    return found


def _pair_numbers(program: Program) -> list[Number]:
    ranges, pair = quantities(type(program.pair)), program.pair
    if program.arrangement in ("table", "each its side"):
        return [
            Number.of(f"{side.upper()}_THRESHOLD", ranges[f"{side}_threshold"], getattr(pair, f"{side}_threshold"))
            for side in ("left", "right")
        ]
    if program.arrangement == "weighted":
        return [Number.of("WEIGHT", ranges["weight"], pair.weight)]
    return []


def _stops(program: Program) -> tuple[list[Number], list[str]]:
    """The numbers of the rules by which it stops by itself, and when each holds."""
    stop, ranges = program.stop, quantities(type(program.stop))
    rules = (
        ("time_s", "STOP_TIME", "now >= STOP_TIME - 1e-9"),
        ("distance_mm", "STOP_DISTANCE", "0.5 * (left_rolled + right_rolled) >= STOP_DISTANCE"),
        ("reading", "STOP_READING", "reading >= STOP_READING"),
    )
    used = [rule for rule in rules if getattr(stop, rule[0]) > 0.0]
    return [Number.of(name, ranges[field], getattr(stop, field)) for field, name, _ in used], [rule[2] for rule in used]


# --- the functions


def _limited() -> Function:
    return Function(
        "limited",
        ("power",),
        (
            "power = min(max(power, -100.0), 100.0) / POWER_STEP",
            "if power >= 0.0:",
            "    return min(POWER_STEP * int(power + 0.5), 100.0)",
            "return max(-POWER_STEP * int(0.5 - power), -100.0)",
        ),
        "A power as the motors take it: within -100 and 100, in whole steps.",
    )


def _readings(setup: Setup, looked: list[Which]) -> list[Function]:
    found = []
    for which in looked:
        alone, end = setup.seen_by(which), "" if which == "first" else "_2"
        light = alone.light
        lines: list[str] = []
        if light.sensor.names_colours:
            last = len(light.sensor.palette) - 1
            for i in range(last):
                lines += [f"if light < {i}.5:", f"    return READS_{i}{end}"]
            lines.append(f"return READS_{last}{end}")
        else:
            raw = f"light * RAW_PER_COUNT{end}" if light.sensor.scale == "counts" else "light"
            lines.append(f"raw = min({raw}, 100.0)")
            lines.append(
                f"return min(max(100.0 * (raw - DARK{end}) / (BRIGHT{end} - DARK{end}), 0.0), 100.0)"
                if light.calibrate else "return raw"
            )  # fmt: skip
        name = "reading_of" if not end else "second_reading_of"
        found.append(
            Function(name, ("light",), tuple(lines), f"What the program reads when the {which} sensor gives this.")
        )
    return found


def _error(setup: Setup) -> list[str]:
    """Lines that find `value`, what is steered by, and `error`."""
    program = setup.program
    sign = "" if setup.effective_program.line == "dark" else "-"
    left, right = ("reading", "second") if setup.first_is_left else ("second", "reading")
    if program.arrangement == "one":
        return ["value = reading", "error = reading - TARGET"]
    if program.arrangement == "weighted":
        second = "" if program.pair.edges == "same" else " * -1.0"
        made = f"WEIGHT * (reading - TARGET) + (1.0 - WEIGHT){second} * (second - TARGET)"
        return [f"value = {BALANCE} + ({made})", f"error = value - {BALANCE}"]
    if program.arrangement == "difference":
        return [f"value = {BALANCE} + ({left} - {right})", f"error = value - {BALANCE}"]
    on = [f"{sign}(LEFT_THRESHOLD - {left})", f"{sign}(RIGHT_THRESHOLD - {right})"]
    lines = [f"on_left = {on[0]}", f"on_right = {on[1]}"]
    if program.arrangement == "each its side":
        made = f"{sign}(max(on_right, 0.0) - max(on_left, 0.0))"
        return [*lines, f"value = {BALANCE} + {made}", f"error = value - {BALANCE}"]
    return [
        *lines, "value = 0.0", "if on_left > 0.0:", "    value = 1.0", "if on_right > 0.0:", "    value = value + 2.0",
    ]  # fmt: skip


MIXED = {
    "both wheels": ("speed + steer", "speed - steer"),
    "left wheel only": ("speed + steer", "speed"),
    "right wheel only": ("speed", "speed - steer"),
    "inner wheel only": ("speed + min(steer, 0.0)", "speed - max(steer, 0.0)"),
}


def _steered(setup: Setup, steps: Steps, trip: TripSource) -> Function:
    """What the law wants of the wheels."""
    program = setup.program
    aim = "TARGET" if program.arrangement == "one" else f"{BALANCE}"
    lines = [line.replace("AIM", aim) for line in steps.lines]
    sign = steer_sign(setup.effective_program)
    takes: list[str] = []
    body = "\n".join(lines)
    takes += [
        name for name in ("value", "error") if name in body or (name == "error" and program.chosen.gives == "steer")
    ]
    if program.chosen.gives == "powers":
        if trip.follows:
            takes += ["scale", "turned"]
            lines += ["left = scale * left", "right = scale * right"]
            lines += ["if turned == 1:", "    other = left", "    left = right", "    right = other"]
        elif sign < 0.0:
            lines += ["other = left", "left = right", "right = other"]
    else:
        speed = "speed" if trip.follows else "SPEED"
        if trip.follows:
            takes += ["speed", "turned"]
            lines += ["if turned == 1:", "    steer = -steer"]
        elif sign < 0.0:
            lines.append("steer = -steer")
        if program.ease_off > 0.0:
            lines.append(f"speed = {speed} * (1.0 - EASE_OFF * min(1.0, abs(error) / 50.0))")
        elif not trip.follows:
            lines.append("speed = SPEED")
        lines += [f"{wheel} = {made}" for wheel, made in zip(("left", "right"), MIXED[program.mixing], strict=True)]
    lines += ["wanted_left = left", "wanted_right = right"]
    return Function("steer_by", tuple(takes), tuple(lines), f"The law: {program.chosen.says}")


def _decide(setup: Setup, steps: Steps, trip: TripSource) -> Function:
    program, error = setup.program, _error(setup)
    takes = _steered(setup, steps, trip).takes
    if not {"value", "error"} & set(takes):
        error = []
    if "error" not in takes:
        error = [line for line in error if not line.startswith("error")]
    if "value" not in takes and program.arrangement == "one":
        error = [line for line in error if not line.startswith("value")]
    alone = [*error, f"steer_by({', '.join(takes)})"]
    lines = trip.decide(error, takes, steps.memory) if trip.legs else alone
    for rule in _stops(program)[1]:
        lines += [f"if {rule}:", "    stopped = 1"]
    lines += ["left_power = limited(wanted_left)", "right_power = limited(wanted_right)"]
    readings = {"reading": "reading_of(light)", "second": "second_reading_of(second_light)"}
    read = [f"{name} = {readings[name]}" for name in named_in(lines, tuple(readings))]
    lines = [*read, *lines]
    says = "One decision: from what is read to what the wheels are set to."
    return Function("decide", named_in(lines, INPUTS), tuple(lines), says)
