"""The race: kept runs and the current one set off together; gaps as they go, and all their figures side by side."""

from PySide6.QtGui import QHideEvent
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton

from irontrail.app.kept_runs import MAX_SHOWN
from irontrail.app.panel import Panel, clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.view import RunView
from irontrail.app.widgets.race_hand import RaceHand, Racer
from irontrail.core.advice.changes import changes
from irontrail.core.figures import FIGURES, OF_SPOTS, Figures
from irontrail.core.project import KeptRun, Setup
from irontrail.core.tune.axes import axis, is_of_a_law, own_numbers
from irontrail.core.tune.race import gap_s

# The figures of the table; each is better the smaller its size is.
SHOWN = (
    "time_s", "wobble_mm", "heading_swing_deg", "rms_edge_mm", "worst_edge_mm", "clipped_share", "skid_mm",
    "end_angle_deg", *OF_SPOTS,
)  # fmt: skip


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
        self.gaps = self.add_words()
        self.start = QPushButton("Start the race")
        self.start.setToolTip("All chosen runs set out at once")
        self.start.setProperty("start", "true")
        self.start.clicked.connect(self.start_race)
        self.column.addWidget(self.start)
        self.add_rule()
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(8)
        self._table.setVerticalSpacing(3)
        self.column.addLayout(self._table)
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
        mat, shown = self.session.setup.mat, {kept.number for kept in self.session.kept_runs.shown}
        kept = [run for run in self.session.project.kept if run.setup.mat == mat][-8:]
        if list(self.runners) != [run.number for run in kept]:
            clear(self._who)
            self.runners = {}
            for i, run in enumerate(kept):
                button = QPushButton(f"{run.number}")
                button.setCheckable(True)
                button.setProperty("choice", "true")
                button.setAccessibleName(f"run {run.number} races")
                button.setToolTip(f"Whether run {run.number} takes part in the race")
                button.clicked.connect(lambda on, number=run.number: self._choose(number, on))
                self._who.addWidget(button, i // 4, i % 4)
                self.runners[run.number] = button
        for number, button in self.runners.items():
            button.setChecked(number in shown)
        if not kept:
            self.gaps.setText("Keep a run on this mat (K), change something, and the two can race.")

    def _choose(self, number: int, on: bool) -> None:
        """Let a run race, or not; the one chosen longest ago makes room."""
        if on:
            shown = [kept.number for kept in self.session.kept_runs.shown]
            for each in self.session.project.kept:
                if each.number != number and each.number not in shown:
                    self.session.kept_runs.show(each.number, False)
            for each_number in shown[: max(len(shown) + 1 - MAX_SHOWN, 0)]:
                self.session.kept_runs.show(each_number, False)
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
        self._table.addWidget(self._label("law", "quiet"), 1, 0)
        row = 2
        for path in _differing([setup for _, setup, _ in runs]):
            which = axis(view.setup, path)
            self._table.addWidget(self._label(which.quantity.label, "quiet"), row, 0)
            for column, (_, setup, _) in enumerate(runs, 1):
                uses = path in own_numbers(setup) or not is_of_a_law(path)
                self._cell(path, column, row, which.shown(which.of(setup)) if uses else "–", "words")
            row += 1
        for name in SHOWN if view.setup.mat.spots else SHOWN[: -len(OF_SPOTS)]:
            figure = FIGURES[name]
            self._table.addWidget(self._label(figure.with_unit, "words"), row, 0)
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
        self.changed.setText(self._changes(view))

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
