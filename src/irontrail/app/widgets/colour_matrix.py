"""Which line on which surround: a small matrix of differences, with a sign for what can be steered by."""

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import ARROWS, Key, Keyed, way

LABEL = 58.0
TOP = 22.0
ROW = 27.0


@dataclass(frozen=True)
class Cell:
    """One pair: how far apart the readings are, and whether they can be steered by (yes, hardly, no)."""

    apart: float
    verdict: str


class ColourMatrix(Keyed, Described, QWidget):
    """Lines down, surrounds across; says `chosen(line, surround)` by their places."""

    chosen = Signal(int, int)
    WHERE = "On the colours"
    KEYS = (
        Key(ARROWS, "from pair to pair", lambda view, name: view.go(*way(name))),
        Key(("Return",), "put that line on that mat", lambda view, _: view.chosen.emit(*view._at)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.colours: tuple[tuple[str, str], ...] = ()
        self.cells: tuple[tuple[Cell, ...], ...] = ()
        self._at = (0, 0)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip("How far apart a line and a mat read: press a pair to try it, or use the arrows and Return.")
        self.setMouseTracking(True)
        self.setAccessibleName("Which line colours can be told from which surrounds")

    def sizeHint(self) -> QSize:
        return QSize(300, int(TOP + ROW * len(self.colours)) + 2)

    def set_cells(self, colours: tuple[tuple[str, str], ...], cells: tuple[tuple[Cell, ...], ...]) -> None:
        """Show other colours (name, sRGB) and pairs."""
        self.colours, self.cells = colours, cells
        self.setFixedHeight(int(TOP + ROW * len(colours)) + 2)
        self._describe()
        self.update()

    def says(self, line: int, surround: int) -> str:
        """A pair in words."""
        cell = self.cells[line][surround]
        can = {"yes": "can be followed", "hardly": "hardly", "no": "cannot be told apart"}[cell.verdict]
        return f"{self.colours[line][0]} line on {self.colours[surround][0]}: {cell.apart:.0f} apart, {can}"

    def cell_rect(self, line: int, surround: int) -> QRectF:
        """Where a pair is drawn."""
        width = (self.width() - LABEL) / max(len(self.colours), 1)
        return QRectF(LABEL + surround * width, TOP + line * ROW, width, ROW)

    def _cell_at(self, at: QPointF) -> tuple[int, int] | None:
        for line in range(len(self.colours)):
            for surround in range(len(self.colours)):
                if self.cell_rect(line, surround).contains(at):
                    return line, surround
        return None

    def _describe(self) -> None:
        if self.cells:
            self.setAccessibleDescription(self.says(*self._at))

    # --- events

    def mousePressEvent(self, event: QMouseEvent) -> None:
        at = self._cell_at(event.position())
        if at is not None:
            self._at = at
            self.update()
            self.chosen.emit(*at)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        at = self._cell_at(event.position())
        if at is not None:
            QToolTip.showText(event.globalPosition().toPoint(), self.says(*at), self)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def go(self, right: float, up: float) -> None:
        """Choose a neighbour pair."""
        last, (line, surround) = len(self.colours) - 1, self._at
        self._at = (min(max(line - int(up), 0), last), min(max(surround + int(right), 0), last))
        self._describe()
        self.tell()
        self.update()

    # --- painting

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, (name, colour) in enumerate(self.colours):
            swatch = self.cell_rect(0, i)
            painter.setPen(QPen(QColor(theme.rule), 1.0))
            painter.setBrush(QColor(colour))
            painter.drawRoundedRect(QRectF(swatch.center().x() - 8, 3, 16, 14), 3, 3)
            y = TOP + i * ROW
            painter.drawRoundedRect(QRectF(1, y + 7, 12, 13), 3, 3)
            painter.setPen(QColor(theme.ink))
            painter.setFont(font(11))
            painter.drawText(QRectF(17, y, LABEL - 17, ROW), Qt.AlignmentFlag.AlignVCenter, name)
        for line, row in enumerate(self.cells):
            for surround, cell in enumerate(row):
                self._paint_cell(painter, cell, self.cell_rect(line, surround), line == surround)
        if self.hasFocus() and self.cells:
            painter.setPen(QPen(QColor(theme.rust), 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(self.cell_rect(*self._at).adjusted(1, 1, -1, -1), 4, 4)

    def _paint_cell(self, painter: QPainter, cell: Cell, box: QRectF, same: bool) -> None:
        """The difference: framed where it can be steered by, in brackets where hardly, a dash where not."""
        theme = self.theme
        if same:
            return
        if cell.verdict == "yes":
            painter.setPen(QPen(QColor(theme.good), 1.2))
            painter.setBrush(QColor(theme.card))
            painter.drawRoundedRect(box.adjusted(2, 2, -2, -2), 4, 4)
        painter.setFont(font(11, cell.verdict == "yes"))
        painter.setPen(
            QColor(
                theme.good if cell.verdict == "yes" else theme.brass_text if cell.verdict == "hardly" else theme.second
            )
        )
        words = (
            f"{cell.apart:.0f}" if cell.verdict == "yes" else f"({cell.apart:.0f})" if cell.verdict == "hardly" else "–"
        )
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
