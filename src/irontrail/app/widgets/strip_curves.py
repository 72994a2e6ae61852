"""The curves of the strip's lanes in pixels: whole, in parts where they are not known, or cut into dashes."""

import numpy as np
from PySide6.QtGui import QPolygonF

from irontrail.app.widgets.painting import polygon, polygon_of
from irontrail.app.widgets.strip_axis import StripAxis
from irontrail.app.widgets.strip_picture import StripRun

MANY_POINTS = 6000


def lane_line(axis: StripAxis, row: int, run: StripRun, column: str) -> QPolygonF:
    """A run's curve in a lane."""
    x, y = _in_px(axis, row, run, column)
    # Finding points that add nothing takes longer than drawing them, where there are not very many.
    return polygon(x, y) if x.size > MANY_POINTS else polygon_of(x, y)


def known_lines(axis: StripAxis, row: int, run: StripRun, column: str) -> list[QPolygonF]:
    """The same, in parts where it is not known everywhere."""
    known = np.isfinite(run.columns[column])
    if known.all():
        return [lane_line(axis, row, run, column)]
    x, y = _in_px(axis, row, run, column)
    edges = np.flatnonzero(np.diff(known.astype(np.int8), prepend=0, append=0))
    return [polygon_of(x[a:b], y[a:b]) for a, b in zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True)]


def lane_parts(
    axis: StripAxis, row: int, run: StripRun, column: str, dash: tuple[float, float] | None
) -> list[QPolygonF]:
    """The same curve cut into dashes along the axis: Qt's own take ten times as long on a curve that swings."""
    if dash is None:
        return known_lines(axis, row, run, column)
    x, y = _in_px(axis, row, run, column)
    on, period = dash[0], sum(dash)
    shown = (x % period < on).astype(np.int8)
    edges = np.flatnonzero(np.diff(shown, prepend=0, append=0))
    starts, ends = edges[::2], edges[1::2]
    return [
        polygon_of(x[a : b + 1], y[a : b + 1])
        for a, b in zip(starts.tolist(), ends.tolist(), strict=True)
        if b + 1 - a > 1
    ]


def _in_px(axis: StripAxis, row: int, run: StripRun, column: str) -> tuple[np.ndarray, np.ndarray]:
    return np.asarray(axis.x_px(axis.x_of(run))), np.asarray(axis.y_px(row, run.columns[column]))
