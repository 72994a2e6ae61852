"""Run: what the run came to, beside the kept one; and the kept runs."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from irontrail.app.panel import Panel, clear
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dash_sample import DashSample
from irontrail.core.figures import Figures
from irontrail.core.project import KeptRun

# Label, attribute, factor to the shown unit, unit, decimals.
ROWS = (
    ("time", "time_s", 1.0, "s", 2),
    ("mean speed", "mean_speed_mm_s", 1.0, "mm/s", 0),
    ("path", "path_length_mm", 0.001, "m", 2),
    ("off the edge, RMS", "rms_edge_mm", 1.0, "mm", 1),
    ("off the edge, worst", "worst_edge_mm", 1.0, "mm", 1),
    ("swing of the sensor", "wobble_mm", 1.0, "mm", 1),
    ("swing of the heading", "heading_swing_deg", 1.0, "°", 1),
    ("swings at", "wobble_hz", 1.0, "Hz", 1),
    ("edge crossed", "crossings_per_m", 1.0, "per m", 0),
    ("clipped", "clipped_share", 100.0, "%", 0),
    ("steering effort", "steer_effort", 1.0, "%/s", 0),
    ("skid", "skid_mm", 1.0, "mm", 0),
    ("turn lost to sliding", "slide_deg", 1.0, "°", 0),
    ("coasts", "coast_mm", 1.0, "mm", 0),
    ("angle at rest", "end_angle_deg", 1.0, "°", 0),
)

OUTCOME_WORDS = {
    "finished": "Finished.",
    "off-mat": "The sensor left the mat.",
    "lost": "Lost: the sensor strayed too far from its edge.",
    "stuck": "Stuck: no progress along the line.",
    "time-out": "Out of time.",
    "stopped": "Stopped by its own rule before the finish.",
}


class RunPanel(Panel):
    """The panel of the Run stop."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme, "Run")
        self.outcome = self.add_words()
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(10)
        self._table.setVerticalSpacing(3)
        self._table.setColumnStretch(0, 1)
        self.cells = [[QLabel() for _ in range(4)] for _ in range(len(ROWS) + 1)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                cell.setProperty("role", "quiet" if i == 0 or j in (0, 3) else "words")
                if j in (1, 2):
                    cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self._table.addWidget(cell, i, j)
        self.column.addLayout(self._table)
        self.add_rule()
        self.add_heading("Kept runs")
        self.empty = self.add_words("None yet. Keep a run with K, change something, and see both.", "quiet")
        self._rows = QVBoxLayout()
        self._rows.setSpacing(6)
        self.column.addLayout(self._rows)
        self._listed: tuple[object, ...] = ()
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        kept, mat = self.session.project.kept, self.session.setup.mat
        if (kept, mat) != self._listed:
            self._listed = (kept, mat)
            self._list(kept)
        self.show_view()

    def show_view(self) -> None:
        view, reference = self.session.view, self.session.reference
        if view is None:
            return
        progress = 100.0 * view.figures.progress_mm / view.figures.route_length_mm
        outcome = OUTCOME_WORDS[view.figures.outcome]
        if view.figures.outcome != "finished":
            outcome += f" It had come {min(max(progress, 0.0), 100.0):.0f} % of the way."
        self.outcome.setText(outcome)
        heads = ("", "now", f"run {reference.number}" if reference else "", "")
        for cell, text in zip(self.cells[0], heads, strict=True):
            cell.setText(text)
        for row, cells in zip(ROWS, self.cells[1:], strict=True):
            cells[0].setText(row[0])
            cells[1].setText(_shown(view.figures, row))
            cells[2].setText(_shown(reference.figures, row) if reference else "")
            cells[3].setText(row[3])

    def _list(self, kept: tuple[KeptRun, ...]) -> None:
        clear(self._rows)
        self.empty.setVisible(not kept)
        for run in reversed(kept):
            self._rows.addWidget(self._row(run))

    def _row(self, run: KeptRun) -> QWidget:
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(6)
        shown = QCheckBox()
        shown.setChecked(run.number not in self.session.hidden)
        shown.setAccessibleName(f"show run {run.number}")
        shown.setToolTip("Show this run on the mat and the strip")
        shown.toggled.connect(lambda on, number=run.number: self._on_shown(number, on))
        sample = DashSample(self.theme)
        place = self._place(run)
        sample.set_place(place)
        figures = run.figures
        end = f"{figures.time_s:.2f} s" if figures.outcome == "finished" else figures.outcome
        elsewhere = run.setup.mat != self.session.setup.mat
        what = run.setup.mat.name if elsewhere else run.setup.program.law
        text = QLabel(f"{run.number}  {what}\n{end}, {figures.wobble_mm:.1f} mm")
        shown.setEnabled(not elsewhere)
        text.setToolTip(f"run {run.number}: {run.setup.title}, {end}, swing {figures.wobble_mm:.1f} mm")
        text.setProperty("role", "words")
        take = QPushButton("Take back")
        take.setToolTip("Make this run's settings the current ones")
        take.setAccessibleName(f"take back the settings of run {run.number}")
        take.clicked.connect(lambda _checked=False, number=run.number: self.session.take_back(number))
        drop = QPushButton("Drop")
        drop.setAccessibleName(f"drop run {run.number}")
        drop.clicked.connect(lambda _checked=False, number=run.number: self.session.drop(number))
        for button in (take, drop):
            button.setProperty("small", "true")
        for widget in (shown, sample):
            line.addWidget(widget)
        line.addWidget(text, 1)
        line.addWidget(take)
        line.addWidget(drop)
        return row

    def _place(self, run: KeptRun) -> int | None:
        """Which of the dashes a kept run has: the newest shown has the first; None if it is not shown."""
        newest_first = [kept.number for kept in reversed(self.session.shown)]
        return newest_first.index(run.number) if run.number in newest_first else None

    def _on_shown(self, number: int, shown: bool) -> None:
        self.session.show_kept(number, shown)
        self._list(self.session.project.kept)
        self.show_view()


def _shown(figures: Figures, row: tuple[str, str, float, str, int]) -> str:
    value = getattr(figures, row[1]) * row[2]
    text = f"{value:.{row[4]}f}"
    return (text.lstrip("-") if float(text) == 0.0 else text).replace("-", "−")
