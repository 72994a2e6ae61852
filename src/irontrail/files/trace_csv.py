"""The trace of a run as CSV: a header and a row for each loop of the program."""

import csv
import io
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from irontrail.core.result import COLUMNS, Trace
from irontrail.files import atomic


def to_text(trace: Trace, sensors: int = 1) -> str:
    """The rows of a trace; numbers to six figures after the point, whole ones without, names by name.

    What a second sensor gave and read is there only of two `sensors`.
    """
    names = [name for name, column in COLUMNS.items() if sensors > 1 or not column.of_second]
    text = io.StringIO()
    rows = csv.writer(text, lineterminator="\n")
    rows.writerow(names)
    columns = [_shown(name, getattr(trace, name)) for name in names]
    rows.writerows(zip(*columns, strict=True))
    return text.getvalue()


def _shown(name: str, values: NDArray[np.float64]) -> list[str]:
    column = COLUMNS[name]
    if column.words:
        return [column.words[int(value)] for value in values]
    return [f"{value:.{column.decimals}f}" for value in values]


def write(path: Path, trace: Trace, sensors: int = 1) -> None:
    """Write a trace; IronTrailError if the file cannot be written."""
    atomic.write_text(path, to_text(trace, sensors))
