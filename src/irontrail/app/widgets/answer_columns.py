"""How often each of some values goes well: a column each, today's in rust."""

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.core.causes.questions import Column

HEIGHT, LOW, TOP, GAP = 118, 34.0, 16.0, 4.0


class AnswerColumns(Described, QWidget):
    """Paints the columns: as high as the share of starts that go well, with the values under them."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.columns: tuple[Column, ...] = ()
        self.setFixedHeight(HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("How often each value goes well")

    def sizeHint(self) -> QSize:
        return QSize(300, HEIGHT)

    def set_columns(self, columns: tuple[Column, ...]) -> None:
        """Show other values."""
        self.columns = columns
        self.setVisible(bool(columns))
        self.setAccessibleDescription(", ".join(f"{each.label}: {100 * each.share:.0f} %" for each in columns))
        self.update()

    def value_told(self) -> str:
        """Each value and its share."""
        return self.accessibleDescription()

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if not self.columns:
            return
        wide = self.width() / len(self.columns)
        room = self.height() - LOW - TOP
        for i, each in enumerate(self.columns):
            column = QRectF(i * wide + GAP, TOP, wide - 2 * GAP, room)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(theme.rule))
            painter.drawRect(column)
            full = QRectF(column.left(), column.bottom() - each.share * room, column.width(), each.share * room)
            painter.setBrush(QColor(theme.rust if each.now else theme.slate))
            painter.drawRect(full)
            painter.setPen(QColor(theme.ink))
            painter.setFont(font(10, each.now))
            over = QRectF(i * wide, 0.0, wide, TOP - 2.0)
            painter.drawText(over, Qt.AlignmentFlag.AlignCenter, f"{10 * each.share:.0f}")
            label = QRectF(i * wide, self.height() - LOW + 2.0, wide, LOW - 2.0)
            flags = int(Qt.AlignmentFlag.AlignHCenter | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
            painter.drawText(label, flags, each.label)
