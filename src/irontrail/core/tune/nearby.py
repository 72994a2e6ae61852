"""What a number does a little to either side of today's value, and which one or two to change next."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from irontrail.core.errors import CalledOff
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import Axis, axis, put_all
from irontrail.core.tune.batch import run_batch
from irontrail.core.tune.differences import Difference, mean_of
from irontrail.core.tune.tries import Tried, Trying

Floats = NDArray[np.float64]

# A number is tried so far to either side, as shares of today's value (of its range where that is small).
SHARES = (-0.3, -0.15, 0.0, 0.15, 0.3)
REPEATS = 5
# A change is chosen over so many starts and checked over others; it must save this share of the expected time.
CHOOSING, CHECKING, FRESH_SET, WORTH = 20, 200, 29, 0.01
# A run that fails counts as so many times as long, if a team does not say otherwise.
FAILED_TIMES = 2.0
# How many of the best single changes are tried in pairs.
PAIRED = 4


@dataclass(frozen=True)
class Nearby:
    """One number round today's value: values, and at each the share of finishes, time, swing and room to spare (mm).

    Time, swing and room are NaN where it never finishes. `room` is how much farther the robot might have strayed before
    its line was lost.
    """

    axis: Axis
    values: tuple[float, ...]
    finished: tuple[float, ...]
    time_s: tuple[float, ...]
    wobble_mm: tuple[float, ...]
    room_mm: tuple[float, ...]

    @property
    def today(self) -> int:
        """Which of the values is today's."""
        return SHARES.index(0.0)


@dataclass(frozen=True, eq=False)
class Advice:
    """One or two changes: (number, today's value, another); and what they do over fresh starts.

    `saves` is by how much the expected time (s) is less, a failed run counted as so many times as long as today's.
    """

    changes: "Changes"
    setup: Setup
    before: Tried
    after: Tried
    saves: Difference


Changes = tuple[tuple[Axis, float, float], ...]


def around(setup: Setup, which: Axis) -> tuple[float, ...]:
    """Values of a number to either side of today's, held inside what can be."""
    now = which.of(setup)
    reach = max(abs(now), 0.15 * (which.high - which.low), 2.0 * which.quantity.step)
    return tuple(which.quantity.clamped(now + share * reach) for share in SHARES)


def look_nearby(
    setup: Setup,
    paths: Sequence[str],
    proceed: Callable[[int], bool] = lambda _done: True,
    threads: int | None = None,
) -> tuple[Nearby, ...] | None:
    """What each of some numbers does near today's value; None if it was called off."""
    axes = [axis(setup, path) for path in paths]
    values = [around(setup, each) for each in axes]
    setups = [each.put(setup, value) for each, some in zip(axes, values, strict=True) for value in some]
    batch = run_batch(setups, REPEATS, proceed, threads)
    if batch is None:
        return None
    found = []
    for k, (each, some) in enumerate(zip(axes, values, strict=True)):
        part = slice(k * len(SHARES), (k + 1) * len(SHARES))
        room = setup.trial.lost_distance_mm - batch.values["worst_edge_mm"][part]
        found.append(
            Nearby(
                each, some, tuple(batch.finished[part].tolist()), tuple(batch.values["time_s"][part].tolist()),
                tuple(batch.values["wobble_mm"][part].tolist()), tuple(room.tolist()),
            )
        )  # fmt: skip
    return tuple(found)


def what_next(
    setup: Setup,
    paths: Sequence[str],
    proceed: Callable[[int], bool] = lambda _done: True,
    threads: int | None = None,
    failed_times: float = FAILED_TIMES,
) -> tuple[Advice, ...] | None:
    """The single change and the pair of changes that save most, if any does; None if it was called off.

    What is least is the expected time of a run, one that fails counted as `failed_times` as long as today's. Chosen on
    some shaken starts, and told of others: only what surely saves there, and by what is worth telling, is advised.
    """
    trying = Trying(proceed, threads)
    try:
        return _advised(setup, paths, trying, failed_times)
    except CalledOff:
        return None


def _advised(setup: Setup, paths: Sequence[str], trying: Trying, failed_times: float) -> tuple[Advice, ...]:
    axes = [axis(setup, path) for path in paths]
    singles = [
        ((each, each.of(setup), value),)
        for each in axes
        for value in dict.fromkeys(each.quantity.clamped(_rounded(each, near)) for near in around(setup, each))
        if value != each.of(setup)
    ]
    today, *tried = trying([setup, *(_put(setup, changes) for changes in singles)], starts=CHOOSING)
    failed = failed_times * (today.time_s if today.good else setup.trial.time_limit_s)
    ranked = sorted(zip(singles, tried, strict=True), key=lambda each: _loss(each[1], failed).mean())
    best = _one_each([changes for changes, over in ranked if _loss(over, failed).mean() < _loss(today, failed).mean()])
    best = best[:PAIRED]
    pairs = [first + second for first, second in combinations(best, 2)]
    over_pairs = trying([_put(setup, pair) for pair in pairs], starts=CHOOSING) if pairs else []
    found = best[:1]
    if pairs:
        found.append(min(zip(pairs, over_pairs, strict=True), key=lambda each: _loss(each[1], failed).mean())[0])
    if not found:
        return ()
    before, *after = trying([setup, *(_put(setup, changes) for changes in found)], fresh=FRESH_SET, starts=CHECKING)
    worth = WORTH * float(_loss(before, failed).mean())
    advised: list[Advice] = []
    least = worth
    for changes, over in zip(found, after, strict=True):
        saves = mean_of(_loss(before, failed) - _loss(over, failed))
        # A pair must save more than the single by as much again.
        if saves is not None and saves.low > 0.0 and saves.mean > least:
            advised.append(Advice(changes, _put(setup, changes), before, over, saves))
            least = saves.mean + worth
    return tuple(advised)


def runs_of_next(paths: Sequence[str]) -> int:
    """About how many runs it takes to find what to change next."""
    pairs = PAIRED * (PAIRED - 1) // 2
    return (1 + (len(SHARES) - 1) * len(paths) + pairs) * CHOOSING + 3 * CHECKING


def _loss(over: Tried, failed_s: float) -> Floats:
    """What each start takes, one that failed counted as so long."""
    return np.where(np.isfinite(over.times_s), over.times_s, failed_s)


def _rounded(which: Axis, value: float) -> float:
    shown = which.quantity.shown_per_stored
    return round(value * shown, which.quantity.decimals) / shown


def _one_each(ranked: list[Changes]) -> list[Changes]:
    """The best change of each number."""
    found: dict[str, Changes] = {}
    for changes in ranked:
        found.setdefault(changes[0][0].path, changes)
    return list(found.values())


def _put(setup: Setup, changes: Changes) -> Setup:
    return put_all(setup, [which for which, _, _ in changes], [value for _, _, value in changes])
