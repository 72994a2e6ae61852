"""One figure of a run: what it is called, how much, its unit, and the difference to the kept run."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.core.figures import Figure
from irontrail.core.quantity import with_unit


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
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        painter.drawText(QRectF(0, 1, self.width(), 14), Qt.AlignmentFlag.AlignLeft, self.label)
        x = 0.0
        pieces = (
            (self.text(), font(16, True), theme.ink, 4.0),
            (self.unit if self._value is not None else "", font(10), theme.second, 6.0),
            (self.difference_text(), font(11), self._difference_colour(), 0.0),
        )
        for text, face, colour, gap in pieces:
            painter.setFont(face)
            painter.setPen(QColor(colour))
            width = QFontMetricsF(face).horizontalAdvance(text)
            low = Qt.AlignmentFlag.AlignBottom | Qt.AlignmentFlag.AlignLeft
            drop = 0.0 if face.bold() else -1.5
            painter.drawText(QRectF(x, 14 + drop, width + 2, 22), low, text)
            x += width + (gap if text else 0.0)

    def _difference_colour(self) -> str:
        if self.difference is None or self.difference_text() == "±0":
            return self.theme.second
        better = (self.difference < 0.0) == (self.figure.better == "less")
        return self.theme.good if better else self.theme.rust
