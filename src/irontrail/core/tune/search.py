"""A search for the best numbers within limits: candidates are drawn round the best so far, ever closer to it.

The evolution strategy with an adapted covariance of N. Hansen ("The CMA Evolution Strategy: A Tutorial", 2016), by his
own package, goes by the order of its candidates alone; those that break a limit come after all that keep it.
"""

import warnings
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from irontrail.core.project import Setup
from irontrail.core.tune.axes import Axis
from irontrail.core.tune.batch import MEASURES, Batch, run_batch

Floats = NDArray[np.float64]

# Candidates that are confirmed at the end, and the starts each has to show itself in.
FINALISTS, CONFIRMING = 8, 20
# How far the first candidates spread, as a share of each range.
FIRST_SPREAD = 0.25
# It stops when so many generations in a row were no better by this share.
PATIENCE, BETTER_SHARE = 10, 0.001


@dataclass(frozen=True)
class Limits:
    """What a candidate must keep: share of finishes at least; swing (mm) and clipped share at most, or None.

    `spots` is the share of its mat's spots, over all tries, that it must reach at least.
    """

    finishes: float = 0.95
    swing_mm: float | None = None
    clipped_share: float | None = None
    spots: float = 0.0


@dataclass(frozen=True)
class SearchSpec:
    """A search: where it begins, what it may change, what is to be least, the limits, and how long it may take."""

    setup: Setup
    axes: tuple[Axis, ...]
    measure: str = "time_s"
    limits: Limits = Limits()
    repeats: int = 5
    generations: int = 60
    seed: int = 1

    @property
    def population(self) -> int:
        """Candidates in a generation."""
        return 8 + 4 * len(self.axes)

    @property
    def runs(self) -> int:
        """How many runs it takes at most."""
        return self.population * self.repeats * self.generations + 2 * FINALISTS * CONFIRMING

    def setup_of(self, values: tuple[float, ...]) -> Setup:
        """The setup with some values on its axes."""
        setup = self.setup
        for axis, value in zip(self.axes, values, strict=True):
            setup = axis.put(setup, value)
        return setup


@dataclass(frozen=True)
class Candidate:
    """Some values and what they came to: share of finishes, and the mean of each measure over those."""

    values: tuple[float, ...]
    finished: float
    progress_mm: float
    figures: tuple[tuple[str, float], ...]
    confirmed: bool = False

    def figure(self, name: str) -> float:
        """A measure; NaN if it never finished."""
        return dict(self.figures)[name]


@dataclass(frozen=True)
class Found:
    """A search as far as it has come: the best so far, its course, and the trade-offs of time against swing.

    `course` holds the best value after each generation, NaN while none kept the limits.
    """

    spec: SearchSpec
    best: Candidate | None
    course: tuple[float, ...]
    trade_offs: tuple[Candidate, ...]
    runs: int
    says: str = ""


def keeps(limits: Limits, candidate: Candidate) -> bool:
    """Whether a candidate keeps all limits."""
    return broken(limits, candidate) == 0.0


def broken(limits: Limits, candidate: Candidate) -> float:
    """By how much a candidate breaks its limits, 0 if it keeps them; who never finishes comes last, farthest first."""
    if candidate.finished == 0.0:
        return 100.0 - 1e-3 * min(candidate.progress_mm, 50_000.0)
    over = 10.0 * max(limits.finishes - candidate.finished - 1e-9, 0.0)
    over += 10.0 * max(limits.spots - (1.0 - candidate.figure("spots_missed")) - 1e-9, 0.0)
    for limit, name in ((limits.swing_mm, "wobble_mm"), (limits.clipped_share, "clipped_share")):
        if limit is not None:
            over += max(candidate.figure(name) - limit, 0.0) / max(limit, 1e-3)
    return over


def _order(spec: SearchSpec, candidate: Candidate) -> tuple[float, float]:
    value = candidate.figure(spec.measure)
    return broken(spec.limits, candidate), value if np.isfinite(value) else np.inf


def search(
    spec: SearchSpec,
    tell: Callable[[Found, int], bool] = lambda _found, _done: True,
    threads: int | None = None,
) -> Found | None:
    """Search; `tell(found, runs done)` is shown how far it is, and says whether to go on. None if it says no.

    The same spec finds the same on any number of threads.
    """
    seen: list[Candidate] = []
    course: list[float] = []
    runs, stale, says = 0, 0, ""
    cloud = _Cloud(spec)
    for generation in range(spec.generations):
        shares = cloud.draw()
        values = [tuple(axis.at(float(s)) for axis, s in zip(spec.axes, row, strict=True)) for row in shares]
        if generation == 0:
            # Today's settings are one of the first.
            values[0] = tuple(axis.of(spec.setup) for axis in spec.axes)
        told = partial(_tell, tell, _found(spec, seen, course, runs), runs)
        batch = run_batch([spec.setup_of(each) for each in values], spec.repeats, told, threads)
        if batch is None:
            return None
        runs += len(values) * spec.repeats
        candidates = [_candidate(batch, i, each) for i, each in enumerate(values)]
        seen += candidates
        cloud.learn([_order(spec, candidate) for candidate in candidates])
        best = _best(spec, seen)
        value = best.figure(spec.measure) if best is not None and keeps(spec.limits, best) else np.nan
        better = bool(course) and value < course[-1] * (1.0 - BETTER_SHARE)
        stale = 0 if better or not course or np.isnan(course[-1]) else stale + 1
        course.append(value)
        if not tell(_found(spec, seen, course, runs), runs):
            return None
        if stale >= PATIENCE:
            says = f"It has found nothing better for {PATIENCE} rounds."
            break
    else:
        says = f"It was still finding better after {spec.generations} rounds."
    return _confirmed(spec, seen, course, runs, says, tell, threads)


