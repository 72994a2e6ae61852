"""Better, or lucky: settings over the same shaken starts, and how sure it is that they differ."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import ceil, log, sqrt
from typing import Literal

import numpy as np

from irontrail.core.capital import capital
from irontrail.core.quantity import quantity_at, value_at
from irontrail.core.setup import Setup
from irontrail.core.tune.differences import SURE, Difference, paired, student
from irontrail.core.tune.tries import Tried, Trying

# How many starts at first, and how many times as many at each asking for more.
STARTS, TIMES_MORE, MOST_STARTS = 20, 4, 1280
# Who may look again after asking for more starts has more chances to be misled: of the 5 % that are allowed in all, so
# much is spent on the first look, and what is left on the others alike.
FIRST_LOOK, LATER_LOOKS = 0.04, 0.01
# A difference of less than this is not worth naming, unless a team says otherwise.
MATTERS_S = 0.1
# What a team sets by hand before a run: where settings differ in it, they are not compared alike.
BY_HAND = (
    "robot.drive.battery", "light.room_light", "trial.start_off_mm", "trial.start_angle_deg", "trial.start_mm",
)  # fmt: skip
Verdict = Literal["better", "worse", "alike", "not known"]


@dataclass(frozen=True, eq=False)
class Comparison:
    """Another setting against one, over the same starts. Of differences, what is above 0 the other has more of.

    Parameters
    ----------
    one, other : Tried
        Over the same starts.
    matters_s : float
        The least difference in time that is worth naming.
    sure, sure_later : float
        How often each interval holds what is true, now and once there are more starts; see `how_sure`.
    """

    one: Tried
    other: Tried
    matters_s: float = MATTERS_S
    sure: float = SURE
    sure_later: float = SURE

    @cached_property
    def time(self) -> Difference | None:
        """How much longer the other takes, over the starts that both came through; None with fewer than three."""
        return paired(self.one, self.other, sure=self.sure)

    @cached_property
    def swing(self) -> Difference | None:
        """How much more the other swings."""
        return paired(self.one, self.other, "swings_mm", self.sure)

    @cached_property
    def only(self) -> tuple[int, int]:
        """How many starts only the one came through, and only the other."""
        one, other = (np.isfinite(each.times_s) for each in (self.one, self.other))
        return int((one & ~other).sum()), int((other & ~one).sum())

    @property
    def share_p(self) -> float:
        """How often starts that only one of them comes through would be as one-sided as these by luck alone.

        The exact test of pairs (Q. McNemar, Psychometrika 12, 1947, by the binomial distribution).
        """
        return _one_sided_by_luck(*self.only)

    @property
    def finishing(self) -> Verdict:
        """Whether the other comes through more often."""
        only_one, only_other = self.only
        if self.share_p < 1.0 - self.sure:
            return "better" if only_other > only_one else "worse"
        return "alike" if only_one == only_other else "not known"

    @property
    def timing(self) -> Verdict:
        """Whether the other is faster by what matters."""
        found = self.time
        if found is None:
            return "not known"
        if found.mean <= -self.matters_s and found.high < 0.0:
            return "better"
        if found.mean >= self.matters_s and found.low > 0.0:
            return "worse"
        return "alike" if -self.matters_s < found.low and found.high < self.matters_s else "not known"

    @property
    def verdict(self) -> Verdict:
        """Both together: to come through comes first; who is faster is better if it comes through as often."""
        if self.finishing in ("better", "worse"):
            return self.finishing
        ahead = "better" if self.only[1] > self.only[0] else "worse"
        if self.timing in ("better", "worse"):
            return self.timing if self.finishing == "alike" or self.timing == ahead else "not known"
        return "alike" if self.timing == self.finishing == "alike" else "not known"

    @property
    def more(self) -> int | None:
        """About how many more starts would tell; None where so many are not to be had, or nothing is open."""
        needed = []
        if self.finishing == "not known":
            needed.append(self._more_for_finishing())
        if self.timing == "not known":
            needed.append(self._more_for_timing())
        known = [each for each in needed if each is not None]
        return max(known) if known and len(known) == len(needed) else None

    def _more_for_finishing(self) -> int | None:
        one, other = self.only
        for times in range(2, MOST_STARTS // self.one.starts + 1):
            if _one_sided_by_luck(times * one, times * other) < 1.0 - self.sure_later:
                return (times - 1) * self.one.starts
        return None

    def _more_for_timing(self) -> int | None:
        found = self.time
        if found is None:
            return self.one.starts if min(self.one.good, self.other.good) > 0 else None
        deviation = (found.high - found.mean) * sqrt(found.starts) / student(found.starts, self.sure)
        # Either the interval leaves 0, or it keeps within what does not matter.
        room = abs(found.mean) if abs(found.mean) >= self.matters_s else self.matters_s - abs(found.mean)
        if room <= 0.0:
            return None
        needed = ceil((student(1000, self.sure_later) * deviation / room) ** 2 * self.one.starts / found.starts)
        more = max(needed - self.one.starts, self.one.starts // 4)
        return more if self.one.starts + more <= MOST_STARTS else None

    @property
    def not_alike(self) -> tuple[str, ...]:
        """What was set by hand otherwise, so that what differs may be that."""
        return tuple(
            quantity_at(self.one.setup, path).label
            for path in BY_HAND
            if value_at(self.one.setup, path) != value_at(self.other.setup, path)
        )


def _one_sided_by_luck(one: int, other: int) -> float:
    if one == other:
        return 1.0
    from scipy.special import bdtr

    return min(1.0, 2.0 * float(bdtr(min(one, other), one + other, 0.5)))


def how_sure(starts: int) -> tuple[float, float]:
    """How sure a look at so many starts must be, and the next, for all looks together to mislead one time in twenty.

    The looks come at `STARTS` and at `TIMES_MORE` times as many again and again up to `MOST_STARTS`. Intervals so wide
    hold what is true 19 times in 20 at all looks at once (C. Jennison and B. W. Turnbull, J. R. Stat. Soc. B 51, 1989).
    """
    looks = round(log(MOST_STARTS / STARTS, TIMES_MORE))
    later = 1.0 - LATER_LOOKS / looks
    return (1.0 - FIRST_LOOK if starts <= STARTS else later), later


def better_or_lucky(
    setups: Sequence[Setup],
    proceed: Callable[[int], bool] = lambda _done: True,
    starts: int = STARTS,
    threads: int | None = None,
) -> list[Tried]:
    """Each setup over the same starts, shaken as the first says: noise, battery, light and pose alike for all.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    first = setups[0].trial
    alike = [replace(setup, trial=replace(setup.trial, seed=first.seed, shaken=first.shaken)) for setup in setups]
    return Trying(proceed, threads)(alike, starts=starts)


