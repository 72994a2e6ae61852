"""It steers too hard."""

from collections.abc import Iterator
from math import inf

from irontrail.core.advice.case import Mend
from irontrail.core.capital import capital
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup

USUAL, USUAL_POWERS = 0.75, 1.7
SHARES = (0.8, 0.65, 0.5, 0.35)
# Up to so much of the gain at which it rocks.
CALM = 0.95


def _unusual(look: Look) -> float:
    if look.setup.program.chosen.gain:
        share = look.plain.gain_share
        return 0.4 if share is None else 0.4 + 1.5 * doublings(share, USUAL)
    return 0.4 + doublings(look.steer.of(look.setup) / max(look.speed.of(look.setup), 1.0), USUAL_POWERS)


def softer(look: Look, share: float) -> Setup:
    """A setup that steers so many times as hard."""
    return look.steer.put(look.setup, round(look.steer.of(look.setup) * share, 2))


def _well_below(look: Look) -> Iterator[Setup]:
    """From just below the gain at which it rocks, where that is known, to half of it."""
    if look.rocking_gain is not None:
        for share in (0.9, 0.75, 0.6, 0.5):
            if share * look.rocking_gain < look.steer.of(look.setup):
                yield look.steer.put(look.setup, round(share * look.rocking_gain, 2))


def _undone(look: Look) -> Iterator[Setup]:
    for share in (0.6, 0.4):
        yield softer(look, share)
    yield from _well_below(look)


def _says(look: Look) -> str:
    now = f"{look.steer.of(look.setup):g}"
    if look.rocking_gain is not None:
        return f"its gain {now} is too high: at {look.rocking_gain:.2f} it rocks steadily"
    return f"it steers too hard: {look.steer.quantity.label} {now}"


def _remedies(look: Look) -> Iterator[Mend]:
    """None at a gain at which it is said to rock, or nearly: that starts stay calm there for a while is no remedy."""
    most = inf if look.rocking_gain is None else CALM * look.rocking_gain
    for setup in (*(softer(look, share) for share in SHARES), *_well_below(look)):
        if look.steer.of(setup) <= most:
            yield Mend(f"{capital(look.steer.quantity.label)} {look.steer.of(setup):g}", setup)


GAIN_HIGH = Supposition("gain too high", _unusual, _undone, _says, _remedies)
