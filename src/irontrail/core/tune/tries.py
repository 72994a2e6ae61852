"""Setups tried over the same perturbed starts: how often each comes through, how long it takes, how much it swings."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import CalledOff
from irontrail.core.setup import Setup
from irontrail.core.tune.batch import run_batch

Floats = NDArray[np.float64]

STARTS = 20
# Of so large a share of its starts a setup that holds comes through.
HOLDS = 0.9
# Added to a setup's seed for starts that chose nothing.
FRESH = 1_000_003


@dataclass(frozen=True, eq=False)
class Tried:
    """What a setup came to over its starts; `times_s` and `swings_mm` have a value a start, NaN where it failed.

    `came_mm` is how far along its line each start came, failed or not.

    A run comes through if it finishes on its own edge, and meets its spots where the mat has any.
    """

    setup: Setup
    times_s: Floats
    swings_mm: Floats
    came_mm: Floats = field(default_factory=lambda: np.zeros(0))

    def with_more(self, other: "Tried") -> "Tried":
        """The same setup over its starts and another's."""
        return Tried(
            self.setup,
            np.concatenate((self.times_s, other.times_s)),
            np.concatenate((self.swings_mm, other.swings_mm)),
            np.concatenate((self.came_mm, other.came_mm)),
        )

    @cached_property
    def good(self) -> int:
        """How many starts came through."""
        return int(np.isfinite(self.times_s).sum())

    @property
    def starts(self) -> int:
        """How many starts there were."""
        return self.times_s.size

    @property
    def holds(self) -> bool:
        """It comes through often enough to be relied on."""
        return self.good >= HOLDS * self.starts

    @property
    def time_s(self) -> float:
        """The middle of the times of those that came through; NaN if none did."""
        return _middle(self.times_s)

    @property
    def swing_mm(self) -> float:
        """The middle of their swings."""
        return _middle(self.swings_mm)

    @property
    def of_starts(self) -> str:
        """How many came through of how many.

        >>> Tried(None, np.array([9.5, np.nan]), np.array([3.0, np.nan])).of_starts
        '1 of 2'
        """
        return f"{self.good} of {self.starts}"


def _middle(values: Floats) -> float:
    known = values[np.isfinite(values)]
    return float(np.median(known)) if known.size else float("nan")


class Trying:
    """Tries setups and counts the runs.

    Parameters
    ----------
    proceed : callable
        Told how many runs are done in all; says whether to go on. Once it does not, trying raises CalledOff.
    threads : int, optional
        What comes out is the same on any number of them.
    """

    def __init__(self, proceed: Callable[[int], bool] = lambda _done: True, threads: int | None = None) -> None:
        self.runs = 0
        self._proceed, self._threads = proceed, threads

    def __call__(self, setups: Sequence[Setup], fresh: int = 0, starts: int = STARTS) -> list[Tried]:
        """Try each over the same starts: the usual ones, or with `fresh` above 0 others, so many sets of them on."""
        seeded = [on_fresh_starts(setup, fresh) for setup in setups]
        batch = run_batch(seeded, starts, lambda done: self._proceed(self.runs + done), self._threads)
        if batch is None:
            raise CalledOff
        self.runs += len(setups) * starts
        tried = []
        for i, setup in enumerate(setups):
            good = batch.came_through(i, setup)
            times, swings = (np.where(good, batch.single[name][i], np.nan) for name in ("time_s", "wobble_mm"))
            tried.append(Tried(setup, times, swings, batch.single["progress_mm"][i]))
        return tried

    def told(self, more: int) -> None:
        """So many more runs are being driven elsewhere; raises CalledOff if there is to be an end."""
        if not self._proceed(self.runs + more):
            raise CalledOff

    def one(self, setup: Setup, fresh: int = 0, starts: int = STARTS) -> Tried:
        """Try a single setup."""
        return self([setup], fresh, starts)[0]


def on_fresh_starts(setup: Setup, fresh: int) -> Setup:
    """A setup whose starts are others, so many sets of them on; with 0 its own."""
    if not fresh:
        return setup
    seed = (setup.trial.seed + fresh * FRESH) % (2**31 - 1)
    return replace(setup, trial=replace(setup.trial, seed=seed))
