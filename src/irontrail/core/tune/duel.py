"""A fair duel of steering laws: each tuned by the same search with the same budget and limits, then run alike."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from irontrail.core.project import Setup
from irontrail.core.quantity import with_value
from irontrail.core.steering.registry import LAWS, LawName
from irontrail.core.tune.axes import axis, of_law
from irontrail.core.tune.search import Candidate, Found, Limits, SearchSpec, search

DUELLISTS: tuple[LawName, ...] = tuple(law.name for law in LAWS.values() if law.tuned_in_duels)


@dataclass(frozen=True)
class DuelSpec:
    """A duel on the mat and with the robot of a setup; each law may take `runs_each` runs."""

    setup: Setup
    laws: tuple[LawName, ...] = DUELLISTS
    measure: str = "time_s"
    limits: Limits = Limits()
    repeats: int = 5
    runs_each: int = 2400
    seed: int = 1

    def search_of(self, law: LawName) -> SearchSpec:
        """The search for one law: its speed and its own numbers, as many runs as any other law has."""
        setup = with_value(self.setup, "program.law", law)
        axes = tuple(axis(setup, path) for path in of_law(law, in_duel=True))
        spec = SearchSpec(setup, axes, self.measure, self.limits, self.repeats, 1, self.seed)
        return replace(spec, generations=max(self.runs_each // (spec.population * self.repeats), 1))


@dataclass(frozen=True)
class Duellist:
    """What a law can do at its best: the setup found for it, and what that came to over the confirming starts."""

    law: LawName
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
    tell: Callable[[Duel, str, int], bool] = lambda _duel, _law, _done: True,
    threads: int | None = None,
) -> Duel | None:
    """Tune each law and tell what it can do; `tell(duel, law now tuned, runs done)` says whether to go on."""
    done: list[Duellist] = []
    runs = 0
    for law in spec.laws:
        of_law = spec.search_of(law)
        so_far, before = Duel(spec, tuple(done)), runs

        def told(_found: Found, count: int, law: LawName = law, so_far: Duel = so_far, before: int = before) -> bool:
            return tell(so_far, law, before + count)

        found = search(of_law, told, threads)
        if found is None or found.best is None:
            return None
        runs += found.runs
        done.append(Duellist(law, of_law.setup_of(found.best.values), found.best, found))
    return Duel(spec, tuple(done))
