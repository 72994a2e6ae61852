"""A fair duel of steering laws, or of one sensor against two: each tuned by the same search with the same budget.

Whoever takes part has the same limits, and is then run over the same starts.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property

from irontrail.core.advice.proofread_pair import proofread_pair
from irontrail.core.errors import CalledOff
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.proportional import PROPORTIONAL
from irontrail.core.steering.pair import ARRANGEMENTS
from irontrail.core.steering.registry import LAWS, LawName
from irontrail.core.tune.axes import axis, to_tune
from irontrail.core.tune.candidates import Limits, keeps
from irontrail.core.tune.chance import Comparison, better_or_lucky
from irontrail.core.tune.search import search
from irontrail.core.tune.search_spec import Found, SearchSpec
from irontrail.core.tune.tries import FRESH, Tried

# What a pair can be wrong by that no tuning mends.
HOPELESS = ("unlike", "see the same", "against each other", "gap")
# Over so many starts all are driven at the end, this many sets on from the first.
STARTS, DUELLING = 200, 17
DUELLISTS: tuple[LawName, ...] = tuple(law.name for law in LAWS.values() if law.tuned_in_duels)


@dataclass(frozen=True)
class DuelSpec:
    """A duel on the mat and with the robot of a setup; each that takes part is tuned by the same search.

    It is between laws, or, `of_sensors`, between one sensor on either edge and every arrangement of two that can work
    where they are mounted, all by the law of the setup.
    """

    setup: Setup
    laws: tuple[LawName, ...] = DUELLISTS
    of_sensors: bool = False
    measure: str = "time_s"
    limits: Limits = Limits()
    repeats: int = 6
    generations: int = 24
    rounds: int = 3
    seed: int = 1

    @cached_property
    def contenders(self) -> dict[str, Setup]:
        """Who takes part, by name: to see which arrangements can work takes the engine."""
        return {
            name: setup
            for name, setup in self._conceivable.items()
            if not self.of_sensors or not any(remark.kind in HOPELESS for remark in proofread_pair(setup))
        }

    @property
    def _conceivable(self) -> dict[str, Setup]:
        if not self.of_sensors:
            # A table would decide whatever the law.
            setup = self.setup
            if setup.program.arrangement == "table":
                setup = with_value(setup, "program.arrangement", "difference")
            return {law: with_value(setup, "program.law", law) for law in self.laws}
        law = self.setup.program.law if LAWS[self.setup.program.law].gain else PROPORTIONAL.name
        setup = with_value(self.setup, "program.law", law)
        alone = with_value(setup, "program.arrangement", "one")
        found = {f"one, {edge} edge": with_value(alone, "program.edge", edge) for edge in ("left", "right")}
        found.update({pair: with_value(setup, "program.arrangement", pair) for pair in ARRANGEMENTS if pair != "one"})
        return found

    @property
    def at_last(self) -> int:
        """How many runs tell them apart once all are tuned."""
        return len(self.contenders) * STARTS

    @property
    def runs(self) -> int:
        """About how many runs it takes, before anything is known: as if every arrangement could work."""
        conceivable = self._conceivable
        return sum(self._tuning(setup).runs for setup in conceivable.values()) + len(conceivable) * STARTS

    def search_of(self, name: str) -> SearchSpec:
        """The search for one that takes part: over its own numbers, and its target where it has one."""
        return self._tuning(self.contenders[name])

    def _tuning(self, setup: Setup) -> SearchSpec:
        axes = tuple(axis(setup, path) for path in to_tune(setup))
        return SearchSpec(
            setup, axes, self.measure, self.limits, self.repeats, self.generations, self.seed, rounds=self.rounds
        )


@dataclass(frozen=True)
class Duellist:
    """What one can do at its best: the setup found for it, and the search that found it."""

    name: str
    setup: Setup
    found: Found

    @property
    def keeps(self) -> bool:
        """It keeps the limits."""
        return self.found.best is not None and keeps(self.found.spec.limits, self.found.best)


@dataclass(frozen=True, eq=False)
class Duel:
    """A duel as far as it has come; at its end `tried` has each over the same starts, which chose none of them."""

    spec: DuelSpec
    duellists: tuple[Duellist, ...]
    tried: tuple[Tried, ...] = ()

    @property
    def ranked(self) -> tuple[int, ...]:
        """Who keeps the limits, the fastest first, and then the rest."""

        def order(i: int) -> tuple[bool, float]:
            time = self.tried[i].time_s
            return not self.duellists[i].keeps, time if time == time else float("inf")

        return tuple(sorted(range(len(self.tried)), key=order))

    def against(self, i: int, other: int) -> Comparison:
        """One against another, over the same starts."""
        return Comparison(self.tried[i], self.tried[other])

    @property
    def winner(self) -> int | None:
        """Who is better than every other that keeps the limits; None if that is not sure, or its search goes on."""
        if not self.tried:
            return None
        first, *rest = self.ranked
        # What is still being found to be faster has no best to win with.
        if not self.duellists[first].keeps or not self.duellists[first].found.agreed:
            return None
        others = [each for each in rest if self.duellists[each].keeps]
        return first if all(self.against(first, each).verdict == "worse" for each in others) else None


def duel(
    spec: DuelSpec,
    tell: Callable[[Duel, str, int, int], bool] = lambda _duel, _name, _done, _of: True,
    threads: int | None = None,
) -> Duel | None:
    """Tune each and tell what it can do.

    `tell(duel, the one now tuned, runs done, about how many it takes)` says whether to go on.
    """
    done: list[Duellist] = []
    runs = 0
    for name in spec.contenders:
        of_one = spec.search_of(name)
        so_far, before = Duel(spec, tuple(done)), runs

        def told(found: Found, count: int, name: str = name, so_far: Duel = so_far, before: int = before) -> bool:
            tuned = len(so_far.duellists)
            each = (before + found.of_runs) / (tuned + 1)
            return tell(so_far, name, before + count, round(each * len(spec.contenders)) + spec.at_last)

        found = search(of_one, told, threads)
        if found is None or found.best is None:
            return None
        runs += found.runs
        done.append(Duellist(name, of_one.setup_of(found.best.values), found))
    so_far = Duel(spec, tuple(done))
    fresh = replace(spec.setup.trial, seed=(spec.setup.trial.seed + DUELLING * FRESH) % (2**31 - 1))
    try:
        tried = better_or_lucky(
            [replace(each.setup, trial=fresh) for each in done],
            lambda count: tell(so_far, "all once more", runs + count, runs + spec.at_last), STARTS, threads,
        )  # fmt: skip
    except CalledOff:
        return None
    return replace(so_far, tried=tuple(tried))


def in_words(made: Duel) -> str:
    """Who wins and by how much; or why nobody does."""
    keep = [i for i in made.ranked if made.duellists[i].keeps]
    if not keep:
        return "None of them keeps the limits."
    first = made.duellists[keep[0]].name
    if len(keep) == 1:
        return f"Only {first} keeps the limits."
    second = made.duellists[keep[1]].name
    found = made.against(keep[0], keep[1])
    gap = found.time
    if made.winner is not None and gap is not None:
        return f"{first} wins: {gap.mean:.2f} s ({gap.low:.2f} to {gap.high:.2f}) before {second}, the next."
    if found.verdict == "alike":
        return f"{first} and {second} are even."
    if not made.duellists[keep[0]].found.agreed:
        return f"{first} is ahead, and its search was still finding better: nobody has won yet."
    return f"{first} or {second}: that is not known yet."
