"""In: a drawing laid as a mat, a picture handed on to be traced; below it what sends the mat out."""

from dataclasses import replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFileDialog

from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.stops.mat.send_out import SendOut
from irontrail.app.stops.mat.tracing import Tracing
from irontrail.app.theme import Theme
from irontrail.app.underway import Underway
from irontrail.app.widgets.line_choices import LineChoices
from irontrail.core.counted import counted
from irontrail.core.errors import IronTrailError
from irontrail.core.mat.tape import Mat
from irontrail.files import mat_in, picture
from irontrail.files.drawn_mat import ASKED_MM, DrawnMat

OPEN_FILTER = f"Pictures and drawings ({mat_in.PATTERNS})"
# So much of what is not taken over is told.
MOST_LEFT_OUT = 4


class FilesSheet(Panel):
    """Takes in what there is to be taken in: a drawing is laid, a picture traced; and below it what saves."""

    SAYS = "A mat from a photo or a drawing, and to paper."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._theme = theme
        self.underway = Underway(theme)
        self.retired.connect(self.underway.close_work)
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
        self.tracing = Tracing(self.session, self._theme, self.underway)
        self.retired.connect(self.tracing.retired)
        self.tracing.taken_up.connect(self.says.setHidden)
        self.tracing.laid.connect(lambda mats: self.choices.offer(mats if len(mats) > 1 else ()))
        self.column.addWidget(self.tracing)

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
        self.tracing.put_away()
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
        self.tracing.begin("pasted", rows[:, : 3 * plain.width()].reshape(plain.height(), plain.width(), 3).copy())

    def _on_opened(self, path: Path, found: DrawnMat | NDArray[np.uint8]) -> None:
        if not isinstance(found, DrawnMat):
            self.tracing.begin(path.stem, found)
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
        lines, pieces = counted(len(drawn.mat.lines), "line"), counted(len(drawn.mat.line.pieces), "piece")
        said = f"{drawn.mat.name}: {lines}, {pieces}, within {max(drawn.off_mm, 0.1):.1f} mm of the drawing."
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
            self.tracing.begin(drawn.mat.name, picture.from_bytes(drawn.pictures[0], drawn.mat.name))
        except IronTrailError as error:
            self.session.notice(str(error))

    def _follow(self, mat: Mat) -> None:
        self.session.choose_mat(mat)
        self.show_project()

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        self.choices.show_mat(self.session.setup.mat)
