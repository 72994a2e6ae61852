"""What is said of a run: the cause first, tried by undoing it; then what happened, which gives way to the cause."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from irontrail.core.advice.case import Case, Finding
from irontrail.core.advice.findings import MOST_FINDINGS, descriptions, findings
from irontrail.core.advice.proofread import proofread
from irontrail.core.advice.remark import Remark
from irontrail.core.causes.cause import MENDED, STARTS, Diagnosis, diagnose, starts_of
from irontrail.core.measures import wobbling
from irontrail.core.project import Setup

# What a run that goes well shows to be false.
GIVEN_THE_LIE = ("too gentle", "turned away", "no contrast")
# What these describe is what causes are asked about.
GIVE_WAY = ("rocking", "stopped", "time-out", "one-sided", "light")


def told(
    setup: Setup, kept: Setup | None = None, proceed: Callable[[int], bool] = lambda _done: True
) -> tuple[Finding, ...]:
    """The cause of a run's trouble, if it is in trouble, and what happened on it; `kept` is a run to compare it with.

    Of trips and of two sensors, what findings say.

    Raises
    ------
    CalledOff
        If `proceed` says no.
    """
    if setup.program.trip is not None or setup.second is not None:
        return findings(setup, kept)
    case = Case.of(setup)
    found = diagnose(setup, proceed)
    first = _first(case, found)
    rest = descriptions(case, kept, None)
    if found.cause is not None:
        rest = tuple(replace(each, mend="", mended=None) for each in rest if each.kind not in GIVE_WAY)
    else:
        rest = _held(rest, proceed)
    return (*([first] if first is not None else []), *rest)[:MOST_FINDINGS]


def at_once(setup: Setup) -> tuple[Finding, ...]:
    """What can be said of a run before its cause is known: where and when it ended, if it did not finish."""
    if setup.program.trip is not None or setup.second is not None:
        return ()
    case = Case.of(setup)
    if case.run.outcome == "finished":
        return ()
    return (Finding("left", _where(case), _row(case)),)


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
    """What is said first: the cause; or, of a run that did not finish, only where it ended, if no cause is sure."""
    went_well, cause = int(found.before.good.sum()), found.cause
    finished = case.run.outcome == "finished"
    if cause is None:
        if finished:
            return None
        chance = f"{went_well} of {STARTS} shaken starts of these numbers go well."
        return Finding("left", f"{_where(case)} {chance}", _row(case))
    says = "" if finished else f"{_where(case)} "
    says += f"{cause.says[:1].upper()}{cause.says[1:]}. "
    well = "stay calm" if found.rocks else "go well"
    says += f"Without that {cause.good} of {STARTS} shaken starts {well}; as it is {went_well}."
    remedy = cause.remedy
    if remedy is None:
        return Finding(cause.kind, says, _row(case))
    says += f" {remedy.mend.says}: {remedy.good} of {remedy.starts}, in {remedy.time_s:.1f} s."
    return Finding(cause.kind, says, _row(case), remedy.mend.says, remedy.mend.setup)


def _row(case: Case) -> int:
    """The moment that is meant: the last one in which its sensor still saw its edge, or where it swings most."""
    edge = np.abs(case.run.trace.edge_mm)
    if case.run.outcome == "finished":
        return int(np.argmax(np.abs(wobbling(case.run.trace.edge_mm, case.loop_s))))
    if case.run.outcome in ("stopped", "time-out"):
        return edge.size - 1
    seen = np.flatnonzero(edge <= case.seen_mm)
    return int(seen[-1]) if seen.size else 0


def _where(case: Case) -> str:
    """Where and when a run ended, in a few words."""
    row = _row(case)
    time, trace = float(case.run.trace.time_s[row]), case.run.trace
    place = "at the start" if trace.progress_mm[row] < 1.0 else f"in {case.where(row)} after {time:.1f} s"
    words = {"stopped": "Stopped", "time-out": "Out of time", "stuck": "Stuck"}
    return f"{words.get(case.run.outcome, 'Left the line')} {place}."


def _held(found: tuple[Finding, ...], proceed: Callable[[int], bool]) -> tuple[Finding, ...]:
    """What happened, with only those mends that hold over the shaken starts."""
    mends = [each.mended for each in found if each.mended is not None]
    held = dict(zip(mends, starts_of(mends, proceed), strict=True)) if mends else {}
    return tuple(
        each if each.mended is None or held[each.mended].share >= MENDED else replace(each, mend="", mended=None)
        for each in found
    )
