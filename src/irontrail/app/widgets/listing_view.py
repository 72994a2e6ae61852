"""A listing to read: the line that decides now lit, lines that have changed marked at their left."""

from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QTextCursor, QTextFormat
from PySide6.QtWidgets import QPlainTextEdit, QTextEdit

from irontrail.app.theme import Theme

MARK_PX = 3


class ListingView(QPlainTextEdit):
    """Text that cannot be typed into, in letters of one width."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.lit: tuple[int, ...] = ()
        self.changed: tuple[int, ...] = ()
        self.setReadOnly(True)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        self.setProperty("listing", "true")
        self.setAccessibleName("Listing of the program")
        self.setToolTip("The program as it is now; the line that decides is lit while it plays.")

    def sizeHint(self) -> QSize:
        return QSize(300, 420)

    def set_listing(self, text: str, changed: tuple[int, ...]) -> None:
        """Show another text, and which of its lines have changed; where it is looked at stays."""
        self.changed = changed
        if text != self.toPlainText():
            across, down = self.horizontalScrollBar().value(), self.verticalScrollBar().value()
            self.setPlainText(text)
            self.horizontalScrollBar().setValue(across)
            self.verticalScrollBar().setValue(down)
        self._light()
        self.viewport().update()

    def set_lit(self, lines: tuple[int, ...], in_sight: bool = False) -> None:
        """Light the lines that decide now; `in_sight` brings the first of them there if it is out of it."""
        if lines == self.lit:
            return
        self.lit = lines
        self._light()
        if in_sight:
            self.show_lit()

    def show_lit(self) -> None:
        """Scroll to the first line that is lit, if it is out of sight."""
        if self.lit:
            across = self.horizontalScrollBar().value()
            self.setTextCursor(QTextCursor(self.document().findBlockByNumber(self.lit[0])))
            if not self.viewport().rect().contains(self.cursorRect()):
                self.centerCursor()
            self.horizontalScrollBar().setValue(across)

    def _light(self) -> None:
        found = []
        for line in self.lit:
            block = self.document().findBlockByNumber(line)
            if block.isValid():
                each = QTextEdit.ExtraSelection()
                each.cursor = QTextCursor(block)
                ground = QColor(self.theme.rust)
                ground.setAlphaF(0.22)
                each.format.setBackground(ground)
                each.format.setProperty(QTextFormat.Property.FullWidthSelection, True)
                found.append(each)
        self.setExtraSelections(found)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        painter = QPainter(self.viewport())
        for line in self.changed:
            block = self.document().findBlockByNumber(line)
            if block.isValid() and block.isVisible():
                box = self.blockBoundingGeometry(block).translated(self.contentOffset())
                painter.fillRect(QRect(0, round(box.top()), MARK_PX, round(box.height())), QColor(self.theme.slate))
