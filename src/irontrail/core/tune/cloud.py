"""Where candidates are drawn: a normal cloud over the ranges of some numbers, turned back at their ends."""

import sys
import warnings
from collections.abc import Sequence
from threading import Lock
from types import ModuleType
from typing import cast

import numpy as np
from numpy.typing import NDArray

from irontrail.core.tune.axes import Axis

Floats = NDArray[np.float64]

# For models of what is searched, of which none are made here.
UNWANTED = "scipy.stats"
_IMPORTING = Lock()
# How far the first candidates spread, as a share of each range; and where they begin near the best.
FIRST_SPREAD, NEAR_SPREAD = 0.25, 0.08


def _package() -> ModuleType:
    """The package that moves the cloud, without the statistics that it can do without: they take a second to import."""
    # A search and a duel may begin at once.
    with _IMPORTING, warnings.catch_warnings():
        warnings.simplefilter("ignore")  # it misses a plotting library that nobody asks it for
        unwanted = sys.modules.setdefault(UNWANTED, None) is None  # type: ignore[arg-type]
        try:
            import cma
        finally:
            if unwanted:
                del sys.modules[UNWANTED]
    return cast(ModuleType, cma)


class Cloud:
    """Draws candidates as shares of their ranges, and moves by their order alone.

    Parameters
    ----------
    begin : tuple of float or None
        The values in its middle; None is anywhere.
    near : bool
        Begin close round them.
    """

    def __init__(
        self, axes: Sequence[Axis], begin: tuple[float, ...] | None, population: int, seed: int, near: bool = False
    ) -> None:
        cma = _package()
        random = np.random.default_rng(seed)
        span = [axis.high - axis.low or 1.0 for axis in axes]
        if begin is None:
            start = random.uniform(0.2, 0.8, len(span)).tolist()
        else:
            start = [(value - axis.low) / width for axis, width, value in zip(axes, span, begin, strict=True)]
        options = {
            "bounds": [0.0, 1.0],
            "popsize": population,
            "verbose": -9,
            # Its own stream of random numbers: nothing of the search depends on what else draws them.
            "randn": lambda *shape: random.standard_normal(shape),
            "seed": np.nan,
        }
        # One number alone is searched as two, the second of which does nothing: the package asks for two.
        self.count = len(start)
        start += [0.5] * (2 - self.count)
        spread = NEAR_SPREAD if near else FIRST_SPREAD
        self.strategy = cma.CMAEvolutionStrategy(np.clip(start, 0.02, 0.98).tolist(), spread, options)
        self.drawn: list[Floats] = []

    def draw(self) -> Floats:
        """Candidates, shape (population, axes), as shares of their ranges."""
        self.drawn = self.strategy.ask()
        return np.array(self.drawn)[:, : self.count]

    def learn(self, order: list[tuple[float, float]]) -> None:
        """Move and reshape the cloud by the order of its candidates alone."""
        ranked = sorted(range(len(order)), key=lambda i: order[i])
        ranks = np.empty(len(order))
        ranks[ranked] = np.arange(len(order))
        self.strategy.tell(self.drawn, ranks.tolist())
