"""The same program again and again under other noise, starts and light: what of a run is skill, and what is luck."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from irontrail.core import derive
from irontrail.core.advice.case import Case
from irontrail.core.figures import OF_SPOTS, Figures
from irontrail.core.measures import measure
from irontrail.core.result import Run
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed

Floats = NDArray[np.float64]

TRAIL_POINTS = 600

# The figures whose spread is told.
SPREAD = ("time_s", "wobble_mm", "rms_edge_mm", "worst_edge_mm", "clipped_share", "end_angle_deg", *OF_SPOTS)


@dataclass(frozen=True, eq=False)
class Try:
    """One perturbed run: its setup, figures, and where its sensor went, shape (n,)."""

    setup: Setup
    figures: Figures
    x_mm: Floats
    y_mm: Floats


@dataclass(frozen=True, eq=False)
class Luck:
    """All tries of a setup."""

    setup: Setup
    tries: tuple[Try, ...]

    @property
    def finished(self) -> int:
        """How many finished."""
        return sum(each.figures.outcome == "finished" for each in self.tries)

    def spread(self, name: str) -> tuple[float, float, float] | None:
        """Least, middle and greatest value of a figure among the tries that finished; None if none did."""
        values = [getattr(each.figures, name) for each in self.tries if each.figures.outcome == "finished"]
        if not values:
            return None
        return min(values), float(np.median(values)), max(values)


def try_luck(setup: Setup, count: int, proceed: Callable[[int], bool] = lambda _done: True) -> Luck | None:
    """Run a setup so many times, perturbed; `proceed` is told how many are done, and None returned if it says no."""
    tries = []
    for number in range(1, count + 1):
        tries.append(_try(perturbed(setup, number)))
        if not proceed(number):
            return None
    return Luck(setup, tuple(tries))


def _try(setup: Setup) -> Try:
    run: Run = derive.run_once(setup)
    figures = measure(run, setup.mat.spots)
    x, y = Case(setup, run, figures).sensor
    step = max(1, x.size // TRAIL_POINTS)
    return Try(setup, figures, x[::step].copy(), y[::step].copy())
