"""Work on one file at a time, beside the interface: how far it is, and a button that calls it off."""

import time
from collections.abc import Callable
from typing import Any, TypeVar

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from irontrail.app.long_work import LongWork, Proceed
from irontrail.app.theme import Theme
from irontrail.app.working import ProgressBar
from irontrail.core.errors import CalledOff, Check

GivenT = TypeVar("GivenT")
# What is done sooner is not spoken of.
SHOWN_AFTER_MS = 150
PER_MILLE = 1000
# How far it is, is told no more often.
BETWEEN_S = 0.02


class Underway(QWidget):
    """A line with a bar and Stop, to be seen while something is being worked on."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self.work: LongWork[Any] = LongWork(self._on_progress, self._on_done, self._on_failed)
        self._done: Callable[[Any], None] = lambda _given: None
        self._failed: Callable[[Exception], None] = lambda _error: None
        self._words = ""
        self.bar = ProgressBar(theme)
        self.stop = QPushButton("Stop")
        self.stop.setToolTip("Leave what is being worked on")
        self.stop.setProperty("small", "true")
        self.stop.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.stop.clicked.connect(self.call_off)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.bar)
        row.addWidget(self.stop)
        self._soon = QTimer(self, singleShot=True, interval=SHOWN_AFTER_MS)
        self._soon.timeout.connect(self.show)
        self.hide()

    def begin(
        self,
        words: str,
        job: Callable[[Check], GivenT],
        done: Callable[[GivenT], None],
        failed: Callable[[Exception], None],
    ) -> None:
        """Start a job, which is given a `Check`; the one before is called off, of which nothing more is heard."""

        def work(proceed: Proceed) -> GivenT:
            so_far, told_s = 0, 0.0

            def check(share: float | None = None, /) -> None:
                nonlocal so_far, told_s
                so_far = so_far if share is None else round(PER_MILLE * share)
                if time.monotonic() - told_s >= BETWEEN_S:
                    told_s = time.monotonic()
                    if not proceed(so_far):
                        raise CalledOff

            return job(check)

        self._words, self._done, self._failed = words, done, failed
        self.bar.set_progress(0.0, words)
        self.work.start(work)
        self._soon.start()

    def call_off(self) -> None:
        """Leave what is being worked on."""
        self.work.call_off()
        self._at_rest()

    def close_work(self) -> None:
        """Call off, and take up nothing more."""
        self.work.close()
        self._at_rest()

    def _at_rest(self) -> None:
        self._soon.stop()
        self.hide()

    def _on_progress(self, per_mille: int) -> None:
        self.bar.set_progress(per_mille / PER_MILLE, self._words)

    def _on_done(self, given: Any) -> None:
        self._at_rest()
        self._done(given)

    def _on_failed(self, error: Exception) -> None:
        self._at_rest()
        self._failed(error)
