"""The robot let go beside its edge: the way back, its figures, and what theory says of them."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.way_back import Way, WayBack
from irontrail.core.advice.step_response import StepResponse
from irontrail.core.quantity import Quantity

OFF = Quantity(
    "set down off the edge", "mm", -40.0, 40.0, 1.0, says="How far beside its edge the robot is set down and let go."
)
# What each row of the table is called, and how it is read off a way back.
ROWS: tuple[tuple[str, Callable[[StepResponse], str]], ...] = (
    ("goes past by", lambda way: f"{way.overshoot_mm:.1f} mm" if way.back else "—"),
    ("back for good after", lambda way: f"{way.settle_mm:.0f} mm" if way.settle_mm is not None else "never"),
    ("that is", lambda way: f"{way.settle_s:.2f} s" if way.settle_s is not None else "—"),
    ("swings past", lambda way: f"{way.swings} times" if way.back else "lost"),
    ("swings at", lambda way: f"{way.hertz:.2f} Hz" if way.hertz is not None else "—"),
    ("theory, small swings", lambda way: f"{way.theory.hertz:.2f} Hz" if way.theory is not None else "—"),
    ("damping ratio", lambda way: f"{way.damping_ratio:.3f}" if way.damping_ratio is not None else "—"),
    ("theory", lambda way: f"{way.theory.damping_ratio:.3f}".replace("-", "−") if way.theory is not None else "—"),
)


class StepResponseSheet(Panel):
    """Set down beside the edge on a straight, and let go; and how to pull the playing robot."""

    SAYS = "The robot set down beside its edge, and let go."

    WANTS = frozenset({"step response"})

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.add_words("Set down beside the edge on a straight, and let go.", "quiet")
        self.picture = WayBack(theme)
        self.column.addWidget(self.picture)
        self.off = Dial(OFF, theme, -20.0, 20.0)
        self.off.edited.connect(self._on_off)
        self.column.addWidget(self.off)
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(12)
        self._table.setVerticalSpacing(3)
        self._table.setColumnStretch(0, 1)
        self.cells = [[Label() for _ in range(3)] for _ in range(len(ROWS) + 1)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                cell.setProperty("role", "quiet" if i == 0 or j == 0 else "words")
                if j:
                    cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self._table.addWidget(cell, i, j)
        self.column.addLayout(self._table)
        self.says = self.add_words()
        self.add_rule()
        self.add_heading("On the mat")
        self.add_words("Drag the robot off its line and let go: the run goes on from there. Shift turns it.", "quiet")
        self.back = QPushButton("Put the robot back")
        self.back.setToolTip("Put it back on its way")
        self.back.clicked.connect(lambda: self.session.pull(None))
        self.column.addWidget(self.back)
        self.finish()

    def show_project(self) -> None:
        super().show_project()
        self.off.set_value(self.session.adviser.step_mm)
        self.back.setEnabled(self.session.setup.trial.pull is not None)

    def show_advice(self) -> None:
        advice, reference = self.session.adviser.advice, self.session.kept_runs.reference
        if advice is None or advice.step_response is None:
            return
        now, kept = advice.step_response, advice.kept_step
        self.picture.set_ways(_way(now), _way(kept) if kept is not None else None)
        heads = ("", "now", f"run {reference.number}" if reference is not None and kept is not None else "")
        for cell, text in zip(self.cells[0], heads, strict=True):
            cell.setText(text)
        for (name, read), cells in zip(ROWS, self.cells[1:], strict=True):
            cells[0].setText(name)
            cells[1].setText(read(now))
            cells[2].setText(read(kept) if kept is not None else "")
        self.says.setText(_says(now))

    def _on_off(self, value: float, _settled: bool) -> None:
        self.session.adviser.step_mm = value
        self.session.adviser.ask()


def _way(step_response: StepResponse) -> Way:
    return Way(step_response.time_s, step_response.edge_mm, step_response.settle_s)


def _says(way: StepResponse) -> str:
    """What it comes to, in a sentence."""
    if not way.back:
        return "It does not find back from there."
    if way.theory is None:
        return "This law has no small swings to reckon with: it swings by its powers and its delay."
    if way.theory.damping_ratio <= 0.0:
        return "By theory every swing is higher than the one before: it rocks, until its limits hold it."
    if way.theory.damping_ratio < 0.1:
        return "Each swing is hardly lower than the one before: the gain is close to rocking."
    if way.theory.damping_ratio > 0.7:
        how = "with hardly a swing" if way.swings else "without swinging"
        # From so near, or with so much noise, that it is never back for good, nothing is told of how long it takes.
        return f"It comes back {how}" + (f", in {way.settle_s:.2f} s." if way.settle_s is not None else ".")
    return "It comes back in a few swings, each well below the one before."
