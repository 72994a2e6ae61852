"""The sensor tells only coarse differences."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_SHARE = 0.08


def _unusual(look: Look) -> float:
    return doublings(look.setup.light.sensor.raw_step / max(look.contrast, 1.0), USUAL_SHARE)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "light.sensor.reading_step", 0.0)


def _says(look: Look) -> str:
    return (
        f"its sensor tells only steps of {look.setup.light.sensor.raw_step:g}, and line and mat are "
        f"{look.contrast:.0f} apart"
    )


def _remedies(_look: Look) -> Iterator[Mend]:
    yield from ()


READING_STEP = Supposition("coarse readings", _unusual, _undone, _says, _remedies)
