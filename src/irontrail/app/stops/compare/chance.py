"""Better, or lucky: the run in sight and kept ones over the same shaken starts."""

from PySide6.QtWidgets import QGridLayout

from irontrail.app.column import clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.difference_picture import Apart, DifferencePicture
from irontrail.app.working import WorkingPanel
from irontrail.core.quantity import Quantity
from irontrail.core.setup import Setup
from irontrail.core.tune.chance import (
    MATTERS_S,
    MOST_STARTS,
    STARTS,
    TIMES_MORE,
    Comparison,
    better_or_lucky,
    how_sure,
    in_words,
)
from irontrail.core.tune.tries import Tried

MOST = 6
MATTERS = Quantity(
    "what matters", "s", 0.01, 5.0, 0.05, 1.0, 2, says="A difference in time of less than this is not worth naming."
)


class ChanceSheet(WorkingPanel):
    """How much longer each kept run takes than this one, with the interval; and what may be said of that."""

    SAYS = "Whether a run is better, or was only lucky."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.tried: list[Tried] = []
        self.names: list[str] = []
        self.starts = STARTS
        self.matters_s = MATTERS_S
        self.add_words(
            "This run and the kept ones over the same shaken starts: the same noise, battery, light and place for all.",
            "quiet",
        )
        self.matters = self.add_number(MATTERS, 0.01, 1.0, self._on_matters)
        self.matters.set_value(MATTERS_S)
        self.add_work("Better, or lucky?", self.start, "Drive this run and the kept ones over the same starts.")
        self.picture = DifferencePicture(theme)
        self.column.addWidget(self.picture)
        self.says = self.add_words()
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(10)
        self.column.addLayout(self._table)
        self.more = self.add_small(f"{TIMES_MORE} times as many starts", "Drive them over more starts, to be surer")
        self.more.clicked.connect(self.start_more)
        self.more.hide()
        self.finish()

    def _on_matters(self, value: float, _settled: bool) -> None:
        self.matters_s = value
        self._show()

    def start(self) -> None:
        """Run them all over the first starts."""
        self._begin(STARTS)

    def start_more(self) -> None:
        """Run them all over more starts than before."""
        if not self.work.running:
            self._begin(min(self.starts * TIMES_MORE, MOST_STARTS))

    def _begin(self, starts: int) -> None:
        setup = self.session.setup
        kept = [run for run in self.session.project.kept if run.setup.mat == setup.mat][-(MOST - 1) :]
        names = ["now", *(f"run {run.number}" for run in kept)]
        setups: list[Setup] = [setup, *(run.setup for run in kept)]

        def job(tell):  # type: ignore[no-untyped-def]
            return names, starts, better_or_lucky(setups, lambda done: tell(None, done), starts)

        self.begin(job, len(setups) * starts)

    @property
    def found(self) -> list[Comparison]:
        """This run against each kept one; above 0 is what this run has more of."""
        sure = how_sure(self.starts)
        return [Comparison(other, self.tried[0], self.matters_s, *sure) for other in self.tried[1:]]

    def show_result(self, result: tuple[list[str], int, list[Tried]]) -> None:
        self.names, self.starts, self.tried = result
        self._show()

    def _show(self) -> None:
        if not self.tried:
            return
        found = self.found
        self.picture.ends = "now is faster", "now is slower"
        self.picture.set_rows(
            tuple(
                Apart(name, each.time.mean, each.time.low, each.time.high, each.timing in ("better", "worse"))
                for name, each in zip(self.names[1:], found, strict=True)
                if each.time is not None
            ),
            self.matters_s,
        )
        said = [in_words(each, name, "now") for name, each in zip(self.names[1:], found, strict=True)]
        if not said:
            said = ["Keep a run on this mat (K) to compare with."]
        mat = self.tried[0].setup.mat
        others = [str(run.number) for run in self.session.project.kept if run.setup.mat != mat]
        if others:
            said.append(f"On another mat, and so not compared: {', '.join(others)}.")
        self.says.setText("\n\n".join(said))
        self._show_table()
        open_ = any(each.verdict == "not known" for each in found)
        self.more.setVisible(open_ and self.starts < MOST_STARTS)

    def _show_table(self) -> None:
        clear(self._table)
        for column, words in enumerate(("", "come through", "time", "swing")):
            self._table.addWidget(self._label(words, "quiet"), 0, column)
        for row, (name, each) in enumerate(zip(self.names, self.tried, strict=True), 1):
            texts = (
                name,
                each.of_starts,
                f"{each.time_s:.2f} s" if each.good else "–",
                f"{each.swing_mm:.1f} mm" if each.good else "–",
            )
            for column, text in enumerate(texts):
                self._table.addWidget(self._label(text, "words"), row, column)
