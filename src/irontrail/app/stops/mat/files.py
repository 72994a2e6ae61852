"""In: a mat from a picture or a drawing, shown for correction and laid; below it what sends it out."""

from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFileDialog, QPushButton

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.mat.photo import Photo
from irontrail.app.stops.mat.send_out import SendOut
from irontrail.app.theme import Theme
from irontrail.app.underway import Underway
from irontrail.app.widgets.line_choices import LineChoices
from irontrail.app.widgets.picture_hand import PictureHand
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.perspective import check_corners, scaled_to
from irontrail.core.mat.tape import Mat
from irontrail.core.mat.trace import Traced
from irontrail.core.quantity import Quantity, quantities
from irontrail.files import mat_in, picture
from irontrail.files.drawn_mat import ASKED_MM, DrawnMat

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
OPEN_FILTER = f"Pictures and drawings ({mat_in.PATTERNS})"
# So much of what is not taken over is told.
MOST_LEFT_OUT = 4


class FilesSheet(Panel):
    """Opens, shows for correction, lays; and what saves."""

    SAYS = "A mat from a photo or a drawing, and to paper."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._theme = theme
        self.work: Photo | None = None
        self.found: Traced | None = None
        # The corners between which the line was last looked for.
        self._looked_at: Floats | None = None
        self.underway = Underway(theme)
        self.retired.connect(self.underway.close_work)
        self.underway.stop.clicked.connect(self._stopped)
        self.picture_hand = PictureHand(self)
        self.picture_hand.moved.connect(self._on_moved)
        self.picture_hand.picked.connect(self._on_picked)
        self._lay_out_in()
        self.out = SendOut(session, theme)
        self.retired.connect(self.out.retired)
        self.column.addWidget(self.out)
        self.finish()

    def _lay_out_in(self) -> None:
        self.add_heading("In: a picture or a drawing of a mat")
        self.open_button = self.add_small(
            "Open a picture or drawing …", "A photo or other picture; or a drawing as SVG or DXF"
        )
        self.open_button.clicked.connect(self.ask_open)
        self.choices = LineChoices(self._theme)
        self.choices.chosen.connect(self._follow)
        self.column.addWidget(self.choices)
        self.column.addWidget(self.underway)
        self.says = self.add_words("A photo may be taken at an angle. A drawing is taken over to scale.", "quiet")
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

    # --- in

    def ask_open(self) -> None:
        """Ask for a picture or a drawing, and open it."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a picture or a drawing of a mat", "", OPEN_FILTER)
        if name:
            self.open(Path(name))

    def take_in(self, path: Path) -> None:
        self.open(path)

    def open(self, path: Path) -> None:
        """Open a picture to be worked on, or a drawing to be laid; what cannot be read is told."""
        self.put_away()
        self.choices.offer(())
        self.underway.begin(
            f"Opening {path.name} …",
            lambda check: mat_in.read(path, check),
            lambda found: self._on_opened(path, found),
            lambda error: self.session.notice(str(error)),
        )

    def take_image(self, image: QImage) -> None:
        side = picture.WORKING_SIDE_PX
        if max(image.width(), image.height()) > side:
            image = image.scaled(side, side, Qt.AspectRatioMode.KeepAspectRatio)
        plain = image.convertToFormat(QImage.Format.Format_RGB888)
        if min(plain.width(), plain.height()) < picture.LEAST_SIDE_PX:
            self.session.notice("That picture is too small to see a line in it.")
            return
        rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
        self._begin("pasted", rows[:, : 3 * plain.width()].reshape(plain.height(), plain.width(), 3).copy())

    def _stopped(self) -> None:
        if self.work is not None:
            self.says.setText("Not looked for to the end. “Find it” looks again.")

    def _on_opened(self, path: Path, found: DrawnMat | NDArray[np.uint8]) -> None:
        if not isinstance(found, DrawnMat):
            self._begin(path.stem, found)
        elif found.off_mm > ASKED_MM:
            self.session.offered.emit(
                f"{path.name}: tape can follow its line only to {found.off_mm:.1f} mm.",
                {"Lay it so": lambda: self._lay_drawing(found)},
            )
        else:
            self._lay_drawing(found)

    def _lay_drawing(self, drawn: DrawnMat) -> None:
        setup = replace(self.session.setup, mat=drawn.mat)
        if drawn.areas:
            setup = replace(setup, light=replace(setup.light, areas=drawn.areas))
        self.session.edit(f"mat {drawn.mat.name}", setup)
        count = len(drawn.mat.lines)
        said = f"{drawn.mat.name}: {count} line{'s' if count > 1 else ''}, {len(drawn.mat.line.pieces)} pieces"
        said += f", within {max(drawn.off_mm, 0.1):.1f} mm of the drawing."
        if drawn.left_out:
            more = f", and {len(drawn.left_out) - MOST_LEFT_OUT} more" if len(drawn.left_out) > MOST_LEFT_OUT else ""
            said += f" Not taken over: {'; '.join(drawn.left_out[:MOST_LEFT_OUT])}{more}."
        acts = {}
        if drawn.pictures:
            acts["Trace the picture in it"] = lambda: self._trace_inside(drawn)
        if acts:
            self.session.offered.emit(said, acts)
        else:
            self.session.notice(said)
        self.choices.offer(drawn.choices)

    def _trace_inside(self, drawn: DrawnMat) -> None:
        try:
            self._begin(drawn.mat.name, picture.from_bytes(drawn.pictures[0], drawn.mat.name))
        except IronTrailError as error:
            self.session.notice(str(error))

    def _follow(self, mat: Mat) -> None:
        self.session.choose_mat(mat)
        self.show_project()

    def _begin(self, name: str, pixels: NDArray[np.uint8]) -> None:
        rows, columns = pixels.shape[:2]
        mat = self.session.setup.mat
        left, top, right, low = INSET * columns, INSET * rows, (1 - INSET) * columns, (1 - INSET) * rows
        corners = np.array([[left, top], [right, top], [right, low], [left, low]])
        ends = np.array([[0.25 * columns, 0.5 * rows], [0.75 * columns, 0.5 * rows]])
        wide = mat.width_mm
        high = quantities(Mat)["height_mm"].clamped(round(wide * rows / columns))
        self.work, self.found = Photo(name, pixels, corners, ends, wide, high), None
        self.picture_hand.set_picture(pixels, (mat.width_mm, mat.height_mm))
        self.hand = self.picture_hand
        # It may have come when the person has gone on to another sheet.
        if self.isVisible():
            self.session.lent.lend(self.picture_hand)
        self._look_for(True)

    def put_away(self) -> None:
        """Leave the picture; the mat is as it was."""
        if self.work is not None:
            self.work = self.found = None
            self.underway.call_off()
            self.session.lent.withdraw(self.picture_hand)
            self.hand = None
        self.pick.setChecked(False)
        self.show_project()

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
            self.choices.offer(mats if len(mats) > 1 else ())
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

    def _on_found(self, asked: Photo, found: Traced) -> None:
        if self.work is None:
            return
        if asked is self.work or np.array_equal(asked.corners, self.work.corners):
            self.found = found
            fit = self.found.fits[0]
            what = "A circuit" if fit.stroke.closed else "An open line"
            more = f", and {len(self.found.fits) - 1} more" if len(self.found.fits) > 1 else ""
            self.says.setText(
                f"{what} of {len(fit.stroke.pieces)} pieces, {self.found.width_mm:.0f} mm wide, {self.found.colour} on "
                f"{self.found.ground}{more}. It lies within {fit.worst_mm:.1f} mm of the picture's."
            )
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        self.choices.show_mat(self.session.setup.mat)
        work = self.work
        for part in (
            self.wide, self.high, self.known, self.scale_button, self.likeness, self.pick, self.any_colour, self.lay,
            self.away,
        ):  # fmt: skip
            part.setVisible(work is not None)
        if work is not None:
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
        else:
            self.says.setText("A photo may be taken at an angle. A drawing is taken over to scale.")
