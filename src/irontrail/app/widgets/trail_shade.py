"""What the trail on the mat is coloured by: the side that decided, or how much of something there was.

Nothing is told by colour alone: what there is more of is also drawn wider, and the dark side is dashed.
"""

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from irontrail.core.result import Trace

Floats = NDArray[np.float64]

# From little to much; and widths that go with them.
RAMP = ("#E0A878", "#CC7B45", "#A8421A", "#6E2410", "#35110A")
WIDTHS = (1.0, 1.5, 2.1, 2.8, 3.6)
DARK_SIDE, LIGHT_SIDE = "#4A74B8", "#C98A12"
QUIET, LOUD = "#A9A294", "#C2300F"


@dataclass(frozen=True)
class Level:
    """One of the looks of a trail: its colour, width, and what it stands for."""

    colour: str
    width: float
    says: str
    dashed: bool = False


@dataclass(frozen=True, eq=False)
class Shade:
    """Which level each row of a trail has, shape (n,), and the levels."""

    level: NDArray[np.int64]
    levels: tuple[Level, ...]


def _sides(trace: Trace) -> Shade:
    levels = (Level(DARK_SIDE, 2.6, "dark side", True), Level(LIGHT_SIDE, 2.6, "light side"))
    return Shade(trace.side.astype(np.int64), levels)


def _flag(values: Callable[[Trace], Floats], name: str) -> Callable[[Trace], Shade]:
    levels = (Level(QUIET, 1.4, f"not {name}"), Level(LOUD, 3.6, name))
    return lambda trace: Shade((values(trace) > 0.5).astype(np.int64), levels)


def _amount(
    values: Callable[[Trace], Floats], unit: str, least: float, from_zero: bool = True
) -> Callable[[Trace], Shade]:
    """Five steps up to a round figure near the greatest amount: from none, or from one near the least there was.

    The few rows below and above belong to the first and the last.
    """

    def shade(trace: Trace) -> Shade:
        amount = np.abs(values(trace))
        near_least, near_most = (int(share * (amount.size - 1)) for share in (0.02, 0.98))
        parted = np.partition(amount, (near_least, near_most))
        low = 0.0 if from_zero else float(parted[near_least])
        step = _round_up(max(float(parted[near_most]) - low, least) / len(RAMP))
        first = np.floor(low / step)
        level = np.clip((amount / step - first).astype(np.int64), 0, len(RAMP) - 1)
        bounds = [(first + i) * step for i in range(len(RAMP) + 1)]
        says = [f"{low:g}–{high:g}" for low, high in pairwise(bounds)]
        says[-1] = f"{bounds[-2]:g} {unit} or more"
        if first > 0.0:
            says[0] = f"under {bounds[1]:g}"
        return Shade(level, tuple(Level(*look) for look in zip(RAMP, WIDTHS, says, strict=True)))

    return shade


def _round_up(step: float) -> float:
    """The next of 1, 2, 5 times a power of ten."""
    power = 10.0 ** np.floor(np.log10(step))
    return float(next(each * power for each in (1.0, 2.0, 5.0, 10.0) if each * power >= step - 1e-12))


def _speed(trace: Trace) -> Floats:
    return 0.5 * (trace.left_speed_mm_s + trace.right_speed_mm_s)


SHADES: dict[str, Callable[[Trace], Shade] | None] = {
    "plain": None,
    "side": _sides,
    "distance": _amount(lambda trace: trace.edge_mm, "mm", 1.0),
    "steer": _amount(lambda trace: trace.steer, "%", 1.0),
    "speed": _amount(
        lambda trace: 0.5 * (trace.left_speed_mm_s + trace.right_speed_mm_s), "mm/s", 10.0, from_zero=False
    ),
    "clipped": _flag(lambda trace: trace.clipped, "clipped"),
    "skid": _flag(lambda trace: trace.skidding, "slipping"),
}
