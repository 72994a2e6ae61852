"""What a law, or anything else that decides, is in a listing: its numbers, what it remembers, and its steps.

Steps are written in a plain part of Python that all printers understand: assignments, arithmetic, comparisons, `if`,
`min`, `max` and `abs`. A line ends in `#@` and the number of a rule where that rule decides.
"""

from dataclasses import dataclass

from irontrail.core.quantity import Quantity

# Units as stored, where the screen shows others.
_STORED = {"ms": "s", "%": "share"}


@dataclass(frozen=True)
class Number:
    """A number of the program: its name in a listing, its value, and what it is called on screen, with its unit."""

    name: str
    value: float
    says: str

    @classmethod
    def of(cls, name: str, quantity: Quantity, value: float, label: str = "") -> "Number":
        """A number with a quantity's own name and unit."""
        stored = _STORED.get(quantity.unit, quantity.unit) if quantity.shown_per_stored != 1.0 else quantity.unit
        words = label or quantity.label
        return cls(name, float(value), f"{words}, {stored}" if stored else words)


@dataclass(frozen=True)
class Variable:
    """Something remembered from one decision to the next, and what it begins with: a whole number or not."""

    name: str
    begins: float | int
    says: str = ""


@dataclass(frozen=True)
class Steps:
    """How a law decides.

    `lines` find `steer` from `error` (positive toward the line), or `left` and `right` from `value`, what is steered
    by; a law of powers has those of the left edge of a dark line. `AIM` is the value at which the error is none.
    """

    numbers: tuple[Number, ...]
    lines: tuple[str, ...]
    memory: tuple[Variable, ...] = ()
