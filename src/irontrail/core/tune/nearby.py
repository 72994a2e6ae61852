"""What a number does a little to either side of today's value, and which one or two to change next."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from irontrail.core.project import Setup
from irontrail.core.tune.axes import Axis, axis
from irontrail.core.tune.batch import run_batch

# A number is tried so far to either side, as shares of today's value (of its range where that is small).
SHARES = (-0.3, -0.15, 0.0, 0.15, 0.3)
REPEATS = 5
# What a change must be worth to be told: seconds as a share of the time, or millimetres of swing as a share of it.
WORTH = 0.02
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


@dataclass(frozen=True)
class Advice:
    """One or two changes, and what they do: finishes, time and swing before and after."""

    changes: tuple[tuple[Axis, float, float], ...]
    setup: Setup
    before: tuple[float, float, float]
    after: tuple[float, float, float]


# Number, today's value, another; and the share of finishes, time (s) and swing (mm).
Changes = tuple[tuple[Axis, float, float], ...]
Three = tuple[float, float, float]


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
) -> tuple[Advice, ...] | None:
    """The single change and the pair of changes that help most, if any does; None if it was called off.

    To finish more often comes first; then a shorter time, if the swing does not nearly double; where no time is to be
    won, less swing.
    """
    near = look_nearby(setup, paths, proceed, threads)
    if near is None:
        return None
    before = _figures(near[0], near[0].today)
    singles: list[tuple[Changes, Three]] = [
        (((each.axis, each.values[each.today], each.values[i]),), _figures(each, i))
        for each in near
        for i in range(len(each.values))
        if i != each.today and each.values[i] != each.values[each.today]
    ]
    singles = [single for single in singles if _worth(before, single[1]) > 0.0]
    singles.sort(key=lambda single: -_worth(before, single[1]))
    best = _one_each(singles)[:PAIRED]
    pairs = [(first[0] + second[0]) for first, second in combinations(best, 2)]
    done = len(near) * len(SHARES) * REPEATS
    tried = []
    if pairs:
        batch = run_batch([_put(setup, pair) for pair in pairs], REPEATS, lambda count: proceed(done + count), threads)
        if batch is None:
            return None
        for i, pair in enumerate(pairs):
            figures = float(batch.finished[i]), float(batch.values["time_s"][i]), float(batch.values["wobble_mm"][i])
            tried.append((pair, figures))
        tried.sort(key=lambda each: -_worth(before, each[1]))
    advised = [Advice(changes, _put(setup, changes), before, after) for changes, after in best[:1]]
    if tried and best and _worth(before, tried[0][1]) > _worth(before, best[0][1]) + WORTH:
        advised.append(Advice(tried[0][0], _put(setup, tried[0][0]), before, tried[0][1]))
    return tuple(advised)


def _figures(near: Nearby, i: int) -> Three:
    return near.finished[i], near.time_s[i], near.wobble_mm[i]


def _one_each(singles: list[tuple[Changes, Three]]) -> list[tuple[Changes, Three]]:
    """The best change of each number."""
    seen: set[str] = set()
    found = []
    for changes, figures in singles:
        if changes[0][0].path not in seen:
            seen.add(changes[0][0].path)
            found.append((changes, figures))
    return found


def _put(setup: Setup, changes: Changes) -> Setup:
    for each, _, value in changes:
        setup = each.put(setup, value)
    return setup


def _worth(before: Three, after: Three) -> float:
    """How much better one outcome is than another; 0 or less if it is not worth telling."""
    if after[0] != before[0]:
        return 10.0 * (after[0] - before[0])
    if after[0] == 0.0:
        return 0.0
    faster, calmer = 1.0 - after[1] / before[1], 1.0 - after[2] / max(before[2], 0.1)
    if np.isnan(faster) or calmer < -0.8 or faster < -WORTH:
        return 0.0
    worth = faster + 0.1 * calmer
    return worth if worth > WORTH else 0.0
