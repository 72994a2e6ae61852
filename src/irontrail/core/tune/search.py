"""A search for the best numbers within limits, in rounds from different places, confirmed on starts it never saw.

The evolution strategy with an adapted covariance of N. Hansen ("The CMA Evolution Strategy: A Tutorial", 2016), by his
own package, goes by the order of its candidates alone; those that break a limit come after all that keep it.
"""

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import CalledOff
from irontrail.core.tune import search_spec
from irontrail.core.tune.beside import beside_of, within
from irontrail.core.tune.candidates import Candidate, front_of, keeps, safer, spread_over
from irontrail.core.tune.cloud import Cloud
from irontrail.core.tune.looks import Looks, Values
from irontrail.core.tune.search_spec import LEAST_ROUNDS, MOST_ROUNDS, POLISHING, Found, SearchSpec

Floats = NDArray[np.float64]

# A round ends when so many generations in a row were no better by this share.
PATIENCE, BETTER_SHARE = 8, 0.001
# Rounds go on until the best of two come so near to each other, or there have been so many; within more they agree.
NEAR_ENOUGH, AGREE = 0.01, 0.02
# So many of those that fell off are stepped back from, by the least steps and by such shares of a range.
STEPPED_BACK, STEPS_BACK = 6, (1e-9, 0.02, 0.05)
# At last the best is moved by each share of a range so many times at most.
MOST_STEPS = 2
# Each round has so many numbers of starts for itself.
OF_A_ROUND = 1_000


def search(
    spec: SearchSpec,
    tell: Callable[[Found, int], bool] = lambda _found, _done: True,
    threads: int | None = None,
) -> Found | None:
    """Search; `tell(found, runs done)` is shown how far it is, and says whether to go on. None if it says no.

    The same spec finds the same on any number of threads.
    """
    try:
        return _Search(spec, tell, threads).found()
    except CalledOff:
        return None


