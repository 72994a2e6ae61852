"""What the strip shows: its lanes, and runs laid out for them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

# Of an unfinished run, the lanes make room for this share of the rows.
EXCURSION_SHARE = 0.97


@dataclass(frozen=True)
class Lane:
    """One lane: its name, unit, the trace's columns it shows, and its range; None for one that fits the run."""

    name: str
    unit: str
    columns: tuple[str, ...]
    range: tuple[float, float] | None = None


LANES = (
    Lane("reading", "", ("reading",), (0.0, 100.0)),
    Lane("steer", "%", ("steer",)),
    Lane("wheels", "%", ("left_power", "right_power")),
    Lane("off edge", "mm", ("edge_mm",)),
)


@dataclass(frozen=True, eq=False)
class StripRun:
    """A run as the strip shows it: its place and time (shape (n,)) and a column for each curve.

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
        least = {name: float(values.min()) for name, values in columns.items()}
        away = {name: np.abs(values) for name, values in columns.items()}
        reach = {
            name: float(values.max() if finished else np.quantile(values, EXCURSION_SHARE))
            for name, values in away.items()
        }
        return cls(place_m, time_s, columns, least, reach)


@dataclass(frozen=True, eq=False)
class StripPicture:
    """What the strip shows: the run, the kept runs (newest last), the target, and the bends by place in metres."""

    run: StripRun
    kept: tuple[StripRun, ...]
    target: float
    bends: tuple[tuple[str, float, float], ...]
    length_m: float
    by_place: bool
