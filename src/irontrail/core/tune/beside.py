"""Where numbers come to when each is moved a little by itself, and whose number it was."""

from irontrail.core.tune.axes import Axis

Axes = tuple[Axis, ...]
Values = tuple[float, ...]

# A team sets a number to within a step, or this share of it.
A_LITTLE = 0.01


def neighbours(axes: Axes, values: Values) -> list[tuple[str, Values]]:
    """Each number moved by what a team may be off by, up and down: whose it is, and the values."""
    return beside_of(axes, values, 0.0)


def beside_of(axes: Axes, values: Values, share: float) -> list[tuple[str, Values]]:
    """Each number moved by a share of its range up and down; by no less than a step, or 1 % of it."""
    found = []
    for i, axis in enumerate(axes):
        least = max(A_LITTLE * abs(values[i]), 10.0**-axis.quantity.decimals / axis.quantity.shown_per_stored)
        step = max(share * (axis.high - axis.low), least)
        for way in (-1.0, 1.0):
            moved = axis.quantity.clamped(values[i] + way * step)
            if share:
                moved = axis.rounded(moved)
            if moved != values[i]:
                found.append((axis.quantity.label, (*values[:i], moved, *values[i + 1 :])))
    return found


def within(axes: Axes, values: Values) -> bool:
    """Whether each number is in the range of its axis."""
    return all(axis.low <= value <= axis.high for axis, value in zip(axes, values, strict=True))
