"""What is said of a setup: numbered sentences, each with a button that tries its mend, or shows its moment."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QAbstractButton, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from irontrail.app.theme import Theme
from irontrail.app.widgets.painting import draw_ring
from irontrail.app.widgets.term_text import TermText

UNITS = re.compile(r"(\d) (%|(?:mm|Hz|ms|s|m)\b)")


@dataclass(frozen=True)
class Said:
    """One sentence; `mend` is what its button says (empty for none)."""

    says: str
    mend: str = ""
    points: bool = False


class RingButton(QAbstractButton):
    """The number of a sentence; pressed, it shows what the sentence points to."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.setFixedSize(QSize(22, 22))

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        lit = self.isDown() or self.hasFocus()
        draw_ring(painter, self.theme, QPointF(11.0, 11.0), self.text(), filled=lit)


class RemarkList(QWidget):
    """Rows are made once and filled anew, so that a dragged dial does not make widgets at every move."""

    def __init__(self, theme: Theme, mend: Callable[[int], None], show: Callable[[int], None] | None = None) -> None:
        super().__init__()
        self.theme = theme
        self.said: tuple[Said, ...] = ()
        self._mend, self._show = mend, show
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(7)
        self.rows: list[_Row] = []

    def set_said(self, said: tuple[Said, ...]) -> None:
        """Show other sentences."""
        if said == self.said:
            return
        self.said = said
        while len(self.rows) < len(said):
            row = _Row(self.theme, len(self.rows), self._mend, self._show)
            self._column.addWidget(row)
            self.rows.append(row)
        for i, row in enumerate(self.rows):
            row.setVisible(i < len(said))
            if i < len(said):
                row.fill(said[i])


class _Row(QWidget):
    """A ring, a sentence, and under it the button."""

    def __init__(
        self, theme: Theme, place: int, mend: Callable[[int], None], show: Callable[[int], None] | None
    ) -> None:
        super().__init__()
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        self.ring = RingButton(theme)
        self.ring.setText(str(place + 1))
        if show is not None:
            self.ring.setCursor(Qt.CursorShape.PointingHandCursor)
            self.ring.clicked.connect(lambda: show(place))
        line.addWidget(self.ring, 0, Qt.AlignmentFlag.AlignTop)
        column = QVBoxLayout()
        column.setSpacing(3)
        self.words = TermText(theme)
        column.addWidget(self.words)
        self.mend = QPushButton()
        self.mend.setProperty("small", "true")
        self.mend.clicked.connect(lambda: mend(place))
        column.addWidget(self.mend, 0, Qt.AlignmentFlag.AlignLeft)
        line.addLayout(column, 1)

    def fill(self, said: Said) -> None:
        """Show a sentence and its mend."""
        # A figure and its unit stay on one line.
        self.words.set_text(UNITS.sub("\\1\u00a0\\2", said.says))
        self.ring.setAccessibleName(f"finding {self.ring.text()}: {said.says}")
        self.ring.setToolTip("Show this moment" if said.points else "")
        self.ring.setEnabled(said.points)
        self.mend.setVisible(bool(said.mend))
        self.mend.setText(f"Try: {said.mend}")
        self.mend.setAccessibleName(f"try {said.mend}")
