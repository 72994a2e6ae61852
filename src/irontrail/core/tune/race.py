"""Runs that race: who is where, the gap at the same place, where time is won, and whether it was luck."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.project import Setup
from irontrail.core.result import Run
from irontrail.core.stretches import Stretch, first_times
from irontrail.core.tune.batch import run_batch

Floats = NDArray[np.float64]

STARTS = 20


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


@dataclass(frozen=True)
class Chance:
    """One setup over the same perturbed starts as others: how often it finished and won, and the spread of its times.

    `times_s` and `swings_mm` have a value for each start, NaN where it did not finish.
    """

    setup: Setup
    finished: float
    wins: int
    times_s: tuple[float, ...]
    swings_mm: tuple[float, ...]

    def middle(self, values: tuple[float, ...]) -> float:
        """The middle of those that are known; NaN if there is none."""
        known = [value for value in values if np.isfinite(value)]
        return float(np.median(known)) if known else float("nan")


def better_or_lucky(
    setups: Sequence[Setup],
    proceed: Callable[[int], bool] = lambda _done: True,
    starts: int = STARTS,
    threads: int | None = None,
) -> tuple[Chance, ...] | None:
    """Each setup over the same perturbed starts: noise, battery, light and pose alike for all; None if called off.

    A start is won by who finishes it first; one that nobody finishes is nobody's.
    """
    seed = setups[0].trial.seed
    alike = [replace(setup, trial=replace(setup.trial, seed=seed)) for setup in setups]
    batch = run_batch(alike, starts, proceed, threads)
    if batch is None:
        return None
    times, swings = batch.single["time_s"], batch.single["wobble_mm"]
    fastest = np.where(np.isnan(times), np.inf, times)
    winner = np.where(np.isfinite(fastest.min(axis=0)), fastest.argmin(axis=0), -1)
    return tuple(
        Chance(
            setup,
            float(batch.finished[i]),
            int((winner == i).sum()),
            tuple(times[i].tolist()),
            tuple(swings[i].tolist()),
        )
        for i, setup in enumerate(setups)
    )
