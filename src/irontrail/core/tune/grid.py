"""A map of two numbers: every cell run under perturbed conditions, coarsely first, then ever finer."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.project import Setup
from irontrail.core.tune.axes import Axis
from irontrail.core.tune.batch import MEASURES, run_batch

Floats = NDArray[np.float64]

# Cells are run this many runs at a time, so that the map is seen to grow and can be called off.
RUNS_AT_ONCE = 320
COARSEST = 8
# A cell that finishes less often than this is lost.
LOST_SHARE = 0.5


@dataclass(frozen=True)
class GridSpec:
    """A map to be made: the setup, its two axes, cells along each, and repeats of each cell."""

    setup: Setup
    x: Axis
    y: Axis
    cells: int
    repeats: int

    def value(self, axis: Axis, i: int) -> float:
        """The value in the middle of a cell."""
        return axis.at((i + 0.5) / self.cells)

    def setup_at(self, i: int, j: int) -> Setup:
        """The setup of a cell: column i, row j from the bottom."""
        return self.y.put(self.x.put(self.setup, self.value(self.x, i)), self.value(self.y, j))

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

    def best(self, measure: str, share: float = 1.0) -> tuple[int, int] | None:
        """The cell (column, row) with the least measure of those that finish at least so often; None if none does."""
        good = self.done & (self.finished >= share - 1e-9) & np.isfinite(self.values[measure])
        if not good.any():
            return None
        j, i = np.unravel_index(int(np.argmin(np.where(good, self.values[measure], np.inf))), good.shape)
        return int(i), int(j)

    def room(self) -> dict[str, float | None]:
        """How far today's settings are from the lost region, each number changed by itself; None where it is not met.

        Keys: x below, x above, y below, y above; in the axes' stored units.
        """
        lost = self.done & (self.finished < LOST_SHARE)
        spec = self.spec
        now = [self._place(axis) for axis in (spec.x, spec.y)]
        i, j = (int(np.clip(place, 0, spec.cells - 1)) for place in now)
        found: dict[str, float | None] = {}
        for name, line, axis, at in (("x", lost[j, :], spec.x, i), ("y", lost[:, i], spec.y, j)):
            today, half = axis.of(spec.setup), 0.5 * (axis.high - axis.low) / spec.cells
            below, above = np.flatnonzero(line[: at + 1]), np.flatnonzero(line[at:])
            found[f"{name} below"] = max(today - spec.value(axis, int(below[-1])) - half, 0.0) if below.size else None
            found[f"{name} above"] = (
                max(spec.value(axis, at + int(above[0])) - half - today, 0.0) if above.size else None
            )
        return found

    def _place(self, axis: Axis) -> int:
        return int(np.floor((axis.of(self.spec.setup) - axis.low) / max(axis.high - axis.low, 1e-12) * self.spec.cells))


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
