"""Sheets whose work takes its time: a button that starts and stops it, how much is done, and how long it will take."""

import time
from collections.abc import Callable
from typing import Any, ClassVar

from PySide6.QtCore import QRectF, QSize
from PySide6.QtGui import QAccessible, QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QPushButton, QSizePolicy, QWidget

from irontrail.app.long_work import LongWork, Proceed
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme, font
from irontrail.app.widgets.described import Described

# What there is so far is shown anew no sooner than this.
BETWEEN_S = 0.2


class ProgressBar(Described, QWidget):
    """How much of something is done, in words and as a bar."""

    ROLE = QAccessible.Role.ProgressBar

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.theme = theme
        self.share, self.words = 0.0, ""
        self.setFixedHeight(26)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("progress")

    def sizeHint(self) -> QSize:
        return QSize(300, 26)

    def set_progress(self, share: float, words: str) -> None:
        """Show another share (0..1) and words."""
        self.share, self.words = share, words
        self.tell()
        self.setAccessibleDescription(words)
        self.update()

    def range_told(self) -> tuple[float, float, float, float]:
        return 100.0 * self.share, 0.0, 100.0, 1.0

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: ARG002
        painter, theme = QPainter(self), self.theme
        painter.setFont(font(10))
        painter.setPen(QColor(theme.second))
        painter.drawText(QRectF(0.0, 0.0, self.width(), 16.0), self.words)
        painter.fillRect(QRectF(0.0, 19.0, self.width(), 3.0), QColor(theme.rule))
        painter.fillRect(QRectF(0.0, 19.0, self.width() * min(max(self.share, 0.0), 1.0), 3.0), QColor(theme.rust))


class WorkingPanel(Panel):
    """A sheet with one piece of long work at a time.

    Subclasses call `add_work`, start with `begin`, and show what comes in `show_partial` and `show_result`. `COUNTS`
    says what the work is counted in, and `GUESSED` that how many it takes is not known before.
    """

    COUNTS: ClassVar[str] = "runs"
    GUESSED: ClassVar[bool] = False

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.work: LongWork[Any] = LongWork(self._on_progress, self._on_done, self._on_failed)
        self.retired.connect(self.work.close)
        self._total, self._since, self._shown = 1, 0.0, 0.0
        self._idle_text = ""
        self._partial: Any = None

    def add_work(self, text: str, start: Callable[[], None], says: str) -> QPushButton:
        """The button that starts the work, and stops it while it is going on; the bar under it.

        `says` is what the work finds out, in a sentence.
        """
        self._idle_text = text
        self.button = QPushButton(text)
        self.button.setProperty("start", "true")
        self.button.setToolTip(f"{says} Press again to stop.")
        self.button.clicked.connect(lambda _checked=False: self.call_off() if self.work.running else start())
        self.column.addWidget(self.button)
        self.bar = ProgressBar(self.theme)
        self.bar.hide()
        self.column.addWidget(self.bar)
        return self.button

    def begin(self, job: Callable[[Callable[[Any, int], bool]], Any], total: int) -> None:
        """Start a job, which is given `tell(partial result, done)`; that says whether to go on."""
        self._total, self._since, self._partial = max(total, 1), time.monotonic(), None

        def work(proceed: Proceed) -> Any:
            def tell(partial: Any, done: int) -> bool:
                self._partial = partial
                return proceed(done)

            return job(tell)

        self.work.start(work)
        self.button.setText("Stop")
        self.bar.show()
        self.bar.set_progress(0.0, f"0 of {'about ' if self.GUESSED else ''}{self._total:,} {self.COUNTS}")

    def foresee(self, total: int) -> None:
        """How many it takes, as the work itself finds out; from its thread."""
        self._total = max(total, 1)

    def call_off(self) -> None:
        """Stop the work; what has been shown of it stays."""
        self.work.call_off()
        self._at_rest()
        self.bar.show()
        self.bar.set_progress(self.bar.share, f"Called off. {self.bar.words.partition(',  ')[0]}")

    def _at_rest(self) -> None:
        self.button.setText(self._idle_text)
        self.bar.hide()

    def _on_progress(self, done: int) -> None:
        total = self._total = max(self._total, done)
        gone = time.monotonic() - self._since
        left = gone * (total - done) / max(done, 1)
        about = "about " if self.GUESSED else ""
        words = f"{done:,} of {about}{total:,} {self.COUNTS}"
        if gone > 1.0 and done < total:
            words += f",  {about}{left:.0f} s left"
        self.bar.set_progress(done / total, words)
        if self._partial is not None and time.monotonic() - self._shown >= BETWEEN_S:
            self._shown = time.monotonic()
            self.show_partial(self._partial)

    def _on_done(self, result: Any) -> None:
        self._at_rest()
        if result is not None:
            self.show_result(result)

    def _on_failed(self, error: Exception) -> None:
        self._at_rest()
        self.session.notice(str(error))

    def show_partial(self, partial: Any) -> None:
        """Show what there is so far; sheets that can, do."""

    def show_result(self, result: Any) -> None:
        """Show what has come of it."""
        raise NotImplementedError
