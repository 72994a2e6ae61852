"""Many runs of one mat by the same kernel as a single one, on all cores.

Runs are dealt out in chunks to threads, which the kernel lets run side by side; each run's result depends on its own
parameters alone, so that neither the number of threads nor the order changes a bit.
"""

import os
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core.compiled import compiled
from irontrail.core.engine.kernel import simulate
from irontrail.core.engine.pack import Packed
from irontrail.core.engine.run import OUTCOMES
from irontrail.core.engine.run_records import ROW, STATE, SUMMARY
from irontrail.core.figures import Outcome
from irontrail.core.mat.spots import Misses, misses
from irontrail.core.mat.tape import Spot
from irontrail.core.measures import WOBBLE_WINDOW_S
from irontrail.core.steering.legs import MAX_LEGS
from irontrail.core.turns import COMPUTING, step_back

Floats = NDArray[np.float64]

# Runs in a chunk, and loops of their programs: few enough that a sweep can be cancelled at once, enough that dealing
# them out costs nothing.
CHUNK, MOST_LOOPS = 16, 200_000
(R_OUTCOME, R_TIME, R_PROGRESS, R_RMS_EDGE, R_WORST_EDGE, R_WOBBLE, R_CLIPPED, R_COAST) = range(8)
RESULT_COLUMNS = 8


@dataclass(frozen=True, eq=False)
class SweepResult:
    """Measures of each run, shape (n,), as measures.py defines them; `outcome` is a code, see `outcomes`.

    `stands` is where each leg left the axle's middle (mm) and the heading (rad) it had there, shape (n, MAX_LEGS, 3);
    NaN for a leg that never came to its end. Without a trip the whole run is the first. `spots` is how nearly the
    spots of the mat are reached by these, None if it has none.
    """

    outcome: NDArray[np.int64]
    time_s: Floats
    progress_mm: Floats
    rms_edge_mm: Floats
    worst_edge_mm: Floats
    wobble_mm: Floats
    clipped_share: Floats
    coast_mm: Floats
    stands: Floats
    spots: Misses | None = None

    @property
    def spot_miss_mm(self) -> Floats:
        """How far the spot missed most is missed, 0 on a mat without any; NaN where no leg came to its end."""
        return self.spots.worst_mm if self.spots is not None else np.zeros(self.outcome.size)

    @property
    def spots_missed(self) -> Floats:
        """The share of the spots that is missed; 0 on a mat without any."""
        return self.spots.missed_share if self.spots is not None else np.zeros(self.outcome.size)

    def outcomes(self) -> list[Outcome]:
        """How each run ended."""
        return [OUTCOMES[code - 1] for code in self.outcome]


def sweep(
    parameters: NDArray[np.void],
    packed: Packed,
    threads: int | None = None,
    proceed: Callable[[int], bool] = lambda _done: True,
) -> SweepResult:
    """Run every row of parameters on the mat of `packed`.

    Parameters
    ----------
    parameters : ndarray of pack.PARAMETERS, shape (n,)
    packed : Packed
        Gives the route and the seen field.
    threads : int, optional
        As many as there are cores if not given.
    proceed : callable
        Told how many runs are done, after each chunk; the sweep stops early if it says no. Runs not done have
        outcome 0 and NaN for all else.
    """
    return dealt(parameters.size, lambda chunk: (parameters[chunk], packed), threads, proceed)


