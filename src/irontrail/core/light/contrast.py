"""Which colours a sensor can tell apart: what it reads on each, and how far two readings are apart beside its noise."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from irontrail.core.light.names import USUAL_PALETTE, nearest_names
from irontrail.core.light.reading import (
    LAMP_WEIGHTS,
    NAMES_HEIGHT_MM,
    lamp_share,
    level_per_field,
    raw_reading,
    reading,
    reading_per_raw,
)
from irontrail.core.light.sensor import Light
from irontrail.core.mat.reflectance import linear_light

Verdict = Literal["yes", "hardly", "no"]

# Colours of tape and print that teams have.
COLOURS: tuple[tuple[str, str], ...] = tuple((named.name, named.colour) for named in USUAL_PALETTE)
# Readings this many times their noise band apart can be steered by; fewer than once, they are the same.
ENOUGH_BANDS = 4.0
# Readings less than this far apart leave too little to steer by, however still the sensor is.
ENOUGH = 20.0
# A named colour with a smaller margin gets another name in other light.
ENOUGH_MARGIN = 0.03


@dataclass(frozen=True)
class Pair:
    """Two colours: what is read on each, the difference, and whether it can be steered by."""

    first: float
    second: float
    verdict: Verdict

    @property
    def apart(self) -> float:
        return abs(self.first - self.second)


@dataclass(frozen=True)
class _Seen:
    """What is read on a colour, and how far a colour that is named may move before it has another name."""

    reading: float
    margin: float


def colour_reading(light: Light, height_mm: float, colour: str, gloss: float = 0.0) -> float:
    """What the program reads well inside a patch of an sRGB colour, without noise."""
    patch = linear_light(colour).astype(np.float64)
    if not light.sensor.names_colours:
        seen = float(patch @ np.array(LAMP_WEIGHTS[light.sensor.lamp]))
        return float(reading(light, raw_reading(light, height_mm, seen, gloss)))
    return light.sensor.palette[_name(light, height_mm, colour)[0]].reads_as


def _name(light: Light, height_mm: float, colour: str) -> tuple[int, float]:
    """Which name a colour gets, and its margin."""
    seen = linear_light(colour).astype(np.float64) * level_per_field(light, height_mm) / lamp_share(NAMES_HEIGHT_MM)
    index, margin = nearest_names(light.sensor.palette, seen)
    return int(index), float(margin)


def noise_band(light: Light) -> float:
    """How far readings of one place scatter: six standard deviations and one step, in units of the reading."""
    return (6.0 * light.sensor.noise + light.sensor.raw_step) * reading_per_raw(light)


def told_apart(light: Light, height_mm: float, first: str, second: str, gloss: float = 0.0) -> Pair:
    """Whether a line of one colour on a surround of another can be steered by."""
    return _pair(light, *(_seen(light, height_mm, colour, gloss) for colour in (first, second)))


def all_told_apart(light: Light, height_mm: float, gloss: float = 0.0) -> list[list[Pair]]:
    """The same of each of `COLOURS` as the line, a row each, on each of them as the surround."""
    seen = [_seen(light, height_mm, colour, gloss) for _, colour in COLOURS]
    return [[_pair(light, line, surround) for surround in seen] for line in seen]


def _seen(light: Light, height_mm: float, colour: str, gloss: float) -> _Seen:
    margin = _name(light, height_mm, colour)[1] if light.sensor.names_colours else 1.0
    return _Seen(colour_reading(light, height_mm, colour, gloss), margin)


def _pair(light: Light, first: _Seen, second: _Seen) -> Pair:
    a, b = first.reading, second.reading
    if light.sensor.names_colours:
        margin = min(first.margin, second.margin)
        verdict: Verdict = "no" if a == b else "yes" if margin >= ENOUGH_MARGIN else "hardly"
        return Pair(a, b, verdict)
    apart, band = abs(a - b), noise_band(light)
    verdict = "yes" if apart >= max(ENOUGH_BANDS * band, ENOUGH) else "hardly" if apart >= band else "no"
    return Pair(a, b, verdict)
