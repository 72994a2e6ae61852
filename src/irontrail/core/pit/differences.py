"""How much two settings differ, with how sure that is, and how many runs it takes to see a difference."""

from dataclasses import dataclass
from math import sqrt

import numpy as np

from irontrail.core.pit.tries import Tried

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


def paired(one: Tried, other: Tried, what: str = "times_s") -> Difference | None:
    """How much more `other` took (s), or swung (mm), than `one`, start by start; None with fewer than three in common.

    Only starts that both came through count. The interval is Student's, of the mean of the differences.
    """
    difference = getattr(other, what) - getattr(one, what)
    known = difference[np.isfinite(difference)]
    if known.size < 3:
        return None
    from scipy.special import stdtrit

    mean = float(known.mean())
    reach = float(stdtrit(known.size - 1, 0.5 + 0.5 * SURE)) * float(known.std(ddof=1)) / sqrt(known.size)
    return Difference(mean, mean - reach, mean + reach, int(known.size))


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
    from scipy.special import nctdtr, stdtrit

    if difference <= 0.0:
        return None
    if deviation <= 0.0:
        return 2
    for runs in range(2, MOST_RUNS + 1):
        freedom, shift = 2 * runs - 2, difference / deviation * sqrt(0.5 * runs)
        limit = float(stdtrit(freedom, 0.5 + 0.5 * SURE))
        if 1.0 - float(nctdtr(freedom, shift, limit)) >= SEEN:
            return runs
    return None
