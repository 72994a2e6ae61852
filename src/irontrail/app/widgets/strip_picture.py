"""What the strip shows: its lanes, and runs laid out for them."""

from dataclasses import dataclass, replace
from math import isfinite

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Of an unfinished run, the lanes make room for this share of the rows.
EXCURSION_SHARE = 0.97


@dataclass(frozen=True)
class Lane:
    """One lane: its name, unit, the trace's columns it shows, and its range; None for one that fits the run.

    `curves` names the columns where there are several.
    """

    name: str
    unit: str
    columns: tuple[str, ...]
    range: tuple[float, float] | None = None
    curves: tuple[str, ...] = ()


LANES = {
    lane.name: lane
    for lane in (
        Lane("reading", "", ("reading",), (0.0, 100.0)),
        Lane("error", "", ("error",)),
        Lane("steer", "%", ("steer",)),
        Lane("wheels", "%", ("left_power", "right_power"), curves=("left", "right")),
        Lane("off edge", "mm", ("edge_mm",)),
        Lane("heading", "°", ("angle_deg",)),
        Lane("speeds", "mm/s", ("left_speed_mm_s", "right_speed_mm_s"), curves=("left", "right")),
        Lane("terms", "%", ("p_term", "i_term", "d_term"), curves=("P", "I", "D")),
        Lane("clipped", "", ("clipped",), (0.0, 1.0)),
        Lane("skid", "", ("skidding",), (0.0, 1.0)),
    )
}
USUAL_LANES = ("reading", "steer", "wheels", "off edge")
# Where the steer has several terms, they take its place.
TERM_LANES = ("reading", "terms", "wheels", "off edge")
# Two sensors make an error of both.
PAIR_LANES = ("reading", "error", "wheels", "off edge")
MOST_LANES = 6


def lane_of(name: str, sensors: int, astride: bool = False) -> Lane:
    """A lane by name, with what each of two sensors reads where there are two; `astride`: off the line's middle."""
    lane = LANES[name]
    if astride and name == "off edge":
        return replace(lane, name="off middle")
    if sensors > 1 and name == "reading":
        return replace(lane, columns=("reading", "second_reading"), curves=("first", "second"))
    return lane


@dataclass(frozen=True, eq=False)
class StripRun:
    """A run as the strip shows it: its place and time (shape (n,)) and a column for each curve, NaN where it has none.

    `least` and `reach` are each column's lowest value and how far from 0 the lanes make room for it: a run that
    was not finished ends with an excursion, which would flatten all the rest if they made room for the whole.
    """

    place_m: Floats
    time_s: Floats
    columns: dict[str, Floats]
    least: dict[str, float]
    reach: dict[str, float]

    @classmethod
    def of(cls, place_m: Floats, time_s: Floats, columns: dict[str, Floats], finished: bool) -> "StripRun":
        """A run with the ranges of its columns."""
        least, reach = {}, {}
        for name, values in columns.items():
            low, high = (float(end) for end in (values.min(), values.max())) if values.size else (0.0, 0.0)
            if not (isfinite(low) and isfinite(high)):
                known = values[np.isfinite(values)]
                values = known if known.size else np.zeros(1)
                low, high = float(values.min()), float(values.max())
            least[name] = low
            reach[name] = max(-low, high) if finished else float(np.quantile(np.abs(values), EXCURSION_SHARE))
        return cls(place_m, time_s, columns, least, reach)


@dataclass(frozen=True, eq=False)
class StripPicture:
    """What the strip shows: the run, kept runs (newest last), the target, the bends by place in metres, the lanes.

    Of a trip the `legs`, and the axis by driven distance.
    """

    run: StripRun
    kept: tuple[StripRun, ...]
    target: float
    bends: tuple[tuple[str, float, float], ...]
    length_m: float
    by_place: bool
    lanes: tuple[Lane, ...] = tuple(LANES[name] for name in USUAL_LANES)
    legs: tuple["StripLeg", ...] = ()


@dataclass(frozen=True)
class StripLeg:
    """A leg on the strip: its number and what it does, and from where to where (m, and s)."""

    number: int
    title: str
    places_m: tuple[float, float]
    times_s: tuple[float, float]
