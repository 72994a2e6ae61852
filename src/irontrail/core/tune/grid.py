"""A map of two numbers: every cell run under perturbed conditions, coarsely first, then ever finer."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import CalledOff
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import Axis, put_all
from irontrail.core.tune.batch import MEASURES, run_batch

Floats = NDArray[np.float64]

# Cells are run this many runs at a time, so that the map is seen to grow and can be called off.
RUNS_AT_ONCE = 320
COARSEST = 8
# The cliff is looked for by runs of its own, over so many starts, in no more than so many steps across the map.
LEEWAY_STARTS, LEEWAY_STEPS = 60, 24
# The best cell is confirmed over so many starts that drew nothing of the map; so many cells may come to that.
CONFIRMING, FIRST_CONFIRMED, MOST_CONFIRMED = 400, 1_000_000, 8


@dataclass(frozen=True)
class GridSpec:
    """A map to be made: the setup, its two axes, cells along each, repeats of each, and how often one is to finish."""

    setup: Setup
    x: Axis
    y: Axis
    cells: int
    repeats: int
    share: float = 0.95

    def value(self, axis: Axis, i: int) -> float:
        """The value in the middle of a cell."""
        return axis.at((i + 0.5) / self.cells)

    def setup_at(self, i: int, j: int) -> Setup:
        """The setup of a cell: column i, row j from the bottom."""
        return put_all(self.setup, (self.x, self.y), (self.value(self.x, i), self.value(self.y, j)))

    @property
    def runs(self) -> int:
        """How many runs the whole map takes."""
        return self.cells * self.cells * self.repeats


@dataclass(frozen=True, eq=False)
class GridMap:
    """A map as far as it has been made; arrays of shape (cells, cells), row 0 at the bottom.

    `done` says which cells have been run; `finished` the share of a cell's repeats that finished; each measure its mean
    over those.
    """

    spec: GridSpec
    done: NDArray[np.bool_]
    finished: Floats
    values: dict[str, Floats]

    def shown(self, measure: str) -> tuple[Floats, Floats]:
        """A measure and the finish share for every cell; a cell not run yet has those of the nearest coarser one."""
        i = np.arange(self.spec.cells)
        value, share = self.values[measure].copy(), self.finished.copy()
        step = COARSEST
        filled = np.zeros_like(self.done)
        for step in (8, 4, 2, 1):
            low = np.minimum((i // step) * step + step // 2, self.spec.cells - 1)
            near = np.ix_(low, low)
            take = self.done[near]
            value = np.where(take, self.values[measure][near], value)
            share = np.where(take, self.finished[near], share)
            filled |= take
        return np.where(filled, value, np.nan), np.where(filled, share, np.nan)

    def holding(self, measure: str) -> list[tuple[int, int]]:
        """The cells (column, row) that finish often enough, with all round them, by their measure, the least first."""
        good = self.done & (self.finished >= self.spec.share - 1e-9)
        # Beyond the edge of the map nothing is known, and nothing is asked.
        around = np.pad(good, 1, constant_values=True)
        n = self.spec.cells
        for i in range(3):
            for j in range(3):
                good = good & around[j : j + n, i : i + n]
        good &= np.isfinite(self.values[measure])
        rows, columns = np.nonzero(good)
        ranked = np.argsort(self.values[measure][rows, columns], kind="stable")
        return [(int(columns[k]), int(rows[k])) for k in ranked]

    @property
    def off(self) -> tuple[Axis, ...]:
        """The axes on which today's value is not on the map."""
        setup = self.spec.setup
        return tuple(axis for axis in (self.spec.x, self.spec.y) if not axis.low <= axis.of(setup) <= axis.high)


