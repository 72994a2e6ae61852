"""The race: kept runs and the current one set off together; gaps as they go, and all their figures side by side."""

from PySide6.QtCore import Qt
from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QFrame, QGridLayout, QLabel, QPushButton, QScrollArea, QWidget

from irontrail.app.column import clear
from irontrail.app.kept_runs import MAX_SHOWN
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.view import RunView
from irontrail.app.widgets.dash_sample import DashSample
from irontrail.app.widgets.race_hand import RaceHand, Racer
from irontrail.core.advice.changes import changes
from irontrail.core.figures import FIGURES, OF_SPOTS, Figures
from irontrail.core.project import KeptRun
from irontrail.core.setup import Setup
from irontrail.core.tune.axes import axis, is_of_a_law, own_numbers
from irontrail.core.tune.race import gap_s

# The figures of the table; each is better the smaller its size is.
SHOWN = (
    "time_s", "wobble_mm", "heading_swing_deg", "rms_edge_mm", "worst_edge_mm", "clipped_share", "skid_mm",
    "end_angle_deg", *OF_SPOTS,
)  # fmt: skip


# So many of the newest kept runs can be chosen from.
MOST = 16
# The height of a bar to move the table sideways.
BAR = 14


class RaceSheet(Panel):
    """Who races, the gaps, and the table; the other robots are drawn on the mat."""

    SAYS = "Kept runs drive against each other on the mat."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.hand = self.race_hand = RaceHand(self)
        self.add_heading(f"Who races the run in sight (up to {MAX_SHOWN} kept ones)")
        self._who = QGridLayout()
        self._who.setSpacing(4)
        self.column.addLayout(self._who)
        self.runners: dict[int, QPushButton] = {}
        self.samples: dict[int, DashSample] = {}
        self.elsewhere = self.add_words("", "quiet")
        self.gaps = self.add_words()
        self.start = QPushButton("Start the race")
        self.start.setToolTip("All chosen runs set out at once")
        self.start.setProperty("start", "true")
        self.start.clicked.connect(self.start_race)
        self.column.addWidget(self.start)
        self.add_rule()
        # With many runs the table is wider than the panel, and is moved sideways by itself.
        self.beside, table = QScrollArea(), QWidget()
        self._table = QGridLayout(table)
        self._table.setContentsMargins(0, 0, 0, 10)
        self._table.setHorizontalSpacing(5)
        self._table.setVerticalSpacing(3)
        self.beside.setWidget(table)
        self.beside.setWidgetResizable(True)
        self.beside.setFrameShape(QFrame.Shape.NoFrame)
        self.beside.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.beside.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.column.addWidget(self.beside)
        self.cells: dict[tuple[str, int], QLabel] = {}
        self.changed = self.add_words("", "quiet")
        self.finish()

    def start_race(self) -> None:
        """All set off together."""
        self.session.playback.seek(0.0)
        self.session.playback.play()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        mat, shown = self.session.setup.mat, [kept.number for kept in self.session.kept_runs.shown]
        every = self.session.project.kept
        kept = [run for run in every if run.setup.mat == mat][-MOST:]
        if list(self.runners) != [run.number for run in kept]:
            clear(self._who)
            self.runners, self.samples = {}, {}
            for i, run in enumerate(kept):
                button, sample = QPushButton(f"{run.number}"), DashSample(self.theme)
                button.setCheckable(True)
                button.setProperty("choice", "true")
                button.setAccessibleName(f"run {run.number} races")
                named = f"run {run.number}" + (f", {run.note}" if run.note else "")
                button.setToolTip(f"Whether {named} takes part in the race")
                button.clicked.connect(lambda on, number=run.number: self._choose(number, on))
                self._who.addWidget(button, 2 * (i // 4), i % 4)
                self._who.addWidget(sample, 2 * (i // 4) + 1, i % 4, Qt.AlignmentFlag.AlignHCenter)
                self.runners[run.number], self.samples[run.number] = button, sample
        newest_first = list(reversed(shown))
        for number, button in self.runners.items():
            button.setChecked(number in shown)
            self.samples[number].set_place(newest_first.index(number) if number in shown else None)
        others = [run.number for run in every if run.setup.mat != mat]
        names = ", ".join(str(number) for number in others[-8:])
        self.elsewhere.setText(f"On another mat, and so not in this race: {names}." if others else "")
        self.elsewhere.setVisible(bool(others))
        if not kept:
            self.gaps.setText("Keep a run on this mat (K), change something, and the two can race.")

    def _choose(self, number: int, on: bool) -> None:
        """Let a run race, or not; the oldest makes room."""
        shown = [kept.number for kept in self.session.kept_runs.shown]
        if on:
            for other in shown[: max(len(shown) + 1 - MAX_SHOWN, 0)]:
                self.session.kept_runs.show(other, False)
        self.session.kept_runs.show(number, on)
        self.show_project()

    def show_view(self) -> None:
        view = self.session.view
        if view is None:
            return
        last = max([view.run.time_s, *(each.run.time_s for each in view.kept)])
        if self.isVisible():
            self.session.playback.set_duration(last)
        self.start.setEnabled(bool(view.kept))
        self._show_table(view)

    def hideEvent(self, event: QHideEvent) -> None:
        if self.session.view is not None:
            self.session.playback.set_duration(float(self.session.view.run.trace.time_s[-1]))
        super().hideEvent(event)

    def show_now(self, row: int) -> None:  # noqa: ARG002
        view, time = self.session.view, self.session.playback.time_s
        if view is None:
            return
        racers, said = [], []
        newest_first = list(reversed(range(len(view.kept))))
        for i, each in enumerate(view.kept):
            trace = each.run.trace
            at = min(int(trace.time_s.searchsorted(time)), len(trace) - 1)
            racers.append(
                Racer(
                    str(each.kept.number), each.kept.setup.robot, float(trace.x_mm[at]), float(trace.y_mm[at]),
                    float(trace.heading_rad[at]), newest_first.index(i),
                )
            )  # fmt: skip
            gap = gap_s(view.run, each.run, time)
            if gap is None:
                said.append(f"run {each.kept.number} does not come here")
            elif abs(gap) < 0.005:
                said.append(f"run {each.kept.number} is level")
            else:
                said.append(f"run {each.kept.number} is {abs(gap):.2f} s {'behind' if gap > 0 else 'ahead'}")
        self.race_hand.set_racers(tuple(racers))
        if view.kept:
            self.gaps.setText("Here " + ", ".join(said) + ".")

    # --- the table

    def _show_table(self, view: RunView) -> None:
        clear(self._table)
        self.cells = {}
        runs: list[tuple[str, Setup, Figures]] = [("now", view.setup, view.figures)]
        runs += [(str(each.kept.number), each.kept.setup, each.kept.figures) for each in view.kept]
        for column, (name, setup, _) in enumerate(runs, 1):
            self._cell("", column, 0, name, "heading")
            self._cell("law", column, 1, setup.program.steers_by, "quiet")
        self._name("law", "quiet", 1)
        row = 2
        for path in _differing([setup for _, setup, _ in runs]):
            which = axis(view.setup, path)
            self._name(which.quantity.label, "quiet", row)
            for column, (_, setup, _) in enumerate(runs, 1):
                uses = path in own_numbers(setup) or not is_of_a_law(path)
                self._cell(path, column, row, which.shown(which.of(setup)) if uses else "–", "words")
            row += 1
        for name in SHOWN if view.setup.mat.spots else SHOWN[: -len(OF_SPOTS)]:
            figure = FIGURES[name]
            self._name(figure.with_unit, "words", row)
            values = [abs(getattr(figures, name)) if figures.outcome == "finished" else None for _, _, figures in runs]
            known = [value for value in values if value is not None]
            for column, (value, (_, _, figures)) in enumerate(zip(values, runs, strict=True), 1):
                text = figures.outcome.replace("-", " ") if name == "time_s" else "–"
                if value is not None:
                    text = figure.shown(value)
                best = value is not None and len(known) > 1 and value <= min(known) + 1e-12
                self._cell(name, column, row, f"★ {text}" if best else text, "heading" if best else "words")
            row += 1
        self._table.setColumnStretch(0, 1)
        self._table.invalidate()
        rows = self._table.rowCount()
        line = self.fontMetrics().height() + self._table.verticalSpacing() + 2
        self.beside.setFixedHeight(max(self._table.minimumSize().height(), rows * line) + BAR)
        self.changed.setText(self._changes(view))

    def _name(self, text: str, role: str, row: int) -> None:
        label = self._label(text, role)
        label.setWordWrap(False)
        self._table.addWidget(label, row, 0)

    def _cell(self, name: str, column: int, row: int, text: str, role: str) -> None:
        label = self._label(text, role)
        label.setWordWrap(False)
        self._table.addWidget(label, row, column)
        self.cells[name, column] = label

    @staticmethod
    def _changes(view: RunView) -> str:
        """What is otherwise in each kept run than now, in words."""
        said = []
        for each in view.kept:
            kept: KeptRun = each.kept
            made = changes(kept.setup, view.setup)
            said.append(f"From {kept.number} to now: {', '.join(made) if made else 'nothing was changed'}.")
        return "\n".join(said)


def _differing(setups: list[Setup]) -> list[str]:
    """The foremost numbers in which some setups differ."""
    paths: list[str] = []
    for setup in setups:
        paths += [path for path in own_numbers(setup) if path not in paths]
    paths += ["program.target", "robot.mount.ahead_mm", "robot.mount.height_mm"]
    return [path for path in paths if len({round(axis(setup, path).of(setup), 9) for setup in setups}) > 1][:6]
