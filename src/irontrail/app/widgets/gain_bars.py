"""Where another run wins and loses against the run in sight: time as a bar to either side, swing as a thin one."""

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.picture import Picture
from irontrail.core.tune.race import Difference

ROW = 18.0
LABEL, FIGURES = 64.0, 92.0


class GainBars(Picture):
    """A row for each stretch, in the order they are driven."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "Time won and lost on each stretch", 0)
        self.rows: tuple[Difference, ...] = ()

    def set_rows(self, rows: tuple[Difference, ...]) -> None:
        """Show other differences; positive where the other run took longer."""
        self.rows = rows
        self.setFixedHeight(int(ROW * len(rows)) + 4)
        self.setAccessibleDescription("; ".join(f"{row.name} {-row.time_s:+.2f} s" for row in rows))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        room = QRectF(LABEL, 0.0, self.width() - LABEL - FIGURES, ROW * len(self.rows))
        middle, most = room.center().x(), max((abs(row.time_s) for row in self.rows), default=1.0) or 1.0
        wildest = max((abs(row.swing_mm) for row in self.rows), default=1.0) or 1.0
        painter.setPen(pen(theme.rule, 1.0))
        painter.drawLine(int(middle), 0, int(middle), int(room.height()))
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        for i, row in enumerate(self.rows):
            top = i * ROW
            painter.setFont(font(11, row.bend))
            painter.setPen(QColor(theme.ink))
            painter.drawText(QRectF(0.0, top, LABEL - 4.0, ROW), Qt.AlignmentFlag.AlignVCenter, row.name)
            wide = 0.5 * room.width() * abs(row.time_s) / most
            wins = row.time_s > 0.0
            painter.fillRect(
                QRectF(middle if wins else middle - wide, top + 3.0, wide, ROW - 9.0),
                fade(theme.good if wins else theme.rust, 0.85),
            )
            calmer = row.swing_mm > 0.0
            wide = 0.5 * room.width() * abs(row.swing_mm) / wildest
            painter.fillRect(
                QRectF(middle if calmer else middle - wide, top + ROW - 5.0, wide, 3.0), QColor(theme.slate)
            )
            painter.setFont(font(11))
            painter.setPen(QColor(theme.good if wins else theme.rust))
            painter.drawText(QRectF(room.right(), top, 44.0, ROW), right, f"{-row.time_s:+.2f}".replace("-", "−"))
            painter.setPen(QColor(theme.second))
            painter.drawText(
                QRectF(room.right() + 44.0, top, 46.0, ROW), right, f"{-row.swing_mm:+.1f}".replace("-", "−")
            )