# A swing that differs by less is not told of.
SWING_MATTERS_MM = 0.5


def in_words(found: Comparison, one: str, other: str) -> str:
    """What came of it, in sentences; `one` and `other` are what the two settings are called."""
    name = capital(other)
    time, of = found.time, f"of {found.one.starts}"
    shares = f"{found.other.good} {of} starts come through, {found.one.good} {of} with {one}"
    if found.verdict in ("better", "worse"):
        if found.finishing == found.verdict:
            said = f"{name} is {found.verdict} than {one}: {shares}."
            if time is not None and found.timing in ("better", "worse"):
                said += f" Where both do, it is {_by(time)}."
        else:
            assert time is not None
            said = f"{name} is {found.verdict} than {one}: {_by(time)}."
    elif found.verdict == "alike":
        said = f"{name} and {one}: no difference worth naming{_between(time)}."
    elif not found.one.good and not found.other.good:
        said = f"{name} and {one}: neither comes through."
    else:
        said = f"{name} or {one}: not known yet{_between(time)}"
        said += f"; {shares}." if found.finishing == "not known" else "."
        if found.more is not None:
            said += f" About {found.more} more starts would tell."
    swing = found.swing
    if swing is not None and swing.low * swing.high > 0.0 and abs(swing.mean) >= SWING_MATTERS_MM:
        more = "more" if swing.mean > 0.0 else "less"
        ends = sorted((abs(swing.low), abs(swing.high)))
        said += f" It swings {abs(swing.mean):.1f} mm {more} ({ends[0]:.1f} to {ends[1]:.1f})."
    if found.not_alike:
        said += f" Not set alike: {', '.join(found.not_alike)}; what differs may be that."
    return said


def _by(time: Difference) -> str:
    ends = sorted((abs(time.low), abs(time.high)))
    return f"{'faster' if time.mean < 0.0 else 'slower'} by {abs(time.mean):.2f} s ({ends[0]:.2f} to {ends[1]:.2f})"


def _between(time: Difference | None) -> str:
    if time is None:
        return ""
    low, high = (f"{value:+.2f}".replace("-", "−") for value in (time.low, time.high))
    if low[1:] == high[1:] == "0.00":
        return ", they take as long"
    return f" ({low} to {high} s)"
