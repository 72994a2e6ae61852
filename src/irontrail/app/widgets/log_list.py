"""The list of kept runs: a model and a delegate, so that a thousand of them scroll as quickly as ten."""

from dataclasses import dataclass

import numpy as np
from PySide6.QtCore import (
    QAbstractListModel,
    QModelIndex,
    QPersistentModelIndex,
    QPointF,
    QRectF,
    QSize,
    Qt,
    Signal,
    SignalInstance,
)
from PySide6.QtGui import (
    QColor,
    QFocusEvent,
    QFontMetricsF,
    QKeyEvent,
    QPainter,
    QPaintEvent,
    QPolygonF,
    QResizeEvent,
)  # fmt: skip
from PySide6.QtWidgets import QAbstractItemView, QListView, QStyle, QStyledItemDelegate, QStyleOptionViewItem

from irontrail.app.theme import KEPT_DASHES, Theme, font, pen
from irontrail.app.widgets.keys import Key, Keyed
from irontrail.app.widgets.painting import draw_focus

ROW = 52
Index = QModelIndex | QPersistentModelIndex


@dataclass(frozen=True)
class LogEntry:
    """A row: number, what was changed, figures in short, note, star, its dash on the mat, today's figures if others."""

    number: int
    changed: str
    figures: str
    note: str
    star: bool
    dash: int | None
    today: str


class LogModel(QAbstractListModel):
    """The entries, newest first."""

    def __init__(self) -> None:
        super().__init__()
        self.entries: tuple[LogEntry, ...] = ()

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: N802, B008
        return 0 if parent.isValid() else len(self.entries)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        entry = self.entries[index.row()]
        if role == Qt.ItemDataRole.UserRole:
            return entry
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.AccessibleTextRole):
            return f"run {entry.number}{', starred' if entry.star else ''}: {entry.changed}; {entry.figures}"
        if role == Qt.ItemDataRole.ToolTipRole:
            return f"{entry.changed}\n{entry.note}".strip()
        return None