def levels(cells: int) -> Iterator[list[tuple[int, int]]]:
    """All cells (column, row), the middles of coarse blocks first, each cell once."""
    done = np.zeros((cells, cells), np.bool_)
    step = COARSEST
    while step >= 1:
        middles = sorted({min(block * step + step // 2, cells - 1) for block in range((cells + step - 1) // step)})
        level = [(i, j) for j in middles for i in middles if not done[j, i]]
        for i, j in level:
            done[j, i] = True
        yield level
        step //= 2


def explore(
    spec: GridSpec,
    tell: Callable[[GridMap, int], bool] = lambda _map, _done: True,
    threads: int | None = None,
) -> GridMap | None:
    """Make a map; `tell(map, runs done)` is shown it as it grows, and says whether to go on. None if it says no.

    The same spec gives the same map on any number of threads.
    """
    n = spec.cells
    done, finished = np.zeros((n, n), np.bool_), np.full((n, n), np.nan)
    values = {name: np.full((n, n), np.nan) for name in MEASURES}
    runs = 0
    at_once = max(1, RUNS_AT_ONCE // spec.repeats)
    going = True

    def proceed(_done: int) -> bool:
        return tell(GridMap(spec, done, finished, values), runs + _done)

    for level in levels(n):
        for first in range(0, len(level), at_once):
            cells = level[first : first + at_once]
            batch = run_batch([spec.setup_at(i, j) for i, j in cells], spec.repeats, proceed, threads)
            if batch is None:
                return None
            columns, rows = (np.array(each) for each in zip(*cells, strict=True))
            done, finished = done.copy(), finished.copy()
            values = {name: value.copy() for name, value in values.items()}
            done[rows, columns], finished[rows, columns] = True, batch.finished
            for name, value in values.items():
                value[rows, columns] = batch.values[name]
            runs += len(cells) * spec.repeats
            going = tell(GridMap(spec, done, finished, values), runs)
            if not going:
                return None
    return GridMap(spec, done, finished, values)


@dataclass(frozen=True)
class BestCell:
    """A cell (column, row) that holds with all round it, and what it came to over starts that drew nothing of the map.

    `value` is the measure's mean; `good` of `starts` finished.
    """

    cell: tuple[int, int]
    value: float
    good: int
    starts: int


def best_cell(
    made: GridMap, measure: str, proceed: Callable[[int], bool] = lambda _done: True, threads: int | None = None
) -> BestCell | None:
    """The cell with the least measure that holds with all round it, and on fresh starts; None if there is none.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    runs = 0
    for cell in made.holding(measure)[:MOST_CONFIRMED]:
        batch = run_batch([made.spec.setup_at(*cell)], CONFIRMING, _from(proceed, runs), threads, FIRST_CONFIRMED)
        if batch is None:
            raise CalledOff
        runs += CONFIRMING
        if batch.finished[0] >= made.spec.share - 1e-9:
            good = round(float(batch.finished[0]) * CONFIRMING)
            return BestCell(cell, float(batch.values[measure][0]), good, CONFIRMING)
    return None


def _from(proceed: Callable[[int], bool], before: int) -> Callable[[int], bool]:
    return lambda done: proceed(before + done)


@dataclass(frozen=True)
class Leeway:
    """How often today's numbers finish (share), and how far each may move alone until that is less than is asked for.

    Keys: x below, x above, y below, y above; in the axes' stored units, None where no cliff is met on the map, or today
    is beyond it.
    """

    today: float
    to_cliff: dict[str, float | None]


def leeway_of(
    spec: GridSpec, proceed: Callable[[int], bool] = lambda _done: True, threads: int | None = None
) -> Leeway | None:
    """Where the cliff is beside today's numbers, by runs from there; None where they are not on the map.

    Between two steps it is interpolated.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    places: list[tuple[str, float]] = []
    for name, axis in (("x", spec.x), ("y", spec.y)):
        today = axis.of(spec.setup)
        if not axis.low <= today <= axis.high:
            return None
        step = max((axis.high - axis.low) / min(spec.cells, LEEWAY_STEPS), 1e-12)
        places += [(f"{name} above", today + k * step) for k in range(1, int((axis.high - today) / step + 1e-9) + 1)]
        places += [(f"{name} below", today - k * step) for k in range(1, int((today - axis.low) / step + 1e-9) + 1)]
    axes = {"x": spec.x, "y": spec.y}
    setups = [spec.setup, *(axes[way[0]].put(spec.setup, value) for way, value in places)]
    batch = run_batch(setups, LEEWAY_STARTS, proceed, threads, FIRST_CONFIRMED)
    if batch is None:
        raise CalledOff
    today_share = float(batch.finished[0])
    found: dict[str, float | None] = dict.fromkeys(("x below", "x above", "y below", "y above"))
    for way in found if today_share >= spec.share else ():
        now = axes[way[0]].of(spec.setup)
        before, high = now, today_share
        for (other, value), share in zip(places, batch.finished[1:].tolist(), strict=True):
            if other != way:
                continue
            if share < spec.share:
                crossed = before + (value - before) * (high - spec.share) / (high - share)
                found[way] = abs(crossed - now)
                break
            before, high = value, share
    return Leeway(today_share, found)
