"""Will it hold at the event: how often it finishes when light, height, battery, start, line and wheels are off."""

from PySide6.QtWidgets import QPushButton, QVBoxLayout

from irontrail.app.panel import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.lines_button import LinesButton
from irontrail.app.widgets.strain_bars import StrainBars
from irontrail.app.working import WorkingPanel
from irontrail.core.tune.robustness import Robustness, WorstCase, robustness_of, runs_needed


class EventSheet(WorkingPanel):
    """A row for each strain, all of them together, and the worst cases to watch."""

    SAYS = "How often it finishes when things are not as in practice."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.holds: Robustness | None = None
        self.add_words(
            "Each square is ten shaken starts; the fuller, the more often it finishes. Today's is framed in rust.",
            "quiet",
        )
        self.add_work("Will it hold?", self.start, "Drive it many times with things as they may be at the event.")
        self.bars = StrainBars(theme)
        self.column.addWidget(self.bars)
        self.says = self.add_words()
        self.worst_heading = self.add_heading("The worst: press to watch, undo to return")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.column.addLayout(self._list)
        self.worst_buttons: list[QPushButton] = []
        self.worst_heading.hide()
        self.finish()

    def start(self) -> None:
        """Try the settings as they are under every strain."""
        setup = self.session.setup
        self._show(None)
        self.begin(lambda tell: robustness_of(setup, tell), runs_needed())

    def show_partial(self, partial: Robustness) -> None:
        if self.holds is None or len(partial.single) != len(self.holds.single):
            self._show(partial)

    def show_result(self, result: Robustness) -> None:
        self._show(result)

    def _show(self, holds: Robustness | None) -> None:
        self.holds = holds
        self.bars.set_held(holds.single if holds is not None else ())
        clear(self._list)
        self.worst_buttons = []
        worst = holds.worst if holds is not None else ()
        self.worst_heading.setVisible(bool(worst))
        for case in worst:
            outcome = f"{case.time_s:.1f} s" if case.finished else f"lost after {case.progress_mm / 1000:.1f} m"
            first, second = _halves(case.says)
            button = LinesButton(f"{outcome}\n{first}\n{second}")
            button.setProperty("small", "true")
            button.clicked.connect(lambda _checked=False, case=case: self.watch(case))
            self._list.addWidget(button)
            self.worst_buttons.append(button)
        self.show_project()

    def watch(self, case: WorstCase) -> None:
        """Make a worst case the setup, as one step, and play it; not where that would take later changes away."""
        holds = self.holds
        if holds is None or self.session.setup not in (holds.setup, *(each.setup for each in holds.worst)):
            self.session.notice("You have changed something since; ask again whether it holds, then watch.")
            return
        self.session.edit("watch a worst case", case.setup)
        self.session.playback.seek(0.0)
        self.session.playback.play()

    def show_project(self) -> None:
        super().show_project()
        if self.holds is None:
            self.says.setText("")
            return
        old = " That was before the last change." if self.holds.setup != self.session.setup else ""
        if self.holds.together is not None:
            self.says.setText(
                f"All at once, each up to two thirds of that: {100 * self.holds.together:.0f} % finish.{old}"
            )


def _halves(says: str) -> tuple[str, str]:
    parts = says.split(", ")
    half = (len(parts) + 1) // 2
    return ", ".join(parts[:half]), ", ".join(parts[half:])
