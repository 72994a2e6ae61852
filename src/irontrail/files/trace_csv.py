"""The trace of a run as CSV: a header and a row for each loop of the program."""

import csv
import io
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from irontrail.core.result import Trace
from irontrail.files import atomic

COLUMNS = (
    "time_s", "x_mm", "y_mm", "heading_rad", "reading", "error", "steer", "left_power", "right_power",
    "left_speed_mm_s", "right_speed_mm_s", "progress_mm", "edge_mm", "side", "angle_rad", "clipped", "skidding", "band",
    "p_term", "i_term", "d_term", "given", "margin",
)  # fmt: skip

SIDES = ("dark", "light")
WHOLE = ("clipped", "skidding", "band")


def to_text(trace: Trace) -> str:
    """The rows of a trace; numbers to six figures after the point, whole ones without, the side as dark or light."""
    text = io.StringIO()
    rows = csv.writer(text, lineterminator="\n")
    rows.writerow(COLUMNS)
    columns = [_shown(name, getattr(trace, name)) for name in COLUMNS]
    rows.writerows(zip(*columns, strict=True))
    return text.getvalue()


def _shown(name: str, values: NDArray[np.float64]) -> list[str]:
    if name == "side":
        return [SIDES[int(value)] for value in values]
    return [f"{value:.0f}" if name in WHOLE else f"{value:.6f}" for value in values]


def write(path: Path, trace: Trace) -> None:
    """Write a trace; IronTrailError if the file cannot be written."""
    atomic.write_text(path, to_text(trace))
