"""The bands do not turn more and more from dark to light."""

from collections.abc import Iterator
from dataclasses import replace
from itertools import pairwise

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.setup import Setup
from irontrail.core.steering.laws.bands import Bands

# Powers that differ by less are alike.
ALIKE = 2.0


def _turns(bands: Bands) -> list[float]:
    return [each.left - each.right for each in bands.steps]


def _unusual(look: Look) -> float:
    program = look.setup.program
    if program.chosen.field != "bands" or look.setup.second is not None:
        return 0.0
    turns = _turns(program.bands)
    return 2.6 if any(after < before - ALIKE for before, after in pairwise(turns)) else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    """The same powers in the order of how much they turn, from dark to light."""
    setup, bands = look.setup, look.setup.program.bands
    ranked = sorted(bands.steps, key=lambda each: each.left - each.right)
    steps = tuple(replace(power, below=band.below) for power, band in zip(ranked, bands.steps, strict=True))
    yield replace(setup, program=replace(setup.program, bands=Bands(steps)))


def _says(look: Look) -> str:
    bands = look.setup.program.bands
    turns = _turns(bands)
    place = next(i for i, (before, after) in enumerate(pairwise(turns), 1) if after < before - ALIKE)
    below = f"below {bands.steps[place].below:g}" if place + 1 < len(turns) else "the last one"
    return f"its bands are in the wrong order: the one {below} turns less toward its line than the darker one before it"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Put the bands in order", setup)


BANDS_ORDER = Supposition("order of bands", _unusual, _undone, _says, _remedies)
