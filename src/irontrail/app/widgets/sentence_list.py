"""Numbered sentences; the one that is deciding now is lit, and each says how often it decides."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.painting import draw_side_sign

NUMBER_WIDTH, SHARE_WIDTH, GAP = 26.0, 46.0, 9.0


@dataclass(frozen=True)
class Line:
    """A sentence; `share` is how often it decides (0..1), None for one that is always done."""

    says: str
    share: float | None = None
    light: bool | None = None


class SentenceList(Described, QWidget):
    """Paints the lines, as high as they need."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.lines: tuple[Line, ...] = ()
        self.lit: int | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The loop in words")

    def set_lines(self, lines: tuple[Line, ...]) -> None:
        """Show other sentences."""
        if lines != self.lines:
            self.lines = lines
            self.setAccessibleDescription(" ".join(line.says for line in lines))
            self.updateGeometry()
            self.setFixedHeight(self._height())
            self.update()

    def set_lit(self, row: int | None) -> None:
        """Light the sentence that decides now."""
        if row != self.lit:
            self.lit = row
            self.update()

    def sizeHint(self) -> QSize:
        return QSize(300, self._height())

    def _text_rect(self, line: Line) -> QRectF:
        room = QRectF(NUMBER_WIDTH, 0.0, self.width() - NUMBER_WIDTH - SHARE_WIDTH, 400.0)
        flags = int(Qt.TextFlag.TextWordWrap)
        return QFontMetricsF(font(12)).boundingRect(room, flags, line.says)

    def _height(self) -> int:
        return int(sum(self._text_rect(line).height() + GAP for line in self.lines)) + 4

    def resizeEvent(self, event: object) -> None:  # noqa: ARG002
        self.setFixedHeight(self._height())

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme, y = QPainter(self), self.theme, 0.0
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, line in enumerate(self.lines):
            height = self._text_rect(line).height()
            row = QRectF(0.0, y, self.width(), height + GAP - 2.0)
            if i == self.lit:
                painter.setPen(Qt.PenStyle.NoPen)
                painter.setBrush(QColor(theme.card))
                painter.drawRoundedRect(row, 4.0, 4.0)
                painter.setBrush(QColor(theme.rust))
                painter.drawRect(QRectF(0.0, y, 3.0, row.height()))
            painter.setFont(font(12, i == self.lit))
            middle = QPointF(13.0, y + 10.5)
            if line.share is None:
                painter.setPen(QColor(theme.second))
                painter.drawText(QRectF(4.0, y + 2.0, 18.0, 17.0), Qt.AlignmentFlag.AlignCenter, str(i + 1))
            else:
                draw_side_sign(painter, theme, middle, str(i + 1), line.light)
            never = line.share == 0.0
            painter.setFont(font(12))
            painter.setPen(QColor(theme.second if never else theme.ink))
            room = QRectF(NUMBER_WIDTH, y + 2.0, self.width() - NUMBER_WIDTH - SHARE_WIDTH, height + 2.0)
            painter.drawText(room, int(Qt.TextFlag.TextWordWrap), line.says)
            if line.share is not None:
                self._paint_share(painter, line, y)
            y += height + GAP

    def _paint_share(self, painter: QPainter, line: Line, y: float) -> None:
        """How often it decides: in percent over a bar, or that it never does."""
        share, theme = line.share or 0.0, self.theme
        words = "never" if share == 0.0 else f"{100 * share:.0f} %" if share >= 0.01 else "< 1 %"
        painter.setFont(font(11, share == 0.0))
        painter.setPen(QColor(theme.rust if share == 0.0 else theme.ink))
        box = QRectF(self.width() - SHARE_WIDTH, y + 1.0, SHARE_WIDTH - 2.0, 14.0)
        painter.drawText(box, Qt.AlignmentFlag.AlignRight, words)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(theme.rule))
        bar = QRectF(box.left() + 6.0, y + 16.0, box.width() - 6.0, 3.0)
        painter.drawRect(bar)
        painter.setBrush(QColor(theme.second if line.light is None else theme.brass if line.light else theme.slate))
        painter.drawRect(QRectF(bar.left(), bar.top(), bar.width() * share, 3.0))
