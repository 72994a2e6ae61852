"""Today's gain on a scale with the gain at which rocking starts: from theory, and from the engine."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QLinearGradient, QPainter, QPaintEvent

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.picture import Picture

HEIGHT = 74
MARGIN = 12.0


class GainScale(Picture):
    """A bar that darkens where it rocks."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "Gain and rocking gain", HEIGHT)
        self.now = 0.0
        self.marks: dict[str, float] = {}

    def set_gains(self, now: float, theory: float | None, engine: float | None) -> None:
        """Show today's gain and where rocking starts; None where that is not known."""
        self.now = now
        self.marks = {name: gain for name, gain in (("theory", theory), ("engine", engine)) if gain is not None}
        words = ", ".join(f"{name} {gain:.3f}" for name, gain in self.marks.items())
        self.setAccessibleDescription(f"now {now:.2f}; rocks from {words}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bar = QRectF(MARGIN, 30.0, self.width() - 2 * MARGIN, 12.0)
        top = 1.6 * max([self.now, *self.marks.values(), 0.05])
        if self.marks:
            edge = min(max(min(self.marks.values()) / top, 0.0), 1.0)
            shade = QLinearGradient(bar.topLeft(), bar.topRight())
            shade.setColorAt(0.0, fade(theme.good, 0.35))
            shade.setColorAt(max(edge - 0.06, 0.0), fade(theme.good, 0.35))
            shade.setColorAt(min(edge + 0.02, 1.0), fade(theme.rust, 0.55))
            shade.setColorAt(1.0, fade(theme.rust, 0.8))
            painter.fillRect(bar, shade)
        else:
            painter.fillRect(bar, QColor(theme.rule))
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        painter.drawText(QRectF(bar.left(), 0.0, 80.0, 14.0), Qt.AlignmentFlag.AlignVCenter, "dies away")
        right = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(bar.right() - 80.0, 0.0, 80.0, 14.0), right, "rocks")
        for i, (name, gain) in enumerate(self.marks.items()):
            x = bar.left() + gain / top * bar.width()
            painter.setPen(pen(theme.ink, 2.0, () if name == "theory" else (3.0, 2.0)))
            painter.drawLine(QPointF(x, bar.top() - 5.0), QPointF(x, bar.bottom() + 5.0))
            painter.drawText(
                QRectF(x + 4.0 if i else x - 64.0, bar.top() - 19.0, 60.0, 13.0),
                Qt.AlignmentFlag.AlignVCenter if i else right,
                name,
            )
        x = bar.left() + self.now / top * bar.width()
        painter.setPen(pen(theme.rust, 2.2))
        painter.setBrush(QColor(theme.sheet))
        painter.drawEllipse(QPointF(x, bar.center().y()), 6.0, 6.0)
        painter.drawText(
            QRectF(x - 40.0, bar.bottom() + 6.0, 80.0, 15.0), Qt.AlignmentFlag.AlignCenter, f"now {self.now:.2f}"
        )
