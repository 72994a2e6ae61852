"""The curves of the strip's lanes in pixels."""

import numpy as np
from numpy.typing import NDArray

from irontrail.app.theme import KEPT_DASHES, Theme
from irontrail.app.widgets.strip_axis import StripAxis
from irontrail.app.widgets.strip_ground import CURVE_DASHES, curve_colours
from irontrail.app.widgets.strip_picture import StripPicture
from irontrail.app.widgets.strokes import Stroke

KEPT_OPACITY = 0.6


def curves_of(axis: StripAxis, picture: StripPicture, theme: Theme) -> list[Stroke]:
    """The run in all lanes; from its second on, a lane's curves are dashed."""
    x = np.asarray(axis.x_px(axis.x_of(picture.run)))
    most = max(len(lane.columns) for lane in axis.lanes)
    shown = [_dashed(x, dash) for dash in CURVE_DASHES[:most]]
    return [
        Stroke(x, np.asarray(axis.y_px(row, picture.run.columns[column])), colour, shown=on, within=axis.lane(row))
        for row, lane in enumerate(axis.lanes)
        for column, colour, on in zip(lane.columns, curve_colours(theme), shown, strict=False)
    ]


def kept_curves_of(axis: StripAxis, picture: StripPicture, theme: Theme) -> list[Stroke]:
    """The first curve of each lane of every kept run, oldest first."""
    curves = []
    for i, run in enumerate(picture.kept):
        place = (len(picture.kept) - 1 - i) % len(KEPT_DASHES)
        x = np.asarray(axis.x_px(axis.x_of(run)))
        shown = _dashed(x, KEPT_DASHES[place])
        for row, lane in enumerate(axis.lanes):
            y = np.asarray(axis.y_px(row, run.columns[lane.columns[0]]))
            curves.append(Stroke(x, y, theme.kept[place], 1.0, KEPT_OPACITY, shown, axis.lane(row)))
    return curves


def _dashed(x: NDArray[np.float64], dash: tuple[float, ...]) -> NDArray[np.bool_] | None:
    """Where a curve cut into dashes is shown, so many pixels of the axis on, off, and so on; None for everywhere.

    Dashes along the curve itself would crawl while a dial is dragged.
    """
    if not dash:
        return None
    ends = np.cumsum(dash)
    shown: NDArray[np.bool_] = np.searchsorted(ends, x % ends[-1], "right") % 2 == 0
    return shown
