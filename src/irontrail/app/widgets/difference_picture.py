"""How much longer each of some runs takes than another: the mean, its interval, and the band that does not matter."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described

ROW, FOOT, NAMES, FIGURES = 26, 22, 56, 122


@dataclass(frozen=True)
class Apart:
    """One run: its name, the mean difference with the ends of its interval, and whether it is told as one."""

    name: str
    mean: float
    low: float
    high: float
    told: bool


class DifferencePicture(Described, QWidget):
    """A row for each run on one scale, 0 marked."""

    def __init__(self, theme: Theme, unit: str = "s", decimals: int = 2) -> None:
        super().__init__()
        self.theme, self.unit, self.decimals = theme, unit, decimals
        self.rows: tuple[Apart, ...] = ()
        self.matters = 0.0
        self.ends = "faster", "slower"
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("differences with their intervals")

    def sizeHint(self) -> QSize:
        return QSize(300, self._height())

    def _height(self) -> int:
        return ROW * len(self.rows) + FOOT if self.rows else 0

    def set_rows(self, rows: tuple[Apart, ...], matters: float) -> None:
        """Show other differences; less than `matters` is not worth naming."""
        self.rows, self.matters = rows, matters
        self.setFixedHeight(self._height())
        self.setAccessibleDescription(
            "; ".join(f"{row.name}: {self._shown(row.mean)}, {self._ends_of(row)} {self.unit}" for row in rows)
        )
        self.update()

    def _shown(self, value: float) -> str:
        text = f"{value:+.{self.decimals}f}"
        return (text.lstrip("+-") if float(text) == 0.0 else text).replace("-", "−")

    def _ends_of(self, row: Apart) -> str:
        return f"{self._shown(row.low)} to {self._shown(row.high)}"

    def x_of(self, value: float) -> float:
        """Where a value stands."""
        reach = max([1.5 * self.matters, *(max(abs(row.low), abs(row.high)) for row in self.rows), 1e-9])
        left, right = NAMES + 8.0, self.width() - FIGURES - 8.0
        return left + (right - left) * (value + reach) / (2.0 * reach)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        if not self.rows:
            return
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        bottom = ROW * len(self.rows)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.rule))
        left, right = self.x_of(-self.matters), self.x_of(self.matters)
        painter.drawRect(QRectF(left, 0.0, right - left, bottom))
        painter.setPen(pen(theme.second, 1.0))
        painter.drawLine(QPointF(self.x_of(0.0), 0.0), QPointF(self.x_of(0.0), bottom))
        for i, row in enumerate(self.rows):
            self._paint_row(painter, row, i * ROW + 0.5 * ROW)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second))
        foot = QRectF(0.0, bottom + 3.0, self.width(), 16.0)
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, f"← {self.ends[0]}")
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{self.ends[1]} →")

    def _paint_row(self, painter: QPainter, row: Apart, y: float) -> None:
        theme = self.theme
        centre = Qt.AlignmentFlag.AlignVCenter
        painter.setFont(font(12, row.told))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(0.0, y - 9.0, NAMES, 18.0), centre | Qt.AlignmentFlag.AlignLeft, row.name)
        colour = theme.ink if row.told else theme.second
        painter.setPen(pen(colour, 2.0))
        painter.drawLine(QPointF(self.x_of(row.low), y), QPointF(self.x_of(row.high), y))
        for end in (row.low, row.high):
            painter.drawLine(QPointF(self.x_of(end), y - 4.0), QPointF(self.x_of(end), y + 4.0))
        painter.setBrush(QColor(colour if row.told else theme.sheet))
        painter.drawEllipse(QPointF(self.x_of(row.mean), y), 4.5, 4.5)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.ink))
        figures = QRectF(self.width() - FIGURES, y - 9.0, FIGURES, 18.0)
        painter.drawText(figures, centre | Qt.AlignmentFlag.AlignRight, f"{self._ends_of(row)} {self.unit}")
