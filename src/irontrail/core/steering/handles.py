"""What can be grabbed on the steering curve of each law, and what moving it does to the program."""

from dataclasses import dataclass, replace
from itertools import pairwise

from irontrail.core.quantity import PartT, quantities, with_value
from irontrail.core.steering.bands import MAX_BANDS, Bands
from irontrail.core.steering.on_off import OnOff
from irontrail.core.steering.program import Program, light_turn

# A slope's handle stands where the steer is this much, so that it is on the curve at any gain.
SLOPE_STEER = 34.0
# How near to the target and how far from it a slope's handle may stand, in units of the reading.
NEAR, FAR = 3.0, 40.0
# Where the gain of each sloped law is.
GAINS = {"proportional": "proportional.gain", "PID": "pid.kp", "mixed": "mixed.gain"}


@dataclass(frozen=True)
class Handle:
    """A place of the curve that can be grabbed.

    `moves` tells which ways it goes: "power", "reading" or "both".
    """

    name: str
    label: str
    reading: float
    power: float
    moves: str = "both"


def handles(program: Program) -> tuple[Handle, ...]:
    """All handles of a program's curve; the target's line itself is one more."""
    if program.law == "on-off":
        return _on_off_handles(program)
    if program.law == "bands":
        return _band_handles(program)
    return _slope_handles(program)


def moved(program: Program, name: str, reading: float, power: float, alike: bool = True) -> Program:
    """The program after a handle has been put somewhere, in whole units; `alike`: both sides of on-off together."""
    reading, power = float(round(reading)), float(round(power))
    kind, _, rest = name.partition(" ")
    if kind == "target":
        return _held(program, target=reading)
    if kind == "speed":
        return _held(program, target=reading, speed=power)
    if kind == "gain":
        return with_gain(program, _slope(program, reading, power))
    if kind == "dark":
        return _with_dark_slope(program, _slope(program, reading, power, raw=True), alike)
    if kind == "fixed":
        return replace(program, mixed=_held(program.mixed, fixed_steer=abs(power - program.speed)))
    if kind == "band":
        return replace(program, bands=_moved_band(program, rest, reading, power))
    return with_on_off(program, name, power, alike)


def nudged(program: Program, name: str, by_reading: float, by_power: float, alike: bool = True) -> Program:
    """The program after a handle has been moved by some units; a slope by some steps of its gain."""
    step = quantities(type(program.proportional))["gain"].step
    if name == "gain":
        return with_gain(program, gain_of(program) + by_power * step)
    if name == "dark gain":
        law = program.proportional
        return _with_dark_slope(program, law.gain * law.dark_ratio + by_power * step, alike)
    handle = next(each for each in handles(program) if each.name == name)
    return moved(program, name, handle.reading + by_reading, handle.power + by_power, alike)


def gain_of(program: Program) -> float:
    """The gain that the slope of the present law has."""
    if program.law == "mixed":
        return program.mixed.gain
    return program.pid.kp if program.law == "PID" else program.proportional.gain


def with_gain(program: Program, gain: float) -> Program:
    """The program with another gain of its present law."""
    path = GAINS[program.law]
    part = getattr(program, path.partition(".")[0])
    quantity = quantities(type(part))[path.partition(".")[2]]
    return with_value(program, path, quantity.clamped(round(gain, 2)))


def with_on_off(program: Program, name: str, power: float, alike: bool) -> Program:
    """The program with another power of one on-off wheel, or of that wheel on both sides."""
    wheel = name.partition("_")[2]
    names = (f"dark_{wheel}", f"light_{wheel}") if alike else (name,)
    return replace(program, on_off=_held(program.on_off, **dict.fromkeys(names, power)))


def _with_dark_slope(program: Program, slope: float, alike: bool) -> Program:
    """The program with another slope on the dark side, or on both sides while they are alike."""
    if alike:
        return with_gain(replace(program, proportional=replace(program.proportional, dark_ratio=1.0)), slope)
    gain = program.proportional.gain
    ratio = round(slope / gain, 3) if gain > 0.0 else 1.0
    return replace(program, proportional=_held(program.proportional, dark_ratio=ratio))


def more_bands(bands: Bands) -> Bands:
    """The widest band cut in two of the same powers; as it is with as many as there can be."""
    steps = list(bands.steps)
    if len(steps) >= MAX_BANDS:
        return bands
    limits = [0.0, *(step.below for step in steps[:-1]), 100.0]
    widths = [high - low for low, high in pairwise(limits)]
    i = widths.index(max(widths))
    steps.insert(i, replace(steps[i], below=round(0.5 * (limits[i] + limits[i + 1]))))
    return Bands(tuple(steps))


def fewer_bands(bands: Bands) -> Bands:
    """The narrowest band given to the neighbour toward the middle; as it is with two left."""
    steps = list(bands.steps)
    if len(steps) <= 2:
        return bands
    limits = [0.0, *(step.below for step in steps[:-1]), 100.0]
    widths = [high - low for low, high in pairwise(limits)]
    i = widths.index(min(widths))
    if i >= len(steps) / 2:
        steps[i - 1] = replace(steps[i - 1], below=steps[i].below)
    del steps[i]
    return Bands(tuple(steps))


