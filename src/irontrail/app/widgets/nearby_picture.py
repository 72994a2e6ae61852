"""What one number does a little to either side of today's value: time, swing and room to spare, as small lines."""

from itertools import pairwise

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter, QPaintEvent

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.picture import Picture
from irontrail.core.figures import FIGURES, Figure
from irontrail.core.tune.nearby import Nearby

HEIGHT = 44
# What is drawn, and its field; the room to the line's loss is no figure of a single run.
LINES = (
    (FIGURES["time_s"], "time_s"),
    (FIGURES["wobble_mm"], "wobble_mm"),
    (Figure("room", "mm", 0, better="more"), "room_mm"),
)
# So much is between what stands over one line and over the next.
WORD_GAP = 5.0


class NearbyPicture(Picture):
    """Three small lines side by side; where it does not always finish the line has a gap and a cross."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "what it does nearby", HEIGHT)
        self.near: Nearby | None = None

    def set_near(self, near: Nearby | None) -> None:
        """Show another number; None while nothing is known."""
        self.near = near
        if near is not None:
            lost = sum(share < 1.0 for share in near.finished)
            times = [value for value in near.time_s if np.isfinite(value)]
            span = f"time {min(times):.2f} to {max(times):.2f} s" if times else "never finishes"
            self.setAccessibleDescription(f"{span}; {lost} of {len(near.values)} values lose the line at times")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        face, widths = self._words_fitted()
        spare, left = (self.width() - 16.0 - sum(widths)) / len(LINES), 8.0
        for (_, field), words, width in zip(LINES, self._words(), widths, strict=True):
            room = QRectF(left, 15.0, width + spare - 10.0, HEIGHT - 19.0)
            painter.setFont(face)
            painter.setPen(QColor(theme.second))
            painter.drawText(QRectF(left, 0.0, width + spare, 14.0), Qt.AlignmentFlag.AlignVCenter, words)
            left += width + spare
            painter.setPen(pen(theme.rule, 1.0))
            painter.drawLine(room.bottomLeft(), room.bottomRight())
            if self.near is not None:
                self._paint_line(painter, room, np.array(getattr(self.near, field)), self.near)

    def _words(self) -> list[str]:
        """What stands over each line: its name, and its least and most."""
        near = self.near
        if near is None:
            return [figure.label for figure, _ in LINES]
        return [
            f"{figure.label} {_span(np.array(getattr(near, field)), figure)} {figure.unit}" for figure, field in LINES
        ]

    def _words_fitted(self) -> tuple[QFont, list[float]]:
        """In which letters they stand side by side, and how wide each is."""
        for size in (10, 9):
            face = font(size)
            widths = [QFontMetricsF(face).horizontalAdvance(words) for words in self._words()]
            if sum(widths) + 2.0 * WORD_GAP <= self.width() - 16.0:
                break
        return face, widths

    def _paint_line(self, painter: QPainter, room: QRectF, values: np.ndarray, near: Nearby) -> None:
        theme, known = self.theme, np.isfinite(values)
        low, high = near.values[0], near.values[-1]
        across = [room.left() + (v - low) / max(high - low, 1e-12) * room.width() for v in near.values]
        painter.setPen(pen(theme.slate, 1.0, (2.0, 2.0)))
        today = across[near.today]
        painter.drawLine(QPointF(today, room.top()), QPointF(today, room.bottom()))
        if not known.any():
            return
        least, most = float(values[known].min()), float(values[known].max())
        span = max(most - least, 0.02 * max(abs(most), 1e-6))
        places = [
            QPointF(x, room.bottom() - 3.0 - (v - least) / span * (room.height() - 6.0)) if ok else None
            for x, v, ok in zip(across, values, known, strict=True)
        ]
        painter.setPen(pen(theme.ink, 1.6))
        for first, second in pairwise(places):
            if first is not None and second is not None:
                painter.drawLine(first, second)
        for x, share in zip(across, near.finished, strict=True):
            if share < 1.0:
                painter.setPen(pen(theme.rust, 1.6))
                y = room.bottom() - 4.0
                painter.drawLine(QPointF(x - 3.0, y - 3.0), QPointF(x + 3.0, y + 3.0))
                painter.drawLine(QPointF(x - 3.0, y + 3.0), QPointF(x + 3.0, y - 3.0))


def _span(values: np.ndarray, figure: Figure) -> str:
    known = values[np.isfinite(values)]
    if known.size == 0:
        return "–"
    low, high = figure.shown(float(known.min())), figure.shown(float(known.max()))
    return low if low == high else f"{low}–{high}"
