"""Candidates of a search: what they came to, the limits they keep, and those that none beats."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from irontrail.core.tune.batch import MEASURES, Batch
from irontrail.core.tune.differences import share_between


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
class Sure:
    """What a candidate came to on starts that did not choose it: with 95 % intervals of finish share and time."""

    good: int
    starts: int
    time_s: tuple[float, float]

    @property
    def share(self) -> tuple[float, float]:
        """Between what shares it truly finishes."""
        return share_between(self.good, self.starts)


@dataclass(frozen=True)
class Candidate:
    """Some values and what they came to: share of finishes, and the mean of each measure over those.

    `sure` is there once it has been confirmed.
    """

    values: tuple[float, ...]
    finished: float
    progress_mm: float
    figures: tuple[tuple[str, float], ...]
    sure: Sure | None = None

    def figure(self, name: str) -> float:
        """A measure; NaN if it never finished."""
        return dict(self.figures)[name]


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


def candidate_of(batch: Batch, i: int, values: tuple[float, ...]) -> Candidate:
    figures = tuple((name, float(batch.values[name][i])) for name in MEASURES)
    return Candidate(values, float(batch.finished[i]), float(batch.progress_mm[i]), figures)


def front_of(limits: Limits, seen: Iterable[Candidate]) -> list[Candidate]:
    """Those that finish often enough and that none beats in both time and swing, the fastest first."""
    good = [each for each in seen if each.finished >= limits.finishes - 1e-9]
    good.sort(key=lambda each: (each.figure("time_s"), each.figure("wobble_mm")))
    front: list[Candidate] = []
    for each in good:
        if not front or each.figure("wobble_mm") < front[-1].figure("wobble_mm") - 1e-9:
            front.append(each)
    return front


def safer(seen: Iterable[Candidate]) -> list[Candidate]:
    """Those that none beats in both time and finishing, the fastest first; who finishes less than half is none."""
    good = sorted(
        (each for each in seen if each.finished >= 0.5), key=lambda each: (each.figure("time_s"), -each.finished)
    )
    front: list[Candidate] = []
    for each in good:
        if not front or each.finished > front[-1].finished + 1e-9:
            front.append(each)
    return front


def spread_over(front: list[Candidate], count: int) -> list[Candidate]:
    """Some of a front, from one end to the other."""
    places = sorted(set(np.linspace(0, len(front) - 1, count).round().astype(int))) if front else []
    return [front[i] for i in places]


def cost_of_safety(trade_offs: Iterable[Candidate]) -> tuple[float, float] | None:
    """How much finishing (share) is won for how much time (s) from the fastest to the surest; None if there is one."""
    front = safer(trade_offs)
    if len(front) < 2:
        return None
    return front[-1].finished - front[0].finished, front[-1].figure("time_s") - front[0].figure("time_s")
