"""The curves of the strip's lanes in pixels."""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from irontrail.app.theme import KEPT_DASHES, Theme
from irontrail.app.widgets.strip_axis import StripAxis
from irontrail.app.widgets.strip_ground import CURVE_DASHES, curve_colours
from irontrail.app.widgets.strip_picture import StripPicture, StripRun
from irontrail.app.widgets.strokes import Stroke

Floats = NDArray[np.float64]

KEPT_OPACITY = 0.7
# How finely a curve is cut into dashes.
STEP_PX, MOST_PX = 0.75, 300_000.0


def curves_of(axis: StripAxis, picture: StripPicture, theme: Theme) -> list[Stroke]:
    """The run in all lanes; from its second on, a lane's curves are dashed.

    They are along the axis: dashes along the curve itself would crawl while a dial is dragged.
    """
    x = np.asarray(axis.x_px(axis.x_of(picture.run)))
    most = max(len(lane.columns) for lane in axis.lanes)
    shown = [_dashed(x, dash) for dash in CURVE_DASHES[:most]]
    return [
        Stroke(x, np.asarray(axis.y_px(row, picture.run.columns[column])), colour, shown=on, within=axis.lane(row))
        for row, lane in enumerate(axis.lanes)
        for column, colour, on in zip(lane.columns, curve_colours(theme), shown, strict=False)
    ]


def kept_curves_of(axis: StripAxis, picture: StripPicture, theme: Theme) -> list[Stroke]:
    """The first curve of each lane of every kept run, oldest first, dashed along itself."""
    curves = []
    for i, run in enumerate(picture.kept):
        place = (len(picture.kept) - 1 - i) % len(KEPT_DASHES)
        for row, lane in enumerate(axis.lanes):
            x, y, shown = _cut(run, lane.columns[0], axis.by_place, axis.along, axis.up(row), KEPT_DASHES[place])
            curves.append(Stroke(x, y, theme.kept[place], 1.0, KEPT_OPACITY, shown, axis.lane(row)))
    return curves


# When a lane's range changes, the others' curves are as they were.
@lru_cache(maxsize=128)
def _cut(
    run: StripRun,
    column: str,
    by_place: bool,
    along: tuple[float, float],
    up: tuple[float, float],
    dash: tuple[float, ...],
) -> tuple[Floats, Floats, NDArray[np.bool_] | None]:
    """A curve by places that are a step apart along it, and where it is shown, cut into dashes along itself.

    Zoomed into so far that it is longer than any that could be seen as a whole, it is not cut.
    """
    x = along[0] * (run.place_m if by_place else run.time_s) + along[1]
    y = up[1] - up[0] * run.columns[column]
    steps = np.nan_to_num(np.hypot(np.diff(x), np.diff(y)))
    way = np.concatenate(([0.0], np.cumsum(steps)))
    if way[-1] > MOST_PX:
        return x, y, None
    places = STEP_PX * np.arange(int(way[-1] / STEP_PX) + 2, dtype=np.float64)
    return np.interp(places, way, x), np.interp(places, way, y), _dashed(places, dash)


def _dashed(way: Floats, dash: tuple[float, ...]) -> NDArray[np.bool_] | None:
    """Where a curve cut into dashes is shown, for so many pixels of a way on, off, and so on; None for everywhere."""
    if not dash:
        return None
    ends = np.cumsum(dash)
    place = way % ends[-1]
    shown: NDArray[np.bool_] = place < ends[0]
    for begins, behind in zip(ends[1::2], ends[2::2], strict=False):
        shown |= (place >= begins) & (place < behind)
    return shown
