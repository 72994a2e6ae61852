"""The course of a search: the best so far after each round."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.picture import Picture

LEFT, TOP, RIGHT, LOW = 40.0, 8.0, 12.0, 18.0
HEIGHT = 72


class CoursePicture(Picture):
    """A falling line."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "Course of the search", HEIGHT)
        self.course: tuple[float, ...] = ()
        self.unit = ""

    def set_course(self, course: tuple[float, ...], unit: str) -> None:
        """Show another course; NaN while nothing kept the limits."""
        self.course, self.unit = course, unit
        known = [value for value in course if np.isfinite(value)]
        self.setAccessibleDescription(f"{len(course)} rounds, best {known[-1]:.3g} {unit}" if known else "")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(LEFT, TOP, self.width() - LEFT - RIGHT, self.height() - TOP - LOW)
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawLine(room.bottomLeft(), room.bottomRight())
        known = [(i, value) for i, value in enumerate(self.course) if np.isfinite(value)]
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        painter.drawText(
            QRectF(LEFT, room.bottom() + 3.0, room.width(), 14.0), Qt.AlignmentFlag.AlignCenter,
            f"best after each of {len(self.course)} generations",
        )  # fmt: skip
        if not known:
            return
        low, high = min(value for _, value in known), max(value for _, value in known)
        span = max(high - low, 1e-6)
        last = max(len(self.course) - 1, 1)
        line = [
            QPointF(
                room.left() + i / last * room.width(),
                room.bottom() - 6.0 - (value - low) / span * (room.height() - 10.0),
            )
            for i, value in known
        ]
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(0.0, room.bottom() - 13.0, LEFT - 4.0, 14.0), right, f"{low:.2f}")
        painter.drawText(QRectF(0.0, room.top() - 3.0, LEFT - 4.0, 14.0), right, f"{high:.2f}")
        painter.setPen(pen(theme.rust, 2.0))
        painter.drawPolyline(line)
        painter.setBrush(QColor(theme.rust))
        painter.drawEllipse(line[-1], 3.0, 3.0)
