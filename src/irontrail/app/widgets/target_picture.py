"""The scale of raw readings with dark and bright on it, and the target: what it was, is and should be."""

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.picture import Picture

HEIGHT = 74
MARGIN = 14.0


class TargetPicture(Picture):
    """A bar from 0 to 100 raw percent."""

    def __init__(self, theme: Theme) -> None:
        super().__init__(theme, "The target on the scale of raw readings", HEIGHT)
        self.ends = (0.0, 100.0)
        self.marks: dict[str, float] = {}

    def set_scale(self, dark: float, bright: float, marks: dict[str, float]) -> None:
        """Show what line and mat read, and the target by names (was, is, should be), all in raw percent."""
        self.ends, self.marks = (dark, bright), marks
        words = ", ".join(f"{name} {value:.0f}" for name, value in marks.items())
        self.setAccessibleDescription(f"dark {dark:.0f}, bright {bright:.0f}, target {words}")
        self.update()

    def _x(self, raw: float) -> float:
        return MARGIN + (self.width() - 2.0 * MARGIN) * min(max(raw, 0.0), 100.0) / 100.0

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bar = QRectF(MARGIN, 32.0, self.width() - 2.0 * MARGIN, 10.0)
        painter.fillRect(bar, QColor(theme.rule))
        low, high = sorted(self.ends)
        middle = 0.5 * (low + high)
        dark_first = self.ends[0] <= self.ends[1]
        for a, b, dark in ((low, middle, dark_first), (middle, high, not dark_first)):
            painter.fillRect(
                QRectF(self._x(a), bar.top(), self._x(b) - self._x(a), bar.height()),
                QColor(theme.slate if dark else theme.brass),
            )
        painter.setFont(font(10))
        for value, name in zip(self.ends, ("dark", "bright"), strict=True):
            painter.setPen(QColor(theme.second))
            box = QRectF(self._x(value) - 40.0, bar.bottom() + 2.0, 80.0, 16.0)
            box.moveLeft(min(max(box.left(), 0.0), self.width() - box.width()))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, f"{name} {value:.0f}")
        ink = {"was": theme.second, "is": theme.ink, "should be": theme.rust}
        taken: list[float] = []
        for name, value in self.marks.items():
            x = self._x(value)
            painter.setPen(pen(ink[name], 2.0, (3.0, 2.0) if name == "was" else ()))
            painter.drawLine(QPointF(x, bar.top() - 5.0), QPointF(x, bar.bottom() + 3.0))
            words = f"{name} {value:.0f}"
            row = sum(abs(x - other) < 76.0 for other in taken)
            taken.append(x)
            box = QRectF(x - 45.0, bar.top() - 18.0 - 12.0 * (row % 2), 90.0, 13.0)
            if row >= 2:
                box.moveTop(bar.bottom() + 16.0)
            box.moveLeft(min(max(box.left(), 0.0), self.width() - box.width()))
            painter.setFont(font(10, name != "was"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
