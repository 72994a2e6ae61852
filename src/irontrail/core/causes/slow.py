"""A robot that goes well, and slower by a third than the same law can."""

from collections.abc import Callable

import numpy as np

from irontrail.core.advice.case import Case, Finding
from irontrail.core.capital import capital
from irontrail.core.causes.cause import MENDED, STARTS, Starts, asks_for_more, starts_of
from irontrail.core.causes.look import Look
from irontrail.core.setup import Setup

# Speeds and steers that are tried, as times of today's.
FASTER, HARDER = (1.4, 1.7), (1.0, 1.3)
# By so much of its time it must be quicker, to be told.
SLOW = 0.3


def slow(case: Case, before: Starts, proceed: Callable[[int], bool]) -> Finding | None:
    """What the same law does much faster, with as many starts going well; None if none was found.

    Of laws with a slope none of them may rock.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    look = Look(case.setup)
    tried = list(dict.fromkeys(setup for setup in _faster(look) if setup != case.setup))
    if not tried:
        return None
    over = starts_of(tried, proceed, calm=True)
    held = [
        (setup, after) for setup, after in zip(tried, over, strict=True) if after.share >= max(MENDED, before.share)
    ]
    held = [(setup, after) for setup, after in held if after.time_s <= (1.0 - SLOW) * before.time_s]
    held = [each for each in held if not asks_for_more(case.setup, each[0])]
    if not held:
        return None
    setup, after = min(held, key=lambda each: each[1].time_s)
    numbers = f"{look.speed.quantity.label} {look.speed.shown(look.speed.of(setup))}"
    if look.steer.of(setup) != look.steer.of(look.setup):
        numbers += f" and {look.steer.quantity.label} {look.steer.shown(look.steer.of(setup))}"
    says = (
        f"It is slow for what it can do: with {numbers} {int(after.good.sum())} of {STARTS} shaken starts go well too, "
        f"in {after.time_s:.1f} s instead of {before.time_s:.1f}."
    )
    row = int(np.argmin(np.abs(case.run.trace.time_s - 0.5 * case.run.time_s)))
    return Finding("slow", says, row, capital(numbers), setup)


def _faster(look: Look) -> list[Setup]:
    """The setups that are tried."""
    speed, steer = look.speed.of(look.setup), look.steer.of(look.setup)
    made = []
    for times in FASTER:
        quick = look.speed.put(look.setup, look.speed.rounded(times * speed))
        made += [look.steer.put(quick, look.steer.rounded(harder * times * steer)) for harder in HARDER]
        made.append(quick)
    return made
