"""What a number of the project means: its name on screen, unit, physical range and nudge.

A field annotated with a `Quantity` is checked when its part is made, shown by a dial with the right unit, and
described with its limits in the published file format; all three read this one place.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, fields, replace
from functools import cache
from typing import Annotated, Any, ClassVar, TypeVar, get_args, get_origin, get_type_hints

from annotated_types import BaseMetadata, Ge, GroupedMetadata, Le

from irontrail.core.errors import OutOfRangeError

# Figures after the point beyond the usual ones, that a value which is not a round one is shown with.
MORE_FIGURES = 2

PartT = TypeVar("PartT", bound="Part")


def with_unit(figure: str, unit: str) -> str:
    """A figure and its unit as they are written: degrees of an angle close by it, all else after a blank.

    >>> with_unit("5", "mm"), with_unit("5", "°"), with_unit("0.6", "")
    ('5 mm', '5°', '0.6')
    """
    return figure + unit if unit in ("", "°") else f"{figure} {unit}"


@dataclass(frozen=True)
class Quantity(GroupedMetadata):
    """The meaning of one number.

    Parameters
    ----------
    label : str
        The trade's name for it, as shown.
    unit : str
        Unit on screen; empty for a plain number.
    low, high : float
        Physical range, both ends allowed, in the unit it is stored in.
    step : float
        What one press of an arrow key changes, in the unit it is stored in.
    shown_per_stored : float
        Factor from the stored to the shown unit (1000 for seconds shown as milliseconds).
    decimals : int
        Figures after the point on screen, where the value is a round one.
    says : str
        What it is, in a sentence that a newcomer understands.
    """

    label: str
    unit: str
    low: float
    high: float
    step: float
    shown_per_stored: float = 1.0
    decimals: int = 0
    says: str = ""

    def __iter__(self) -> Iterator[BaseMetadata]:
        yield Ge(self.low)
        yield Le(self.high)

    def shown(self, value: float) -> str:
        """The value as on screen, with a true minus sign and no unit; with more figures where it is not a round one.

        >>> loop = Quantity("loop time", "ms", 0.001, 0.2, 0.001, 1000.0)
        >>> loop.shown(0.01), loop.shown(0.0125), loop.shown(0.00998)
        ('10', '12.5', '9.98')
        """
        shown, least = value * self.shown_per_stored, self.decimals
        text = f"{shown:.{least + MORE_FIGURES}f}"
        while text[-1] == "0" and len(text.partition(".")[2]) > least:
            text = text[:-1]
        text = text.rstrip(".")
        if float(text) == 0.0:
            text = text.lstrip("-")
        return text.replace("-", "−")

    def in_unit(self, value: float) -> str:
        """The value as on screen, with its unit."""
        return with_unit(self.shown(value), self.unit)

    def as_shown(self, value: float) -> float:
        """The value to the last figure that is shown of it, so that what is stored is what is seen.

        >>> Quantity("top speed", "mm/s", 10.0, 2000.0, 5.0).as_shown(492.38579)
        492.39
        """
        return round(value * self.shown_per_stored, self.decimals + MORE_FIGURES) / self.shown_per_stored

    def clamped(self, value: float) -> float:
        """The nearest value inside the range."""
        return min(max(value, self.low), self.high)


def quantities(part_type: type) -> dict[str, Quantity]:
    """The quantities of a part, by field name."""
    return _quantities(part_type)


@cache
def _quantities(part_type: Any) -> dict[str, Quantity]:
    hints = get_type_hints(part_type, include_extras=True)
    found = {}
    for name, hint in hints.items():
        if get_origin(hint) is Annotated:
            for extra in get_args(hint)[1:]:
                if isinstance(extra, Quantity):
                    found[name] = extra
    return found


@cache
def _limits(part_type: type) -> tuple[tuple[str, float, float], ...]:
    """Of each quantity of a part its name, and the least and most that it may be: asked for by every part made."""
    return tuple((name, each.low, each.high) for name, each in quantities(part_type).items())


def _hash_of(part: "Part") -> int:
    """The hash of a part, worked out once: whole projects are looked up by it at every turn."""
    known: int | None = getattr(part, "_hash", None)
    if known is None:
        kind: Any = type(part)
        known = hash(tuple([getattr(part, name) for name in _names(kind)]))
        object.__setattr__(part, "_hash", known)
    return known


@cache
def _names(part_type: Any) -> tuple[str, ...]:
    return tuple(each.name for each in fields(part_type))


@dataclass(frozen=True)
class Part:
    """Base of all parts of a project: frozen values, each quantity inside its range.

    The file edge reads `__pydantic_config__` when it makes its schema from the parts.
    """

    # Beside the fields, which stand in `__dict__`.
    __slots__ = ("_hash",)
    __pydantic_config__: ClassVar[dict[str, Any]] = {"extra": "forbid", "allow_inf_nan": False}

    def __init_subclass__(cls) -> None:
        # Said before the class becomes a dataclass, which else makes one that goes through the whole tree each time.
        cls.__hash__ = _hash_of  # type: ignore[method-assign, assignment]

    def __post_init__(self) -> None:
        kind: Any = type(self)
        for name, low, high in _limits(kind):
            value = getattr(self, name)
            if not low <= value <= high:
                raise OutOfRangeError(f"{value:g} is outside {low:g} to {high:g}", f"{kind.__name__}.{name}")


def quantity_at(root: Any, path: str) -> Quantity:
    """The quantity of the number at a dotted path.

    >>> from irontrail.core.robot.drive import Drive
    >>> quantity_at(Drive(), "track_width_mm").label
    'track width'
    """
    parent, _, name = path.rpartition(".")
    part_type: type = type(value_at(root, parent) if parent else root)
    return quantities(part_type)[name]


def value_at(root: Any, path: str) -> Any:
    """The value at a dotted path; a whole number in it is a place in a tuple, as in mat.patches.0.colour."""
    for name in path.split("."):
        root = root[int(name)] if isinstance(root, tuple) else getattr(root, name)
    return root


def with_value(root: PartT, path: str, value: Any) -> PartT:
    """The same tree with one value changed; every part beside the path is the very same object.

    >>> from irontrail.core.robot.drive import Drive
    >>> with_value(Drive(), "track_width_mm", 120.0).track_width_mm
    120.0
    """
    name, _, rest = path.partition(".")
    value = _within(getattr(root, name), rest, value) if rest else _as_kept(root, name, value)
    return replace(root, **{name: value})


def _as_kept(part: Any, name: str, value: Any) -> Any:
    """A value as a part keeps it: dials move in fractions, and what is counted stays whole."""
    return round(value) if type(getattr(part, name)) is int and isinstance(value, float) else value


def moved(part: PartT, **values: Any) -> PartT:
    """A part with some values changed, as `replace` gives it, but not checked: they are inside their ranges.

    It takes a tenth of the time, where parts are made for each of many starts.
    """
    made = object.__new__(type(part))
    made.__dict__.update(part.__dict__, **values)
    return made


def put(root: PartT, path: str, value: float) -> PartT:
    """The same tree with one number changed, to what is shown of it and held inside its range.

    It is the one way from a dial to the project.

    >>> from irontrail.core.robot.drive import Drive
    >>> put(Drive(), "track_width_mm", 1e6).track_width_mm == quantity_at(Drive(), "track_width_mm").high
    True
    """
    quantity = quantity_at(root, path)
    return with_value(root, path, quantity.clamped(quantity.as_shown(value)))


def put_each(root: PartT, values: Mapping[str, float]) -> PartT:
    """The same tree with several numbers changed, each as `put` does; no part on their paths is made twice.

    None of them is in a tuple.

    >>> from irontrail.core.robot.mount import Robot
    >>> changed = put_each(Robot(), {"drive.grip": 0.8, "drive.battery": 9.0, "mount.ahead_mm": 40.0})
    >>> changed.drive.grip, changed.drive.battery, changed.mount.ahead_mm
    (0.8, 1.2, 40.0)
    """
    own: dict[str, Any] = {}
    inner: dict[str, dict[str, float]] = {}
    for path, value in values.items():
        name, _, rest = path.partition(".")
        if rest:
            inner.setdefault(name, {})[rest] = value
        else:
            quantity = quantities(type(root))[name]
            own[name] = _as_kept(root, name, quantity.clamped(quantity.as_shown(value)))
    return replace(root, **own, **{name: put_each(getattr(root, name), below) for name, below in inner.items()})


def _within(inner: Any, path: str, value: Any) -> Any:
    """A part, or a tuple of parts, with one value changed."""
    if not isinstance(inner, tuple):
        return with_value(inner, path, value)
    place, _, rest = path.partition(".")
    i = int(place)
    return (*inner[:i], with_value(inner[i], rest, value) if rest else value, *inner[i + 1 :])
