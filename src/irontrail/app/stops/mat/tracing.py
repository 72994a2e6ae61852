"""A picture of a mat, put right and traced: where the mat is in it, how large that is, and its line."""

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.mat.photo import Photo
from irontrail.app.theme import Theme
from irontrail.app.underway import Underway
from irontrail.app.widgets.picture_hand import PictureHand
from irontrail.core.counted import counted
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.perspective import check_corners, scaled_to
from irontrail.core.mat.tape import Mat
from irontrail.core.quantity import Quantity, quantities

if TYPE_CHECKING:
    from irontrail.core.mat.trace import Traced

Floats = NDArray[np.float64]

KNOWN = Quantity(
    "known length", "mm", 10.0, 4000.0, 10.0, says="How long the slate line in the picture is on the real mat."
)
LIKENESS = Quantity(
    "how alike the line must be",
    "%",
    0.2,
    0.9,
    0.05,
    100.0,
    says="How like the line's colour a point must be to count as line.",
)
# How far in from the picture's corners those of the mat are first put, as a share of its size.
INSET = 0.04


class Tracing(Panel):
    """In sight while a picture is worked on; its line is looked for on a line of work that is lent to it.

    Says `taken_up(bool)` when there is a picture, or none any more, and `laid(mats)` when its mat has been put on the
    table: those with each line that was found as the one to follow.
    """

    taken_up = Signal(bool)
    laid = Signal(object)

    def __init__(self, session: Session, theme: Theme, underway: Underway) -> None:
        super().__init__(session, theme)
        self.work: Photo | None = None
        self.found: Traced | None = None
        # The corners between which the line was last looked for.
        self._looked_at: Floats | None = None
        self.underway = underway
        underway.stop.clicked.connect(self._stopped)
        self.hand = self.picture_hand = PictureHand(self)
        self.picture_hand.moved.connect(self._on_moved)
        self.picture_hand.picked.connect(self._on_picked)
        self.says = self.add_words("", "quiet")
        self._lay_out()
        self.finish()
        self.hide()

    def _lay_out(self) -> None:
        mat = quantities(Mat)
        self.wide = self.add_number(mat["width_mm"], 200.0, 4000.0, lambda value, _: self._resize(width_mm=value))
        self.high = self.add_number(mat["height_mm"], 200.0, 4000.0, lambda value, _: self._resize(height_mm=value))
        self.known = self.add_number(KNOWN, 50.0, 2000.0, lambda _value, _settled: None)
        self.known.set_value(500.0)
        self.scale_button = self.add_small(
            "Set the size by the known length", "The slate line in the picture is that long"
        )
        self.scale_button.clicked.connect(self._set_scale)
        self.likeness = self.add_number(
            LIKENESS, 0.2, 0.9, lambda value, settled: self._look_for(settled, likeness=value)
        )
        row = self.add_row()
        self.pick = QPushButton("Pick the line's colour")
        self.pick.setCheckable(True)
        self.pick.setToolTip("Then press on the line in the picture")
        self.pick.toggled.connect(self._pick)
        self.any_colour = QPushButton("Find it")
        self.any_colour.setToolTip("Look for what stands out most")
        self.any_colour.clicked.connect(lambda: self._look_for(True, colour=None))
        row.addWidget(self.pick)
        row.addWidget(self.any_colour)
        row = self.add_row()
        self.lay = QPushButton("Lay this mat")
        self.lay.setToolTip("Put the mat that was found on the table")
        self.lay.setProperty("start", "true")
        self.lay.clicked.connect(self.lay_mat)
        self.away = QPushButton("Put the picture away")
        self.away.setToolTip("Leave the picture; the mat stays as it was")
        self.away.clicked.connect(self.put_away)
        row.addWidget(self.lay)
        row.addWidget(self.away)
        for button in (self.pick, self.any_colour, self.lay, self.away):
            button.setProperty("small", "true")

    def begin(self, name: str, pixels: NDArray[np.uint8]) -> None:
        """Work on a picture."""
        rows, columns = pixels.shape[:2]
        mat = self.session.setup.mat
        left, top, right, low = INSET * columns, INSET * rows, (1 - INSET) * columns, (1 - INSET) * rows
        corners = np.array([[left, top], [right, top], [right, low], [left, low]])
        ends = np.array([[0.25 * columns, 0.5 * rows], [0.75 * columns, 0.5 * rows]])
        wide = mat.width_mm
        high = quantities(Mat)["height_mm"].clamped(round(wide * rows / columns))
        self.work, self.found = Photo(name, pixels, corners, ends, wide, high), None
        self.picture_hand.set_picture(pixels, (mat.width_mm, mat.height_mm))
        self.show()
        self.taken_up.emit(True)
        self._look_for(True)

    def put_away(self) -> None:
        """Leave the picture; the mat is as it was."""
        if self.work is not None:
            self.work = self.found = None
            self.underway.call_off()
        self.pick.setChecked(False)
        self.hide()
        self.taken_up.emit(False)

    def _stopped(self) -> None:
        if self.work is not None:
            self.says.setText("Not looked for to the end. “Find it” looks again.")

    def lay_mat(self) -> None:
        """Put the mat that was found on the table."""
        work, found = self.work, self.found
        if work is not None and found is not None:
            try:
                mats = tuple(found.mat(work.name, *work.size_mm, first) for first in range(len(found.fits)))
            except IronTrailError as error:
                self.session.notice(str(error))
                return
            mat, under = mats[0], work.underlay()
            self.put_away()
            self.session.lent.lay_under(under)
            self.session.choose_mat(mat)
            self.laid.emit(mats)
            self.session.notice(f"{mat.name} is on the table, over its picture: correct its tape on the sheet “Tape”.")

    def _look_for(self, settled: bool, **values: object) -> None:
        """Change what is known of the picture; the line is looked for anew once the hand has let go."""
        if self.work is None:
            return
        self.work = replace(self.work, **values)  # type: ignore[arg-type]
        if settled:
            self._looked_at = self.work.corners
            try:
                check_corners(self.work.corners)
            except IronTrailError as error:
                self.found = None
                self.says.setText(str(error))
            else:
                self.says.setText("")
                work = self.work
                self.underway.begin(
                    "Looking for the line …",
                    work.find_line,
                    lambda found: self._on_found(work, found),
                    self._not_found,
                )
        self.show_project()

    def _resize(self, **size: float) -> None:
        self._look_for(True, **size)

    def _set_scale(self) -> None:
        if self.work is None:
            return
        try:
            wide, high = scaled_to(self.work.corners, self.work.size_mm, self.work.ends, self.known.value)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        side = quantities(Mat)["width_mm"]
        if side.clamped(wide) != wide or side.clamped(high) != high:
            self.session.notice(
                f"Then the mat would be {wide:.0f} × {high:.0f} mm, and a mat is {side.low:g} to {side.high:g} mm: "
                "check the known length and its two ends."
            )
            return
        self._look_for(True, width_mm=round(wide, 1), height_mm=round(high, 1))

    def _on_moved(self, corners: Floats, ends: Floats, settled: bool) -> None:
        if self.work is not None:
            looked_at = self._looked_at is not None and np.array_equal(corners, self._looked_at)
            self.found = self.found if looked_at else None
            self._look_for(settled and not looked_at, corners=corners, ends=ends)

    def _pick(self, on: bool) -> None:
        self.picture_hand.picking = on
        if on:
            self.says.setText("Press on the line in the picture.")

    def _on_picked(self, colour: str) -> None:
        self.pick.setChecked(False)
        self._look_for(True, colour=colour)

    def _not_found(self, error: Exception) -> None:
        if self.work is not None:
            self.found = None
            self.says.setText(str(error))
            self.show_project()

    def _on_found(self, asked: Photo, found: "Traced") -> None:
        if self.work is None:
            return
        if asked is self.work or np.array_equal(asked.corners, self.work.corners):
            self.found = found
            fit = self.found.fits[0]
            what = "A circuit" if fit.stroke.closed else "An open line"
            pieces = counted(len(fit.stroke.pieces), "piece")
            more = f", and {len(self.found.fits) - 1} more" if len(self.found.fits) > 1 else ""
            self.says.setText(
                f"{what} of {pieces}, {self.found.width_mm:.0f} mm wide, {self.found.colour} on "
                f"{self.found.ground}{more}. It lies within {fit.worst_mm:.1f} mm of the picture's."
            )
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        work = self.work
        if work is None:
            return
        self.wide.set_value(work.width_mm)
        self.high.set_value(work.height_mm)
        self.likeness.set_value(work.likeness)
        self.lay.setEnabled(self.found is not None)
        shown = None
        if self.found is not None:
            try:
                shown = self.found.mat(work.name, *work.size_mm)
            except IronTrailError as error:
                self.says.setText(str(error))
        self.picture_hand.set_places(work.corners, work.ends, work.size_mm, shown)
