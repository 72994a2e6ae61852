"""Colours that lie between its line and the mat are taken for something else by name."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from irontrail.core.advice.case import Mend
from irontrail.core.causes.look import Look
from irontrail.core.causes.supposition import Supposition
from irontrail.core.light.names import NamedColour, nearest_names, palette_points
from irontrail.core.mat.reflectance import linear_light
from irontrail.core.quantity import with_value
from irontrail.core.setup import Setup

# A name that reads so far from where its colour lies between line and mat is confused.
CONFUSED = 30.0
STEPS = 41


def _as_they_lie(look: Look) -> tuple[tuple[NamedColour, ...], tuple[NamedColour, ...]]:
    """The palette, each name read as far as its colour lies between line and mat; and those seen between the two."""
    setup = look.setup
    palette = setup.light.sensor.palette
    line, mat = (np.array(linear_light(each)) for each in (setup.mat.followed.colour, setup.mat.colour))
    share = np.linspace(0.0, 1.0, STEPS)
    # A patch over the edge holds so much of the mat, and the rest of the line.
    named = nearest_names(palette, line + share[:, None] * (mat - line))[0]
    way = np.sqrt(mat) - np.sqrt(line)
    lies = np.clip((palette_points(palette) - np.sqrt(line)) @ way / max(float(way @ way), 1e-9), 0.0, 1.0)
    if setup.program.line == "light":
        lies = 1.0 - lies
    made = tuple(replace(each, reads_as=float(round(100.0 * to))) for each, to in zip(palette, lies, strict=True))
    return made, tuple(palette[i] for i in dict.fromkeys(named.tolist()))


def _confused(look: Look) -> list[NamedColour]:
    made, seen = _as_they_lie(look)
    usual = {each.name: each.reads_as for each in made}
    return [each for each in seen if abs(each.reads_as - usual[each.name]) > CONFUSED]


def _unusual(look: Look) -> float:
    return 2.0 if look.setup.light.sensor.names_colours and _confused(look) else 0.0


def _undone(look: Look) -> Iterator[Setup]:
    yield with_value(look.setup, "light.sensor.palette", _as_they_lie(look)[0])


def _says(look: Look) -> str:
    names = " and ".join(f"{each.name} (it reads as {each.reads_as:.0f})" for each in _confused(look))
    return f"between line and mat its sensor sees {names}, and the program takes that for something else"


def _remedies(look: Look) -> Iterator[Mend]:
    for setup in _undone(look):
        yield Mend("Names read as they lie between line and mat", setup)


NAMES = Supposition("colour names", _unusual, _undone, _says, _remedies)
