"""What is said of a run, computed after it off the interface thread, and only as far as it is looked at."""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Literal

from PySide6.QtCore import QObject, QTimer, Signal

from irontrail.app.view import RunView
from irontrail.app.worker import NewestWins
from irontrail.core.advice.case import Finding
from irontrail.core.advice.leg_ends import LegEnds, leg_ends
from irontrail.core.advice.proofread_trip import proofread_trip
from irontrail.core.advice.remark import Remark
from irontrail.core.advice.step_response import StepResponse, step_response
from irontrail.core.causes.told import at_once, remarked, told
from irontrail.core.figures import Figures
from irontrail.core.setup import Setup

# A run is advised on when it has been in sight for so long; longer where that has many runs driven on all cores.
AFTER_MS, AFTER_MANY_MS = 60, 150
# What can be said; a sheet that shows it declares it.
Wants = Literal["remarks", "findings", "step response", "trip remarks", "leg ends"]


@dataclass(frozen=True)
class AdviceRequest:
    """A setup, that of the kept run beside it, what is wanted, and how far off the edge the robot is let go.

    Asked `at_once`, of findings only what needs no other run.
    """

    setup: Setup
    kept: Setup | None
    wants: frozenset[Wants]
    step_mm: float
    at_once: bool = False


@dataclass(frozen=True, eq=False)
class Advice:
    """What is said; what is not wanted is None."""

    request: AdviceRequest
    remarks: tuple[Remark, ...] | None
    findings: tuple[Finding, ...] | None
    step_response: StepResponse | None
    kept_step: StepResponse | None
    trip_remarks: tuple[Remark, ...] | None = None
    leg_ends: LegEnds | None = None


def advise(request: AdviceRequest, proceed: Callable[[int], bool] = lambda _done: True) -> Advice:
    """All that is said in answer to a request; CalledOff if `proceed` says no."""
    if request.at_once:
        return Advice(request, None, at_once(request.setup), None, None)
    letting = "step response" in request.wants
    return Advice(
        request=request,
        remarks=remarked(request.setup, proceed) if "remarks" in request.wants else None,
        findings=told(request.setup, request.kept, proceed) if "findings" in request.wants else None,
        step_response=step_response(request.setup, request.step_mm) if letting else None,
        kept_step=step_response(request.kept, request.step_mm) if letting and request.kept is not None else None,
        trip_remarks=proofread_trip(request.setup) if "trip remarks" in request.wants else None,
        leg_ends=leg_ends(request.setup) if "leg ends" in request.wants else None,
    )


@dataclass(frozen=True)
class Tried:
    """A change that is being tried, and the figures before it."""

    label: str
    setup: Setup
    before: Figures

    def outcome(self, after: Figures) -> str:
        """What the change did, in a sentence."""
        before = self.before
        if after.outcome != "finished":
            came, went = (figures.progress_mm / 1000.0 for figures in (before, after))
            return f"{self.label}: {after.outcome} after {went:.2f} m, {came:.2f} m before. Undo takes it back."
        swing = f"swing {before.wobble_mm:.1f} → {after.wobble_mm:.1f} mm"
        if before.outcome != "finished":
            return f"{self.label}: it now finishes, in {after.time_s:.2f} s, with a swing of {after.wobble_mm:.1f} mm."
        return f"{self.label}: {before.time_s:.2f} → {after.time_s:.2f} s, {swing}. Undo takes it back."


class Adviser(QObject):
    """Has said of the view in sight what the sheets in sight want, once it has stood for a moment.

    What is said is worked out beside the painting and slows it: while a dial moves on, it waits.
    """

    changed = Signal()
    tried = Signal(str)

    def __init__(self, failed: Callable[[object, Exception], None], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.advice: Advice | None = None
        self.step_mm = 10.0
        self._view: RunView | None = None
        self._wanted: Counter[Wants] = Counter()
        self._trying: Tried | None = None
        self._worker: NewestWins[AdviceRequest, Advice] = NewestWins(
            lambda request: advise(request, lambda _done: self._worker.wanted), self._on_advised, failed
        )
        self._due = QTimer(self)
        self._due.setSingleShot(True)
        self._due.timeout.connect(self._advise)

    @property
    def idle(self) -> bool:
        """All that is wanted has been said."""
        return self._worker.idle and not self._due.isActive()

    def leg_ends(self, setup: Setup) -> LegEnds | None:
        """Where the legs of a setup end over many starts, if that is known of this very setup."""
        ends = self.advice.leg_ends if self.advice is not None else None
        return ends if ends is not None and ends.setup == setup else None

    def want(self, wants: frozenset[Wants], in_sight: bool) -> None:
        """A sheet that shows these has come into sight or gone out of it."""
        for each in wants:
            self._wanted[each] += 1 if in_sight else -1
        if in_sight:
            self.ask()

    def show(self, view: RunView) -> None:
        """Another view is in sight."""
        self._view = view
        if self._trying is not None and self._trying.setup == view.setup:
            self.tried.emit(self._trying.outcome(view.figures))
            self._trying = None
        self.ask()

    def ask(self) -> None:
        """Have said of the view in sight what is wanted."""
        if self._view is not None:
            self._due.start(AFTER_MANY_MS if self._wanted["leg ends"] > 0 else AFTER_MS)

    def try_mend(self, label: str, setup: Setup, current: Setup) -> bool:
        """A change is about to be tried; False if what advised it is older than the current setup."""
        if self._view is None or self.advice is None or self.advice.request.setup != current:
            return False
        self._trying = Tried(label, setup, self._view.figures)
        return True

    def close(self) -> None:
        """Say nothing more."""
        self._due.stop()
        self._view = None
        self._worker.close()

    def _advise(self) -> None:
        if self._view is not None:
            kept = self._view.kept[-1].kept.setup if self._view.kept else None
            wants = frozenset(each for each, count in self._wanted.items() if count > 0)
            # The cause takes a while; where a run ended is known now.
            first = "findings" in wants and self._view.figures.outcome != "finished"
            self._worker.request(AdviceRequest(self._view.setup, kept, wants, self.step_mm, first))

    def _on_advised(self, request: AdviceRequest, advice: Advice) -> None:
        if request.at_once and self._worker.idle:
            # Nothing newer is asked for: now the whole of it.
            self._worker.request(replace(request, at_once=False))
        self.advice = advice
        self.changed.emit()
