"""A map of two numbers as CSV: a row for each cell."""

import csv
import io
from pathlib import Path

from irontrail.core.figures import Figure
from irontrail.core.quantity import Quantity
from irontrail.core.tune.batch import measures_of
from irontrail.core.tune.grid import GridMap
from irontrail.files import atomic


def to_text(made: GridMap) -> str:
    """The cells that were run: both numbers, the share that finished, each measure's mean (empty if none did)."""
    text = io.StringIO(newline="")
    writer = csv.writer(text, lineterminator="\n")
    names = measures_of(made.spec.setup)
    numbers = [_named(axis.path, axis.quantity) for axis in (made.spec.x, made.spec.y)]
    writer.writerow([*numbers, "finished (0 to 1)", *(_named(name, figure) for name, figure in names.items())])
    for j in range(made.spec.cells):
        for i in range(made.spec.cells):
            if made.done[j, i]:
                values = [made.values[name][j, i] for name in names]
                writer.writerow(
                    [
                        f"{made.spec.value(made.spec.x, i):.6g}", f"{made.spec.value(made.spec.y, j):.6g}",
                        f"{made.finished[j, i]:.4g}", *("" if value != value else f"{value:.6g}" for value in values),
                    ]
                )  # fmt: skip
    return text.getvalue()


def _named(name: str, of: Quantity | Figure) -> str:
    """A column's name with the unit that it is stored in."""
    if of.shown_per_stored != 1.0:
        return f"{name} (0 to 1)"
    return f"{name} ({of.unit})" if of.unit else name


def write(path: Path, made: GridMap) -> None:
    """Write a map; IronTrailError if it cannot be written."""
    atomic.write_text(path, to_text(made))
