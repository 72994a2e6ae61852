"""The run by stretch: the time of each straight and bend as a bar, its swing, and the difference to the kept run."""

from dataclasses import dataclass

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font
from irontrail.app.widgets.described import Described

ROW = 15
# A difference smaller than this is not told.
LEAST_S = 0.005


@dataclass(frozen=True)
class StretchRow:
    """One stretch: its name, whether it bends, its time and swing, and the kept run's time if it has one."""

    name: str
    bend: bool
    time_s: float
    swing_mm: float
    kept_s: float | None
    whole: bool


class StretchBars(Described, QWidget):
    """A thin row for each stretch, in the order they are driven."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.rows: tuple[StretchRow, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Time and swing of each straight and bend")

    def sizeHint(self) -> QSize:
        return QSize(300, ROW * len(self.rows) + 4)

    def set_rows(self, rows: tuple[StretchRow, ...]) -> None:
        """Show other stretches."""
        if rows != self.rows:
            self.rows = rows
            said = (f"{row.name} {row.time_s:.2f} s, {row.swing_mm:.1f} mm" for row in rows)
            self.setAccessibleDescription("; ".join(said))
            self.setFixedHeight(ROW * len(rows) + 4)
            self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        longest = max((max(row.time_s, row.kept_s or 0.0) for row in self.rows), default=1.0) or 1.0
        bar_left, bar_room = 70.0, self.width() - 70.0 - 142.0
        right = int(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        for i, row in enumerate(self.rows):
            y = i * ROW
            painter.setFont(font(11, row.bend))
            painter.setPen(QColor(theme.ink))
            painter.drawText(QRectF(0, y, 66, ROW), int(Qt.AlignmentFlag.AlignVCenter), row.name)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(fade(theme.rust, 0.75 if row.bend else 0.4))
            painter.drawRect(QRectF(bar_left, y + 4, bar_room * row.time_s / longest, ROW - 8))
            if row.kept_s is not None:
                painter.setBrush(QColor(theme.kept[0]))
                painter.drawRect(QRectF(bar_left + bar_room * row.kept_s / longest - 1, y + 2, 2, ROW - 4))
            painter.setFont(font(11))
            painter.setPen(QColor(theme.ink))
            x = bar_left + bar_room + 4
            painter.drawText(QRectF(x, y, 38, ROW), right, f"{row.time_s:.2f}" if row.whole else "—")
            if row.kept_s is not None:
                less = row.time_s - row.kept_s
                if abs(less) >= LEAST_S:
                    painter.setPen(QColor(theme.good if less < 0 else theme.rust))
                    painter.drawText(QRectF(x + 38, y, 48, ROW), right, f"{less:+.2f}".replace("-", "−"))
            painter.setPen(QColor(theme.second))
            painter.drawText(QRectF(x + 86, y, 50, ROW), right, f"{row.swing_mm:.1f} mm")
