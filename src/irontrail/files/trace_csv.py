"""The trace of a run as CSV: a header and a row for each loop of the program."""

from pathlib import Path

from irontrail.core.result import COLUMNS, Trace
from irontrail.files import atomic


def to_text(trace: Trace, sensors: int = 1) -> str:
    """The rows of a trace; numbers to six figures after the point, whole ones without, names by name.

    What a second sensor gave and read is there only of two `sensors`.
    """
    columns, shown = [], []
    told = {name: column for name, column in COLUMNS.items() if sensors > 1 or not column.of_second}
    for name, column in told.items():
        values = getattr(trace, name).tolist()
        columns.append([column.words[int(value)] for value in values] if column.words else values)
        shown.append("%s" if column.words else f"%.{column.decimals}f")
    # Whole rows at a time: number by number takes four times as long. No word has a comma.
    row = ",".join(shown)
    return "\n".join([",".join(told), *(row % values for values in zip(*columns, strict=True)), ""])


def write(path: Path, trace: Trace, sensors: int = 1) -> None:
    """Write a trace; IronTrailError if the file cannot be written."""
    atomic.write_text(path, to_text(trace, sensors))
