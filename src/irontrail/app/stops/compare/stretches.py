"""By stretch: where the run in sight wins and loses time and swing against a kept one, as bars and on the mat."""

import numpy as np
from PySide6.QtWidgets import QHBoxLayout, QPushButton

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.view import KeptView, RunView
from irontrail.app.widgets.choice import one_of
from irontrail.app.widgets.gain_bars import GainBars
from irontrail.app.widgets.race_hand import RaceHand, Won, way_between
from irontrail.core.result import point_way
from irontrail.core.stretches import driven_mm
from irontrail.core.tune.race import Difference, differences

# A difference this small is not drawn on the mat.
LEAST_S = 0.02


class StretchSheet(Panel):
    """Which kept run to compare with, a bar for each stretch, and what it comes to."""

    SAYS = "Where on the mat time is won and lost."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.race_hand = RaceHand(self)
        self.number: int | None = None
        self._who = QHBoxLayout()
        self._who.setSpacing(4)
        self.column.addLayout(self._who)
        self.against: dict[int, QPushButton] = {}
        self.says = self.add_words()
        self.add_words(
            "Right and green: the run in sight is faster there; thin and slate: it swings less. In s, then mm.", "quiet"
        )
        self.bars = GainBars(theme)
        self.column.addWidget(self.bars)
        self.finish()

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        numbers = [each.kept.number for each in view.kept]
        if list(self.against) != numbers:
            clear(self._who)
            self.against = {}
            for number in numbers:
                button = QPushButton(f"against {number}")
                button.setCheckable(True)
                button.setProperty("choice", "true")
                button.setToolTip(f"Compare the run now with run {number}")
                button.clicked.connect(lambda _checked=False, number=number: self._choose(number))
                self._who.addWidget(button)
                self.against[number] = button
            one_of(self, self.against.values())
        if self.number not in numbers:
            self.number = numbers[-1] if numbers else None
        for number, button in self.against.items():
            button.setChecked(number == self.number)
        other = next((each for each in view.kept if each.kept.number == self.number), None)
        self._show(view, other)

    def _choose(self, number: int) -> None:
        self.number = number
        self.show_view()

    def _show(self, view: RunView, other: KeptView | None) -> None:
        if other is None:
            self.says.setText("Keep a run on this mat (K) to compare with.")
            self.bars.set_rows(())
            self.race_hand.set_stretches(())
            return
        rows = differences(view.stretches, other.stretches)
        self.bars.set_rows(rows)
        self.race_hand.set_stretches(tuple(self._won(view, row) for row in rows if abs(row.time_s) >= LEAST_S))
        won = sum(row.time_s for row in rows if row.time_s > 0.0)
        lost = -sum(row.time_s for row in rows if row.time_s < 0.0)
        most = max(rows, key=lambda row: abs(row.time_s), default=None)
        words = f"Against run {self.number}: {won:.2f} s won, {lost:.2f} s lost."
        if most is not None and abs(most.time_s) >= LEAST_S:
            words += f" Most at {most.name}: {abs(most.time_s):.2f} s {'won' if most.time_s > 0 else 'lost'}."
        self.says.setText(words)

    @staticmethod
    def _won(view: RunView, row: Difference) -> Won:
        """A stretch on the mat; a closed route may go on past its own beginning."""
        if view.run.legs:
            x, y = point_way(view.run.trace, view.setup.reference)
            return Won(way_between(x, y, driven_mm(view.run), row.start_mm, row.end_mm), row.time_s)
        route, start = view.run.route, view.run.start_mm
        first, last = start + row.start_mm, start + row.end_mm
        if route.closed:
            first, last = first % route.length_mm, last - first + first % route.length_mm
        s, x, y = route.s_mm, route.x_mm, route.y_mm
        if route.closed:
            s = np.concatenate((s, s[1:] + route.length_mm))
            x, y = np.concatenate((x, x[1:])), np.concatenate((y, y[1:]))
        return Won(way_between(x, y, s, first, last), row.time_s)
