"""The readings are noisy."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# Of the span from line to mat the noise usually is no more than this.
USUAL_SHARE = 0.04


def _unusual(look: Look) -> float:
    return doublings(look.setup.light.sensor.noise / max(look.contrast, 1.0), USUAL_SHARE)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "light.sensor.noise", 0.0)


def _says(look: Look) -> str:
    return (
        f"its readings jump by {look.setup.light.sensor.noise:g} to either side, and line and mat are "
        f"{look.contrast:.0f} apart"
    )


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


NOISE = Supposition("noise", _unusual, _undone, _says, _remedies)
