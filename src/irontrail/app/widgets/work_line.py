"""The way through the work, drawn as a line with its stops."""

from collections.abc import Mapping
from enum import Enum
from itertools import pairwise

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QAbstractButton, QVBoxLayout, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.keys import Key, Keyed, way

WIDTH = 92
STOP_HEIGHT, LEAST_STOP_HEIGHT = 66, 46
LINE_X = 22.0


class State(Enum):
    """How far the work at a stop has come."""

    READY = "ready"
    ATTENTION = "needs attention"
    EMPTY = "nothing here yet"


class Stop(Keyed, QAbstractButton):
    """One stop: its mark on the line, its name, and two words where it needs attention."""

    WHERE = "On the work line"
    KEYS = (Key(("Up", "Down"), "the next stop", lambda stop, name: stop._line.go(stop, -int(way(name)[1]))),)

    def __init__(self, name: str, line: "WorkLine") -> None:
        super().__init__(line)
        self._line = line
        self.state, self.words = State.READY, ""
        self.setText(name)
        self.setCheckable(True)
        self.setFixedWidth(WIDTH)
        self.setMinimumHeight(LEAST_STOP_HEIGHT)
        self.setMaximumHeight(STOP_HEIGHT)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(WIDTH, STOP_HEIGHT)

    def set_state(self, state: State, words: str) -> None:
        """Show how far the work has come here."""
        if (state, words) == (self.state, self.words) and self.accessibleName():
            return
        self.state, self.words = state, words
        described = f"{self.text()}, {words or state.value}"
        self.setAccessibleName(described)
        self.setToolTip(described)
        self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        theme, painter = self._line.theme, QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(LINE_X, self.height() / 2)
        if self.isChecked():
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(theme.rust))
            painter.drawEllipse(middle, 10.0, 10.0)
            painter.setBrush(QColor(theme.sheet))
            painter.drawEllipse(middle, 3.5, 3.5)
        elif self.state is State.READY:
            painter.setPen(QPen(QColor(theme.sheet), 2.0))
            painter.setBrush(QColor(theme.ink))
            painter.drawEllipse(middle, 7.5, 7.5)
        else:
            attention = self.state is State.ATTENTION
            painter.setPen(QPen(QColor(theme.rust if attention else theme.edge), 3.0))
            painter.setBrush(QColor(theme.sheet))
            painter.drawEllipse(middle, 6.5, 6.5)
        self._paint_name(painter, theme)

    def _paint_name(self, painter: QPainter, theme: Theme) -> None:
        quiet = self.state is State.EMPTY and not self.isChecked()
        painter.setFont(font(12, self.isChecked()))
        painter.setPen(QColor(theme.second if quiet else theme.ink))
        box = QRectF(LINE_X + 15, self.height() / 2 - 10, WIDTH - LINE_X - 15, 20)
        painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, self.text())
        if self.state is State.ATTENTION and self.words:
            painter.setFont(font(10))
            painter.setPen(QColor(theme.rust))
            painter.drawText(box.translated(0, 16), Qt.AlignmentFlag.AlignVCenter, self.words)
        if self.hasFocus():
            painter.setPen(QPen(QColor(theme.rust), 1.0, Qt.PenStyle.DotLine))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(box.adjusted(-3, 0, -2, 0), 4, 4)


class WorkLine(QWidget):
    """The stops in the order the work is done; any can be visited at any time."""

    chosen = Signal(str)

    def __init__(self, names: tuple[str, ...], theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setFixedWidth(WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 6, 0, 6)
        column.setSpacing(0)
        self.stops: dict[str, Stop] = {}
        for name in names:
            stop = Stop(name, self)
            stop.clicked.connect(lambda _checked=False, name=name: self.chosen.emit(name))
            column.addWidget(stop, 100)
            self.stops[name] = stop
        column.addStretch(1)
        one_of(self, self.stops.values())

    def set_current(self, name: str) -> None:
        """Show where we are."""
        self.stops[name].setChecked(True)
        self.update()

    def set_states(self, states: Mapping[str, tuple[State, str]]) -> None:
        """Show how far the work has come at each stop."""
        before = [stop.state for stop in self.stops.values()]
        for name, (state, words) in states.items():
            self.stops[name].set_state(state, words)
        if before != [stop.state for stop in self.stops.values()]:
            self.update()

    def go(self, stop: "Stop", by: int) -> None:
        """Visit the neighbour of a stop."""
        names = list(self.stops)
        place = min(max(names.index(stop.text()) + by, 0), len(names) - 1)
        target = self.stops[names[place]]
        target.setFocus()
        target.click()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(self.theme.sheet))
        stops = list(self.stops.values())
        for above, below in pairwise(stops):
            dark = above.state is not State.EMPTY and below.state is not State.EMPTY
            painter.setPen(QPen(QColor(self.theme.ink if dark else self.theme.rule), 3.0))
            painter.drawLine(
                QPointF(LINE_X, above.geometry().center().y()), QPointF(LINE_X, below.geometry().center().y())
            )
        painter.setPen(QColor(self.theme.rule))
        painter.drawLine(self.width() - 1, 0, self.width() - 1, self.height())