def dealt(
    count: int,
    make: Callable[[slice], tuple[NDArray[np.void], Packed]],
    threads: int | None = None,
    proceed: Callable[[int], bool] = lambda _done: True,
    spots: Sequence[Spot] = (),
    loops: float = 1.0,
) -> SweepResult:
    """As `sweep`, of so many runs that are only made when their turn comes, some at a time, beside those that run.

    `make(chunk)` gives the parameters of a slice of the runs, and the mat they share; `spots` are those of that mat,
    and `loops` is how many a run may take.
    """
    size = int(np.clip(MOST_LOOPS / max(loops, 1.0), 1, CHUNK))
    results = np.full((count, RESULT_COLUMNS), np.nan)
    results[:, R_OUTCOME] = 0.0
    stands = np.full((count, MAX_LEGS, 3), np.nan)
    done, going = 0, True

    def work(first: int) -> int:
        chunk = slice(first, min(first + size, count))
        if going:
            with COMPUTING.taken():
                parameters, packed = make(chunk)
                _run_each(
                    parameters, packed.field, packed.second_field, *packed.lines.arrays, results[chunk], stands[chunk]
                )
        return chunk.stop - first

    with ThreadPoolExecutor(threads or os.cpu_count() or 1, initializer=step_back) as pool:
        for run in pool.map(work, range(0, count, size)):
            done += run
            going = going and proceed(done)
    time, progress, rms, worst, wobble, clipped, coast = (column.copy() for column in results.T[1:])
    reached = misses(spots, stands) if spots else None
    codes = results[:, R_OUTCOME].astype(np.int64)
    return SweepResult(codes, time, progress, rms, worst, wobble, clipped, coast, stands, reached)


@compiled
def _run_each(parameters, field, second_field, lines, x, y, headings, reach, results, stands):
    rows = 1
    for i in range(parameters.size):
        rows = max(rows, parameters[i].max_rows)
    trace, summary, states, edge = np.empty(rows, ROW), np.zeros(1, SUMMARY), np.zeros(1, STATE), np.empty(rows)
    for i in range(parameters.size):
        simulate(parameters[i : i + 1], field, second_field, lines, x, y, headings, reach, states, trace, summary)
        end = summary[0]
        n, square, worst, clipped = 0, 0.0, 0.0, 0.0
        for row in range(end.rows):
            if trace[row].following:
                edge[n] = trace[row].edge_mm
                square += edge[n] * edge[n]
                worst = max(worst, abs(edge[n]))
                clipped += trace[row].clipped
                n += 1
        _stands(end, states[0], trace, stands[i])
        half = round(0.5 * WOBBLE_WINDOW_S / parameters[i].loop_time)
        results[i, R_OUTCOME], results[i, R_TIME] = end.outcome, end.end_time
        results[i, R_PROGRESS], results[i, R_COAST] = trace[end.rows - 1].progress_mm, end.coast
        results[i, R_RMS_EDGE], results[i, R_WORST_EDGE] = np.sqrt(square / max(n, 1)), worst
        results[i, R_WOBBLE] = _wobble(edge[:n], min(max(1, half), n)) if n > 0 else 0.0
        results[i, R_CLIPPED] = clipped / max(n, 1)


@compiled
def _stands(end, state, trace, stands):
    """Where each leg that came to its end left the robot: standing where it braked, the last one at rest."""
    if end.legs == 0:
        stands[0, 0], stands[0, 1], stands[0, 2] = end.rest_x, end.rest_y, end.rest_heading
    for i in range(end.legs):
        leg = state.legs[i]
        if leg.ended_by == 0:
            continue
        if leg.over >= 0:
            row = trace[leg.over]
            stands[i, 0], stands[i, 1], stands[i, 2] = row.x_mm, row.y_mm, row.heading_rad
        elif i == end.legs - 1:
            stands[i, 0], stands[i, 1], stands[i, 2] = end.rest_x, end.rest_y, end.rest_heading


@compiled
def _wobble(edge, half):
    """2 sqrt(2) RMS of a signal less its mean over `half` rows either side."""
    n, total, low, high, square = edge.size, 0.0, 0, 0, 0.0
    for i in range(n):
        while high < min(i + half + 1, n):
            total += edge[high]
            high += 1
        while low < i - half:
            total -= edge[low]
            low += 1
        away = edge[i] - total / (high - low)
        square += away * away
    return 2.0 * np.sqrt(2.0 * square / n)