def is_alike(on_off: OnOff) -> bool:
    """Both sides turn with the same powers."""
    return on_off.dark_outer == on_off.light_outer and on_off.dark_inner == on_off.light_inner


def _held(part: PartT, **values: float) -> PartT:
    """A part with some numbers changed, each held inside its range."""
    ranges = quantities(type(part))
    return replace(part, **{name: ranges[name].clamped(value) for name, value in values.items()})


def _on_off_handles(program: Program) -> tuple[Handle, ...]:
    """A handle in the middle of each of the four steps."""
    middles = {"dark": program.target / 2, "light": (program.target + 100.0) / 2}
    return tuple(
        Handle(
            f"{side}_{wheel}",
            f"{side} side, {wheel} wheel",
            middle,
            getattr(program.on_off, f"{side}_{wheel}"),
            "power",
        )
        for side, middle in middles.items()
        for wheel in ("outer", "inner")
    )


def _slope_handles(program: Program) -> tuple[Handle, ...]:
    """Where both lines cross (speed and target), and one out on the left wheel's line (gain)."""
    turn, gain = light_turn(program), gain_of(program)
    room = min(SLOPE_STEER, 98.0 - program.speed) if program.speed < 90.0 else SLOPE_STEER
    away = min(max(room / gain if gain > 0.0 else FAR, NEAR), FAR)
    dark = program.law == "mixed" and program.mixed.sloped_side == "dark"
    if program.law == "PID":
        dark = program.target + away > 98.0
    if dark:
        away = -min(away, max(program.target - 2.0, 1.0))
    elif program.target + away > 100.0:
        away = 100.0 - program.target
    power = _left_power(program, turn * gain * away)
    found = [
        Handle("speed", "speed and target", program.target, program.speed),
        Handle("gain", "gain: the slope", program.target + away, power),
    ]
    if program.law == "proportional":
        dark_away = -min(away if away > 0.0 else FAR, max(program.target - 2.0, 1.0))
        steer = turn * gain * program.proportional.dark_ratio * dark_away
        dark_power = _left_power(program, steer)
        found.append(Handle("dark gain", "gain of the dark side", program.target + dark_away, dark_power))
    if program.law == "mixed":
        reading = (program.target + 100.0) / 2 if dark else program.target / 2
        steer = turn * program.mixed.fixed_steer * (1.0 if dark else -1.0)
        found.append(Handle("fixed", "the fixed turn", reading, _left_power(program, steer), "power"))
    return tuple(found)


def _left_power(program: Program, steer: float) -> float:
    """The left wheel's power at a steer, by the program's mixing, as drawn."""
    if program.mixing == "right wheel only" or (program.mixing == "inner wheel only" and steer > 0.0):
        steer = 0.0
    return min(max(program.speed + steer, -100.0), 100.0)


def _slope(program: Program, reading: float, power: float, raw: bool = False) -> float:
    """The gain whose left line goes through a place; `raw`: the slope itself, whatever the side's share of the gain."""
    away = reading - program.target
    if abs(away) < 0.5:
        return gain_of(program)
    slope = light_turn(program) * (power - program.speed) / away
    if not raw and program.law == "proportional" and away < 0.0 and program.proportional.dark_ratio > 0.0:
        slope /= program.proportional.dark_ratio
    return max(slope, 0.0)


def _band_handles(program: Program) -> tuple[Handle, ...]:
    """Both wheels' heights in the middle of each band, and the limits between the bands."""
    steps, found = program.bands.steps, []
    low = 0.0
    for i, band in enumerate(steps):
        high = min(band.below, 100.0) if i + 1 < len(steps) else 100.0
        middle, width = (low + high) / 2, high - low
        left, right = (band.left, band.right) if light_turn(program) > 0 else (band.right, band.left)
        # Side by side where both wheels have one height, so that each can be grabbed.
        apart = 0.18 * width if left == right else 0.0
        found.append(Handle(f"band {i} left", f"band {i + 1}, left wheel", middle - apart, left, "power"))
        found.append(Handle(f"band {i} right", f"band {i + 1}, right wheel", middle + apart, right, "power"))
        if i + 1 < len(steps):
            found.append(Handle(f"band {i} below", f"limit of band {i + 1}", high, 0.0, "reading"))
        low = high
    return tuple(found)


def _moved_band(program: Program, rest: str, reading: float, power: float) -> Bands:
    number, what = rest.split()
    i, steps = int(number), list(program.bands.steps)
    if what == "below":
        low = steps[i - 1].below + 1.0 if i > 0 else 1.0
        high = steps[i + 1].below - 1.0
        steps[i] = replace(steps[i], below=min(max(reading, low), high))
    else:
        mirrored = light_turn(program) < 0
        wheel = {"left": "right", "right": "left"}[what] if mirrored else what
        steps[i] = _held(steps[i], **{wheel: power})
    return Bands(tuple(steps))