class LogList(Keyed, QListView):
    """Says which run is chosen, and what is asked of it by key."""

    chosen = Signal(QModelIndex)
    taken = Signal(int)
    dropped = Signal(int)
    starred = Signal(int)
    scrolled = Signal()
    WHERE = "In the logbook"
    KEYS = (
        Key(("Return",), "make a run's settings the current ones", lambda log, _: log.ask(log.taken)),
        Key(("S",), "star a run", lambda log, _: log.ask(log.starred)),
        Key(("Del",), "delete a run", lambda log, _: log.ask(log.dropped)),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self._model = LogModel()
        self.setModel(self._model)
        self._delegate = _Delegate(self)
        self.setItemDelegate(self._delegate)
        self.setUniformItemSizes(True)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFrameShape(QListView.Shape.NoFrame)
        self.setMinimumHeight(4 * ROW)
        self.setAccessibleName("Logbook of kept runs")
        self.setToolTip("The runs you have kept, the newest first; Return takes one's settings")
        self.setStyleSheet("background: transparent;")
        self.selectionModel().currentChanged.connect(lambda now, _before: self.chosen.emit(now))
        self.verticalScrollBar().valueChanged.connect(lambda _value: self.scrolled.emit())
        self.doubleClicked.connect(lambda index: self.taken.emit(self._model.entries[index.row()].number))

    @property
    def entries(self) -> tuple[LogEntry, ...]:
        return self._model.entries

    def set_entries(self, entries: tuple[LogEntry, ...]) -> None:
        """Show other runs; the chosen one stays chosen."""
        if entries == self._model.entries:
            return
        number = self.current_number()
        same_length = len(entries) == len(self._model.entries)
        if same_length:
            self._model.entries = entries
            self._model.dataChanged.emit(self._model.index(0), self._model.index(max(len(entries) - 1, 0)))
        else:
            self._model.beginResetModel()
            self._model.entries = entries
            self._model.endResetModel()
        self.choose(number if any(entry.number == number for entry in entries) else None)

    def choose(self, number: int | None) -> None:
        """Choose a run, or the newest."""
        row = next((i for i, entry in enumerate(self.entries) if entry.number == number), 0)
        if self.entries and self.currentIndex().row() != row:
            self.setCurrentIndex(self._model.index(row))

    def current_number(self) -> int | None:
        """The chosen run's number; None if there is none."""
        row = self.currentIndex().row()
        return self.entries[row].number if 0 <= row < len(self.entries) else None

    def visible_numbers(self) -> list[int]:
        """The runs in sight, from the top."""
        top = self.indexAt(self.viewport().rect().topLeft()).row()
        if top < 0:
            return []
        count = self.viewport().height() // ROW + 2
        return [entry.number for entry in self.entries[top : top + count]]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def ask(self, what: SignalInstance) -> bool:
        """Ask something of the chosen run, if there is one."""
        number = self.current_number()
        if number is None:
            return False
        what.emit(number)
        return True

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.scrolled.emit()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.hasFocus():
            draw_focus(QPainter(self.viewport()), self.theme, self.viewport().rect())

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self.viewport().update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.viewport().update()


class _Delegate(QStyledItemDelegate):
    """Draws a row: number and star, what was changed, figures, note."""

    def __init__(self, view: LogList) -> None:
        super().__init__(view)
        self._view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: Index) -> QSize:  # noqa: ARG002
        return QSize(200, ROW)

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        entry, theme = index.data(Qt.ItemDataRole.UserRole), self._view.theme
        box = QRectF(option.rect)
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(box, QColor(theme.sheet))
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        if chosen:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(theme.card))
            painter.drawRoundedRect(box.adjusted(0, 1, -2, -1), 4, 4)
            painter.setBrush(QColor(theme.rust))
            painter.drawRect(QRectF(box.left(), box.top() + 1, 3, box.height() - 2))
        if entry.star:
            _draw_star(painter, QPointF(box.left() + 14, box.top() + 13), theme)
        painter.setFont(font(12, True))
        painter.setPen(QColor(theme.ink))
        number = QRectF(box.left() + 22, box.top() + 4, 30, 17)
        painter.drawText(number, Qt.AlignmentFlag.AlignRight, str(entry.number))
        if entry.dash is not None:
            painter.setPen(pen(theme.kept[entry.dash], 2.0, KEPT_DASHES[entry.dash]))
            y = box.top() + 30
            painter.drawLine(QPointF(box.left() + 10, y), QPointF(box.left() + 52, y))
        left, width = box.left() + 60, box.width() - 66
        lines = ((entry.changed, theme.ink, False), (entry.figures, theme.ink, True), (entry.note, theme.second, False))
        for i, (words, colour, bold) in enumerate(lines):
            made = font(11, bold)
            painter.setFont(made)
            painter.setPen(QColor(colour))
            if i == 1 and entry.today:
                words += f" (today {entry.today})"
                painter.setPen(QColor(theme.rust))
            shown = QFontMetricsF(made).elidedText(words, Qt.TextElideMode.ElideRight, width)
            painter.drawText(QRectF(left, box.top() + 3 + 15 * i, width, 15), Qt.AlignmentFlag.AlignLeft, shown)
        painter.setPen(QColor(theme.rule))
        painter.drawLine(QPointF(left, box.bottom()), QPointF(box.right(), box.bottom()))
        painter.restore()


def _draw_star(painter: QPainter, at: QPointF, theme: Theme) -> None:
    angles = np.linspace(-np.pi / 2, 1.5 * np.pi, 10, endpoint=False)
    radii = np.where(np.arange(10) % 2 == 0, 6.5, 2.8)
    points = [at + QPointF(float(r * np.cos(a)), float(r * np.sin(a))) for r, a in zip(radii, angles, strict=True)]
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(theme.brass))
    painter.drawPolygon(QPolygonF(points))
