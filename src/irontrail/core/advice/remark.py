"""What proofreading says: one thing found in a program that was not run."""

from dataclasses import dataclass

from irontrail.core.setup import Setup


@dataclass(frozen=True)
class Remark:
    """One thing found: what kind, what it says, the readings it is about (if it is on the curve), and a mend."""

    kind: str
    says: str
    low: float | None = None
    high: float | None = None
    mend: str = ""
    mended: Setup | None = None
