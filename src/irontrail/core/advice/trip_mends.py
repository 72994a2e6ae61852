"""Changes of a trip to try, and what comes of them over perturbed starts."""

from collections.abc import Callable

import numpy as np

from irontrail.core import derive
from irontrail.core.advice.case import Case, Mend
from irontrail.core.quantity import with_value
from irontrail.core.result import LegRun, Run
from irontrail.core.setup import Setup
from irontrail.core.starts import perturbed
from irontrail.core.steering.legs import FollowLeg, Leg

# A mend is tried on so many perturbed starts, and must make smaller what it is for by this share.
STARTS, SMALLER = 10, 0.5


def asked_of(case: Case, leg: LegRun) -> Leg:
    trip = case.setup.program.trip
    assert trip is not None
    return trip.legs[leg.number]


def speed_of(case: Case, leg: LegRun) -> float:
    asked = asked_of(case, leg)
    return asked.speed or case.setup.program.speed if isinstance(asked, FollowLeg) else 0.0


def at_speed(case: Case, leg: LegRun, speed: float) -> Setup:
    return with_value(case.setup, f"program.trip.legs.{leg.number}.speed", speed)


def slower(power: float) -> list[float]:
    return [float(round(share * power)) for share in (0.8, 0.65, 0.5, 0.35) if abs(round(share * power)) >= 1.0]


def that_helps(setup: Setup, mends: list[Mend], wrong: Callable[[Run], float]) -> Mend | None:
    """The first change that makes what is wrong smaller by half over perturbed starts, and the trip end as often."""
    if not mends:
        return None
    ended, size = over_starts(setup, wrong)
    for mend in mends:
        if mend.setup == setup:
            continue
        now_ended, now = over_starts(mend.setup, wrong)
        if now_ended >= ended and now <= SMALLER * size:
            return mend
    return None


def over_starts(setup: Setup, wrong: Callable[[Run], float]) -> tuple[int, float]:
    """In how many perturbed starts a trip came to its end, and the middle of what is wrong with them."""
    runs = [derive.run_once(perturbed(setup, i)) for i in range(1, STARTS + 1)]
    return sum(run.outcome == "finished" for run in runs), float(np.median([wrong(run) for run in runs]))


def finishes(setup: Setup) -> float:
    """In what share of perturbed starts a trip comes to its end."""
    return over_starts(setup, lambda _run: 0.0)[0] / STARTS
