"""The numbers that can be tuned: those of the project, and for laws with many powers a speed and a steer for all."""

from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import partial

from irontrail.core.project import Setup
from irontrail.core.quantity import Quantity, quantities, quantity_at, value_at, with_value
from irontrail.core.steering.bands import Bands
from irontrail.core.steering.on_off import OnOff
from irontrail.core.steering.program import LawName

# What a search usually covers.
RANGES = {
    "program.speed": (20.0, 100.0),
    "program.target": (30.0, 70.0),
    "program.ease_off": (0.0, 0.8),
    "program.proportional.gain": (0.1, 2.5),
    "program.proportional.dark_ratio": (0.4, 2.5),
    "program.mixed.gain": (0.1, 2.5),
    "program.mixed.fixed_steer": (5.0, 80.0),
    "program.pid.kp": (0.1, 2.5),
    "program.pid.ki": (0.0, 3.0),
    "program.pid.kd": (0.0, 0.15),
    "robot.mount.ahead_mm": (20.0, 140.0),
    "robot.mount.aside_mm": (-30.0, 30.0),
    "robot.mount.height_mm": (4.0, 18.0),
    "on_off.speed": (10.0, 90.0),
    "on_off.steer": (4.0, 60.0),
    "bands.speed": (10.0, 95.0),
    "bands.steer": (4.0, 80.0),
}
# The numbers of each law, the foremost first.
OF_LAW: dict[LawName, tuple[str, ...]] = {
    "on-off": ("on_off.speed", "on_off.steer"),
    "bands": ("bands.speed", "bands.steer"),
    "mixed": ("program.speed", "program.mixed.gain", "program.mixed.fixed_steer"),
    "proportional": ("program.speed", "program.proportional.gain", "program.proportional.dark_ratio"),
    "PID": ("program.speed", "program.pid.kp", "program.pid.ki", "program.pid.kd"),
}
LAWS = ("on_off", "bands", "mixed", "proportional", "pid")
USUAL = ("program.target", "program.ease_off", "robot.mount.ahead_mm", "robot.mount.aside_mm", "robot.mount.height_mm")
OF_MAT = ("mat.line.width_mm", "mat.line.border_mm", "mat.line.unevenness_mm", "mat.zone_mm")
# Those of a law's own powers in which all of them rise or spread together.
POWERS = {
    "on_off.speed": Quantity("speed of both turns", "%", 0.0, 100.0, 1.0),
    "on_off.steer": Quantity("steer of both turns", "%", 0.0, 100.0, 1.0),
    "bands.speed": Quantity("speed of the bands", "%", 0.0, 100.0, 1.0),
    "bands.steer": Quantity("steer of the outer bands", "%", 0.0, 100.0, 1.0),
}


@dataclass(frozen=True)
class Axis:
    """One number to change: where it stands, what it means, and from where to where."""

    path: str
    quantity: Quantity
    low: float
    high: float

    def of(self, setup: Setup) -> float:
        """Its value in a setup."""
        return _POWER_OF[self.path](setup) if self.path in POWERS else float(value_at(setup, self.path))

    def put(self, setup: Setup, value: float) -> Setup:
        """A setup with another value, held inside what it can physically be."""
        value = self.quantity.clamped(value)
        if self.path in POWERS:
            return _WITH_POWER[self.path](setup, value)
        return with_value(setup, self.path, value)

    def at(self, share: float) -> float:
        """The value at a share (0..1) of its range."""
        return self.low + share * (self.high - self.low)

    def shown(self, value: float) -> str:
        """A value as on screen, with a figure more than its dial where the range is fine."""
        text = f"{value * self.quantity.shown_per_stored:.{self.quantity.decimals}f}"
        return text.replace("-", "−")


def axis(setup: Setup, path: str, low: float | None = None, high: float | None = None) -> Axis:
    """The axis of a number over its usual range, or another, held inside what it can physically be."""
    quantity = POWERS[path] if path in POWERS else quantity_at(setup, path)
    usual = RANGES.get(path) or _about(float(value_at(setup, path)), quantity)
    ends = usual[0] if low is None else low, usual[1] if high is None else high
    return Axis(path, quantity, quantity.clamped(min(ends)), quantity.clamped(max(ends)))