class _Search:
    """What a search has seen so far."""

    def __init__(self, spec: SearchSpec, tell: Callable[[Found, int], bool], threads: int | None) -> None:
        self.spec, self.tell = spec, tell
        self.looks = Looks(spec, self._told, threads)
        self.seen: dict[Values, Candidate] = {}
        self.of_rounds: list[Candidate] = []
        self.course: list[float] = []
        # Which round is under way, 0 once they are over; how many runs all that are over took.
        self.round, self.rounds_took = 0, 0
        # What is shown while runs are under way.
        self.shown = Found(spec, None, (), (), 0, of_runs=spec.runs)

    def found(self) -> Found:
        spec = self.spec
        for number in range(spec.rounds):
            self.round = number + 1
            self._round(number)
            self.rounds_took = self.looks.runs
            if number + 1 >= LEAST_ROUNDS and self._agree(NEAR_ENOUGH):
                break
        self.round = 0
        self._show()
        self._polish()
        return self._confirmed()

    def _told(self, runs: int) -> bool:
        """Tell of runs that are under way; after the rounds the ending is still to come."""
        least = runs + self.spec.of_ending if self.round else runs
        if least > self.shown.of_runs:
            self.shown = replace(self.shown, of_runs=least)
        return self.tell(self.shown, runs)

    def _foreseen(self) -> int:
        """About how many runs it takes, by what it has come to."""
        spec, done = self.spec, len(self.of_rounds)
        rounds = float(self.rounds_took)
        if self.round:
            each = self.rounds_took / done if done else spec.of_round
            rounds = each * max(min(LEAST_ROUNDS, spec.rounds), self.round)
        # Each step back from a cliff is looked at, and as much again is asked of what is found there.
        fallen = min(sum(map(bool, self.looks.falls.values())), STEPPED_BACK)
        return round(rounds) + 2 * fallen * len(STEPS_BACK) * 2 * len(spec.axes) * search_spec.LOOKS + spec.of_ending

    # --- a round

    def _round(self, number: int) -> None:
        """Draw candidates, ever closer to the best, from a place of its own; then look at its foremost anew."""
        spec = self.spec
        best = min(self.of_rounds, key=self.looks.order, default=None)
        today = tuple(axis.rounded(axis.of(spec.setup)) for axis in spec.axes)
        # The first begins with today's numbers, the two after it anywhere, the rest near the best.
        begin = today if number == 0 else None if number < LEAST_ROUNDS or best is None else best.values
        cloud = Cloud(spec.axes, begin, spec.population, spec.seed + 101 * number, near=number >= LEAST_ROUNDS)
        first = 1 + (spec.seed * MOST_ROUNDS + number) * OF_A_ROUND
        of_round: dict[Values, Candidate] = {}
        stale, least = 0, np.inf
        for generation in range(spec.generations):
            drawn = [
                tuple(axis.rounded(axis.at(float(s))) for axis, s in zip(spec.axes, row, strict=True))
                for row in cloud.draw()
            ]
            if generation == 0 and begin is not None:
                drawn[0] = begin
            new = list(dict.fromkeys(values for values in drawn if values not in of_round))
            of_round |= self.looks.tried(new, spec.repeats, first)
            cloud.learn([self.looks.order(of_round[values]) for values in drawn])
            self.seen |= {values: of_round[values] for values in new}
            value = min((self.looks.order(each) for each in of_round.values()), default=(np.inf, np.inf))
            good = value[1] if value[0] == 0.0 else np.inf
            stale = stale + 1 if good >= least * (1.0 - BETTER_SHARE) and np.isfinite(least) else 0
            least = min(least, good)
            best_so_far = min([good, *(each for each in self.course if np.isfinite(each))])
            self.course.append(best_so_far if np.isfinite(best_so_far) else np.nan)
            self.looks.least_s = best_so_far
            self._show()
            if stale >= PATIENCE:
                break
        foremost = sorted(of_round.values(), key=self.looks.order)[: search_spec.FOREMOST]
        front = front_of(spec.limits, of_round.values())
        self.looks.look(each.values for each in [*foremost, *spread_over(front, search_spec.FOREMOST)])
        # So little is known of a candidate by the starts of its round that the best is chosen anew.
        ranked = sorted((self.looks.looked[each.values] for each in foremost), key=self.looks.order)
        self.of_rounds.append(next((each for each in ranked if self.looks.holds(each)), ranked[0]))

    def _agree(self, within: float = AGREE) -> bool:
        """Whether the best of two rounds came near to each other."""
        spec = self.spec
        ranked = sorted(self.of_rounds, key=self.looks.order)[:2]
        one, other = (each.figure(spec.measure) for each in ranked)
        return all(keeps(spec.limits, each) for each in ranked) and other <= one * (1.0 + within)

    def _polish(self) -> None:
        """From the best that holds, one number at a time by ever smaller steps, as long as it gets better and holds."""
        spec = self.spec
        self._retreat()
        best, looked = self.looks.best_holding(), self.looks.looked
        for share in POLISHING if best is not None else ():
            for _ in range(MOST_STEPS):
                assert best is not None
                beside = [values for _, values in beside_of(spec.axes, best.values, share)]
                self.looks.look(values for values in beside if within(spec.axes, values))
                tried = sorted((looked[each] for each in beside if each in looked), key=self.looks.order)
                order = self.looks.order(best)
                better = (each for each in tried if self.looks.order(each) < order)
                found = next((each for each in better if self.looks.holds(each)), None)
                if found is None:
                    break
                best = found

    def _retreat(self) -> None:
        """Rounds end at a cliff, since they see no neighbours: step back from it to all sides."""
        axes, best = self.spec.axes, self.looks.best_holding()
        ahead = self.looks.fell(self.looks.order(best) if best is not None else (np.inf, np.inf))[:STEPPED_BACK]
        beside = [values for each in ahead for share in STEPS_BACK for _, values in beside_of(axes, each.values, share)]
        self.looks.look(values for values in beside if within(axes, values))

    # --- the end

    def _confirmed(self) -> Found:
        """The foremost that holds, over many starts that chose nothing; the next one if it breaks its limits there."""
        spec = self.spec
        ranked = self.looks.ranked()
        tried: list[Candidate] = []
        for candidate in ranked:
            if len(tried) >= search_spec.MOST_CONFIRMED or (tried and not keeps(spec.limits, candidate)):
                break
            if keeps(spec.limits, candidate) and not self.looks.holds(candidate):
                continue
            tried.append(self.looks.sure(candidate))
            if keeps(spec.limits, tried[-1]):
                break
        best = min(tried, key=self.looks.order, default=ranked[0])
        if best.sure is None:
            best = self.looks.sure(best)
        trade_offs, agreed = self._trade_offs(), len(self.of_rounds) > 1 and self._agree()
        runs = self.looks.runs
        return Found(spec, best, tuple(self.course), trade_offs, runs, self._says(best), True, agreed, runs)

    def _says(self, best: Candidate) -> str:
        spec = self.spec
        if not keeps(spec.limits, best):
            return "Nothing keeps all the limits."
        said = []
        over = [self.looks.falls[each.values] for each in self.looks.fell(self.looks.order(best))]
        if over:
            *most, last = dict.fromkeys(over)
            names = f"{', '.join(most)} or {last}" if most else last
            count = f"{len(over)} that were" if len(over) > 1 else "one that was"
            said.append(f"Passed over {count} faster and fall off when {names} is set a little otherwise.")
            if len(over) == 1:
                said[-1] = said[-1].replace("fall off", "falls off")
        kept = sorted(each.figure(spec.measure) for each in self.of_rounds if keeps(spec.limits, each))
        if len(kept) > 1 and self._agree():
            apart = 100.0 * (kept[1] / kept[0] - 1.0) if kept[0] > 0.0 else 0.0
            said.append(f"Two searches from different places agree within {max(apart, 0.1):.1f} %.")
        elif spec.rounds > 1:
            said.append(f"{len(self.of_rounds)} searches from different places do not agree: better may be found.")
        return " ".join(said)

    def _trade_offs(self) -> tuple[Candidate, ...]:
        if self.spec.event is not None:
            self.looks.look(each.values for each in spread_over(safer(self.seen.values()), search_spec.FOREMOST))
            return tuple(safer(self.looks.looked.values()))
        return tuple(front_of(self.spec.limits, self.looks.looked.values()))

    def _show(self) -> None:
        spec = self.spec
        best = min(self.seen.values(), key=self.looks.order, default=None)
        front = front_of(spec.limits, self.seen.values()) if spec.event is None else safer(self.seen.values())
        runs = self.looks.runs
        foreseen = max(self._foreseen(), runs)
        self.shown = Found(spec, best, tuple(self.course), tuple(front), runs, of_runs=foreseen)
        if not self.tell(self.shown, self.looks.runs):
            raise CalledOff
