"""A line over the mat that says what went wrong, or offers something, until it is put away."""

import re
from collections.abc import Callable, Iterator, Mapping

from PySide6.QtCore import QElapsedTimer, Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy

from irontrail.app.widgets.label import Label

# What has stood for so long goes when the person goes on with the work.
READ_MS = 4000
LONG_WORD, MOST_LINES = 30, 5


class Notice(QFrame):
    """Shows a text, and buttons for what can be done about it."""

    def __init__(self) -> None:
        super().__init__()
        self.setProperty("role", "notice")
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(14, 6, 10, 6)
        self.words = Label()
        self.words.setWordWrap(True)
        # However long a file's name is, the window does not grow for it.
        self.words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.words.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self.away = QPushButton("Close")
        self.away.setToolTip("Put this notice away (Esc)")
        self.away.clicked.connect(self.hide)
        # A long text is scrolled in so many lines: the window stays to be seen.
        self._room = QScrollArea()
        self._room.setFrameShape(QFrame.Shape.NoFrame)
        self._room.setWidgetResizable(True)
        self._room.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._room.setWidget(self.words)
        self._room.setAccessibleName("notice")
        for part in (self._room, self._room.viewport(), self.words):
            part.setAutoFillBackground(False)
        self._room.setStyleSheet("background: transparent;")
        self._row.addWidget(self._room, 1)
        self._row.addWidget(self.away)
        self.offered: dict[str, QPushButton] = {}
        self._since = QElapsedTimer()
        self._of_project = False
        self.hide()

    def ask(self, text: str, acts: Mapping[str, Callable[[], object]]) -> None:
        """Show a text with acts that are about the project that is open, and go with it."""
        self.say(text, acts)
        self._of_project = True

    def forget_project(self) -> None:
        """Another project is open: what was asked about the one before is asked no more."""
        if self._of_project:
            self._take_back()
            self.hide()

    def say(self, text: str, acts: Mapping[str, Callable[[], object]] | None = None) -> None:
        """Show a text, with a button for each of some acts; pressing one puts the notice away."""
        self._take_back()
        self.offered = {name: self._button(name, act) for name, act in (acts or {}).items()}
        self.words.setText(_breakable(text))
        self.setAccessibleName(text)
        self._since.start()
        # Before it is seen and, as only then its width is known for sure, after.
        self._fit()
        self.show()
        self._fit()

    def _take_back(self) -> None:
        """What was offered is offered no more."""
        for button in self.offered.values():
            self._row.removeWidget(button)
            button.hide()
            button.deleteLater()
        self.offered, self._of_project = {}, False

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """As high as the text, up to so many lines."""
        most = MOST_LINES * self.fontMetrics().lineSpacing()
        needed = self.words.heightForWidth(max(self._room.viewport().width(), 1))
        # Scrolled by keys too, where there is more than is shown.
        self._room.setFocusPolicy(Qt.FocusPolicy.StrongFocus if needed > most else Qt.FocusPolicy.NoFocus)
        self._room.setFixedHeight(max(min(needed, most), self.fontMetrics().lineSpacing()))

    def go_on(self) -> None:
        """The person goes on with the work: what has been read by now, and asks nothing, is put away."""
        if self.isVisible() and not self.offered and self._since.elapsed() > READ_MS:
            self.hide()

    def _button(self, name: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(name)

        def do() -> None:
            self.hide()
            act()

        button.clicked.connect(do)
        self._row.insertWidget(self._row.count() - 1, button)
        return button


def _breakable(text: str) -> str:
    """The text with places where a long path, or a long name in it, may go on in the next line."""
    words = text.split(" ")
    return " ".join("\u200b".join(_pieces(word)) if len(word) > LONG_WORD else word for word in words)


def _pieces(word: str) -> Iterator[str]:
    for part in re.findall(r"[^/]*/|[^/]+", word):
        yield from (part[i : i + LONG_WORD] for i in range(0, len(part), LONG_WORD))
