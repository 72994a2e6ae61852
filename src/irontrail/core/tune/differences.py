"""How much two settings differ, with how sure that is, and how many runs it takes to see a difference."""

from collections.abc import Callable
from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

from irontrail.core.tune.tries import Tried

Floats = NDArray[np.float64]

# How often an interval holds the true value, and how often a difference that is there is to be seen.
SURE, SEEN = 0.95, 0.8
MOST_RUNS = 1000


@dataclass(frozen=True)
class Difference:
    """How much more one setting took than another over the same starts: mean and 95 % interval, and of how many."""

    mean: float
    low: float
    high: float
    starts: int


def paired(one: Tried, other: Tried, what: str = "times_s", sure: float = SURE) -> Difference | None:
    """How much more `other` took (s), or swung (mm), than `one`, start by start; None with fewer than three in common.

    Only starts that both came through count. The interval is Student's, of the mean of the differences.
    """
    return mean_of(getattr(other, what) - getattr(one, what), sure)


def mean_of(values: Floats, sure: float = SURE) -> Difference | None:
    """The mean of what is known, with its interval; None with fewer than three values."""
    known = values[np.isfinite(values)]
    if known.size < 3:
        return None
    mean = float(known.mean())
    reach = student(known.size, sure) * float(known.std(ddof=1)) / sqrt(known.size)
    return Difference(mean, mean - reach, mean + reach, int(known.size))


def student(count: int, sure: float = SURE) -> float:
    """How many standard errors an interval of the mean of so many values reaches to either side."""
    from scipy.special import stdtrit

    return float(stdtrit(count - 1, 0.5 + 0.5 * sure))


def share_between(good: int, of: int) -> tuple[float, float]:
    """Between what shares the true one lies, 0..1, surely as often as an interval is to be.

    The exact interval of a binomial share (C. J. Clopper and E. S. Pearson, Biometrika 26, 1934).

    Examples
    --------
    >>> tuple(round(share, 3) for share in share_between(19, 20))
    (0.751, 0.999)
    """
    from scipy.special import betaincinv

    tail = 0.5 - 0.5 * SURE
    low = float(betaincinv(good, of - good + 1, tail)) if good else 0.0
    high = float(betaincinv(good + 1, of - good, 1.0 - tail)) if good < of else 1.0
    return low, high


def paired_runs_to_see(difference: float, deviation: float) -> int | None:
    """The same, driven in pairs that share a charge; `deviation` is that of the differences within pairs.

    How many runs of each; None beyond 1000.

    Examples
    --------
    >>> paired_runs_to_see(1.0, 1.0)
    10
    """
    return _runs(difference, deviation, lambda runs: (runs - 1, sqrt(runs)))


def runs_to_see(difference: float, deviation: float) -> int | None:
    """How many runs of each of two settings show a difference of their means, in four of five cases; None beyond 1000.

    Parameters
    ----------
    difference, deviation : float
        Of the means, and the standard deviation of single runs of either setting, in the same unit.

    Notes
    -----
    Student's test of two samples at 5 %, by its power: the noncentral t distribution (J. Cohen, Statistical Power
    Analysis for the Behavioral Sciences, 1988).

    Examples
    --------
    >>> runs_to_see(1.0, 1.0)
    17
    """
    return _runs(difference, deviation, lambda runs: (2 * runs - 2, sqrt(0.5 * runs)))


def _runs(difference: float, deviation: float, of: Callable[[int], tuple[int, float]]) -> int | None:
    """The least number of runs whose degrees of freedom, and share of a standard error, `of` tells."""
    from scipy.special import nctdtr, stdtrit

    if difference <= 0.0:
        return None
    if deviation <= 0.0:
        return 2
    for runs in range(2, MOST_RUNS + 1):
        freedom, times = of(runs)
        limit = float(stdtrit(freedom, 0.5 + 0.5 * SURE))
        if 1.0 - float(nctdtr(freedom, times * difference / deviation, limit)) >= SEEN:
            return runs
    return None
