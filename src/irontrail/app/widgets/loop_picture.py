"""The program's loop over time: when it reads, when it acts on what it read, how long each decision holds."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.described import Described

HEIGHT = 76
LABEL = 50.0


@dataclass(frozen=True)
class LoopTimes:
    """Seconds: the loop, the age of a sample, how long a decision holds; and the robot's speed in mm/s."""

    loop_s: float
    delay_s: float
    decision_loops: int
    speed_mm_s: float


class LoopPicture(Described, QWidget):
    """A lane for reading, one for deciding; an arrow from each sample to the decision that acts on it."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.times: LoopTimes | None = None
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The loop over time")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_times(self, times: LoopTimes) -> None:
        """Show another loop."""
        if times != self.times:
            self.times = times
            self.setAccessibleDescription(self.says())
            self.update()

    @property
    def decision_s(self) -> float:
        """How long one decision holds."""
        times = self.times
        if times is None:
            return 0.0
        return times.loop_s * times.decision_loops

    def says(self) -> str:
        """What it comes to on the mat."""
        if self.times is None:
            return ""
        blind = self.times.delay_s + self.decision_s
        return f"Acts on what was read up to {1000 * blind:.0f} ms, {blind * self.times.speed_mm_s:.0f} mm ago."

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if self.times is None:
            return
        painter, theme, times = QPainter(self), self.theme, self.times
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        span = max(3.0 * self.decision_s, times.delay_s + 2.0 * self.decision_s)
        room = QRectF(LABEL, 4.0, self.width() - LABEL - 6.0, 52.0)
        per_s = room.width() / span
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second))
        read_y, act_y = room.top() + 8.0, room.bottom() - 12.0
        left = int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        for y, name in ((read_y, "reads"), (act_y, "wheels")):
            painter.drawText(QRectF(0, y - 9, LABEL, 18), left, name)
            painter.setPen(pen(theme.rule, 1.0))
            painter.drawLine(QPointF(room.left(), y), QPointF(room.right(), y))
            painter.setPen(QColor(theme.second))
        start = times.delay_s
        i = 0
        while start < span - 1e-9:
            end = min(start + self.decision_s, span)
            box = QRectF(room.left() + start * per_s, act_y - 7, (end - start) * per_s, 14)
            painter.setPen(pen(theme.sheet, 1.0))
            painter.setBrush(fade(theme.rust, 0.75 if i % 2 == 0 else 0.45))
            painter.drawRect(box)
            sample = room.left() + (start - times.delay_s) * per_s
            painter.setPen(pen(theme.ink, 1.2))
            tip = QPointF(room.left() + start * per_s, act_y - 8)
            painter.drawLine(QPointF(sample, read_y + 4), tip)
            painter.setBrush(QColor(theme.ink))
            painter.setPen(Qt.PenStyle.NoPen)
            painter.drawEllipse(QPointF(sample, read_y), 3.5, 3.5)
            start += self.decision_s
            i += 1
        painter.setFont(font(11))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(0, room.bottom() + 2, self.width(), 16), Qt.AlignmentFlag.AlignLeft, self.says())
