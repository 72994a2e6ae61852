"""The numbers that can be tuned: those of the project, and for laws with many powers a speed and a steer for all."""

from collections.abc import Sequence
from dataclasses import dataclass, fields, is_dataclass, replace

from irontrail.core.errors import IronTrailError
from irontrail.core.light.sensor import Calibration, apart
from irontrail.core.quantity import Quantity, put, quantities, quantity_at, value_at, with_unit, with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.law import Tuned
from irontrail.core.steering.registry import DECIDING, LAW_FIELDS, LawName

# What a search usually covers, of numbers that belong to no law.
RANGES = {
    "program.target": (30.0, 70.0),
    "program.ease_off": (0.0, 0.8),
    "robot.mount.ahead_mm": (20.0, 140.0),
    "robot.mount.aside_mm": (-30.0, 30.0),
    "robot.mount.height_mm": (4.0, 18.0),
}
USUAL = tuple(RANGES)
# The same of a second sensor, and the numbers of each arrangement of two.
OF_SECOND = {
    "second.mount.ahead_mm": (-80.0, 140.0),
    "second.mount.aside_mm": (-40.0, 40.0),
    "second.mount.height_mm": (4.0, 18.0),
}
OF_PAIR = {
    "weighted": {"program.pair.weight": (0.4, 1.0)},
    "table": {"program.pair.left_threshold": (20.0, 80.0), "program.pair.right_threshold": (20.0, 80.0)},
    "each its side": {"program.pair.left_threshold": (20.0, 90.0), "program.pair.right_threshold": (20.0, 90.0)},
}
RANGES |= OF_SECOND
for of_arrangement in OF_PAIR.values():
    RANGES |= of_arrangement
OF_LEGS = "program.trip.legs."
# Of each, neither number can be where the other one is.
CALIBRATIONS = ("light.calibration", "second.calibration")
OF_MAT = ("mat.line.width_mm", "mat.line.border_mm", "mat.line.unevenness_mm", "mat.zone_mm")


def path_of(tuned: Tuned) -> str:
    """The path of a law's tuned number: one of its own stands by itself, others are numbers of the program."""
    return tuned.path if tuned.quantity is not None else f"program.{tuned.path}"


_TUNED = {path_of(tuned): tuned for law in DECIDING.values() for tuned in law.tuned}


def of_law(law: LawName) -> tuple[str, ...]:
    """The paths of a law's numbers, the foremost first."""
    return tuple(path_of(tuned) for tuned in DECIDING[law].tuned)


def is_of_a_law(path: str) -> bool:
    """Whether a number is one of a single law's own."""
    return path.removeprefix("program.").partition(".")[0] in LAW_FIELDS


def is_combined(path: str) -> bool:
    """Whether a number moves several of a law's powers together."""
    return path in _TUNED and _TUNED[path].quantity is not None


@dataclass(frozen=True)
class Axis:
    """One number to change: where it stands, what it means, and from where to where."""

    path: str
    quantity: Quantity
    low: float
    high: float

    def of(self, setup: Setup) -> float:
        """Its value in a setup."""
        tuned = _TUNED.get(self.path)
        return tuned.of(setup.program) if tuned is not None and tuned.of else float(value_at(setup, self.path))

    def is_in(self, setup: Setup) -> bool:
        """Whether a setup has that number: one of a leg, or of a second sensor, may have gone."""
        try:
            self.of(setup)
        except (AttributeError, IndexError):
            return False
        return True

    def put(self, setup: Setup, value: float) -> Setup:
        """A setup with another value, held inside what it can physically be.

        Raises
        ------
        IronTrailError
            If the setup has no such number any more.
        """
        if not self.is_in(setup):
            raise IronTrailError(f"there is no {self.quantity.label} any more", self.path, "Look for it anew.")
        tuned = _TUNED.get(self.path)
        if tuned is not None and tuned.put:
            return replace(setup, program=tuned.put(setup.program, self.quantity.clamped(value)))
        part, _, name = self.path.rpartition(".")
        if part in CALIBRATIONS:
            other = value_at(setup, f"{part}.{'bright' if name == 'dark' else 'dark'}")
            value = apart(self.quantity.clamped(self.quantity.as_shown(value)), other)
        return put(setup, self.path, value)

    def rounded(self, value: float) -> float:
        """A value as a team gives it to its robot: with the figures that are shown of it, inside the range."""
        shown = self.quantity.shown_per_stored
        made = round(value * shown, self.quantity.decimals) / shown
        return min(max(made, self.low), self.high)

    def at(self, share: float) -> float:
        """The value at a share (0..1) of its range."""
        return self.low + share * (self.high - self.low)

    def shown(self, value: float) -> str:
        """A value as on screen, with a figure more than its dial where the range is fine."""
        text = f"{value * self.quantity.shown_per_stored:.{self.quantity.decimals}f}"
        return text.replace("-", "−")

    def in_unit(self, value: float) -> str:
        """A value as on screen, with its unit."""
        return with_unit(self.shown(value), self.quantity.unit)


