"""One figure of a run: what it is called, how much, its unit, and the difference to the kept run."""

from functools import lru_cache

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.painting import draw_words
from irontrail.core.figures import Figure
from irontrail.core.quantity import with_unit

# Where a figure's parts stand: the middles of those that do not change, and down to where the others reach, in pixels.
LABEL_Y, UNIT_Y, VALUE_LOW, DIFFERENCE_LOW = 8.0, 28.0, 36.0, 34.5


class FigureView(Described, QWidget):
    """Shows a figure; a difference is told by its sign, and by colour where less or more is better."""

    def __init__(self, figure: Figure, theme: Theme) -> None:
        super().__init__()
        self.theme, self.figure = theme, figure
        self.label, self.unit = figure.label, figure.unit
        self._value: float | None = None
        self.difference: float | None = None
        self.setSizePolicy(QSizePolicy.Policy.Minimum, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(40)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)

    def sizeHint(self) -> QSize:
        return QSize(112, 40)

    def set_figure(self, value: float | None, kept: float | None = None, label: str | None = None) -> None:
        """Show a value, as stored, beside the kept run's; None where there is none."""
        self._value = value
        self.difference = value - kept if value is not None and kept is not None else None
        if label is not None:
            self.label = label
        self.setAccessibleName(f"{self.label} {with_unit(self.text(), self.unit)} {self.difference_text()}".strip())
        self.update()

    def text(self) -> str:
        """The figure as shown."""
        return "–" if self._value is None else self.figure.shown(self._value)

    def difference_text(self) -> str:
        """The difference as shown, with its sign; empty without a kept run."""
        if self.difference is None:
            return ""
        text = self.figure.shown(self.difference)
        if not text.strip("0."):
            return "±0"
        return text if text.startswith("−") else f"+{text}"

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        theme, painter = self.theme, QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.sheet))
        draw_words(painter, ((0.0, LABEL_Y, self.label),), 10, False, theme.second, align=0.0)
        x = self._draw(painter, 0.0, VALUE_LOW, self.text(), 16, True, theme.ink) + 4.0
        if self._value is not None and self.unit:
            draw_words(painter, ((x, UNIT_Y, self.unit),), 10, False, theme.second, align=0.0)
            x += _room(self.unit, 10, False)[0] + 6.0
        # One that has no room is left out: cut, it would be another number.
        if x + _room(self.difference_text(), 11, False)[0] <= self.width():
            self._draw(painter, x, DIFFERENCE_LOW, self.difference_text(), 11, False, self._difference_colour())

    @staticmethod
    def _draw(painter: QPainter, x: float, low: float, text: str, size: int, bold: bool, colour: str) -> float:
        """Draw a text that reaches down to a place, and tell where it ends."""
        wide, drop = _room(text, size, bold)
        painter.setFont(font(size, bold))
        painter.setPen(QColor(colour))
        painter.drawText(QPointF(x, low - drop), text)
        return x + wide

    def _difference_colour(self) -> str:
        if self.difference is None or self.difference_text() == "±0":
            return self.theme.second
        better = (self.difference < 0.0) == (self.figure.better == "less")
        return self.theme.good if better else self.theme.rust


# A dial that is dragged has the same figures again and again.
@lru_cache(maxsize=512)
def _room(text: str, size: int, bold: bool) -> tuple[float, float]:
    """How wide a text is, and how far its letters reach below their line, in pixels."""
    metrics = QFontMetricsF(font(size, bold))
    return metrics.horizontalAdvance(text), metrics.descent()
