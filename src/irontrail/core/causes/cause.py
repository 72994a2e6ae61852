"""The cause of a trouble: what, when undone, makes the same starts go well, and is unusual; and what mends it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from irontrail.core.advice.case import Mend
from irontrail.core.advice.proofread import proofread
from irontrail.core.causes.look import Look
from irontrail.core.causes.registry import SUPPOSITIONS
from irontrail.core.causes.supposition import Supposition, both
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.remembered import Remembered
from irontrail.core.setup import Setup
from irontrail.core.tune.batch import run_batch

Floats = NDArray[np.float64]

STARTS = 10
# With fewer good starts than this share there is trouble; a remedy must bring more than the second.
IN_TROUBLE, MENDED = 0.8, 0.8
# Of the bad starts an undoing must make good at least so many, to be a cause.
REPAIRS = 0.6
# Less unusual than this nothing is a cause.
LEAST_UNUSUAL = 0.3
# A run of a law with a slope that swings by more than this rocks, mm.
ROCKS_MM = 9.0
# Of so many of the most unusual things, two may be the cause together where none is by itself.
TOGETHER = 5
# A remedy may take so many times as long as the quickest one.
SLOWER = 1.3


@dataclass(frozen=True, eq=False)
class Starts:
    """A setup over ten starts: which go well, and how long those take."""

    good: NDArray[np.bool_]
    times_s: Floats

    @property
    def share(self) -> float:
        """How many of them go well, 0..1."""
        return float(self.good.mean())

    @property
    def time_s(self) -> float:
        """The middle time of those that do."""
        return float(np.median(self.times_s[self.good])) if self.good.any() else float("inf")


@dataclass(frozen=True, eq=False)
class Evidence:
    """A supposition asked: how unusual it is, and the share of the bad starts that its undoing repairs.

    `good` is how many of all starts go well without it.
    """

    supposition: Supposition
    unusual: float
    repairs: float
    good: int

    @property
    def weight(self) -> float:
        """How much speaks for it."""
        return self.repairs * self.unusual


@dataclass(frozen=True)
class Remedy:
    """A change that was tried: what its button says, over how many starts it goes well, and how long that takes."""

    mend: Mend
    good: int
    starts: int
    time_s: float


@dataclass(frozen=True)
class Cause:
    """What is wrong, as a phrase, by which supposition, how many starts go well without it, and what mends it."""

    kind: str
    says: str
    good: int
    remedy: Remedy | None


@dataclass(frozen=True, eq=False)
class Diagnosis:
    """The trouble of a setup, what speaks for each supposition, the most first, and the cause; None without trouble.

    `rocks`: it finishes, and the trouble is that it rocks; what goes well is then what does not.
    """

    before: Starts
    asked: tuple[Evidence, ...]
    cause: Cause | None
    rocks: bool = False


# Whether each of ten starts came through, how it swung and how long it took, shape (3, STARTS): undone and mended,
# proofread and diagnosed, a setup is asked for again and again.
_CAME = Remembered(256 * 3 * STARTS * 8)


def starts_of(
    setups: Sequence[Setup], proceed: Callable[[int], bool], threads: int | None = None, calm: bool = False
) -> list[Starts]:
    """Each over the same ten shaken starts; CalledOff if told to stop.

    A start goes well if it comes through; asked to be `calm`, if it does not rock too.
    """
    came = {setup: known for setup in setups if (known := _CAME.known(setup)) is not None}
    anew = [setup for setup in dict.fromkeys(setups) if setup not in came]
    if anew:
        batch = run_batch(anew, STARTS, proceed, threads)
        if batch is None:
            raise CalledOff
        for i, setup in enumerate(anew):
            good, single = batch.came_through(i, setup), batch.single
            came[setup] = np.array((good, single["wobble_mm"][i], single["time_s"][i]))
            _CAME.put(setup, came[setup])
    elif not proceed(0):
        raise CalledOff
    found = []
    for setup in setups:
        through, swings, times = came[setup]
        good = through > 0.0
        if calm and setup.program.chosen.gain:
            good &= swings <= ROCKS_MM
        found.append(Starts(good, times))
    return found


def diagnose(
    setup: Setup, proceed: Callable[[int], bool] = lambda _done: True, threads: int | None = None
) -> Diagnosis:
    """Why a setup goes wrong.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    (before,) = starts_of([setup], proceed, threads)
    rocks = before.share >= IN_TROUBLE
    if rocks:
        (before,) = starts_of([setup], proceed, threads, calm=True)
    if before.share >= IN_TROUBLE:
        return Diagnosis(before, (), None)
    look = Look(setup)
    trouble = _Trouble(look, before, rocks, proceed, threads)
    evidence = trouble.asked(SUPPOSITIONS)
    found = next((each for each in evidence if each.repairs >= REPAIRS), None)
    if found is None:
        most = sorted(evidence, key=lambda each: -each.unusual)[:TOGETHER]
        pairs = [both(one.supposition, other.supposition) for one, other in combinations(most, 2)]
        found = next((each for each in trouble.asked(pairs) if each.repairs >= REPAIRS), None)
    if found is None:
        return Diagnosis(before, evidence, None, rocks)
    remedy = _remedy(look, found.supposition, rocks, proceed, threads)
    cause = Cause(found.supposition.name, found.supposition.says(look), found.good, remedy)
    return Diagnosis(before, evidence, cause, rocks)