def _about(value: float, quantity: Quantity) -> tuple[float, float]:
    """A range about a value, for numbers that have no usual one."""
    reach = max(abs(value), 5.0 * quantity.step)
    return max(value - reach, quantity.low), min(value + reach, quantity.high)


def foremost(setup: Setup) -> tuple[str, ...]:
    """The paths to tune first for a setup's law, then those usual for any."""
    return (*OF_LAW[setup.program.law], *USUAL)


def all_numbers(setup: Setup) -> tuple[str, ...]:
    """The paths of every number of a setup's robot, light, program and trial, and of its tape; the foremost first.

    Of the laws only the one in use has any.
    """
    paths = list(foremost(setup))
    used = setup.program.law.replace("-", "_").lower()
    others = tuple(f"program.{law}." for law in LAWS if law != used)
    for part in ("program", "robot", "light", "trial"):
        found = _numbers(getattr(setup, part), f"{part}.")
        paths += [path for path in found if path not in paths and not path.startswith(others)]
    return (*paths, *OF_MAT)


def _numbers(part: object, prefix: str) -> list[str]:
    found = []
    for field in fields(part):  # type: ignore[arg-type]
        value = getattr(part, field.name)
        if field.name in quantities(type(part)) and not field.name.endswith("seed"):
            found.append(prefix + field.name)
        elif is_dataclass(value) and field.name not in ("pull", "wiring"):
            found += _numbers(value, f"{prefix}{field.name}.")
    return found


# --- speed and steer of laws with many powers


def _on_off_speed(setup: Setup) -> float:
    law = setup.program.on_off
    return 0.25 * (law.dark_outer + law.dark_inner + law.light_outer + law.light_inner)


def _on_off_steer(setup: Setup) -> float:
    law = setup.program.on_off
    return 0.25 * (law.dark_outer - law.dark_inner + law.light_outer - law.light_inner)


def _with_on_off(setup: Setup, speed: float, steer: float) -> Setup:
    outer, inner = min(speed + steer, 100.0), max(speed - steer, -100.0)
    return with_value(setup, "program.on_off", OnOff(outer, inner, outer, inner))


def _bands_speed(setup: Setup) -> float:
    steps = setup.program.bands.steps
    return sum(band.left + band.right for band in steps) / (2.0 * len(steps))


def _bands_steer(setup: Setup) -> float:
    steps = setup.program.bands.steps
    return max(0.25 * (steps[0].right - steps[0].left + steps[-1].left - steps[-1].right), 0.0)


def _with_bands(setup: Setup, speed: float, steer: float) -> Setup:
    """The same bands with powers that go evenly from one outer band to the other."""
    steps = setup.program.bands.steps
    last = max(len(steps) - 1, 1)
    made = []
    for i, band in enumerate(steps):
        turn = steer * (2.0 * i / last - 1.0)
        left, right = (min(max(power, -100.0), 100.0) for power in (speed + turn, speed - turn))
        made.append(replace(band, left=left, right=right))
    return with_value(setup, "program.bands", Bands(tuple(made)))


_POWER_OF: dict[str, Callable[[Setup], float]] = {
    "on_off.speed": _on_off_speed,
    "on_off.steer": _on_off_steer,
    "bands.speed": _bands_speed,
    "bands.steer": _bands_steer,
}


def _with(
    make: Callable[[Setup, float, float], Setup],
    other: Callable[[Setup], float],
    first: bool,
    setup: Setup,
    value: float,
) -> Setup:
    """One of speed and steer changed, the other as it is."""
    return make(setup, value, other(setup)) if first else make(setup, other(setup), value)


_WITH_POWER: dict[str, Callable[[Setup, float], Setup]] = {
    "on_off.speed": partial(_with, _with_on_off, _on_off_steer, True),
    "on_off.steer": partial(_with, _with_on_off, _on_off_speed, False),
    "bands.speed": partial(_with, _with_bands, _bands_steer, True),
    "bands.steer": partial(_with, _with_bands, _bands_speed, False),
}
