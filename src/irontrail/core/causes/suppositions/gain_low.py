"""It steers too gently."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.capital import capital
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup

# Below this share of the gain at which it rocks a robot is gentle; of a law of powers, below this share of its speed.
USUAL, USUAL_POWERS = 0.3, 0.45
AS_A_RULE = 0.5
TIMES = (1.25, 1.6, 2.2, 3.0)


def _unusual(look: Look) -> float:
    if look.setup.program.chosen.gain:
        share = look.plain.gain_share
        return 0.5 if share is None else 0.5 + doublings(1.0 / max(share, 0.01), 1.0 / USUAL)
    speed = max(look.speed.of(look.setup), 1.0)
    return 0.5 + doublings(speed / max(look.steer.of(look.setup), 0.1), 1.0 / USUAL_POWERS)


def harder(look: Look, times: float) -> Setup:
    """A setup that steers so many times as hard."""
    return look.steer.put(look.setup, round(look.steer.of(look.setup) * times, 2))


def _undone(look: Look) -> Iterator[Setup]:
    for times in (1.6, 2.5, *_to_usual(look)):
        yield harder(look, times)


def _to_usual(look: Look) -> Iterator[float]:
    """How many times as hard is usual, where it is far from that."""
    share = look.plain.gain_share if look.setup.program.chosen.gain else None
    if share is not None and 0.0 < share < 0.5 * USUAL:
        yield AS_A_RULE / share


def _says(look: Look) -> str:
    now = f"{look.steer.of(look.setup):g}"
    if look.gain_share is not None and look.rocking_gain is not None:
        return f"its gain {now} is small: it would rock only at {look.rocking_gain:.2f}, and half of that steers well"
    return f"it steers too gently: {look.steer.quantity.label} {now}"


def _remedies(look: Look) -> Iterator[Mend]:
    for times in (*TIMES, *_to_usual(look)):
        setup = harder(look, times)
        yield Mend(f"{capital(look.steer.quantity.label)} {look.steer.of(setup):g}", setup)


GAIN_LOW = Supposition("gain too low", _unusual, _undone, _says, _remedies)
