"""Which of the changes since a good run did it: each undone by itself, over the same starts."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass, fields, is_dataclass, replace
from typing import Any

from irontrail.core.advice.changes import changes
from irontrail.core.capital import capital
from irontrail.core.causes.cause import STARTS, Starts, starts_of
from irontrail.core.errors import IronTrailError
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# Of a run with fewer good starts than that, by so many, it is said that it is worse.
WORSE = 2
# More changes than this are not undone one by one.
MOST = 40


@dataclass(frozen=True, eq=False)
class Undone:
    """One change, in words, and how many of the starts go well without it."""

    says: str
    setup: Setup
    after: Starts

    @property
    def good(self) -> int:
        """How many go well without it."""
        return int(self.after.good.sum())


@dataclass(frozen=True, eq=False)
class Changed:
    """What came of the changes from one setup to another: how many starts went well, and go well now; each undone.

    `says` is which of them did it, in sentences.
    """

    before: Starts
    now: Starts
    undone: tuple[Undone, ...]
    says: str


def what_changed(good: Setup, now: Setup, proceed: Callable[[int], bool] = lambda _done: True) -> Changed:
    """Which of the changes since a good run did it; CalledOff if `proceed` says no.

    Both have the starts of the later one.
    """
    trial = replace(good.trial, seed=now.trial.seed, shaken=now.trial.shaken)
    good = replace(good, trial=trial)
    ways = list(_one_by_one(good, now))[:MOST]
    before, after, *without = starts_of([good, now, *(setup for _, setup in ways)], proceed)
    undone = tuple(Undone(says, setup, each) for (says, setup), each in zip(ways, without, strict=True))
    ranked = tuple(sorted(undone, key=lambda each: (-each.good, each.after.time_s)))
    return Changed(before, after, ranked, _in_words(before, after, ranked))


def _in_words(before: Starts, now: Starts, undone: tuple[Undone, ...]) -> str:
    went, goes = int(before.good.sum()), int(now.good.sum())
    if not undone:
        return "Nothing was changed since then."
    counts = f"Then {went} of {STARTS} shaken starts went well, now {goes}."
    slower = now.time_s - before.time_s
    if goes > went - WORSE:
        if went and goes and abs(slower) >= 0.1:
            first = min(undone, key=lambda each: each.after.time_s if slower > 0.0 else -each.after.time_s)
            share = (now.time_s - first.after.time_s) / slower if first.good >= goes - WORSE else 0.0
            how = "slower" if slower > 0.0 else "faster"
            if share >= 0.5:
                part = f"{100 * min(share, 1.0):.0f} % of that"
                return f"{counts} It is {abs(slower):.1f} s {how}: {first.says} made {part}."
            return f"{counts} It is {abs(slower):.1f} s {how}, by no single change."
        return f"{counts} It is no worse."
    did = [each for each in undone if each.good >= went - WORSE + 1]
    if len(did) == 1:
        return f"{counts} {capital(did[0].says)} did it: without that {did[0].good} go well."
    if did:
        return f"{counts} Undoing any of these mends it: {'; '.join(each.says for each in did[:3])}."
    best = undone[0]
    if best.good > goes + WORSE:
        return f"{counts} No change did it alone; most of it {best.says}: without that {best.good} go well."
    return f"{counts} No single change did it: only together they do."


def _one_by_one(good: Setup, now: Setup) -> Iterator[tuple[str, Setup]]:
    """Each change by itself, in words, and the setup of now without it."""
    for path, value in _differences(good, now, ""):
        try:
            without = with_value(now, path, value)
        except (IronTrailError, AttributeError, TypeError):
            # Without that alone it would be no setup.
            continue
        said = changes(without, now)
        if said:
            yield ", ".join(said), without


def _differences(before: Any, after: Any, prefix: str) -> Iterator[tuple[str, Any]]:
    """The paths of what differs, with what it was; a mat is one thing, and so is whatever is listed."""
    for field in fields(after):
        was, is_now, path = getattr(before, field.name), getattr(after, field.name), f"{prefix}{field.name}"
        if was == is_now:
            continue
        if field.name != "mat" and is_dataclass(is_now) and type(was) is type(is_now):
            yield from _differences(was, is_now, f"{path}.")
        else:
            yield path, was
