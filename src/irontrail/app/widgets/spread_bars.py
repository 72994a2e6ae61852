"""The spread of each figure over many runs: from the least to the greatest, the middle marked, and this run's."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font, pen
from irontrail.app.widgets.described import Described
from irontrail.core.quantity import with_unit

ROW = 46


@dataclass(frozen=True)
class Spread:
    """One figure: least, middle and greatest value in shown units; `now` is that of the run in sight."""

    label: str
    unit: str
    decimals: int
    low: float
    middle: float
    high: float
    now: float | None

    def shown(self, value: float) -> str:
        """A value as on screen, with a true minus sign."""
        text = f"{value:.{self.decimals}f}"
        return (text.lstrip("-") if float(text) == 0.0 else text).replace("-", "−")

    def in_unit(self, value: float) -> str:
        """The same with its unit."""
        return with_unit(self.shown(value), self.unit)


class SpreadBars(Described, QWidget):
    """A row for each figure: its name and ends over a bar; each bar has a scale of its own, or all the same."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.spreads: tuple[Spread, ...] = ()
        self._scale: tuple[float, float] | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Spread of the figures over all tries")

    def sizeHint(self) -> QSize:
        return QSize(300, ROW * len(self.spreads))

    def set_spreads(self, spreads: tuple[Spread, ...], one_scale: bool = False) -> None:
        """Show other spreads; on `one_scale` they can be compared with each other."""
        self.spreads = spreads
        self._scale = (min(each.low for each in spreads), max(each.high for each in spreads)) if one_scale else None
        said = (
            f"{each.label} {each.shown(each.low)} to {with_unit(each.shown(each.high), each.unit)}" for each in spreads
        )
        self.setAccessibleDescription(", ".join(said))
        self.setFixedHeight(ROW * len(spreads))
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, spread in enumerate(self.spreads):
            self._paint_row(painter, spread, i * ROW)

    def _paint_row(self, painter: QPainter, spread: Spread, y: float) -> None:
        theme, width = self.theme, self.width()
        painter.setFont(font(12))
        painter.setPen(QColor(theme.ink))
        painter.drawText(QRectF(0, y + 4, width, 16), Qt.AlignmentFlag.AlignLeft, spread.label)
        painter.setFont(font(12, True))
        middle = spread.in_unit(spread.middle)
        painter.drawText(QRectF(0, y + 4, width, 16), Qt.AlignmentFlag.AlignRight, middle)
        ends = [value for value in (spread.low, spread.high, spread.now) if value is not None]
        least, most = self._scale or (min(ends), max(ends))
        if most == least:  # all alike: in the middle
            least, most = least - 0.5, most + 0.5
        room = most - least
        bar = QRectF(44, y + 29, width - 88, 4)

        def x(value: float) -> float:
            return bar.left() + bar.width() * (value - least) / room

        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.rule))
        painter.drawRect(bar)
        painter.setBrush(QColor(theme.slate))
        painter.drawRect(QRectF(x(spread.low), bar.top(), max(x(spread.high) - x(spread.low), 2.0), 4))
        painter.setPen(pen(theme.ink, 2.0))
        painter.drawLine(QPointF(x(spread.middle), bar.top() - 4), QPointF(x(spread.middle), bar.bottom() + 4))
        if spread.now is not None:
            painter.setPen(pen(theme.rust, 2.0))
            painter.setBrush(QColor(theme.sheet))
            painter.drawEllipse(QPointF(x(spread.now), bar.center().y()), 4.5, 4.5)
        painter.setFont(font(11))
        painter.setPen(QColor(theme.second))
        centre = int(Qt.AlignmentFlag.AlignVCenter)
        low, high = QRectF(0, y + 22, 40, 18), QRectF(width - 40, y + 22, 40, 18)
        painter.drawText(low, centre | int(Qt.AlignmentFlag.AlignRight), spread.shown(spread.low))
        painter.drawText(high, centre | int(Qt.AlignmentFlag.AlignLeft), spread.shown(spread.high))
