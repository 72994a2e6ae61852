"""What is said of a run: the cause first, tried by undoing it; then what happened, which gives way to the cause."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from irontrail.core.advice.case import Case, Finding
from irontrail.core.advice.findings import findings
from irontrail.core.advice.proofread import proofread
from irontrail.core.advice.remark import Remark
from irontrail.core.advice.trip_findings import trip_findings, unended
from irontrail.core.capital import capital
from irontrail.core.causes.cause import MENDED, STARTS, Diagnosis, diagnose, starts_of
from irontrail.core.causes.slow import slow
from irontrail.core.measures import wobbling
from irontrail.core.setup import Setup
from irontrail.core.tune.batch import OFF_SHARE

# What a run that goes well shows to be false.
GIVEN_THE_LIE = ("too gentle", "turned away", "no contrast")
MOST_FINDINGS = 6


def told(
    setup: Setup, kept: Setup | None = None, proceed: Callable[[int], bool] = lambda _done: True
) -> tuple[Finding, ...]:
    """The cause of a run's trouble, if it is in trouble, and what happened on it; `kept` is a run to compare it with.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    case = Case.of(setup)
    found = diagnose(setup, proceed)
    first = _first(case, found)
    known = found.cause is not None or (first is not None and first.kind == "elsewhere")
    rest = findings(case, kept, known) if setup.program.trip is None else trip_findings(case)
    rest = tuple(replace(each, mend="", mended=None) for each in rest) if known else _held(rest, proceed)
    if first is None and setup.program.trip is None:
        behind = slow(case, found.before, proceed)
        rest = (*rest, *([behind] if behind is not None else []))
    if first is not None:
        # What is said of where it ended may stand among the rest once more.
        rest = (first, *(each for each in rest if each.says not in first.says))
    return rest[:MOST_FINDINGS]


def at_once(setup: Setup) -> tuple[Finding, ...]:
    """What can be said of a run before its cause is known: where and when it ended, if it did not finish."""
    left = _left(Case.of(setup))
    return () if left is None else (replace(left, mend="", mended=None),)


def remarked(setup: Setup, proceed: Callable[[int], bool] = lambda _done: True) -> tuple[Remark, ...]:
    """What proofreading says, with only those mends that hold over the shaken starts.

    Of a setup that goes well nothing is said that such a one gives the lie to.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    remarks = proofread(setup)
    if not remarks:
        return ()
    mends = [each.mended for each in remarks if each.mended is not None]
    before, *after = starts_of([setup, *mends], proceed)
    if before.share >= MENDED:
        remarks = tuple(each for each in remarks if each.kind not in GIVEN_THE_LIE)
    held = dict(zip(mends, after, strict=True))
    return tuple(
        each if each.mended is None or held[each.mended].share >= MENDED else replace(each, mend="", mended=None)
        for each in remarks
    )


def _first(case: Case, found: Diagnosis) -> Finding | None:
    """What is said first: the cause; or, of a run that did not go well, only where it ended, if no cause is sure."""
    went_well, cause = int(found.before.good.sum()), found.cause
    left = _left(case)
    if cause is None:
        if left is None:
            return None
        return replace(left, says=f"{left.says} {went_well} of {STARTS} shaken starts of these numbers go well.")
    row, says = (_most_swing(case), "") if left is None else (left.row, f"{left.says} ")
    says += f"{capital(cause.says)}. "
    well = "stay calm" if found.rocks else "go well"
    says += f"Without that {cause.good} of {STARTS} shaken starts {well}; as it is {went_well}."
    remedy = cause.remedy
    if remedy is None:
        return Finding(cause.kind, says, row)
    says += f" {remedy.mend.says}: {remedy.good} of {remedy.starts}, in {remedy.time_s:.1f} s."
    return Finding(cause.kind, says, row, remedy.mend.says, remedy.mend.setup)


def _most_swing(case: Case) -> int:
    """Where a run swings most."""
    return int(np.argmax(np.abs(wobbling(case.run.trace.edge_mm, case.loop_s))))


def _left(case: Case) -> Finding | None:
    """Where and when a run ended that did not go well, in a few words; of a trip, in which leg and how; None if it did.

    The moment that is meant is the last one in which its sensor still saw its edge.
    """
    if case.run.outcome == "finished":
        return _elsewhere(case)
    of_leg = unended(case) if case.run.legs else None
    if of_leg is not None:
        return of_leg
    edge = np.abs(case.run.trace.edge_mm)
    seen = np.flatnonzero(edge <= case.seen_mm)
    row = edge.size - 1 if case.run.outcome in ("stopped", "time-out") else int(seen[-1]) if seen.size else 0
    time, trace = float(case.run.trace.time_s[row]), case.run.trace
    place = "at the start" if trace.progress_mm[row] < 1.0 else f"in {case.where(row)} after {time:.1f} s"
    words = {"stopped": "Stopped", "time-out": "Out of time", "stuck": "Stuck"}
    return Finding("left", f"{words.get(case.run.outcome, 'Left the line')} {place}.", row)


def _elsewhere(case: Case) -> Finding | None:
    """A run that finished along another edge than its own, or past its spots."""
    figures, tape = case.figures, case.setup.mat.followed.width_mm
    own = "its line's middle" if case.setup.program.astride else f"its {case.setup.program.edge} edge"
    if not figures.rms_edge_mm <= OFF_SHARE * tape:
        row = int(np.argmax(np.abs(case.run.trace.edge_mm)))
        return Finding("elsewhere", f"It came to the finish {figures.rms_edge_mm:.0f} mm off {own} on the whole.", row)
    if case.setup.mat.spots and figures.spots_missed:
        return Finding("spots", "It came to the finish, and missed a spot.", len(case.run.trace) - 1)
    return None


def _held(found: tuple[Finding, ...], proceed: Callable[[int], bool]) -> tuple[Finding, ...]:
    """What happened, with only those mends that hold over the shaken starts."""
    mends = [each.mended for each in found if each.mended is not None]
    held = dict(zip(mends, starts_of(mends, proceed), strict=True)) if mends else {}
    return tuple(
        each if each.mended is None or held[each.mended].share >= MENDED else replace(each, mend="", mended=None)
        for each in found
    )
