"""How much of the steer each term of a law gives: its usual size over the run, and what it gives now."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described

Floats = NDArray[np.float64]
ROW = 26.0
LABEL = 84.0


class TermBars(Described, QWidget):
    """A row a term: a bar as wide as its RMS either way, and a mark at its present value; right is to the right."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._terms: dict[str, Floats] = {}
        self._now = 0
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Share of each term in the steer")

    def sizeHint(self) -> QSize:
        return QSize(300, self.height())

    def set_terms(self, terms: dict[str, Floats]) -> None:
        """Show the terms of another run, by their names."""
        self._terms = terms
        self.setFixedHeight(int(len(terms) * ROW + 20))
        said = ", ".join(f"{name} {size:.0f} %" for name, size in zip(terms, self.sizes(), strict=True))
        self.setAccessibleDescription(said)
        self.update()

    def set_now(self, row: int) -> None:
        """Show another moment."""
        self._now = row
        if self.isVisible():
            self.update()

    def sizes(self) -> list[float]:
        """RMS of each term over the run, in percent of steer."""
        return [float(np.sqrt(np.mean(term * term))) for term in self._terms.values()]

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if not self._terms:
            return
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        sizes = self.sizes()
        most = max(2.2 * max(sizes), 5.0)
        middle = LABEL + (self.width() - LABEL - 44.0) / 2
        per_percent = (self.width() - LABEL - 44.0) / 2 / most
        for i, (size, (name, term)) in enumerate(zip(sizes, self._terms.items(), strict=True)):
            y = i * ROW
            painter.setFont(font(11))
            painter.setPen(QColor(theme.ink))
            painter.drawText(QRectF(0, y, LABEL, ROW), Qt.AlignmentFlag.AlignVCenter, name)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(theme.rule))
            painter.drawRect(QRectF(middle - size * per_percent, y + 7, 2 * size * per_percent, ROW - 14))
            now = float(term[min(self._now, term.size - 1)])
            x = middle + min(max(now, -most), most) * per_percent
            painter.setPen(pen(theme.rust, 2.4))
            painter.drawLine(QPointF(x, y + 4), QPointF(x, y + ROW - 4))
            painter.setPen(QColor(theme.ink))
            figure = f"{now:+.0f}".replace("-", "−") if abs(now) >= 0.5 else "0"
            box = QRectF(self.width() - 44, y, 44, ROW)
            painter.drawText(box, Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight, f"{figure} %")
        painter.setPen(pen(theme.second, 1.0, (3.0, 3.0)))
        below = len(self._terms) * ROW
        painter.drawLine(QPointF(middle, 0), QPointF(middle, below))
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        for box, words in (
            (QRectF(LABEL, below + 2, 90, 14), "steers left"),
            (QRectF(self.width() - 134, below + 2, 90, 14), "right"),
        ):
            side = Qt.AlignmentFlag.AlignLeft if words == "steers left" else Qt.AlignmentFlag.AlignRight
            painter.drawText(box, side, words)
