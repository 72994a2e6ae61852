"""How much of a run is luck: the same program under other noise, starts and light."""

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from irontrail.app.long_work import LongWork, Proceed
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.spread_bars import Spread, SpreadBars
from irontrail.core.advice.luck import SPREAD, Luck, try_luck
from irontrail.core.figures import FIGURES, OF_SPOTS
from irontrail.core.project import Setup

TRIES = 20


class LuckSheet(Panel):
    """A button that runs it so many times, faint trails on the mat, and a spread for each figure."""

    SAYS = "How much of a run is luck."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_words(
            f"The same program {TRIES} times, set down a few millimetres and degrees differently, in a little more or "
            "less light, with the battery a little fuller or emptier, and other noise.",
            "quiet",
        )
        self.start = QPushButton(f"Run it {TRIES} times")
        self.start.setProperty("start", "true")
        self.start.setToolTip("Drive it again and again, each time a little differently. Press again to stop.")
        self.start.clicked.connect(self._on_start)
        self.column.addWidget(self.start)
        self.says = self.add_words()
        self.bars = SpreadBars(theme)
        self.column.addWidget(self.bars)
        self.forget = QPushButton("Take the trails off the mat")
        self.forget.setToolTip("Take the faint trails of these runs off the mat")
        self.forget.clicked.connect(lambda: session.looking.set_luck(None))
        self.column.addWidget(self.forget, 0, Qt.AlignmentFlag.AlignLeft)
        self.work: LongWork[Luck | None] = LongWork(self._on_progress, self._on_done, self._on_failed)
        self.retired.connect(self.work.close)
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        self._show()

    def show_view(self) -> None:
        self._show()

    def _show(self) -> None:
        luck, running = self.session.looking.luck, self.work.running
        self.start.setText("Stop" if running else f"Run it {TRIES} times")
        self.forget.setVisible(luck is not None)
        self.bars.setVisible(luck is not None)
        if luck is None:
            if not running:
                self.says.setText("")
            return
        count = len(luck.tries)
        words = f"{luck.finished} of {count} finished."
        if luck.setup != self.session.setup:
            words += " That was before the last change."
        self.says.setText(words)
        self.bars.set_spreads(self._spreads(luck))

    def _spreads(self, luck: Luck) -> tuple[Spread, ...]:
        view, spreads = self.session.view, []
        for name in SPREAD:
            figure, found = FIGURES[name], luck.spread(name)
            if found is None or (name in OF_SPOTS and not luck.setup.mat.spots):
                continue
            low, middle, high = (figure.shown_per_stored * value for value in found)
            same = view is not None and view.setup == luck.setup and view.figures.outcome == "finished"
            now = figure.shown_per_stored * getattr(view.figures, name) if same and view is not None else None
            spreads.append(Spread(figure.label, figure.unit, figure.decimals, low, middle, high, now))
        return tuple(spreads)

    def _on_start(self) -> None:
        work = self.work
        if work.running:
            work.call_off()
            self._show()
            self.says.setText("Called off.")
        elif self.session.view is not None:
            self.session.looking.set_luck(None)
            work.start(partial(_luck, self.session.setup))
            self._show()
            self.says.setText(f"0 of {TRIES}")

    def _on_progress(self, done: int) -> None:
        self.says.setText(f"{done} of {TRIES}")

    def _on_done(self, luck: Luck | None) -> None:
        if luck is not None:
            self.session.looking.set_luck(luck)
        self._show()

    def _on_failed(self, error: Exception) -> None:
        self.session.notice(str(error))
        self._show()


def _luck(setup: Setup, proceed: Proceed) -> Luck | None:
    return try_luck(setup, TRIES, proceed)
