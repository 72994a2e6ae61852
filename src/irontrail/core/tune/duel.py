"""A fair duel of steering laws, or of one sensor against two: each tuned by the same search with the same budget.

Whoever takes part has the same limits, and is then run over the same starts.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace

from irontrail.core.advice.proofread_pair import proofread_pair
from irontrail.core.project import Setup
from irontrail.core.quantity import with_value
from irontrail.core.steering.laws.proportional import PROPORTIONAL
from irontrail.core.steering.pair import ARRANGEMENTS
from irontrail.core.steering.registry import LAWS, LawName
from irontrail.core.tune.axes import OF_PAIR, axis, of_law
from irontrail.core.tune.search import Candidate, Found, Limits, SearchSpec, search

# What a pair can be wrong by that no tuning mends.
HOPELESS = ("unlike", "see the same", "against each other", "gap")
DUELLISTS: tuple[LawName, ...] = tuple(law.name for law in LAWS.values() if law.tuned_in_duels)


@dataclass(frozen=True)
class DuelSpec:
    """A duel on the mat and with the robot of a setup; each that takes part may take `runs_each` runs.

    It is between laws, or, `of_sensors`, between one sensor on either edge and every arrangement of two that can work
    where they are mounted, all by the law of the setup.
    """

    setup: Setup
    laws: tuple[LawName, ...] = DUELLISTS
    of_sensors: bool = False
    measure: str = "time_s"
    limits: Limits = Limits()
    repeats: int = 5
    runs_each: int = 2400
    seed: int = 1

    @property
    def contenders(self) -> dict[str, Setup]:
        """Who takes part, by name."""
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
        for arrangement in ARRANGEMENTS:
            pair = with_value(setup, "program.arrangement", arrangement)
            if arrangement != "one" and not any(remark.kind in HOPELESS for remark in proofread_pair(pair)):
                found[arrangement] = pair
        return found

    def search_of(self, name: str) -> SearchSpec:
        """The search for one that takes part: its speed and its own numbers, as many runs as any other has."""
        setup = self.contenders[name]
        of_pair = OF_PAIR.get(setup.program.arrangement, ())
        paths = (*of_law(setup.program.chosen.name, in_duel=True), *of_pair)
        axes = tuple(axis(setup, path) for path in paths)
        spec = SearchSpec(setup, axes, self.measure, self.limits, self.repeats, 1, self.seed)
        return replace(spec, generations=max(self.runs_each // (spec.population * self.repeats), 1))


@dataclass(frozen=True)
class Duellist:
    """What one can do at its best: the setup found for it, and what that came to over the confirming starts."""

    name: str
    setup: Setup
    best: Candidate
    found: Found


@dataclass(frozen=True)
class Duel:
    """A duel as far as it has come."""

    spec: DuelSpec
    duellists: tuple[Duellist, ...]


def duel(
    spec: DuelSpec,
    tell: Callable[[Duel, str, int], bool] = lambda _duel, _name, _done: True,
    threads: int | None = None,
) -> Duel | None:
    """Tune each and tell what it can do; `tell(duel, the one now tuned, runs done)` says whether to go on."""
    done: list[Duellist] = []
    runs = 0
    for name in spec.contenders:
        of_one = spec.search_of(name)
        so_far, before = Duel(spec, tuple(done)), runs

        def told(_found: Found, count: int, name: str = name, so_far: Duel = so_far, before: int = before) -> bool:
            return tell(so_far, name, before + count)

        found = search(of_one, told, threads)
        if found is None or found.best is None:
            return None
        runs += found.runs
        done.append(Duellist(name, of_one.setup_of(found.best.values), found.best, found))
    return Duel(spec, tuple(done))
