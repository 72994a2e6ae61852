"""It drives faster than it can answer."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.capital import capital
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup

# A robot that drives no farther before it answers than this share of what it sees of its edge is not fast.
USUAL_BLIND, BLIND_AS_A_RULE = 1.6, 1.3
SHARES = (0.85, 0.7, 0.55, 0.4)


def _unusual(look: Look) -> float:
    plain = look.plain
    return 0.4 + 1.2 * doublings(plain.blind_mm / plain.seen_mm, USUAL_BLIND)


def _slower(look: Look, share: float) -> Setup:
    step = look.speed.quantity.step
    return look.speed.put(look.setup, round(look.speed.of(look.setup) * share / step) * step)


def _undone(look: Look) -> Iterator[Setup]:
    for share in (*SHARES[1:3], *_to_usual(look)):
        yield _slower(look, share)


def _to_usual(look: Look) -> Iterator[float]:
    """Which share of its speed is usual, where it is far from that."""
    usual = BLIND_AS_A_RULE * look.plain.seen_mm / max(look.plain.blind_mm, 1e-6)
    if usual < SHARES[2]:
        yield usual


def _says(look: Look) -> str:
    return (
        f"it is too fast: at {look.speed_mm_s:.0f} mm/s it drives {look.blind_mm:.0f} mm before its answer takes hold, "
        f"and sees its edge {look.seen_mm:.0f} mm to either side"
    )


def _remedies(look: Look) -> Iterator[Mend]:
    for share in (*SHARES, *_to_usual(look)):
        setup = _slower(look, share)
        yield Mend(f"{capital(look.speed.quantity.label)} {look.speed.of(setup):g}", setup)


SPEED = Supposition("too fast", _unusual, _undone, _says, _remedies)
