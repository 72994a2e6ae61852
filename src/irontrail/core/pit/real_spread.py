"""How exactly a team can do the same again, as its real times tell."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from irontrail.core.project import KeptRun
from irontrail.core.shaking import Shaking, scaled
from irontrail.core.tune.tries import Trying

# So many real times beyond one of each setting are enough to go by.
ENOUGH = 5
TIMES = (0.25, 0.35, 0.5, 0.7, 1.0, 1.4, 2.0, 2.8, 4.0)
STARTS = 60


@dataclass(frozen=True)
class RealSpread:
    """The shaking with which the model's times differ as the real ones do; both deviations (s), and of how many."""

    shaking: Shaking
    real_s: float
    model_s: float
    count: int


def enough(kept: Sequence[KeptRun]) -> list[KeptRun]:
    """The kept runs whose real times tell how far single runs of one setting differ; none if those are too few."""
    found = [run for run in kept if sum(real.finished for real in run.real) >= 2]
    free = sum(sum(real.finished for real in run.real) - 1 for run in found)
    return found if free >= ENOUGH else []


def real_spread(kept: Sequence[KeptRun], shaking: Shaking, trying: Trying) -> RealSpread | None:
    """How hard the model is to be shaken, times a shaking; None with too few real times, or where it never finishes.

    The deviation is pooled over the settings, of the real times and of the model's.
    """
    runs = enough(kept)
    if not runs:
        return None
    real = [np.array([each.time_s for each in run.real if each.finished]) for run in runs]
    weights = np.array([times.size - 1.0 for times in real])
    deviation = float(np.sqrt((weights * [times.var(ddof=1) for times in real]).sum() / weights.sum()))
    made = []
    for times in TIMES:
        shaken = [replace(run.setup, trial=replace(run.setup.trial, shaken=scaled(shaking, times))) for run in runs]
        over = trying(shaken, starts=STARTS)
        if any(each.good < 3 for each in over):
            break
        variances = [float(np.nanvar(each.times_s, ddof=1)) for each in over]
        made.append(float(np.sqrt((weights * variances).sum() / weights.sum())))
    if not made:
        return None
    rising = np.maximum.accumulate(made)
    tried = np.log(TIMES[: len(made)])
    times = float(np.exp(np.interp(deviation, rising, tried)))
    model = float(np.interp(np.log(times), tried, made))
    return RealSpread(scaled(shaking, times), deviation, model, sum(each.size for each in real))
