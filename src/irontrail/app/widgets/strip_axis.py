"""The strip's geometry: where lanes, places and values are drawn."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from PySide6.QtCore import QRectF, QSizeF

from irontrail.app.widgets.strip_picture import Floats, Lane, StripLeg, StripPicture, StripRun

LABEL_WIDTH = 122
RIGHT_MARGIN = 14
AXIS_HEIGHT = 20
LETTERS_HEIGHT = 16
# Heights that a lane's half range may take, so that it does not jitter while a dial is dragged.
ROUND_RANGES = (5.0, 10.0, 20.0, 30.0, 50.0, 75.0, 100.0, 150.0, 200.0, 300.0, 500.0, 1000.0)
# Share of its range that a lane leaves free above and below.
PADDING = 0.08


@dataclass(frozen=True)
class StripAxis:
    """How a picture is laid out in a widget of some size.

    Attributes
    ----------
    low, high : float
        The stretch of the axis that is shown, in metres by place, in seconds by time.
    ranges : tuple of (least, greatest)
        Of each lane.
    bends : tuple of (name, start, end)
        As they stand on the axis.
    """

    size: QSizeF
    low: float
    high: float
    by_place: bool
    ranges: tuple[tuple[float, float], ...]
    bends: tuple[tuple[str, float, float], ...]
    target: float
    lanes: tuple[Lane, ...]
    legs: tuple[StripLeg, ...] = ()

    @classmethod
    def of(cls, picture: StripPicture, size: QSizeF, zoomed: tuple[float, float] | None) -> "StripAxis":
        """The layout of a picture; `zoomed` is the stretch to show, None for the whole."""
        low, high = zoomed or whole_span(picture)
        ranges = tuple(_range(picture, lane) for lane in picture.lanes)
        bends, legs = bends_on_axis(picture), picture.legs
        return cls(size, low, high, picture.by_place, ranges, bends, picture.target, picture.lanes, legs)

    @cached_property
    def plot(self) -> QRectF:
        """Where the curves are."""
        width = self.size.width() - LABEL_WIDTH - RIGHT_MARGIN
        height = self.size.height() - AXIS_HEIGHT - LETTERS_HEIGHT
        return QRectF(LABEL_WIDTH, LETTERS_HEIGHT, max(width, 1.0), max(height, 1.0))

    def lane(self, row: int) -> QRectF:
        """Where one lane's curves are."""
        return self._boxes[row]

    @cached_property
    def _boxes(self) -> tuple[QRectF, ...]:
        plot = self.plot
        height = plot.height() / len(self.lanes)
        tops = (plot.top() + row * height for row in range(len(self.lanes)))
        return tuple(QRectF(plot.left(), top, plot.width(), height) for top in tops)

    def x_px(self, value: float | Floats) -> float | Floats:
        """Where places of the axis are drawn."""
        scale, offset = self.along
        return scale * value + offset

    @cached_property
    def along(self) -> tuple[float, float]:
        """Pixels of each unit of the axis, and where its 0 is."""
        scale = self.plot.width() / (self.high - self.low)
        return scale, self.plot.left() - scale * self.low

    def value_at(self, x: float) -> float:
        """The place of the axis under a pixel."""
        plot = self.plot
        return self.low + (x - plot.left()) / plot.width() * (self.high - self.low)

    def zoomed(self, factor: float, about: float, whole: tuple[float, float]) -> tuple[float, float] | None:
        """The stretch `factor` times as long about a place, inside the whole; None where that is all of it."""
        length = min((self.high - self.low) * factor, whole[1] - whole[0])
        start = about - (about - self.low) / (self.high - self.low) * length
        start = min(max(start, whole[0]), whole[1] - length)
        return (start, start + length) if length < whole[1] - whole[0] else None

    def panned(self, by: float, whole: tuple[float, float]) -> tuple[float, float]:
        """The stretch moved along, as far as the whole goes."""
        by = min(max(by, whole[0] - self.low), whole[1] - self.high)
        return self.low + by, self.high + by

    def y_px(self, row: int, value: float | Floats) -> float | Floats:
        """Where values of a lane are drawn."""
        scale, offset = self.up(row)
        return offset - scale * value

    def up(self, row: int) -> tuple[float, float]:
        """Pixels of each unit of a lane, and where its 0 is."""
        box, (low, high) = self.lane(row), self.ranges[row]
        pad = PADDING * (high - low)
        scale = box.height() / (high - low + 2 * pad)
        return scale, box.bottom() + scale * (low - pad)

    def x_of(self, run: StripRun) -> Floats:
        """Where along the axis the rows of a run stand, in its unit."""
        return run.place_m if self.by_place else run.time_s


def whole_span(picture: StripPicture) -> tuple[float, float]:
    """All of the axis."""
    if picture.by_place:
        return 0.0, picture.length_m
    return 0.0, max(float(run.time_s[-1]) for run in (picture.run, *picture.kept)) or 1.0


def bends_on_axis(picture: StripPicture) -> tuple[tuple[str, float, float], ...]:
    """The bends as they stand on the axis: by place, or when the run was in them."""
    if picture.by_place:
        return picture.bends
    reached = np.maximum.accumulate(picture.run.place_m)
    times = picture.run.time_s
    return tuple(
        (name, float(np.interp(start, reached, times)), float(np.interp(end, reached, times)))
        for name, start, end in picture.bends
        if start < reached[-1]
    )


def _range(picture: StripPicture, lane: Lane) -> tuple[float, float]:
    """Least and greatest value of a lane."""
    runs = (picture.run, *picture.kept)
    if lane.range is not None:
        return lane.range
    most = max(run.reach[name] for run in runs for name in lane.columns)
    high = next((each for each in ROUND_RANGES if each >= most), most)
    lowest = min(run.least[name] for run in runs for name in lane.columns)
    return (0.0 if lowest >= 0.0 else -high), high
