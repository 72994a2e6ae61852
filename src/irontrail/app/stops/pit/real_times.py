"""Real times by the stopwatch: written down to the settings that were driven, beside what was foretold of them."""

from collections.abc import Mapping
from functools import partial

from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from irontrail.app.column import clear
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.core.pit.venue import Foretold
from irontrail.core.project import KeptRun, RealRun
from irontrail.core.quantity import quantities
from irontrail.core.setup import Setup
from irontrail.core.tune.tries import Tried


def driven(session: Session) -> tuple[KeptRun, ...]:
    """The kept runs whose settings the real robot has driven."""
    return tuple(run for run in session.project.kept if run.real)


class RealTimes(Panel):
    """Chooses the settings that were driven, takes a time, lists all; whoever holds it says what was foretold."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._foretold: Mapping[Setup, Tried] = {}
        self.of_run = QComboBox()
        self.of_run.setAccessibleName("Which settings were driven")
        self.of_run.setToolTip("The settings that the real robot drove: those of now, or of a kept run")
        self.of_run.currentIndexChanged.connect(lambda _place: self._show_list())
        self.add_row().addWidget(self.of_run, 1)
        self.time = self.add_number(quantities(RealRun)["time_s"], 0.0, 60.0, lambda _value, _settled: None)
        row = self.add_row()
        self.finished = self.add_act(
            "Finished so", "Write the time down: it finished", partial(self.write_down, True), row
        )
        self.failed = self.add_act(
            "Failed then", "Write the time down: it did not finish", partial(self.write_down, False), row
        )
        listed = QWidget()
        self.list = QVBoxLayout(listed)
        self.list.setContentsMargins(0, 0, 0, 0)
        self.list.setSpacing(2)
        self.column.addWidget(listed)

    def show_project(self) -> None:
        self._show_choice()
        self._show_list()

    def show_foretold(self, foretold: Mapping[Setup, Tried]) -> None:
        """Show what was foretold of some settings beside their times."""
        self._foretold = foretold
        self.show_project()

    def write_down(self, finished: bool) -> None:
        """Write the time down to the chosen settings, which are kept first if they are not."""
        session, number = self.session, self.of_run.currentData()
        if self.time.value <= 0.0:
            session.notice("Type the time by the stopwatch first.")
            return
        if number is None:
            if session.view is None or session.view.setup != session.setup:
                session.notice("These settings are still being driven; write the time down in a moment.")
                return
            session.keep()
            number = session.project.kept[-1].number
        session.kept_runs.add_real(number, RealRun(self.time.value, finished))
        place = self.of_run.findData(number)
        self.of_run.setCurrentIndex(max(place, 0))

    def _show_choice(self) -> None:
        """The settings of now, and every kept run, the newest first; now is that kept run, if it is kept."""
        kept, chosen = self.session.project.kept, self.of_run.currentData()
        now = next((run.number for run in reversed(kept) if run.setup == self.session.setup), None)
        names: list[tuple[str, int | None]] = [] if now is not None else [("these settings (kept then)", None)]
        names += [(f"run {run.number}{', now' if run.number == now else ''}", run.number) for run in reversed(kept)]
        shown = [(self.of_run.itemText(i), self.of_run.itemData(i)) for i in range(self.of_run.count())]
        if names == shown:
            return
        self.of_run.blockSignals(True)
        self.of_run.clear()
        for name, number in names:
            self.of_run.addItem(name, number)
        numbers = [number for _, number in names]
        self.of_run.setCurrentIndex(numbers.index(chosen) if chosen in numbers and chosen is not None else 0)
        self.of_run.blockSignals(False)

    def _show_list(self) -> None:
        clear(self.list)
        chosen = self.of_run.currentData()
        for run in driven(self.session):
            times = ", ".join(f"{real.time_s:.2f}" if real.finished else "failed" for real in run.real)
            tried = self._foretold.get(run.setup)
            told = f"; {Foretold(run, tried).says}" if tried is not None else ""
            self.list.addWidget(self._label(f"Run {run.number}: {times} s{told}.", "words"))
            if run.number == chosen:
                strike = self.add_act(
                    "Strike out the last time",
                    f"Take the last time of run {run.number} away; undo brings it back",
                    partial(self.session.kept_runs.drop_real, run.number, len(run.real) - 1),
                )
                self.list.addWidget(strike)
