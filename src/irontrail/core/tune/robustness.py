"""Will it hold at the event: how often it finishes as light, height, battery and more are off, singly and together."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from irontrail.core.project import Setup
from irontrail.core.quantity import put, value_at
from irontrail.core.tune.batch import run_batch

TRIES, LEVELS, TOGETHER = 10, 7, 60


@dataclass(frozen=True)
class Strain:
    """Something that is otherwise at the event: its name, where it stands, and the most it changes by either way."""

    name: str
    short: str
    path: str
    unit: str
    least: float
    most: float
    factor: float = 1.0
    relative: bool = False

    def put(self, setup: Setup, change: float) -> Setup:
        """A setup with it changed, held inside what can be."""
        now = float(value_at(setup, self.path))
        made = put(setup, self.path, now * (1.0 + change) if self.relative else now + change)
        if made.second is None or self.path != HEIGHT:
            return made
        # The robot's front hangs higher or lower with all that is on it.
        return put(made, SECOND_HEIGHT, made.second.mount.height_mm + change)

    def shown(self, change: float) -> str:
        """A change as on screen."""
        text = f"{change * self.factor:+.{0 if self.unit == '%' else 1}f} {self.unit}"
        return text.replace("-", "−").replace("+0 ", "0 ").replace("+0.0 ", "0 ")


HEIGHT, SECOND_HEIGHT = "robot.mount.height_mm", "second.mount.height_mm"
STRAINS = (
    Strain("room light", "light", "light.room_light", "%", -0.4, 0.6, 100.0),
    Strain("sensor height", "height", HEIGHT, "mm", -4.0, 6.0),
    Strain("battery", "battery", "robot.drive.battery", "%", -0.2, 0.1, 100.0, relative=True),
    Strain("start off the edge", "start", "trial.start_off_mm", "mm", -15.0, 15.0),
    Strain("line worn", "line", "mat.line.unevenness_mm", "mm", 0.0, 4.0),
    Strain("wheels unlike", "wheels", "robot.drive.mismatch_percent", "%", -8.0, 8.0),
)


@dataclass(frozen=True)
class StrainResult:
    """One strain's levels (changes, in stored units) and the share that finished at each."""

    strain: Strain
    changes: tuple[float, ...]
    finished: tuple[float, ...]


@dataclass(frozen=True)
class WorstCase:
    """A run that did not finish, or the slowest: its setup, and what was otherwise, in words."""

    setup: Setup
    says: str
    finished: bool
    progress_mm: float
    time_s: float


@dataclass(frozen=True)
class Robustness:
    """How a setup holds: each strain by itself, the share that finished with all at once, and the worst of those."""

    setup: Setup
    single: tuple[StrainResult, ...]
    together: float | None
    worst: tuple[WorstCase, ...]


def runs_needed() -> int:
    """How many runs it takes."""
    return len(STRAINS) * LEVELS * TRIES + TOGETHER


def robustness_of(
    setup: Setup,
    tell: Callable[[Robustness, int], bool] = lambda _holds, _done: True,
    threads: int | None = None,
) -> Robustness | None:
    """Try a setup under every strain; `tell(holds, runs done)` says whether to go on. None if it says no."""
    single: list[StrainResult] = []
    runs = 0
    for strain in STRAINS:
        changes = _levels(strain)
        told = partial(_tell, tell, Robustness(setup, tuple(single), None, ()), runs)
        batch = run_batch([strain.put(setup, change) for change in changes], TRIES, told, threads)
        if batch is None:
            return None
        runs += LEVELS * TRIES
        single.append(StrainResult(strain, changes, tuple(float(share) for share in batch.finished)))
    return _together(setup, tuple(single), runs, tell, threads)


def _tell(tell: Callable[[Robustness, int], bool], so_far: Robustness, before: int, done: int) -> bool:
    """Tell of a batch under way."""
    return tell(so_far, before + done)


def _levels(strain: Strain) -> tuple[float, ...]:
    """Changes from the least to the most, none among them."""
    changes = set(np.round(np.linspace(strain.least, strain.most, LEVELS), 6).tolist())
    if 0.0 not in changes:
        changes.remove(min(changes, key=abs))
        changes.add(0.0)
    return tuple(sorted(changes))


def _together(
    setup: Setup,
    single: tuple[StrainResult, ...],
    runs: int,
    tell: Callable[[Robustness, int], bool],
    threads: int | None,
) -> Robustness | None:
    """All strains at once, each anywhere in its middle two thirds."""
    random = np.random.default_rng([setup.trial.seed, 77])
    cases, words = [], []
    for _ in range(TOGETHER):
        made, said = setup, []
        for strain in STRAINS:
            change = float(random.uniform(strain.least, strain.most)) * 2.0 / 3.0
            made = strain.put(made, change)
            said.append(f"{strain.short} {strain.shown(change)}")
        cases.append(replace(made, trial=replace(made.trial, seed=int(random.integers(2**31 - 1)))))
        words.append(", ".join(said))
    so_far = Robustness(setup, single, None, ())
    batch = run_batch(cases, 1, partial(_tell, tell, so_far, runs), threads)
    if batch is None:
        return None
    reached = batch.finished > 0.5
    found = [
        WorstCase(case, said, bool(ok), float(progress), float(time))
        for case, said, ok, progress, time in zip(
            cases, words, reached, batch.progress_mm, batch.values["time_s"], strict=True
        )
    ]
    found.sort(key=lambda each: (each.finished, each.progress_mm if not each.finished else -each.time_s))
    return Robustness(setup, single, float(reached.mean()), tuple(found[:6]))
