"""Many setups run at once, each so many times under perturbed conditions, and what they came to on average."""

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from threading import Lock
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from irontrail.core import many
from irontrail.core.figures import FIGURES, Figure
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.turns import step_back

if TYPE_CHECKING:
    from irontrail.core.mat.route import Route

Floats = NDArray[np.float64]
Proceed = Callable[[int], bool]
# Code of a run that reached its finish, among the engine's outcomes.
FINISHED = 1


# A run that keeps this far off its edge on the whole (RMS, as a share of the tape) is on another one.
OFF_SHARE = 0.75

OF_LINE = ("time_s", "wobble_mm", "rms_edge_mm", "worst_edge_mm", "clipped_share")
OF_SPOT = ("spots_missed", "spot_miss_mm")
# The figures that can be tuned for: those that a sweep measures; all are better the smaller they are.
MEASURES: dict[str, Figure] = {name: FIGURES[name] for name in (*OF_LINE, *OF_SPOT)}


def measures_of(setup: Setup) -> dict[str, Figure]:
    """The measures that a setup has: those of spots only where its mat has any."""
    return {name: MEASURES[name] for name in (*OF_LINE, *(OF_SPOT if setup.mat.spots else ()))}


@dataclass(frozen=True, eq=False)
class Batch:
    """What each of n setups came to over its repeats.

    A run that comes to its finish along another edge than its own has not finished.

    `finished` is the share of repeats that finished, shape (n,); each measure the mean over those that did, and NaN
    where none did; the share of spots missed that over all, since who does not finish misses its spot; `progress_mm`
    the mean over all. `single` has each repeat by itself, shape (n, repeats), NaN where it did not finish (its way is
    there always).
    """

    repeats: int
    finished: Floats
    progress_mm: Floats
    values: dict[str, Floats]
    single: dict[str, Floats]

    def came_through(self, i: int, setup: Setup) -> NDArray[np.bool_]:
        """Which repeats of a setup finished and met their spots, where its mat has any; shape (repeats,)."""
        good: NDArray[np.bool_] = np.isfinite(self.single["time_s"][i])
        if setup.mat.spots:
            good &= self.single["spots_missed"][i] == 0.0
        return good


