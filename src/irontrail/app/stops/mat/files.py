"""In and out: a mat from a picture or a drawing, and to SVG, PDF and PNG."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QFileDialog, QPushButton

from irontrail.app import print_mat
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.widgets.dial import Dial
from irontrail.app.widgets.mat_ground import Underlay
from irontrail.app.widgets.picture_hand import PictureHand
from irontrail.app.worker import NewestWins
from irontrail.core.errors import IronTrailError, carry_on
from irontrail.core.mat.perspective import check_corners, rectified, scaled_to, usual_step
from irontrail.core.mat.tape import Mat
from irontrail.core.mat.tiles import PAPERS
from irontrail.core.mat.trace import Traced, trace
from irontrail.core.quantity import Quantity, quantities
from irontrail.files import picture, png_mat
from irontrail.files.svg import out as svg_out
from irontrail.files.svg import read as svg_read

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
RESOLUTION = Quantity(
    "resolution",
    "dpi",
    png_mat.LEAST_DPI,
    png_mat.MOST_DPI,
    10.0,
    says="How fine the picture is: more dots make a larger file.",
)
# How far in from the picture's corners those of the mat are first put, as a share of its size.
INSET = 0.04
OPEN_FILTER = f"Pictures and drawings ({picture.PATTERNS} *.svg)"


@dataclass(frozen=True, eq=False)
class Import:
    """A picture being made into a mat: where the mat's corners are in it, its size, and what the line looks like."""

    name: str
    picture: NDArray[np.uint8]
    corners: Floats
    ends: Floats
    width_mm: float
    height_mm: float
    colour: str | None = None
    likeness: float = 0.5

    @property
    def size_mm(self) -> tuple[float, float]:
        return self.width_mm, self.height_mm


def find_line(work: Import, check: Callable[[], None] = carry_on) -> Traced:
    """The line in a picture; `check` is called every now and then, and raises to give up."""
    step = usual_step(*work.size_mm)
    flat = rectified(work.picture, work.corners, *work.size_mm, step)
    return trace(flat, step, work.colour, work.likeness, check)


def _underlay(work: Import) -> Underlay:
    """The mat in a picture from above, to lay tape over."""
    flat = rectified(work.picture, work.corners, *work.size_mm, usual_step(*work.size_mm))
    pixels = np.ascontiguousarray((255.0 * flat[::-1]).astype(np.uint8))
    rows, columns, _ = pixels.shape
    return Underlay(work.name, QImage(pixels.data, columns, rows, 3 * columns, QImage.Format.Format_RGB888).copy())


