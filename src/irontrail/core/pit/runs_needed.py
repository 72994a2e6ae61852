"""How many real runs it takes to see a difference, from how much single runs of one setting scatter."""

from collections.abc import Sequence

import numpy as np

from irontrail.core.capital import capital
from irontrail.core.pit.venue import Foretold
from irontrail.core.starts import perturbed
from irontrail.core.tune.differences import paired_runs_to_see, runs_to_see
from irontrail.core.tune.tries import Tried


def runs_needed(difference_s: float, foretold: Sequence[Foretold], tried: Tried | None) -> str:
    """How many of each of two settings, in words."""
    known = spread_of(foretold, tried)
    if known is None:
        return "Not known yet: it takes the scatter of your times, or of the worked-out ones."
    deviation, whence = known
    count = runs_to_see(difference_s, deviation)
    needs = f"{count} runs of each" if count is not None else "more than a thousand runs of each"
    says = (
        f"{capital(needs)} of two settings, to see it four times in five: single runs differ by "
        f"± {deviation:.2f} s ({whence})."
    )
    paired = spread_on_one_charge(tried)
    fewer = paired_runs_to_see(difference_s, paired) if paired is not None else None
    if fewer is not None and (count is None or fewer < count):
        says += f" In pairs, one of each on the same charge: {fewer} of each."
    return says


def spread_of(foretold: Sequence[Foretold], tried: Tried | None) -> tuple[float, str] | None:
    """How much single runs of one setting differ (standard deviation, s), and where that is known from; None if not.

    From the real times, pooled over all settings that have two or more, where there are at least four of them; else
    from the starts that the model was tried over.
    """
    of_each = [np.array(each.real_s) for each in foretold if len(each.real_s) >= 2]
    free = sum(times.size - 1 for times in of_each)
    if free >= 3:
        squares = sum(float(((times - times.mean()) ** 2).sum()) for times in of_each)
        return float(np.sqrt(squares / free)), f"{sum(times.size for times in of_each)} real runs"
    if tried is None or tried.good < 3:
        return None
    return float(np.nanstd(tried.times_s, ddof=1)), f"{tried.good} starts of the model"


def spread_on_one_charge(tried: Tried | None) -> float | None:
    """How much the difference of two runs on one charge scatters (standard deviation, s); None if that is not known.

    From the model's starts: what their charge explains of their times, in proportion, is taken away.
    """
    if tried is None or tried.good < 5:
        return None
    charge = np.array([perturbed(tried.setup, k + 1).robot.drive.battery for k in range(tried.starts)])
    known = np.isfinite(tried.times_s)
    slope = np.column_stack((np.ones(tried.good), charge[known]))
    rest = tried.times_s[known] - slope @ np.linalg.lstsq(slope, tried.times_s[known], rcond=None)[0]
    return float(np.sqrt(2.0 * (rest**2).sum() / (tried.good - 2)))