def put_all(setup: Setup, axes: Sequence[Axis], values: Sequence[float]) -> Setup:
    """A setup with values on some axes, whatever their order and whatever stood there before.

    Raises
    ------
    IronTrailError
        If the setup has one of these numbers no more.
    """
    given = {each.path: (each, value) for each, value in zip(axes, values, strict=True)}
    for law in DECIDING.values():
        paths = [path_of(tuned) for tuned in law.tuned[:2]]
        if law.both is not None and all(path in given for path in paths):
            # Speed and steer of all its powers are one thing.
            speed, steer = (each.quantity.clamped(value) for each, value in (given.pop(path) for path in paths))
            setup = replace(setup, program=law.both(setup.program, speed, steer))
    for part in CALIBRATIONS:
        both = [given[path] for path in (f"{part}.dark", f"{part}.bright") if path in given]
        if len(both) == 2 and both[0][0].is_in(setup):
            # Either may come to where the other one stood before.
            dark, bright = (each.quantity.clamped(each.quantity.as_shown(value)) for each, value in both)
            setup = with_value(setup, part, Calibration(dark, apart(bright, dark)))
    for each, value in given.values():
        setup = each.put(setup, value)
    return setup


def axis(setup: Setup, path: str, low: float | None = None, high: float | None = None) -> Axis:
    """The axis of a number over its usual range, or another, held inside what it can physically be."""
    tuned = _TUNED.get(path)
    quantity = tuned.quantity if tuned is not None and tuned.quantity else _named(quantity_at(setup, path), path)
    usual = (
        (tuned.low, tuned.high)
        if tuned is not None
        else RANGES.get(path) or _about(float(value_at(setup, path)), quantity)
    )
    ends = usual[0] if low is None else low, usual[1] if high is None else high
    return Axis(path, quantity, quantity.clamped(min(ends)), quantity.clamped(max(ends)))


def _named(quantity: Quantity, path: str) -> Quantity:
    """A number of a leg, of the second sensor or of a table's case says of which."""
    if path.startswith("second."):
        return replace(quantity, label=f"second {quantity.label}")
    if path.startswith("program.table."):
        case = path.split(".")[2]
        return replace(quantity, label=f"{'no' if case == 'neither' else case} sensor on: {quantity.label}")
    if not path.startswith(OF_LEGS):
        return quantity
    place = path.removeprefix(OF_LEGS).partition(".")[0]
    return replace(quantity, label=f"leg {int(place) + 1} {quantity.label}")


def _about(value: float, quantity: Quantity) -> tuple[float, float]:
    """A range about a value, for numbers that have no usual one."""
    reach = max(abs(value), 5.0 * quantity.step)
    return max(value - reach, quantity.low), min(value + reach, quantity.high)


def own_numbers(setup: Setup) -> tuple[str, ...]:
    """The paths of the numbers of what a setup steers by: of its law or its table, and of its arrangement."""
    program = setup.program
    return (*of_law(program.chosen.name), *OF_PAIR.get(program.arrangement, ()))


def to_tune(setup: Setup) -> tuple[str, ...]:
    """The paths that a search changes if not told otherwise: a setup's own numbers, and its target if it has one."""
    program = setup.program
    steers_by_target = program.chosen.uses_target and program.arrangement in ("one", "weighted")
    named = setup.light.sensor.names_colours
    return (*own_numbers(setup), *(("program.target",) if steers_by_target and not named else ()))


def foremost(setup: Setup) -> tuple[str, ...]:
    """The paths to tune first for a setup's law, then those usual for any."""
    found = own_numbers(setup)
    if setup.second is None:
        return (*found, *USUAL)
    # Nothing is kept at a target where two sensors are kept even.
    usual = [path for path in USUAL if path != "program.target" or setup.program.arrangement in ("one", "weighted")]
    return (*found, *usual, *OF_SECOND)


def all_numbers(setup: Setup) -> tuple[str, ...]:
    """The paths of every number of a setup's robot, light, program and trial, of its legs and its tape; foremost first.

    Of the laws only the one in use has any.
    """
    paths = list(foremost(setup))
    others = tuple(f"program.{field}." for field in LAW_FIELDS if field != setup.program.chosen.field)
    others += ("program.pair.",)
    for part in ("program", "robot", "light", "trial", *(("second",) if setup.second is not None else ())):
        found = _numbers(getattr(setup, part), f"{part}.")
        paths += [path for path in found if path not in paths and not path.startswith(others)]
    legs = setup.program.trip.legs if setup.program.trip is not None else ()
    for i, leg in enumerate(legs):
        paths += _numbers(leg, f"{OF_LEGS}{i}.")
        for j, end in enumerate(leg.ends):
            paths += _numbers(end, f"{OF_LEGS}{i}.ends.{j}.")
    return (*paths, *OF_MAT)


def _numbers(part: object, prefix: str) -> list[str]:
    found = []
    for field in fields(part):  # type: ignore[arg-type]
        value = getattr(part, field.name)
        if field.name in quantities(type(part)) and not field.name.endswith("seed"):
            found.append(prefix + field.name)
        elif is_dataclass(value) and field.name not in ("pull", "wiring", "trip", "shaken"):
            found += _numbers(value, f"{prefix}{field.name}.")
    return found
