"""Every figure of the run beside the kept one's, and the run by stretch."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.app.widgets.stretch_bars import StretchBars, StretchRow
from irontrail.core.figures import FIGURES, OF_SPOTS

# In the order of the table: how fast, how near, how calm, how hard, how it came to rest.
ROWS = (
    "time_s", "mean_speed_mm_s", "path_length_mm", "rms_edge_mm", "worst_edge_mm", "wobble_mm", "heading_swing_deg",
    "wobble_hz", "crossings_per_m", "clipped_share", "steer_effort", "skid_mm", "slide_deg", "coast_mm",
    "end_angle_deg", *OF_SPOTS,
)  # fmt: skip


class FiguresSheet(Panel):
    """Two columns: now, and the newest kept run shown; under them each straight and bend."""

    SAYS = "Every figure of the run, and of each stretch."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(10)
        self._table.setVerticalSpacing(3)
        self._table.setColumnStretch(0, 1)
        self.cells = [[Label() for _ in range(4)] for _ in range(len(ROWS) + 1)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                cell.setProperty("role", "quiet" if i == 0 or j in (0, 3) else "words")
                if j in (1, 2):
                    cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self._table.addWidget(cell, i, j)
        self.column.addLayout(self._table)
        self.add_rule()
        self.by_stretch = self.add_heading("")
        self.stretches = StretchBars(theme)
        self.column.addWidget(self.stretches)
        self.finish()

    def show_view(self) -> None:
        view, reference = self.session.view, self.session.kept_runs.reference
        if view is None:
            return
        heads = ("", "now", f"run {reference.number}" if reference else "", "")
        for cell, text in zip(self.cells[0], heads, strict=True):
            cell.setText(text)
        for name, cells in zip(ROWS, self.cells[1:], strict=True):
            figure = FIGURES[name]
            cells[0].setText(figure.label)
            cells[1].setText(figure.shown(getattr(view.figures, name)))
            cells[2].setText(figure.shown(getattr(reference.figures, name)) if reference else "")
            cells[3].setText(figure.unit)
            for cell in cells if name in OF_SPOTS else ():
                cell.setVisible(bool(view.setup.mat.spots))
        self.by_stretch.setText("By leg: seconds, and swing" if view.run.legs else "By stretch: seconds, and swing")

        before = {each.name: each for each in view.kept[-1].stretches} if view.kept else {}
        self.stretches.set_rows(
            tuple(
                StretchRow(
                    each.name,
                    each.bend,
                    each.time_s,
                    each.wobble_mm,
                    before[each.name].time_s if each.name in before and each.whole else None,
                    each.whole,
                )
                for each in view.stretches
            )
        )
