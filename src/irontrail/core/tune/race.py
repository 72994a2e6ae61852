"""Runs that race: who is where, the gap at the same place, and where time is won."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.result import Run
from irontrail.core.stretches import Stretch, first_times

Floats = NDArray[np.float64]


def time_at(run: Run, place_mm: float) -> float | None:
    """When a run first was at a place of its way (mm from where it was set down); None if it never was."""
    reached, times = first_times(run)
    if place_mm > reached[-1]:
        return None
    return float(np.interp(place_mm, reached, times))


def gap_s(run: Run, other: Run, time_s: float) -> float | None:
    """How much later another run is at the place where one is at a time; negative if it was there before.

    None if the other never comes there.
    """
    reached, times = first_times(run)
    place = float(np.interp(min(time_s, times[-1]), times, reached))
    then = time_at(other, place)
    at = time_at(run, place)
    return None if then is None or at is None else then - at


@dataclass(frozen=True)
class Difference:
    """One stretch of two runs: how much longer the other took (s), and how much more it swung (mm)."""

    name: str
    bend: bool
    start_mm: float
    end_mm: float
    time_s: float
    swing_mm: float


def differences(of: Sequence[Stretch], other: Sequence[Stretch]) -> tuple[Difference, ...]:
    """What another run lost (positive) or won on each stretch that both drove whole."""
    by_name = {each.name: each for each in other if each.whole}
    return tuple(
        Difference(
            each.name, each.bend, each.start_mm, each.end_mm, by_name[each.name].time_s - each.time_s,
            by_name[each.name].wobble_mm - each.wobble_mm,
        )
        for each in of
        if each.whole and each.name in by_name
    )  # fmt: skip