class FilesSheet(Panel):
    """Opens, shows for correction, lays; and saves."""

    SAYS = "A mat from a photo or a drawing, and to paper."

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.work: Import | None = None
        self.found: Traced | None = None
        # The corners between which the line was last looked for.
        self._looked_at: Floats | None = None
        self.tracer = NewestWins(lambda work: find_line(work, self.tracer.check), self._on_found, self._not_found)
        self.retired.connect(self.tracer.close)
        self.saver = NewestWins(lambda asked: png_mat.write(*asked), self._on_saved, self._not_saved)
        self.retired.connect(self.saver.close)
        self.picture_hand = PictureHand(self)
        self.picture_hand.moved.connect(self._on_moved)
        self.picture_hand.picked.connect(self._on_picked)
        self._lay_out_in()
        self._lay_out_out()
        self.finish()

    def _lay_out_in(self) -> None:
        self.add_heading("In: a picture or a drawing of a mat")
        self.open_button = self._small("Open a picture or SVG …", "A PNG, JPEG or WebP, also a photo; or an SVG")
        self.open_button.clicked.connect(self.ask_open)
        self.says = self.add_words("A photo may be taken at an angle. A drawing is taken over to scale.", "quiet")
        mat = quantities(Mat)
        self.wide = self._number(mat["width_mm"], 200.0, 4000.0, lambda value, _: self._resize(width_mm=value))
        self.high = self._number(mat["height_mm"], 200.0, 4000.0, lambda value, _: self._resize(height_mm=value))
        self.known = self._number(KNOWN, 50.0, 2000.0, lambda _value, _settled: None)
        self.known.set_value(500.0)
        self.scale_button = self._small(
            "Set the size by the known length", "The slate line in the picture is that long"
        )
        self.scale_button.clicked.connect(self._set_scale)
        self.likeness = self._number(LIKENESS, 0.2, 0.9, lambda value, settled: self._look_for(settled, likeness=value))
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

    def _lay_out_out(self) -> None:
        self.add_rule()
        self.add_heading("Out: this mat")
        self.paper = "A4"
        self.papers = self.add_choice(
            "PDF on",
            ("whole", *PAPERS),
            self._choose_paper,
            says="Paper for the PDF: {}; whole is one sheet as large as the mat.",
        )
        self.ground = QPushButton("Print its ground too")
        self.ground.setToolTip("Print the mat's own colour under the tape; it takes much ink")
        self.ground.setCheckable(True)
        self.pdf = self._small("Save as PDF …", "At true scale, with a 100 mm check bar", beside=self.ground)
        self.pdf.clicked.connect(lambda: self._ask("PDF", "pdf", self.save_pdf))
        self.pdf_says = self.add_words("", "quiet")
        self.dpi = self._number(RESOLUTION, 20.0, 300.0, lambda _value, _settled: self.show_project())
        self.dpi.set_value(100.0)
        self.png = QPushButton("Save as PNG …")
        self.png.setToolTip("A picture of the mat, to scale")
        self.svg = self._small("Save as SVG …", "For drawing programs, in millimetres", beside=self.png)
        self.png.clicked.connect(lambda: self._ask("PNG", "png", self.save_png))
        self.svg.clicked.connect(lambda: self._ask("SVG", "svg", self.save_svg))
        self.png_says = self.add_words("", "quiet")

    def _small(self, text: str, tip: str, beside: QPushButton | None = None) -> QPushButton:
        row = self.add_row()
        button = QPushButton(text)
        button.setToolTip(tip)
        for each in (button, beside):
            if each is not None:
                each.setProperty("small", "true")
                row.addWidget(each)
        return button

    def _number(self, quantity: Quantity, low: float, high: float, told: Callable[[float, bool], None]) -> Dial:
        """A dial for a number that is not one of the project."""
        dial = Dial(quantity, self.theme, low, high)
        dial.setObjectName(quantity.label)
        dial.edited.connect(told)
        self.column.addWidget(dial)
        return dial

    # --- in

    def ask_open(self) -> None:
        """Ask for a picture or a drawing, and open it."""
        name, _ = QFileDialog.getOpenFileName(self, "Open a picture or a drawing of a mat", "", OPEN_FILTER)
        if name:
            self.open(Path(name))

    def take_in(self, path: Path) -> None:
        self.open(path)

    def open(self, path: Path) -> None:
        """Open a picture to be worked on, or lay the mat of a drawing at once; what cannot be read is told."""
        try:
            if path.suffix.lower() == ".svg":
                self._lay_drawing(svg_read.read(path))
                return
            self._begin(path.stem, picture.read_picture(path))
        except IronTrailError as error:
            self.session.notice(str(error))

    def _lay_drawing(self, drawn: svg_read.Drawn) -> None:
        self.put_away()
        self.session.choose_mat(drawn.mat)
        count = len(drawn.mat.lines)
        said = f"{drawn.mat.name}: {count} line{'s' if count > 1 else ''}, {len(drawn.mat.line.pieces)} pieces."
        if drawn.left_out:
            said += f" Left out: {', '.join(sorted(set(drawn.left_out)))}."
        self.session.notice(said)

    def _begin(self, name: str, pixels: NDArray[np.uint8]) -> None:
        rows, columns = pixels.shape[:2]
        mat = self.session.setup.mat
        left, top, right, low = INSET * columns, INSET * rows, (1 - INSET) * columns, (1 - INSET) * rows
        corners = np.array([[left, top], [right, top], [right, low], [left, low]])
        ends = np.array([[0.25 * columns, 0.5 * rows], [0.75 * columns, 0.5 * rows]])
        wide = mat.width_mm
        high = quantities(Mat)["height_mm"].clamped(round(wide * rows / columns))
        self.work, self.found = Import(name, pixels, corners, ends, wide, high), None
        self.picture_hand.set_picture(pixels, (mat.width_mm, mat.height_mm))
        self.hand = self.picture_hand
        self.session.lent.lend(self.picture_hand)
        self._look_for(True)

    def put_away(self) -> None:
        """Leave the picture; the mat is as it was."""
        if self.work is not None:
            self.work = self.found = None
            self.tracer.call_off()
            self.session.lent.withdraw(self.picture_hand)
            self.hand = None
        self.pick.setChecked(False)
        self.show_project()

    def lay_mat(self) -> None:
        """Put the mat that was found on the table."""
        work, found = self.work, self.found
        if work is not None and found is not None:
            try:
                mat = found.mat(work.name, *work.size_mm)
            except IronTrailError as error:
                self.session.notice(str(error))
                return
            self.put_away()
            self.session.lent.lay_under(_underlay(work))
            self.session.choose_mat(mat)
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
                self.says.setText("Looking for the line …")
                self.tracer.request(self.work)
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

    def _not_found(self, _asked: Import, error: Exception) -> None:
        if self.work is not None:
            self.found = None
            self.says.setText(str(error))
            self.show_project()

    def _on_found(self, asked: Import, found: Traced) -> None:
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

    # --- out

    def _choose_paper(self, paper: str) -> None:
        self.paper = paper
        self.show_project()

    def _ask(self, kind: str, suffix: str, save: Callable[[Path], None]) -> None:
        start = f"{self.session.setup.mat.name}.{suffix}"
        name, _ = QFileDialog.getSaveFileName(self, f"Save the mat as {kind}", start, f"{kind} (*.{suffix})")
        if name:
            path = Path(name)
            save(path if path.suffix.lower() == f".{suffix}" else path.with_name(f"{path.name}.{suffix}"))

    def save_pdf(self, path: Path) -> None:
        """Save the mat to print; what cannot be saved is told."""
        try:
            made = print_mat.write_pdf(path, self.session.setup.mat, self.paper, self.ground.isChecked())
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        sheets = "one sheet" if len(made.tiles) == 1 else f"{len(made.tiles)} sheets"
        self.session.notice(f"{path} holds the mat on {sheets}. Print it at 100 %, and measure the check bar.")

    def save_png(self, path: Path) -> None:
        """Save the mat as a picture, beside the interface: a fine one takes its time."""
        self.saver.request((path, self.session.setup.mat, self.dpi.value))
        self.png_says.setText("Writing the picture …")

    def _on_saved(self, asked: tuple[Path, Mat, float], size: tuple[int, int]) -> None:
        self.session.notice(f"{asked[0]}: {size[0]:,} × {size[1]:,} pixels.")
        self.show_project()

    def _not_saved(self, _asked: tuple[Path, Mat, float], error: Exception) -> None:
        self.session.notice(str(error))
        self.show_project()

    def save_svg(self, path: Path) -> None:
        """Save the mat as a drawing."""
        mat = self.session.setup.mat
        try:
            svg_out.write(path, mat)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        uneven = " Its felt-pen edges are drawn straight." if any(line.unevenness_mm for line in mat.lines) else ""
        self.session.notice(f"{path} holds the mat to scale.{uneven}")

    # --- showing

    def show_project(self) -> None:
        super().show_project()
        work, mat = self.work, self.session.setup.mat
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
        for name, button in self.papers.items():
            button.setChecked(name == self.paper)
        self._show_out(mat)

    def _show_out(self, mat: Mat) -> None:
        try:
            made = print_mat.sheets(mat, self.paper)
        except IronTrailError as error:
            self.pdf_says.setText(str(error))
        else:
            page = f"{made.page_mm[0]:.0f} × {made.page_mm[1]:.0f} mm"
            count = len(made.tiles)
            self.pdf_says.setText(
                f"One page of {page}."
                if count == 1
                else f"{count} sheets, {made.rows} × {made.columns}, taped together."
            )
        wide, high = png_mat.size_px(mat, self.dpi.value)
        self.png_says.setText(f"PNG: {wide:,} × {high:,} pixels; at most {png_mat.largest_dpi(mat)} dpi.")
