"""The event in order: two readings taken there, the places to look at again, real times, and the next real run."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.light.sensor import Calibration
from irontrail.core.pit.next_run import NextRun, next_runs
from irontrail.core.pit.readings import Readings, take_in
from irontrail.core.project import KeptRun
from irontrail.core.result import Run, point_way
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.stretches import stretches
from irontrail.core.tune.tries import STARTS, Tried, Trying

Floats = NDArray[np.float64]

SPOTS = 3
# Places nearer to each other than this are one.
APART_MM = 80.0


@dataclass(frozen=True)
class Place:
    """A stretch where runs come nearest to losing the line: how far off at worst (mm, the middle of the starts), and
    where on the mat that is (mm)."""

    name: str
    worst_mm: float
    x_mm: float
    y_mm: float


def places_of(setup: Setup, trying: Trying) -> tuple[Place, ...]:
    """The stretches where a setup strays farthest over its starts, the worst first; none of a trip."""
    if setup.program.trip is not None:
        return ()
    strays: dict[str, list[tuple[float, float, float]]] = {}
    for number in range(1, STARTS + 1):
        trying.told(number)
        made = perturbed(setup, number)
        run = derive.run_once(made)
        x, y = _sensor(made, run)
        progress = np.maximum.accumulate(run.trace.progress_mm)
        for stretch in stretches(run):
            rows = np.flatnonzero((progress >= stretch.start_mm) & (progress <= stretch.end_mm))
            if rows.size:
                row = rows[np.argmax(np.abs(run.trace.edge_mm[rows]))]
                name = f"bend {stretch.name}" if stretch.bend else stretch.name
                strays.setdefault(name, []).append((float(abs(run.trace.edge_mm[row])), float(x[row]), float(y[row])))
    trying.runs += STARTS
    found = []
    for name, all_of in strays.items():
        ranked = sorted(all_of)
        middle = ranked[len(ranked) // 2]
        found.append(Place(name, *middle))
    apart: list[Place] = []
    for place in sorted(found, key=lambda place: -place.worst_mm):
        if all(np.hypot(place.x_mm - other.x_mm, place.y_mm - other.y_mm) >= APART_MM for other in apart):
            apart.append(place)
    return tuple(apart[:SPOTS])


def _sensor(setup: Setup, run: Run) -> tuple[Floats, Floats]:
    return point_way(run.trace, setup.reference)


@dataclass(frozen=True)
class Foretold:
    """A kept run as the model foretells it over its starts, beside what the real robot did."""

    kept: KeptRun
    tried: Tried

    @property
    def real_s(self) -> tuple[float, ...]:
        """The times of the real runs that finished."""
        return tuple(run.time_s for run in self.kept.real if run.finished)

    @property
    def says(self) -> str:
        """What was foretold and what happened, in a sentence."""
        tried, real = self.tried, self.kept.real
        if not tried.good:
            return f"foretold: none of {tried.starts} starts comes through"
        low, high = np.nanmin(tried.times_s), np.nanmax(tried.times_s)
        told = f"foretold {tried.time_s:.1f} s ({low:.1f} to {high:.1f}), {tried.of_starts} come through"
        if not self.real_s:
            return told
        inside = sum(bool(low <= time <= high) for time in self.real_s)
        failed = len(real) - len(self.real_s)
        return f"{told}; {inside} of {len(self.real_s)} real times within that{f', {failed} failed' if failed else ''}"


@dataclass(frozen=True)
class Venue:
    """The event as far as it is worked out: `plain` as the setup is, `tried` in the hall with its readings taken in."""

    setup: Setup
    readings: Readings | None = None
    plain: Tried | None = None
    tried: Tried | None = None
    places: tuple[Place, ...] = ()
    foretold: tuple[Foretold, ...] = ()
    next_runs: tuple[NextRun, ...] = ()
    now_s: float = float("nan")
    runs: int = 0


def venue_of(
    setup: Setup,
    found: Calibration | None,
    kept: Sequence[KeptRun],
    tell: Callable[[Venue, int], bool] = lambda _venue, _done: True,
    threads: int | None = None,
) -> Venue:
    """Work the event out; `tell(venue so far, runs done)` says whether to go on.

    Parameters
    ----------
    found : Calibration or None
        The two raw readings taken in the hall; None if none were.
    kept : sequence of KeptRun
        Those that the real robot has driven.

    Raises
    ------
    CalledOff
        If it says no.
    IronTrailError
        If the readings cannot be taken in; see `take_in`.
    """
    venue = Venue(setup)
    trying = Trying(lambda done: tell(venue, done), threads)
    hall = setup
    venue = replace(venue, plain=trying.one(setup))
    if found is not None:
        taken = take_in(setup, found)
        as_set, with_new = trying([taken.there, taken.anew])
        venue = replace(venue, readings=replace(taken, as_set=as_set, with_new=with_new))
        hall = taken.anew
    venue = replace(venue, tried=trying.one(hall) if hall != setup else venue.plain)
    venue = replace(venue, places=places_of(hall, trying))
    for run in kept:
        venue = replace(venue, foretold=(*venue.foretold, Foretold(run, trying.one(run.setup))))
    nexts, now_s = next_runs(hall, trying)
    return replace(venue, next_runs=nexts, now_s=now_s, runs=trying.runs)
