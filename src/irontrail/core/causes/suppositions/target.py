"""The target is not midway between what line and mat read."""

from collections.abc import Iterator

from irontrail.core.advice.case import Mend
from irontrail.core.capital import capital
from irontrail.core.causes.look import Look, doublings
from irontrail.core.causes.supposition import Supposition
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

USUAL_OFF = 0.15


def _unusual(look: Look) -> float:
    share = look.target_share
    return 0.0 if share is None else 1.4 * doublings(abs(share - 0.5), USUAL_OFF)


def _midway(look: Look) -> float:
    low, high = look.across
    return float(round(0.5 * (low + high)))


def _undone(look: Look) -> Iterator[Setup]:
    if look.target_share is not None:
        yield with_value(look.setup, "program.target", _midway(look))


def _says(look: Look) -> str:
    low, high = look.across
    program = look.setup.program
    name, target = program.chosen.target_name, program.target
    if not low <= target <= high:
        return f"its {name} is {target:g}, and across its edge it reads only {low:.0f} to {high:.0f}"
    return f"its {name} {target:g} is far from midway: across its edge it reads {low:.0f} to {high:.0f}"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        name = look.setup.program.chosen.target_name
        yield Mend(f"{capital(name)} {setup.program.target:g}, midway", setup)


TARGET = Supposition("target", _unusual, _undone, _says, _remedies)
