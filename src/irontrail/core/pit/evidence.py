"""What the logbook proves: the runs chosen for the judges, each over many starts, whether the last is better or was
lucky, the map it was chosen from, and how well the model foretold the real robot.

Nothing is said here that was not kept, noted, or run."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from irontrail.core.advice.changes import changes
from irontrail.core.errors import CalledOff, IronTrailError
from irontrail.core.project import KeptRun, Project
from irontrail.core.tune.axes import axis, of_law
from irontrail.core.tune.differences import Difference, paired
from irontrail.core.tune.grid import GridMap, GridSpec, explore
from irontrail.core.tune.tries import Tried, Trying

CELLS, REPEATS = 16, 5


@dataclass(frozen=True)
class Step:
    """A chosen run: what was changed since the one before it, in words, and what it comes to over many starts."""

    kept: KeptRun
    changed: str
    tried: Tried | None = None


@dataclass(frozen=True)
class Account:
    """All that stands on the pages, as far as it is worked out.

    `first` is the earliest chosen run on the last one's mat, `faster` and `calmer` how much more time it took and how
    much more it swung than the last; None where there are no two to compare.
    """

    project: Project
    steps: tuple[Step, ...]
    first: Step | None = None
    faster: Difference | None = None
    calmer: Difference | None = None
    map: GridMap | None = None
    runs: int = 0
    whole: bool = False


def account_of(
    project: Project,
    with_map: bool = True,
    tell: Callable[[Account, int], bool] = lambda _account, _done: True,
    threads: int | None = None,
) -> Account:
    """Work the pages out; `tell(account so far, runs done)` says whether to go on.

    Raises
    ------
    CalledOff
        If it says no.
    IronTrailError
        If no run is kept.
    """
    account = first_account(project)
    trying = Trying(lambda done: tell(account, done), threads)
    for i, step in enumerate(account.steps):
        steps = list(account.steps)
        steps[i] = replace(step, tried=trying.one(step.kept.setup))
        account = replace(account, steps=tuple(steps))
    last = account.steps[-1]
    first = next(step for step in account.steps if step.kept.setup.mat == last.kept.setup.mat)
    if first is not last and first.tried is not None and last.tried is not None:
        account = replace(
            account,
            first=first,
            faster=paired(last.tried, first.tried),
            calmer=paired(last.tried, first.tried, "swings_mm"),
        )
    if with_map:
        account = replace(account, map=_map(last, trying, threads))
    return replace(account, runs=trying.runs, whole=True)


def first_account(project: Project) -> Account:
    """What of the pages needs no run; IronTrailError if no run is kept."""
    kept = chosen(project)
    if not kept:
        raise IronTrailError("there is no kept run to show", "evidence", "Keep a run with K, then make the pages.")
    steps, before = [], None
    for run in kept:
        steps.append(Step(run, _changed(before, run)))
        before = run
    return Account(project, tuple(steps))


def chosen(project: Project) -> tuple[KeptRun, ...]:
    """The kept runs that the team chose for its pages, in the order they were kept; all if it chose none."""
    picked = tuple(run for run in project.kept if run.number in project.evidence.runs)
    return picked or project.kept


def runs_needed(project: Project, with_map: bool) -> int:
    """How many runs the pages take."""
    from irontrail.core.tune.tries import STARTS

    return STARTS * len(chosen(project)) + (CELLS * CELLS * REPEATS if with_map else 0)


def _changed(before: KeptRun | None, run: KeptRun) -> str:
    if before is None:
        return f"{run.setup.mat.name}, {run.setup.program.steers_by}"
    return ", ".join(changes(before.setup, run.setup)) or "nothing changed"


def _map(last: Step, trying: Trying, threads: int | None) -> GridMap:
    """The two foremost numbers of the last run about each other."""
    setup = last.kept.setup
    across, up = of_law(setup.program.chosen.name)[:2]
    spec = GridSpec(setup, axis(setup, across), axis(setup, up), CELLS, REPEATS)

    def told(_map: GridMap, done: int) -> bool:
        trying.told(done)
        return True

    made = explore(spec, told, threads)
    if made is None:
        raise CalledOff
    trying.runs += spec.runs
    return made
