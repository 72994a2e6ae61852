"""A shadow or a glare lies over the line."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

LEAST = 0.15


def _unusual(look: Look) -> float:
    return 2.0 if any(abs(area.factor - 1.0) > LEAST for area in look.setup.light.areas) else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "light.areas", ())


def _says(look: Look) -> str:
    worst = max(look.setup.light.areas, key=lambda area: abs(area.factor - 1.0))
    what, way = ("shadow", "less") if worst.factor < 1.0 else ("glare", "more")
    return f"a {what} lies over the mat: there the room's light is {worst.factor:g} times as much, and it reads {way}"


def _remedies(look: Look) -> Iterator[Mend]:
    for share in (0.8, 0.95):
        if look.setup.light.sensor.shield < share:
            setup = with_value(look.setup, "light.sensor.shield", share)
            if setup.second is not None:
                setup = with_value(setup, "second.sensor.shield", share)
            yield Mend(f"Shield {100 * share:g} %", setup)


SHADOW = Supposition("shadow or glare", _unusual, _undone, _says, _remedies)
