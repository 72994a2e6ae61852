"""The trace of a run as CSV: a header and a row for each loop of the program."""

import csv
import io
from pathlib import Path

from irontrail.core.result import Trace
from irontrail.files import atomic

COLUMNS = (
    "time_s", "x_mm", "y_mm", "heading_rad", "reading", "error", "steer", "left_power", "right_power",
    "left_speed_mm_s", "right_speed_mm_s", "progress_mm", "edge_mm", "side",
)  # fmt: skip

SIDES = ("dark", "light")


def to_text(trace: Trace) -> str:
    """The rows of a trace; numbers to six figures after the point, the side as dark or light."""
    text = io.StringIO()
    rows = csv.writer(text, lineterminator="\n")
    rows.writerow(COLUMNS)
    numbers = [getattr(trace, name) for name in COLUMNS[:-1]]
    sides = [SIDES[int(side)] for side in trace.side]
    for *values, side in zip(*numbers, sides, strict=True):
        rows.writerow([f"{value:.6f}" for value in values] + [side])
    return text.getvalue()


def write(path: Path, trace: Trace) -> None:
    """Write a trace; IronTrailError if the file cannot be written."""
    atomic.write_text(path, to_text(trace))
