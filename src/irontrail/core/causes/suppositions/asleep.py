"""A power that is wanted does not move its wheel."""

from collections.abc import Iterator
from dataclasses import replace
from math import ceil

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup
from irontrail.core.steering.law import Power


def _sleeping(look: Look) -> list[Power]:
    dead, program = look.setup.robot.drive.dead_band, look.setup.program
    return [power for power in program.chosen.powers(program) if 0.0 < abs(power.value) < dead]


def _unusual(look: Look) -> float:
    return 1.6 if _sleeping(look) else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    """Such powers just beyond the dead band."""
    program, least = look.setup.program, float(ceil(look.setup.robot.drive.dead_band)) + 1.0
    for power in _sleeping(look):
        program = power.put(program, least if power.value > 0.0 else -least)
    if program != look.setup.program:
        yield replace(look.setup, program=program)


def _says(look: Look) -> str:
    power, dead = _sleeping(look)[0], look.setup.robot.drive.dead_band
    whose = f"{power.whose[:1].lower()}{power.whose[1:]}"
    return f"{whose} power {power.value:g} lies in the dead band of {dead:g}: it does not move its wheel"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend(f"Raise it to {ceil(look.setup.robot.drive.dead_band) + 1}", setup)


ASLEEP = Supposition("power in the dead band", _unusual, _undone, _says, _remedies)
