"""The speed leaves the outer wheel nothing to speed up by."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_ROOM, SPEED = 20.0, 70.0


def _unusual(look: Look) -> float:
    program = look.setup.program
    if program.chosen.gives != "steer" or program.mixing == "inner wheel only":
        return 0.0
    return 0.7 * doublings(1.0 / max(100.0 - program.speed, 1.0), 1.0 / USUAL_ROOM)


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "program.speed", SPEED)


def _says(look: Look) -> str:
    room = 100.0 - look.setup.program.speed
    return f"speed {look.setup.program.speed:g} leaves {room:g} below the limit: its outer wheel can hardly speed up"


def _remedies(look: Look) -> Iterator[Mend]:
    for speed in (80.0, 70.0, 60.0):
        yield Mend(f"Speed {speed:g}", with_value(look.setup, "program.speed", speed))


NO_ROOM = Supposition("no room to steer", _unusual, _undone, _says, _remedies)
