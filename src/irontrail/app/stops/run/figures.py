"""Every figure of the run beside the kept one's, and the run by stretch."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLabel

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.stretch_bars import StretchBars, StretchRow
from irontrail.core.figures import Figures

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


class FiguresSheet(Panel):
    """Two columns: now, and the newest kept run shown; under them each straight and bend."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
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
        self.add_heading("By stretch: seconds, and swing")
        self.stretches = StretchBars(theme)
        self.column.addWidget(self.stretches)
        self.finish()

    def show_view(self) -> None:
        view, reference = self.session.view, self.session.reference
        if view is None:
            return
        heads = ("", "now", f"run {reference.number}" if reference else "", "")
        for cell, text in zip(self.cells[0], heads, strict=True):
            cell.setText(text)
        for row, cells in zip(ROWS, self.cells[1:], strict=True):
            cells[0].setText(row[0])
            cells[1].setText(_shown(view.figures, row))
            cells[2].setText(_shown(reference.figures, row) if reference else "")
            cells[3].setText(row[3])

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


def _shown(figures: Figures, row: tuple[str, str, float, str, int]) -> str:
    value = getattr(figures, row[1]) * row[2]
    text = f"{value:.{row[4]}f}"
    return (text.lstrip("-") if float(text) == 0.0 else text).replace("-", "−")
