"""How much of a run is luck: the same program under other noise, starts and light."""

from dataclasses import replace
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton

from irontrail.app.long_work import LongWork, Proceed
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.spread_bars import Spread, SpreadBars
from irontrail.core.advice.luck import SPREAD, Luck, try_luck
from irontrail.core.figures import FIGURES, OF_SPOTS
from irontrail.core.pit.real_spread import RealSpread, enough, real_spread
from irontrail.core.quantity import quantities
from irontrail.core.setup import Setup
from irontrail.core.shaking import Shaking, in_words
from irontrail.core.tune.tries import Trying

TRIES = 20
WHERE = ("here", "at the event")


class LuckSheet(Panel):
    """A button that runs it so many times, faint trails on the mat, and a spread for each figure."""

    SAYS = "How much of a run is luck."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.about = self.add_words("", "quiet")
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
        self.add_rule()
        self.add_heading("How much your starts differ, either way")
        self.wheres = self.add_choice("Where", WHERE, self._on_where, says="How much they differ {}.")
        self.where = WHERE[0]
        self.shakers: dict[str, Dial] = {}
        for name, quantity in quantities(Shaking).items():
            self.shakers[name] = self.add_number(quantity, quantity.low, quantity.high, partial(self._on_dial, name))
        self.as_real = self.add_small("As your real times differ", "Shake the model until its times differ as much")
        self.as_real.clicked.connect(self._on_real)
        self.real_work: LongWork[RealSpread | None] = LongWork(lambda _done: None, self._on_spread, self._on_failed)
        self.retired.connect(self.real_work.close)
        self.work: LongWork[Luck | None] = LongWork(self._on_progress, self._on_done, self._on_failed)
        self.retired.connect(self.work.close)
        session.looking.luck_changed.connect(self._show)
        self.finish()

    # --- how much starts differ

    @property
    def shaking(self) -> Shaking:
        """That of where is looked at."""
        project = self.session.project
        return project.setup.trial.shaken if self.where == WHERE[0] else project.at_event

    def _on_where(self, where: str) -> None:
        self.where = where
        self.show_project()

    def _on_dial(self, name: str, value: float, settled: bool) -> None:
        if value != getattr(self.shaking, name):
            quantity = quantities(Shaking)[name]
            label = f"{quantity.label} {quantity.in_unit(value)}"
            self._put(label, replace(self.shaking, **{name: value}), f"shaken {name} {self.where}")
        if settled:
            self.session.settle()

    def _put(self, label: str, shaking: Shaking, merge_key: str | None = None) -> None:
        project = self.session.project
        if self.where == WHERE[0]:
            trial = replace(project.setup.trial, shaken=shaking)
            project = replace(project, setup=replace(project.setup, trial=trial))
        else:
            project = replace(project, at_event=shaking)
        self.session.document.apply(label, project, merge_key)

    def _on_real(self) -> None:
        kept, shaking = self.session.project.kept, self.session.setup.trial.shaken

        def work(proceed: Proceed) -> RealSpread | None:
            return real_spread(kept, shaking, Trying(proceed))

        self.real_work.start(work)
        self.as_real.setEnabled(False)

    def _on_spread(self, found: RealSpread | None) -> None:
        self.as_real.setEnabled(True)
        if found is None:
            self.session.notice("The real times tell too little: drive some more of one setting, or one that finishes.")
            return
        self.where = WHERE[0]
        self._put("starts differ as the real times do", found.shaking)
        self.session.notice(
            f"{found.count} real times differ by {found.real_s:.2f} s (standard deviation), and now the model's by "
            f"{found.model_s:.2f} s."
        )

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        shaken = self.session.setup.trial.shaken
        self.about.setText(f"The same program {TRIES} times with other noise, shaken {in_words(shaken)}.")
        for name, button in self.wheres.items():
            button.setChecked(name == self.where)
        for name, dial in self.shakers.items():
            dial.set_value(getattr(self.shaking, name))
        self.as_real.setVisible(self.where == WHERE[0] and bool(enough(self.session.project.kept)))
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
        self.as_real.setEnabled(True)
        self.session.notice(str(error))
        self._show()


def _luck(setup: Setup, proceed: Proceed) -> Luck | None:
    return try_luck(setup, TRIES, proceed)
