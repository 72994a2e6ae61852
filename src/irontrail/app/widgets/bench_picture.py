"""Each bench test as a small drawing with its numbers written on it."""

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, fade, font, pen
from irontrail.app.widgets.described import Described

HEIGHT = 112
INK, PAPER, RUST = "#4A4F55", "#F3F1EA", "#A8421A"


class BenchPicture(Described, QWidget):
    """Draws the test that is chosen."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._test = ""
        self._labels: tuple[str, ...] = ()
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Drawing of the bench test")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_test(self, test: str, labels: tuple[str, ...]) -> None:
        """Draw another test, or other numbers on it."""
        self._test, self._labels = test, labels
        self.setAccessibleDescription(f"{test}: {', '.join(labels)}")
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(PAPER))
        painter.setFont(font(11))
        draw = {
            "track width": self._paint_spin,
            "dead band": self._paint_power,
            "mismatch": self._paint_drift,
        }
        draw.get(self._test, self._paint_way)(painter)

    def _robot(self, painter: QPainter, at: QPointF, turned_deg: float = 0.0, faint: bool = False) -> None:
        """A robot from above, about 34 pixels long, its front to the right."""
        painter.save()
        painter.translate(at)
        painter.rotate(-turned_deg)
        painter.setOpacity(0.4 if faint else 1.0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor("#23272B"))
        for y in (-19.0, 13.0):
            painter.drawRoundedRect(QRectF(-10.0, y, 20.0, 6.0), 2, 2)
        painter.setPen(pen("#23272B", 1.2))
        painter.setBrush(QColor("#FFFDF8"))
        painter.drawRoundedRect(QRectF(-14.0, -12.0, 28.0, 24.0), 4, 4)
        painter.drawPolyline([QPointF(6.0, -4.0), QPointF(10.0, 0.0), QPointF(6.0, 4.0)])
        painter.restore()

    def _ruler(self, painter: QPainter, left: float, right: float, words: str) -> None:
        y = HEIGHT - 26.0
        painter.setPen(pen(INK, 1.0))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for x in np.linspace(left, right, 11):
            painter.drawLine(QPointF(x, y - 4), QPointF(x, y))
        painter.drawText(QRectF(left, y + 3, right - left, 17), Qt.AlignmentFlag.AlignCenter, words)

    def _paint_way(self, painter: QPainter) -> None:
        """Driven from one place to another; for grip the tyres leave marks."""
        left, right, y = 40.0, self.width() - 40.0, 36.0
        self._robot(painter, QPointF(left, y), faint=True)
        if self._test == "grip":
            painter.setPen(pen("#5C6268", 4.0))
            for side in (-16.0, 16.0):
                painter.drawLine(QPointF(left + 14, y + side), QPointF(right, y + side))
        else:
            painter.setPen(pen(RUST, 1.6, (5.0, 3.0)))
            painter.drawLine(QPointF(left + 18, y), QPointF(right - 18, y))
        self._robot(painter, QPointF(right, y))
        self._ruler(painter, left, right, self._labels[0])
        painter.setPen(QColor(INK))
        painter.drawText(QRectF(0, 1, self.width(), 16), Qt.AlignmentFlag.AlignCenter, ", ".join(self._labels[1:]))

    def _paint_spin(self, painter: QPainter) -> None:
        middle = QPointF(self.width() / 2, 50.0)
        self._robot(painter, middle, 25.0)
        painter.setPen(pen(RUST, 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        path = QPainterPath()
        ring = QRectF(middle.x() - 36, middle.y() - 36, 72, 72)
        path.arcMoveTo(ring, 20.0)
        path.arcTo(ring, 20.0, 300.0)
        painter.drawPath(path)
        end = path.currentPosition()
        painter.drawLine(end, end + QPointF(-2.0, -9.0))
        painter.drawLine(end, end + QPointF(-10.0, 1.0))
        painter.setPen(QColor(INK))
        painter.drawText(QRectF(8, 42, middle.x() - 50, 18), Qt.AlignmentFlag.AlignLeft, self._labels[0])
        counts = QRectF(middle.x() + 46, 42, self.width() / 2 - 54, 18)
        painter.drawText(counts, Qt.AlignmentFlag.AlignRight, f"{self._labels[1]} counts")

    def _paint_power(self, painter: QPainter) -> None:
        self._robot(painter, QPointF(52.0, 50.0))
        bar = QRectF(110.0, 42.0, self.width() - 150.0, 14.0)
        share = min(float(self._labels[0].split()[0]) / 60.0, 1.0)
        painter.setPen(pen(INK, 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(bar)
        painter.fillRect(QRectF(bar.left(), bar.top(), bar.width() * share, bar.height()), fade(RUST, 0.8))
        painter.drawText(bar.translated(0, -20), Qt.AlignmentFlag.AlignLeft, f"just turns at {self._labels[0]}")

    def _paint_drift(self, painter: QPainter) -> None:
        left, right = 40.0, self.width() - 46.0
        self._robot(painter, QPointF(left, 28.0), faint=True)
        painter.setPen(pen(INK, 1.0, (3.0, 3.0)))
        painter.drawLine(QPointF(left + 18, 28.0), QPointF(right, 28.0))
        drift = float(self._labels[1].split()[0].replace("−", "-"))
        down = 26.0 if drift > 0.0 else -14.0 if drift < 0.0 else 0.0
        path = QPainterPath(QPointF(left + 18, 28.0))
        path.quadTo(QPointF((left + right) / 2, 28.0), QPointF(right, 28.0 + down))
        painter.setPen(pen(RUST, 1.8))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        self._robot(painter, QPointF(right, 28.0 + down), -14.0 if drift > 0.0 else 8.0 if drift < 0.0 else 0.0)
        painter.setPen(QColor(INK))
        words = QRectF(right - 150, 60, 120, 16)
        painter.drawText(words, Qt.AlignmentFlag.AlignRight, f"{self._labels[1]} aside")
        self._ruler(painter, left, right, self._labels[0])