@dataclass(frozen=True, eq=False)
class _Trouble:
    """A setup whose starts go wrong, to ask suppositions of."""

    look: Look
    before: Starts
    rocks: bool
    proceed: Callable[[int], bool]
    threads: int | None

    def asked(self, suppositions: Sequence[Supposition]) -> tuple[Evidence, ...]:
        """What speaks for each of those that are unusual, the most first."""
        unusual = {each: each.unusual(self.look) for each in suppositions}
        unusual = {each: by for each, by in unusual.items() if by >= LEAST_UNUSUAL}
        ways = [(each, made) for each in unusual for made in each.undone(self.look) if made != self.look.setup]
        tried = starts_of([made for _, made in ways], self.proceed, self.threads, self.rocks) if ways else []
        bad = ~self.before.good
        repaired: dict[Supposition, tuple[float, int]] = {}
        for (each, _), after in zip(ways, tried, strict=True):
            now = float(after.good[bad].mean()), int(after.good.sum())
            repaired[each] = max(repaired.get(each, (0.0, 0)), now)
        evidence = [Evidence(each, by, *repaired.get(each, (0.0, 0))) for each, by in unusual.items()]
        return tuple(sorted(evidence, key=lambda each: -each.weight))


def _remedy(
    look: Look, supposition: Supposition, calm: bool, proceed: Callable[[int], bool], threads: int | None
) -> Remedy | None:
    """The best change a team can make: one that goes well from the most starts, and then the quickest.

    None after which something else would have to be mended.
    """
    mends = [mend for mend in supposition.remedies(look) if mend.setup != look.setup]
    if not mends:
        mends = [mend for each in SUPPOSITIONS if each.name in GENERAL for mend in each.remedies(look)]
    try:
        tried = starts_of([mend.setup for mend in mends], proceed, threads, calm)
    except IronTrailError:
        return None
    held = [(mend, after) for mend, after in zip(mends, tried, strict=True) if after.share >= MENDED]
    if not held:
        return None
    quickest = min(after.time_s for _, after in held)
    held = [(mend, after) for mend, after in held if after.time_s <= SLOWER * quickest]
    held.sort(key=lambda each: (-each[1].share, each[1].time_s))
    for mend, after in held:
        if not asks_for_more(look.setup, mend.setup):
            return Remedy(mend, int(after.good.sum()), STARTS, after.time_s)
    return None


def asks_for_more(setup: Setup, mended: Setup) -> bool:
    """Whether proofreading would have something mended of a changed setup that it did not before."""
    known = {remark.kind for remark in proofread(setup)}
    return any(remark.mended and remark.kind not in known for remark in proofread(mended))


# What a team can always change, where the cause itself cannot be.
GENERAL = ("too fast", "gain too high", "gain too low")