class _Runs:
    """The runs of some setups, each perturbed only when it is asked for."""

    def __init__(self, setups: Sequence[Setup], repeats: int, first: int) -> None:
        self.setups, self.repeats, self.first = setups, repeats, first
        # By the setup's place: of all its starts most numbers are the same.
        self._whole: dict[int, NDArray[np.void]] = {}

    def __len__(self) -> int:
        return len(self.setups) * self.repeats

    def at(self, i: int) -> Setup:
        setup = self.setups[i // self.repeats]
        return setup if not self.first else perturbed(setup, i % self.repeats + self.first)

    def packed(self, i: int, route: "Route") -> NDArray[np.void]:
        """The numbers of one."""
        from irontrail.core.engine.pack import parameters_of, restarted

        place, setup = i // self.repeats, self.setups[i // self.repeats]
        if not self.first or setup.trial.shaken.changes_what_is_seen:
            return parameters_of(self.at(i), route)
        if place not in self._whole:
            self._whole[place] = parameters_of(setup, route)
        return restarted(self._whole[place], self.at(i), route)

    def together(self) -> list[list[int]]:
        """The runs that can be driven in one go: those on one mat, as their sensors see it."""
        groups: dict[tuple[object, ...], list[int]] = {}
        for i, setup in enumerate(self.setups):
            alike, trial = many.shared(setup), setup.trial
            own = bool(self.first) and trial.shaken.changes_what_is_seen
            for number in range(self.repeats):
                key = (*alike, trial.shaken, trial.seed, number) if own else alike
                groups.setdefault(key, []).append(i * self.repeats + number)
        return list(groups.values())


class _Picked:
    """Some of those runs, in their order."""

    def __init__(self, runs: _Runs, places: list[int]) -> None:
        self.runs, self.places = runs, places

    def __len__(self) -> int:
        return len(self.places)

    @property
    def first(self) -> Setup:
        """The first of them."""
        return self.runs.at(self.places[0])

    def packed(self, chunk: slice, route: "Route") -> list[NDArray[np.void]]:
        """The numbers of those of a slice."""
        return [self.runs.packed(i, route) for i in self.places[chunk]]


class _Driven:
    """How many runs have been driven by all groups, and whether to go on."""

    def __init__(self, proceed: Proceed) -> None:
        self.going = True
        self._proceed, self._done, self._lock = proceed, 0, Lock()

    def telling(self) -> Proceed:
        """What a group tells how many of its own it has driven."""
        before = 0

        def told(of_group: int) -> bool:
            nonlocal before
            with self._lock:
                self._done += of_group - before
                before = of_group
                self.going = self.going and self._proceed(self._done)
            return self.going

        return told


def run_batch(
    setups: Sequence[Setup],
    repeats: int = 1,
    proceed: Proceed = lambda _done: True,
    threads: int | None = None,
    first: int | None = None,
) -> Batch | None:
    """Run every setup from the same shaken starts; None if it was called off.

    What differs between setups with the same seed and shaking is then not luck. The result is the same on any number of
    threads.

    Parameters
    ----------
    setups : sequence of Setup
        In any order and of any kind; those that share mat and sensor are run together.
    repeats : int
        How many starts each has. One alone is the setup as it is, not shaken, unless `first` is given.
    first : int, optional
        The number of the first start, 1 if not given; others are as many fresh starts.
    proceed : callable
        Told how many runs are done; says whether to go on.
    """
    runs = _Runs(setups, repeats, first if first is not None else int(repeats > 1))
    single = {name: np.full(len(runs), np.nan) for name in (*MEASURES, "progress_mm")}
    outcome = np.zeros(len(runs), np.int64)
    groups = runs.together()
    driven = _Driven(proceed)

    def drive(places: list[int], inner: int | None) -> None:
        if not driven.going:
            return
        swept = many.deal(_Picked(runs, places), inner, driven.telling())
        outcome[places] = swept.outcome
        for name, column in single.items():
            column[places] = getattr(swept, name)

    cores = threads or os.cpu_count() or 1
    if len(groups) > cores > 1:
        # What each sees is worked out by one core, so that many mats are seen at once.
        with ThreadPoolExecutor(cores, initializer=step_back) as pool:
            list(pool.map(lambda places: drive(places, 1), groups))
    else:
        for places in groups:
            drive(places, threads)
    going = driven.going
    return _averaged(outcome, single, setups, repeats) if going else None


def _averaged(outcome: NDArray[np.int64], single: dict[str, Floats], setups: Sequence[Setup], repeats: int) -> Batch:
    count = len(setups)
    tape = np.repeat([setup.mat.followed.width_mm for setup in setups], repeats)
    reached = (outcome == FINISHED) & (np.nan_to_num(single["rms_edge_mm"], nan=np.inf) <= OFF_SHARE * tape)
    reached = reached.reshape(count, repeats)
    times = reached.sum(axis=1)
    values = {}
    for name in MEASURES:
        if name == "spots_missed":
            values[name] = single[name].reshape(count, repeats).mean(axis=1)
            continue
        total = np.where(reached, single[name].reshape(count, repeats), 0.0).sum(axis=1)
        values[name] = np.divide(total, times, out=np.full(count, np.nan), where=times > 0)
    progress = single["progress_mm"].reshape(count, repeats).mean(axis=1)
    of_each = {name: np.where(reached, single[name].reshape(count, repeats), np.nan) for name in MEASURES}
    of_each["progress_mm"] = single["progress_mm"].reshape(count, repeats)
    return Batch(repeats, times / repeats, progress, values, of_each)
