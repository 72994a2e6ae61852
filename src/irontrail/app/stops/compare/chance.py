"""Better, or lucky: the run in sight and kept ones over the same perturbed starts."""

from PySide6.QtWidgets import QGridLayout

from irontrail.app.panel import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.spread_bars import Spread, SpreadBars
from irontrail.app.working import WorkingPanel
from irontrail.core.project import Setup
from irontrail.core.tune.race import STARTS, Chance, better_or_lucky

MOST = 6


class ChanceSheet(WorkingPanel):
    """A row for each run: how often it finished and won; and the spread of its times."""

    SAYS = "Whether a run is better, or was only lucky."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.chances: tuple[Chance, ...] = ()
        self.names: list[str] = []
        self.add_words(
            f"Each over the same {STARTS} starts: the same noise, battery, light and place for all. What is still "
            "better then is better; the rest was luck.",
            "quiet",
        )
        self.add_work("Better, or lucky?", self.start, "Drive this run and the kept ones over the same starts.")
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(10)
        self.column.addLayout(self._table)
        self.says = self.add_words()
        self.bars = SpreadBars(theme)
        self.column.addWidget(self.bars)
        self.finish()

    def start(self) -> None:
        """Run them all."""
        setup = self.session.setup
        kept = [run for run in self.session.project.kept if run.setup.mat == setup.mat][-(MOST - 1) :]
        self.names = ["now", *(f"run {run.number}" for run in kept)]
        setups: list[Setup] = [setup, *(run.setup for run in kept)]
        self.begin(lambda tell: better_or_lucky(setups, lambda done: tell(None, done)), len(setups) * STARTS)

    def show_result(self, result: tuple[Chance, ...]) -> None:
        self.chances = result
        clear(self._table)
        for column, words in enumerate(("", "finishes", "wins", "time", "swing")):
            self._table.addWidget(self._label(words, "quiet"), 0, column)
        most_wins = max(chance.wins for chance in result)
        for row, (name, chance) in enumerate(zip(self.names, result, strict=True), 1):
            best = chance.wins == most_wins and most_wins > 0
            time, swing = chance.middle(chance.times_s), chance.middle(chance.swings_mm)
            count = len(chance.times_s)
            texts = (
                f"★ {name}" if best else name,
                f"{round(chance.finished * count)} of {count}",
                str(chance.wins),
                "–" if time != time else f"{time:.2f} s",
                "–" if swing != swing else f"{swing:.1f} mm",
            )
            for column, text in enumerate(texts):
                self._table.addWidget(self._label(text, "heading" if best else "words"), row, column)
        finishing = [(name, each) for name, each in zip(self.names, result, strict=True) if each.finished > 0.0]
        self.bars.set_spreads(tuple(self._spread(name, each) for name, each in finishing), one_scale=bool(finishing))
        self.says.setText(self._verdict(result))

    @staticmethod
    def _spread(name: str, chance: Chance) -> Spread:
        known = [time for time in chance.times_s if time == time]
        return Spread(name, "s", 2, min(known), chance.middle(chance.times_s), max(known), None)

    def _verdict(self, chances: tuple[Chance, ...]) -> str:
        """Who is better, if anyone is."""
        if len(chances) < 2:
            return "Keep a run on this mat (K) to compare with."
        ranked = sorted(range(len(chances)), key=lambda i: -chances[i].wins)
        first, second = chances[ranked[0]], chances[ranked[1]]
        decided = first.wins + second.wins
        if decided == 0:
            return "None of them finishes."
        if first.wins >= 0.8 * decided:
            return (
                f"{self.names[ranked[0]].capitalize()} is better: it wins {first.wins} of {len(first.times_s)} starts."
            )
        names = f"{self.names[ranked[0]]} and {self.names[ranked[1]]}"
        return f"Luck decides between {names}: {first.wins} wins to {second.wins}."
