"""Will it hold at the event: here and in the hall, with each thing off by itself, and what would help most."""

from PySide6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout

from irontrail.app.column import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.lines_button import LinesButton
from irontrail.app.widgets.strain_bars import StrainBars
from irontrail.app.working import WorkingPanel
from irontrail.core.tune.event import Event
from irontrail.core.tune.robustness import TRIES, Bought, Robustness, WorstCase, robustness_of, runs_needed

CALIBRATED = ("yes", "no")
MOST_WORST = 4


class EventSheet(WorkingPanel):
    """How often it comes through and where, a row for each strain, what each change buys, and the worst cases."""

    SAYS = "How often it finishes when things are not as in practice."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.holds: Robustness | None = None
        self.add_words("The hall is that of Light > Rooms; how much starts differ there is set on Run > Luck.", "quiet")
        self.choices = self.add_choice(
            "Calibrated", CALIBRATED, self._on_calibrated, says="The sensor is calibrated again in the hall: {}."
        )
        self.calibrated = CALIBRATED[0]
        self.add_work("Will it hold?", self.start, "Drive it many times with things as they may be at the event.")
        self._places = QGridLayout()
        self._places.setHorizontalSpacing(10)
        self.column.addLayout(self._places)
        self.says = self.add_words()
        self.strains_heading = self.add_heading(f"One thing off there ({TRIES} starts a square)")
        self.bars = StrainBars(theme)
        self.column.addWidget(self.bars)
        self.bought_heading = self.add_heading("What one change buys there")
        self._bought = QVBoxLayout()
        self._bought.setSpacing(4)
        self.column.addLayout(self._bought)
        self.bought_buttons: list[QPushButton] = []
        self.worst_heading = self.add_heading("The worst: press to watch, undo to return")
        self._list = QVBoxLayout()
        self._list.setSpacing(4)
        self.column.addLayout(self._list)
        self.worst_buttons: list[QPushButton] = []
        self._show(None)
        self.finish()

    def _on_calibrated(self, calibrated: str) -> None:
        self.calibrated = calibrated
        self.show_project()

    @property
    def event_there(self) -> Event:
        """The event as it is chosen."""
        return Event.of(self.session.project, self.calibrated == CALIBRATED[0])

    def start(self) -> None:
        """Try the settings as they are under every strain."""
        setup, event = self.session.setup, self.event_there
        self._show(None)
        self.begin(lambda tell: robustness_of(setup, event, tell), runs_needed(event))

    def show_partial(self, partial: Robustness) -> None:
        shown = self.holds
        if shown is None or not shown.places or len(partial.single) != len(shown.single):
            self._show(partial)
        elif partial.places != shown.places:
            self.holds = partial
            self._show_places(partial)

    def show_result(self, result: Robustness) -> None:
        self._show(result)

    def _show(self, holds: Robustness | None) -> None:
        self.holds = holds
        self.bars.set_held(holds.single if holds is not None else ())
        self.strains_heading.setVisible(holds is not None and bool(holds.single))
        self._show_places(holds)
        self._show_bought(holds.bought if holds is not None else ())
        clear(self._list)
        self.worst_buttons = []
        worst = holds.worst[:MOST_WORST] if holds is not None else ()
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

    def _show_places(self, holds: Robustness | None) -> None:
        clear(self._places)
        if holds is None or not holds.places:
            return
        for column, words in enumerate(("", "finish", "truly", "time")):
            self._places.addWidget(self._label(words, "quiet"), 0, column)
        for row, place in enumerate(holds.places, 1):
            share, low, high = place.share
            texts = (
                place.name, f"{100 * share:.0f} %", f"{100 * low:.0f} to {100 * high:.0f} %",
                f"{place.over.time_s:.1f} s" if place.over.good else "–",
            )  # fmt: skip
            for column, text in enumerate(texts):
                label = self._label(text, "words")
                label.setWordWrap(column == 0)
                self._places.addWidget(label, row, column)

    def _show_bought(self, bought: tuple[Bought, ...]) -> None:
        clear(self._bought)
        self.bought_buttons = []
        # What surely helps, the most first; where nothing does, there is nothing to buy.
        helping = [each for each in bought if each.against.finishing == "better"]
        self.bought_heading.setVisible(bool(bought))
        if bought and not helping:
            self._bought.addWidget(self._label("Nothing tried makes it surely come through more often.", "words"))
        for each in helping:
            before, after = each.against.one, each.against.other
            time = each.against.time
            cost = f", {time.mean:+.1f} s".replace("-", "−") if time is not None and abs(time.mean) >= 0.05 else ""
            words = f"{each.says}\n{after.of_starts} come through, {before.good} without{cost}"
            button = LinesButton(words)
            button.setProperty("small", "true")
            button.setEnabled(each.setup is not None)
            button.clicked.connect(lambda _checked=False, each=each: self.take(each))
            self._bought.addWidget(button)
            self.bought_buttons.append(button)

    def take(self, bought: Bought) -> None:
        """Make a change the setup, as one step."""
        if bought.setup is None or self.holds is None:
            return
        if self.session.setup != self.holds.setup:
            self.session.notice("You have changed something since; ask again whether it holds.")
            return
        self.session.edit(bought.says, bought.setup)

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
        for name, button in self.choices.items():
            button.setChecked(name == self.calibrated)
        holds = self.holds
        if holds is None or not holds.places:
            self.says.setText("")
            return
        old = holds.setup != self.session.setup or holds.event != self.event_there
        self.says.setText("That was before the last change." if old else "")
        self.says.setVisible(old)


def _halves(says: str) -> tuple[str, str]:
    parts = says.split(", ")
    half = (len(parts) + 1) // 2
    return ", ".join(parts[:half]), ", ".join(parts[half:])
