"""What is said of a run, computed after it off the interface thread, and only as far as it is looked at."""

from dataclasses import dataclass

from irontrail.core.advice.case import Finding
from irontrail.core.advice.findings import findings
from irontrail.core.advice.let_go import LetGo, let_go
from irontrail.core.advice.proofread import Remark, proofread
from irontrail.core.figures import Figures
from irontrail.core.project import Setup


@dataclass(frozen=True)
class AdviceRequest:
    """A setup, that of the kept run beside it, the sheet looked at, and how far off the edge the robot is let go."""

    setup: Setup
    kept: Setup | None
    sheet: str
    let_go_mm: float


@dataclass(frozen=True, eq=False)
class Advice:
    """What is said; what is not looked at is None."""

    request: AdviceRequest
    remarks: tuple[Remark, ...] | None
    findings: tuple[Finding, ...] | None
    let_go: LetGo | None
    kept_let_go: LetGo | None


def advise(request: AdviceRequest) -> Advice:
    """All that is said in answer to a request."""
    letting = request.sheet == "Let go"
    return Advice(
        request=request,
        remarks=proofread(request.setup) if request.sheet == "Law" else None,
        findings=findings(request.setup, request.kept) if request.sheet == "Findings" else None,
        let_go=let_go(request.setup, request.let_go_mm) if letting else None,
        kept_let_go=let_go(request.kept, request.let_go_mm) if letting and request.kept is not None else None,
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
