"""Between two marks on the strip: how long, how far, how often it swung and how high."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.strip_axis import StripAxis
from irontrail.app.widgets.strip_picture import StripRun


@dataclass(frozen=True)
class Span:
    """What lies between two rows: where each stands by place and time, and the swing of the distance in between."""

    places_m: tuple[float, float]
    times_s: tuple[float, float]
    height_mm: float | None
    swings: float

    @classmethod
    def of(cls, run: StripRun, first: int, last: int) -> "Span":
        """The span between two rows; a swing is two crossings of its own middle, counted to a share of one."""
        edge = run.columns.get("edge_mm")
        height, swings = None, 0.0
        if edge is not None and last > first:
            here = edge[first : last + 1]
            known = np.isfinite(here)
            # Where the line is not followed all the way there is no swing to measure.
            height = float(np.ptp(here)) if known.all() else None
            away = here - here.mean() if known.all() else np.zeros(0)
            crossings = np.flatnonzero(np.diff(np.sign(away)) != 0)
            if crossings.size >= 3:
                # From the first crossing to the last, which are whole half swings.
                halves = crossings.size - 1
                seconds = float(run.time_s[first + crossings[-1]] - run.time_s[first + crossings[0]])
                swings = 0.5 * halves / seconds * float(run.time_s[last] - run.time_s[first])
        return cls(
            (float(run.place_m[first]), float(run.place_m[last])),
            (float(run.time_s[first]), float(run.time_s[last])),
            height,
            swings,
        )

    @property
    def seconds(self) -> float:
        return self.times_s[1] - self.times_s[0]

    def says(self) -> str:
        """The span in figures; over a single swing its length is its period."""
        if self.seconds <= 0.0:
            return "mark the other end"
        said = f"{self.seconds:.2f} s, {1000 * (self.places_m[1] - self.places_m[0]):.0f} mm"
        if self.height_mm is not None:
            said += f", {self.height_mm:.1f} mm high"
        if self.swings > 0.0:
            said += f", swings at {self.swings / self.seconds:.2f} Hz"
        elif self.seconds < 2.0:
            said += f"; as one swing {1.0 / self.seconds:.2f} Hz"
        return said.replace("-", "−")


def draw_span(painter: QPainter, theme: Theme, axis: StripAxis, span: Span) -> None:
    """A shade between two lines, and the figures over it."""
    start, end = (float(axis.x_px(value)) for value in (span.places_m if axis.by_place else span.times_s))
    plot = axis.plot
    painter.fillRect(QRectF(start, 0.0, max(end - start, 1.0), plot.bottom()), fade(theme.brass, 0.16))
    painter.setPen(pen(theme.brass_text, 1.2))
    for x in (start, end):
        painter.drawLine(QPointF(x, 0.0), QPointF(x, plot.bottom()))
    made = font(11, True)
    words = span.says()
    width = QFontMetricsF(made).horizontalAdvance(words) + 14.0
    left = min(max((start + end - width) / 2, plot.left()), plot.right() - width)
    box = QRectF(left, plot.bottom() - 20.0, width, 18.0)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.card))
    painter.drawRoundedRect(box, 4, 4)
    painter.setFont(made)
    painter.setPen(QColor(theme.brass_text))
    painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
