"""Candidates that a search looks at: each over starts that no round has, and whether it holds beside itself."""

from collections.abc import Callable, Iterable
from dataclasses import replace

import numpy as np

from irontrail.core.errors import CalledOff
from irontrail.core.setup import Setup
from irontrail.core.tune import search_spec
from irontrail.core.tune.batch import run_batch
from irontrail.core.tune.beside import neighbours
from irontrail.core.tune.candidates import Candidate, Sure, broken, candidate_of, keeps
from irontrail.core.tune.differences import mean_of
from irontrail.core.tune.search_spec import SearchSpec

Values = tuple[float, ...]

# A candidate that takes so many times as long as the best so far need not be driven to its end.
TOO_SLOW = 1.8
# The number of the first of the starts that it is looked at over, and of those that what is told is told of.
FIRST_LOOK, FIRST_CONFIRMED = 500_000, 1_000_000
# A neighbour that finishes less often than is asked for by so much has fallen off.
FALLS_OFF = 0.05


class Looks:
    """What has been looked at, by its values, and what each that was asked about falls off by ("" if it holds).

    Parameters
    ----------
    spec : SearchSpec
    proceed : callable
        Told how many runs have been driven in all; says whether to go on. CalledOff where it says no.
    threads : int, optional
    """

    def __init__(self, spec: "SearchSpec", proceed: Callable[[int], bool], threads: int | None) -> None:
        self._spec, self._proceed, self._threads = spec, proceed, threads
        self.looked: dict[Values, Candidate] = {}
        self.falls: dict[Values, str] = {}
        # Neighbours only asked about, over the same starts: of candidates close by they are often the same.
        self._beside: dict[Values, Candidate] = {}
        self.runs = 0
        # The shortest time known so far: what takes far longer is not driven to its end.
        self.least_s = np.inf

    def order(self, candidate: Candidate) -> tuple[float, float]:
        """By what candidates are ranked: the limits they break, then what is to be least."""
        value = candidate.figure(self._spec.measure)
        return broken(self._spec.limits, candidate), value if np.isfinite(value) else np.inf

    def tried(self, values: Iterable[Values], starts: int, first: int) -> dict[Values, Candidate]:
        """Candidates over so many starts, from a number on; they are not remembered."""
        values = list(values)
        if not values:
            return {}
        before = self.runs
        setups = [self._not_for_ever(self._spec.tried_as(each)) for each in values]
        batch = run_batch(setups, starts, lambda done: self._proceed(before + done), self._threads, first)
        if batch is None:
            raise CalledOff
        self.runs += len(values) * starts
        return {each: candidate_of(batch, i, each) for i, each in enumerate(values)}

    def _not_for_ever(self, setup: Setup) -> Setup:
        """A setup that is out of time where it takes far longer than the best does."""
        if self._spec.measure != "time_s" or not np.isfinite(self.least_s):
            return setup
        limit = min(setup.trial.time_limit_s, max(TOO_SLOW * self.least_s, 1.0))
        return replace(setup, trial=replace(setup.trial, time_limit_s=limit))

    def look(self, values: Iterable[Values]) -> None:
        """Look at candidates over starts that no round has."""
        wanted = [each for each in dict.fromkeys(values) if each not in self.looked]
        self.looked |= {each: self._beside[each] for each in wanted if each in self._beside}
        new = [each for each in wanted if each not in self._beside]
        self.looked |= self.tried(new, search_spec.LOOKS, FIRST_LOOK)

    def ranked(self) -> list[Candidate]:
        """All that was looked at, the best first."""
        return sorted(self.looked.values(), key=self.order)

    def holds(self, candidate: Candidate) -> bool:
        """Whether a candidate holds when one of its numbers is set a little otherwise: by 1 %, or a step.

        One that breaks its limits is not asked about.
        """
        spec = self._spec
        if not keeps(spec.limits, candidate):
            return False
        if candidate.values not in self.falls:
            # One after the other: the first that falls is enough.
            least = spec.limits.finishes - FALLS_OFF
            beside = neighbours(spec.axes, candidate.values)
            falls = (name for name, each in beside if self._looked_beside(each).finished < least)
            self.falls[candidate.values] = next(falls, "")
        return not self.falls[candidate.values]

    def _looked_beside(self, values: Values) -> Candidate:
        known = self.looked.get(values) or self._beside.get(values)
        if known is None:
            known = self._beside[values] = self.tried([values], search_spec.LOOKS, FIRST_LOOK)[values]
        return known

    def best_holding(self) -> Candidate | None:
        """The foremost that holds."""
        return next((each for each in self.ranked() if self.holds(each)), None)

    def fell(self, before: tuple[float, float]) -> list[Candidate]:
        """What fell off and would have come before a rank, the best first."""
        fallen = (self.looked[values] for values, name in self.falls.items() if name)
        return sorted((each for each in fallen if self.order(each) < before), key=self.order)

    def sure(self, candidate: Candidate) -> Candidate:
        """A candidate over many starts that chose nothing."""
        spec, before = self._spec, self.runs
        setup, starts = spec.tried_as(candidate.values), spec.confirming
        batch = run_batch([setup], starts, lambda done: self._proceed(before + done), self._threads, FIRST_CONFIRMED)
        if batch is None:
            raise CalledOff
        self.runs += starts
        made = candidate_of(batch, 0, candidate.values)
        time = mean_of(batch.single["time_s"][0])
        between = (time.low, time.high) if time is not None else (np.nan, np.nan)
        sure = Sure(round(made.finished * starts), starts, between)
        return Candidate(made.values, made.finished, made.progress_mm, made.figures, sure)
