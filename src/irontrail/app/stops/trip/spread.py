"""Where each leg ends over many starts: how far that scatters, and how many starts reach each spot."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.trip.on_mat import TripOnMat
from irontrail.app.theme import Theme
from irontrail.app.widgets.label import Label
from irontrail.core.advice.leg_ends import STARTS, LegEnds
from irontrail.core.mat.spots import misses
from irontrail.core.result import stands
from irontrail.core.steering.leg_words import leg_title
from irontrail.core.steering.legs import MAX_LEGS
from irontrail.core.steering.planning import legs_of

HEADS = ("leg", f"of {STARTS}", "along", "across", "turned")


class SpreadSheet(Panel):
    """A row for each leg, and for each spot; ellipses and fans are on the mat."""

    WANTS = frozenset({"leg ends"})
    SAYS = "How surely, and how exactly, each leg comes to its end."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.on_mat = TripOnMat(session, self)
        self.hand = self.on_mat.hand
        self.on_mat.picked.connect(self.choose)
        self.chosen = -1
        self.add_words(
            f"The trip {STARTS} times, each set down a little differently, with other noise, light and battery. On the "
            "mat each leg's ends as an ellipse of 2.4 standard deviations (95 of 100, if they scatter like noise), and "
            "a fan of the ways the robot then points.",
            "quiet",
        )
        self._table = QGridLayout()
        self._table.setHorizontalSpacing(8)
        self._table.setVerticalSpacing(4)
        self._table.setColumnStretch(0, 1)
        self.cells = [[Label() for _ in HEADS] for _ in range(MAX_LEGS + 1)]
        for i, row in enumerate(self.cells):
            for j, cell in enumerate(row):
                cell.setProperty("role", "quiet" if i == 0 else "words")
                if j:
                    cell.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                self._table.addWidget(cell, i, j)
        for cell, text in zip(self.cells[0], HEADS, strict=True):
            cell.setText(text)
        self.column.addLayout(self._table)
        self.add_words("Standard deviations: along and across the way that scatters most, and of the heading.", "quiet")
        self.add_rule()
        self.add_heading("Spots to reach")
        self.spots = self.add_words()
        self.finish()

    def choose(self, leg: int) -> None:
        """Work on another leg on the mat."""
        self.chosen = leg
        self.on_mat.show(leg)

    def show_project(self) -> None:
        super().show_project()
        self._show()

    def show_view(self) -> None:
        self._show()

    def show_advice(self) -> None:
        self._show()

    def _show(self) -> None:
        ends, legs = self.session.adviser.leg_ends(self.session.setup), legs_of(self.session.setup.program)
        self.on_mat.show(self.chosen)
        for i, row in enumerate(self.cells[1:]):
            for cell in row:
                cell.setVisible(i < len(legs))
            if i >= len(legs):
                continue
            row[0].setText(f"{i + 1}  {leg_title(legs[i])}")
            texts = ["", "", "", ""]
            if ends is not None and i < len(ends.legs):
                end = ends.legs[i]
                large, small, _ = end.axes
                texts[0] = f"{end.reached}"
                if end.reached > 1:
                    texts[1:] = [f"{large:.1f} mm", f"{small:.1f} mm", f"{end.spread_deg:.1f}°"]
            for cell, text in zip(row[1:], texts, strict=True):
                cell.setText(text)
        self.spots.setText(self._spots(ends))

    def _spots(self, ends: LegEnds | None) -> str:
        view, spots = self.session.view, self.session.setup.mat.spots
        if not spots:
            return "None on this mat. Lay one down under Mat, Things: where the robot is to stand, and point."
        if view is None:
            return ""
        where, said = stands(view.run), []
        found = misses(spots, where) if where.size else None
        for i in range(len(spots)):
            name = f"Spot {i + 1}" if len(spots) > 1 else "The spot"
            words = f"{name}: "
            if ends is not None and i < len(ends.spots):
                words += f"{ends.spots[i]} of {ends.starts} starts reach it. "
            if found is not None and found.leg[i] >= 0:
                words += f"This run misses it by {found.mm[i]:.0f} mm and {found.deg[i]:.1f}°."
            else:
                words += "In this run no leg came to its end."
            said.append(words)
        return "\n".join(said)