def _tell(tell: Callable[[Found, int], bool], so_far: Found, before: int, done: int) -> bool:
    """Tell of a batch under way."""
    return tell(so_far, before + done)


def _confirmed(
    spec: SearchSpec,
    seen: list[Candidate],
    course: list[float],
    runs: int,
    says: str,
    tell: Callable[[Found, int], bool],
    threads: int | None,
) -> Found | None:
    """The foremost candidates once more, over as many perturbed starts as a team would want to see."""
    front = _front(spec, seen)
    spread = (
        [front[i] for i in sorted(set(np.linspace(0, len(front) - 1, FINALISTS).round().astype(int)))] if front else []
    )
    foremost = sorted(seen, key=lambda each: _order(spec, each))[:FINALISTS]
    finalists = list(dict.fromkeys([*foremost, *spread]))
    so_far = _found(spec, seen, course, runs)
    setups = [spec.setup_of(each.values) for each in finalists]
    batch = run_batch(setups, CONFIRMING, partial(_tell, tell, so_far, runs), threads)
    if batch is None:
        return None
    sure = [_candidate(batch, i, each.values, confirmed=True) for i, each in enumerate(finalists)]
    runs += len(finalists) * CONFIRMING
    best = min(sure, key=lambda each: _order(spec, each))
    if not keeps(spec.limits, best):
        says += " Nothing keeps all the limits."
    return Found(spec, best, tuple(course), tuple(_front(spec, sure)), runs, says)


def _found(spec: SearchSpec, seen: list[Candidate], course: list[float], runs: int) -> Found:
    return Found(spec, _best(spec, seen), tuple(course), tuple(_front(spec, seen)), runs)


def _best(spec: SearchSpec, seen: list[Candidate]) -> Candidate | None:
    return min(seen, key=lambda each: _order(spec, each), default=None)


def _candidate(batch: Batch, i: int, values: tuple[float, ...], confirmed: bool = False) -> Candidate:
    figures = tuple((name, float(batch.values[name][i])) for name in MEASURES)
    return Candidate(values, float(batch.finished[i]), float(batch.progress_mm[i]), figures, confirmed)


def _front(spec: SearchSpec, seen: list[Candidate]) -> list[Candidate]:
    """Those that finish often enough and that none beats in both time and swing, the fastest first."""
    good = [each for each in seen if each.finished >= spec.limits.finishes - 1e-9]
    good.sort(key=lambda each: (each.figure("time_s"), each.figure("wobble_mm")))
    front: list[Candidate] = []
    for each in good:
        if not front or each.figure("wobble_mm") < front[-1].figure("wobble_mm") - 1e-9:
            front.append(each)
    return front


class _Cloud:
    """Where candidates are drawn: a normal cloud over the shares (0..1) of the axes, turned back at their ends."""

    def __init__(self, spec: SearchSpec) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # it misses a plotting library that nobody asks it for
            import cma

        span = [axis.high - axis.low or 1.0 for axis in spec.axes]
        start = [(axis.of(spec.setup) - axis.low) / width for axis, width in zip(spec.axes, span, strict=True)]
        random = np.random.default_rng(spec.seed)
        options = {
            "bounds": [0.0, 1.0],
            "popsize": spec.population,
            "verbose": -9,
            # Its own stream of random numbers: nothing of the search depends on what else draws them.
            "randn": lambda *shape: random.standard_normal(shape),
            "seed": np.nan,
        }
        # One number alone is searched as two, the second of which does nothing: the package asks for two.
        self.count = len(start)
        start += [0.5] * (2 - self.count)
        self.strategy = cma.CMAEvolutionStrategy(np.clip(start, 0.05, 0.95).tolist(), FIRST_SPREAD, options)
        self.drawn: list[Floats] = []

    def draw(self) -> Floats:
        """Candidates, shape (population, axes), as shares of their ranges."""
        self.drawn = self.strategy.ask()
        return np.array(self.drawn)[:, : self.count]

    def learn(self, order: list[tuple[float, float]]) -> None:
        """Move and reshape the cloud by the order of its candidates alone."""
        ranked = sorted(range(len(order)), key=lambda i: order[i])
        ranks = np.empty(len(order))
        ranks[ranked] = np.arange(len(order))
        self.strategy.tell(self.drawn, ranks.tolist())
