"""Out: the mat on the table as PDF at true scale, as a picture, or as a drawing."""

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PySide6.QtWidgets import QLineEdit, QPushButton

from irontrail.app import print_mat
from irontrail.app.asked_path import asked_path
from irontrail.app.panel import Panel
from irontrail.app.session import Session
from irontrail.app.theme import Theme
from irontrail.app.underway import Underway
from irontrail.core.counted import counted
from irontrail.core.errors import Check, IronTrailError
from irontrail.core.mat.tiles import PAPERS, Cut
from irontrail.core.quantity import Quantity
from irontrail.files import png_mat
from irontrail.files.svg import out as svg_out

GivenT = TypeVar("GivenT")
RESOLUTION = Quantity(
    "resolution",
    "dpi",
    png_mat.LEAST_DPI,
    png_mat.MOST_DPI,
    10.0,
    says="How fine the picture is: more dots make a larger file.",
)


class SendOut(Panel):
    """The papers, what each comes to, and a button for each kind of file."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self.underway = Underway(theme)
        self.retired.connect(self.underway.close_work)
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
        self.ground.toggled.connect(lambda _on: self.show_project())
        self.wanted = QLineEdit()
        self.wanted.setPlaceholderText("all sheets, or some: 1-4, 7")
        self.wanted.setAccessibleName("sheets of the PDF")
        self.wanted.setToolTip(
            "Which sheets go into the PDF, from the top left: numbers and ranges; all if it is empty"
        )
        self.pdf = self.add_small("Save as PDF …", "At true scale, with a 100 mm check bar", beside=self.ground)
        self.pdf.clicked.connect(lambda: self._ask("PDF", "pdf", self.save_pdf))
        self.column.addWidget(self.wanted)
        self.pdf_says = self.add_words("", "quiet")
        self.dpi = self.add_number(RESOLUTION, 20.0, 300.0, lambda _value, _settled: self.show_project())
        self.dpi.set_value(100.0)
        self.png = QPushButton("Save as PNG …")
        self.png.setToolTip("A picture of the mat, to scale")
        self.svg = self.add_small("Save as SVG …", "For drawing programs, in millimetres", beside=self.png)
        self.png.clicked.connect(lambda: self._ask("PNG", "png", self.save_png))
        self.svg.clicked.connect(lambda: self._ask("SVG", "svg", self.save_svg))
        self.column.addWidget(self.underway)
        self.png_says = self.add_words("", "quiet")
        self.finish()

    def _choose_paper(self, paper: str) -> None:
        self.paper = paper
        self.show_project()

    def _ask(self, kind: str, suffix: str, save: Callable[[Path], None]) -> None:
        start = f"{self.session.setup.mat.name}.{suffix}"
        path = asked_path(self, f"Save the mat as {kind}", start, {f".{suffix}": kind})
        if path is not None:
            save(path)

    def save_pdf(self, path: Path) -> None:
        """Save the mat to print, beside the interface; what cannot be saved is told."""
        asked = self.session.setup.mat, self.paper, self.ground.isChecked(), self.wanted.text()
        self._write(
            path, lambda check: print_mat.write_pdf(path, *asked, check), lambda made: self._pdf_saved(path, made)
        )

    def _write(self, path: Path, job: Callable[[Check], GivenT], done: Callable[[GivenT], None]) -> None:
        """Write a file beside the interface, one at a time: none is given up for the next one unasked."""
        if self.underway.work.running:
            self.session.notice(f"{path.name} is not written: another file still is. Wait for that, or stop it.")
            return
        self.underway.begin(f"Writing {path.name} …", job, done, lambda error: self.session.notice(str(error)))

    def _pdf_saved(self, path: Path, made: Cut) -> None:
        sheets = counted(len(made.tiles), "sheet")
        self.session.notice(f"{path} holds the mat on {sheets}. Print it at 100 %, and measure the check bar.")

    def save_png(self, path: Path) -> None:
        """Save the mat as a picture, beside the interface: a fine one takes its time."""
        mat, dpi = self.session.setup.mat, self.dpi.value

        def told(size: tuple[int, int]) -> None:
            self.session.notice(f"{path}: {size[0]:,} × {size[1]:,} pixels.")

        self._write(path, lambda check: png_mat.write(path, mat, dpi, check), told)

    def save_svg(self, path: Path) -> None:
        """Save the mat as a drawing."""
        mat = self.session.setup.mat
        try:
            svg_out.write(path, mat, self.session.setup.light.areas)
        except IronTrailError as error:
            self.session.notice(str(error))
            return
        uneven = " Its felt-pen edges are drawn straight." if any(line.unevenness_mm for line in mat.lines) else ""
        self.session.notice(f"{path} holds the mat to scale.{uneven}")

    def show_project(self) -> None:
        super().show_project()
        mat = self.session.setup.mat
        for name, button in self.papers.items():
            button.setChecked(name == self.paper)
        self.wanted.setVisible(self.paper != "whole")
        try:
            made = print_mat.sheets(mat, self.paper, self.ground.isChecked())
        except IronTrailError as error:
            self.pdf_says.setText(str(error))
        else:
            page = f"{made.page_mm[0]:.0f} × {made.page_mm[1]:.0f} mm"
            count = len(made.tiles)
            less = f" less {made.left_out} with nothing on" if made.left_out else ""
            self.pdf_says.setText(
                f"One page of {page}."
                if count == 1
                else f"{count} sheets, {made.rows} × {made.columns}{less}, taped together."
            )
        wide, high = png_mat.size_px(mat, self.dpi.value)
        self.png_says.setText(f"PNG: {wide:,} × {high:,} pixels; at most {png_mat.largest_dpi(mat)} dpi.")
