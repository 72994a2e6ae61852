"""A sentence whose terms have a dotted underline: pointed at, pressed or chosen by keys, one opens its meaning."""

from PySide6.QtCore import QEvent, QPoint, QPointF, QRect, QRectF, QSize, Qt
from PySide6.QtGui import (
    QAbstractTextDocumentLayout,
    QColor,
    QHelpEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPalette,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)  # fmt: skip
from PySide6.QtWidgets import QSizePolicy, QToolTip, QWidget

from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described
from irontrail.app.widgets.keys import Key, Keyed
from irontrail.core.terms import TERMS, terms_in

SIZE = 11


class TermText(Described, Keyed, QWidget):
    """Wraps its text, as high as it needs."""

    WHERE = "In a sentence"
    KEYS = (
        Key(("Left", "Right"), "choose a word", lambda view, name: view.choose(1 if name == "Right" else -1)),
        Key(("Space", "Return"), "open its meaning", lambda view, _name: view.open_chosen()),
    )

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.terms: tuple[tuple[str, int, int], ...] = ()
        self.chosen = 0
        self._document = QTextDocument(self)
        self._document.setDocumentMargin(0.0)
        self._document.setDefaultFont(font(SIZE))
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.setMouseTracking(True)
        self.setToolTip("Words with a dotted line open their meaning.")

    def text(self) -> str:
        """What it says."""
        return self._document.toPlainText()

    def set_text(self, text: str) -> None:
        """Say something else."""
        self.terms, self.chosen = terms_in(text), 0
        self._document.setPlainText(text)
        for term, start, end in self.terms:
            cursor = QTextCursor(self._document)
            cursor.setPosition(start)
            cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
            form = QTextCharFormat()
            form.setAnchor(True)
            form.setAnchorHref(term)
            form.setUnderlineStyle(QTextCharFormat.UnderlineStyle.DotLine)
            cursor.mergeCharFormat(form)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus if self.terms else Qt.FocusPolicy.NoFocus)
        self.setAccessibleName(text)
        self.setAccessibleDescription(" ".join(f"{term}: {TERMS[term]}" for term, _, _ in self.terms))
        self.updateGeometry()
        self.update()

    # --- as high as it needs

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        self._document.setTextWidth(width)
        return int(self._document.size().height()) + 2

    def sizeHint(self) -> QSize:
        width = max(self.width(), 120)
        return QSize(width, self.heightForWidth(width))

    def minimumSizeHint(self) -> QSize:
        return QSize(80, 16)

    # --- what is chosen

    def choose(self, step: int) -> None:
        """Choose another of its terms by keys."""
        if self.terms:
            self.chosen = (self.chosen + step) % len(self.terms)
            self.update()

    def open_chosen(self) -> None:
        """Open the meaning of the term that is chosen."""
        if self.terms:
            term, start, _ = self.terms[self.chosen]
            self._open(term, self._place_of(start))

    def _open(self, term: str, at: QPoint) -> None:
        QToolTip.showText(self.mapToGlobal(at), f"{term}: {TERMS[term]}", self)

    def _place_of(self, position: int) -> QPoint:
        """Under a character."""
        block = self._document.findBlock(position)
        within = position - block.position()
        line = block.layout().lineForTextPosition(within)
        at = self._document.documentLayout().blockBoundingRect(block).topLeft() + line.position()
        x: float = line.cursorToX(within)[0]  # type: ignore[index]
        return QPoint(int(at.x() + x), int(at.y() + line.height()))

    def _term_at(self, at: QPointF) -> str:
        self._document.setTextWidth(self.width())
        return self._document.documentLayout().anchorAt(at)

    # --- events

    def event(self, event: QEvent) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            term = self._term_at(QPointF(event.pos()))
            if term:
                self._open(term, event.pos())
                return True
        return super().event(event)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        over = bool(self._term_at(event.position()))
        self.setCursor(Qt.CursorShape.WhatsThisCursor if over else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        term = self._term_at(event.position())
        if term:
            self.chosen = [each for each, _, _ in self.terms].index(term)
            self._open(term, event.position().toPoint())
            self.update()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.take_key(event):
            super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        self._document.setTextWidth(self.width())
        context = QAbstractTextDocumentLayout.PaintContext()
        context.palette.setColor(QPalette.ColorRole.Text, QColor(self.theme.ink))
        painter = QPainter(self)
        self._document.documentLayout().draw(painter, context)
        if self.hasFocus() and self.terms:
            _, start, end = self.terms[self.chosen]
            first, last = self._place_of(start), self._place_of(end)
            height = int(self._document.documentLayout().blockBoundingRect(self._document.firstBlock()).height())
            height //= max(1, self._document.firstBlock().layout().lineCount())
            right = last.x() if last.y() == first.y() else self.width()
            painter.setPen(QColor(self.theme.rust))
            word = QRect(first.x() - 2, first.y() - height, right - first.x() + 4, height)
            painter.drawRoundedRect(QRectF(word), 3.0, 3.0)
