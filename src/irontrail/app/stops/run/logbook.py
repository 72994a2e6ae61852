"""The logbook: every kept run with what was changed since the one before it, its figures, a note, a star."""

from collections.abc import Callable

from PySide6.QtCore import QModelIndex
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.log_list import LogEntry, LogList
from irontrail.app.worker import NewestWins
from irontrail.core import derive
from irontrail.core.advice.changes import changes
from irontrail.core.figures import Figures, same_figures
from irontrail.core.project import KeptRun

# So many runs are driven anew at a time to see whether their figures still hold.
CHECK_AT_ONCE = 8


class LogbookSheet(Panel):
    """A list, newest first; what can be done with the chosen run stands under it."""

    SAYS = "The runs you have kept."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.empty = self.add_words("None yet. Keep a run with K, change something, and see both.", "quiet")
        self.list = LogList(theme)
        self.list.chosen.connect(self._on_chosen)
        self.list.taken.connect(lambda number: session.kept_runs.take_back(number))
        self.list.dropped.connect(lambda number: session.kept_runs.drop(number))
        self.list.starred.connect(self._toggle_star)
        self.list.scrolled.connect(self._check_visible)
        self.column.addWidget(self.list, 20)
        self.note = QLineEdit()
        self.note.setPlaceholderText("A note on this run")
        self.note.setAccessibleName("Note on the chosen run")
        self.note.setToolTip("What you want to remember of this run")
        self.note.editingFinished.connect(self._on_note)
        self.column.addWidget(self.note)
        row = QHBoxLayout()
        row.setSpacing(6)
        self.take = self._button(row, "Take", "Make this run's settings the current ones (Enter)")
        self.take.clicked.connect(lambda: self._with_chosen(session.kept_runs.take_back))
        self.compare = self._button(row, "Compare", "Compare the figures of the run now with this one's")
        self.compare.clicked.connect(lambda: self._with_chosen(self._toggle_compared))
        self.show_run = self._button(row, "Hide", "Show or hide this run on the mat and the strip")
        self.show_run.clicked.connect(lambda: self._with_chosen(self._toggle_shown))
        self.star = self._button(row, "Star", "Mark this run with a star (S)")
        self.star.clicked.connect(lambda: self._with_chosen(self._toggle_star))
        self.drop = self._button(row, "Delete", "Delete this run; undo brings it back (Del)")
        self.drop.clicked.connect(lambda: self._with_chosen(session.kept_runs.drop))
        self.column.addLayout(row)
        self.says = self.add_words("", "quiet")
        self._words: dict[tuple[int, int], str] = {}
        self._today: dict[int, Figures] = {}
        self.checked: set[int] = set()
        self._noted: int | None = None
        self._checker = NewestWins(_figures_today, self._on_checked, session.could_not("Whether kept runs still hold"))
        self.retired.connect(self._checker.close)
        self.finish()

    def _button(self, row: QHBoxLayout, text: str, tip: str) -> QPushButton:
        button = QPushButton(text)
        button.setProperty("small", "true")
        button.setToolTip(tip)
        row.addWidget(button)
        return button

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        kept = self.session.project.kept
        shown = [run.number for run in reversed(self.session.kept_runs.shown)]
        entries, before = [], None
        for run in kept:
            entries.append(
                LogEntry(
                    number=run.number,
                    changed=self._changed(before, run),
                    figures=_in_short(run.figures),
                    note=run.note,
                    star=run.star,
                    dash=shown.index(run.number) if run.number in shown else None,
                    today=_in_short(self._today[run.number]) if run.number in self._today else "",
                )
            )
            before = run
        self.list.set_entries(tuple(reversed(entries)))
        self.empty.setVisible(not kept)
        self._show_chosen()
        self._check_visible()

    def _changed(self, before: KeptRun | None, run: KeptRun) -> str:
        """What was changed since the run kept before it, in words, made once."""
        if before is None:
            return f"{run.setup.mat.name}, {run.setup.program.steers_by}"
        key = (id(before.setup), id(run.setup))
        if key not in self._words:
            said = changes(before.setup, run.setup)
            self._words[key] = ", ".join(said) if said else "nothing changed"
        return self._words[key]

    def _show_chosen(self) -> None:
        run = self._chosen()
        for widget in (self.note, self.take, self.compare, self.show_run, self.star, self.drop):
            widget.setEnabled(run is not None)
        if run is None:
            self.note.clear()
            self.says.setText("")
            return
        if not self.note.hasFocus():
            self.note.setText(run.note)
        self.star.setText("Unstar" if run.star else "Star")
        elsewhere = run.setup.mat != self.session.setup.mat
        for button in (self.show_run, self.compare):
            button.setEnabled(not elsewhere)
        self.compare.setText("Compared" if run.number == self.session.kept_runs.compared else "Compare")
        self.show_run.setText("Show" if run.number in self.session.kept_runs.hidden else "Hide")
        said = changes(run.setup, self.session.setup)
        words = "These are the settings you have now." if not said else f"Since then: {', '.join(said)}."
        if run.number in self._today:
            words += f" Driven today it comes to {_in_short(self._today[run.number])}: the engine is another one."
        self.says.setText(words)

    # --- the chosen run

    def _chosen(self) -> KeptRun | None:
        number = self.list.current_number()
        return next((run for run in self.session.project.kept if run.number == number), None)

    def _with_chosen(self, act: Callable[[int], None]) -> None:
        run = self._chosen()
        if run is not None:
            act(run.number)

    def _on_chosen(self, _index: QModelIndex) -> None:
        self._on_note()
        self._show_chosen()

    def _toggle_shown(self, number: int) -> None:
        self.session.kept_runs.show(number, number in self.session.kept_runs.hidden)
        self.show_project()

    def _toggle_compared(self, number: int) -> None:
        self.session.kept_runs.compare_with(None if number == self.session.kept_runs.compared else number)
        self.show_project()

    def _toggle_star(self, number: int) -> None:
        run = next((run for run in self.session.project.kept if run.number == number), None)
        if run is not None:
            self.session.kept_runs.annotate(number, star=not run.star)

    def _on_note(self) -> None:
        """Write the note to the run that was chosen while it was typed."""
        if self.note.isModified() and self._noted is not None:
            self.note.setModified(False)
            self.session.kept_runs.annotate(self._noted, note=self.note.text())
        self._noted = self.list.current_number()

    # --- figures that no longer hold

    def _check_visible(self) -> None:
        """Drive the runs in sight anew, off the interface thread, and see whether their figures still hold."""
        by_number = {run.number: run for run in self.session.project.kept}
        wanted = [number for number in self.list.visible_numbers() if number not in self.checked]
        if wanted and self.isVisible() and not self.session.preparing:
            self._checker.request(tuple(by_number[number] for number in wanted[:CHECK_AT_ONCE] if number in by_number))

    def _on_checked(self, runs: tuple[KeptRun, ...], today: dict[int, Figures]) -> None:
        self.checked |= {run.number for run in runs}
        if today:
            self._today |= today
            self.show_project()
        else:
            self._check_visible()


def _figures_today(runs: tuple[KeptRun, ...]) -> dict[int, Figures]:
    """Today's figures of the runs whose stored ones are others."""
    today = {run.number: derive.figures(run.setup) for run in runs}
    return {run.number: today[run.number] for run in runs if not same_figures(run.figures, today[run.number])}


def _in_short(figures: Figures) -> str:
    end = f"{figures.time_s:.2f} s" if figures.outcome == "finished" else f"{figures.outcome} at {figures.time_s:.1f} s"
    return f"{end}, {figures.wobble_mm:.1f} mm"
