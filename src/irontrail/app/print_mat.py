"""A mat as PDF at true scale: one sheet of its own size, or tiles for paper with marks to tape them together by."""

from dataclasses import replace
from functools import lru_cache
from math import ceil, floor
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import (
    QColor,
    QImage,
    QPagedPaintDevice,
    QPageLayout,
    QPainter,
    QPen,
    QPolygonF,
    QTransform,
)

from irontrail.app import printing
from irontrail.app.theme import font
from irontrail.app.widgets.laid_tape import draw_tape
from irontrail.core.errors import Check, IronTrailError, carry_on
from irontrail.core.mat.tape import Mat
from irontrail.core.mat.tiles import (
    CHECK_BAR_MM,
    FOOT_MM,
    MARGIN_MM,
    OVERLAP_MM,
    PAPERS,
    Cut,
    Tile,
    cut,
    one_sheet,
    some_of,
)
from irontrail.core.mat.zones import corners
from irontrail.files import atomic

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter

DOTS_PER_INCH = 1200
MM_PER_INCH = 25.4
INK = "#30353A"
# Of the words at a page's foot, in mm.
TEXT_MM = 3.2


@lru_cache(maxsize=16)
def sheets(mat: Mat, paper: str, ground: bool) -> Cut:
    """How a mat is laid on pages, without those that nothing would be on.

    `paper` is one of `tiles.PAPERS`, or "whole"; IronTrailError if it cannot be.
    """
    if paper == "whole":
        return one_sheet(mat.width_mm, mat.height_mm)
    made = cut(mat.width_mm, mat.height_mm, paper)
    return made if ground else replace(made, tiles=tuple(tile for tile in made.tiles if _has_something(mat, tile)))


def write_pdf(path: Path, mat: Mat, paper: str, ground: bool, which: str = "", check: Check = carry_on) -> Cut:
    """Write a mat as PDF, with or without its ground's colour, and tell how it was cut; IronTrailError if it cannot.

    `which` are the sheets to write, as in "1-4, 7"; all if it is empty. `check` is called for each with the share that
    is done, and raises `CalledOff` to give up; then what stood there stays.
    """
    made = some_of(sheets(mat, paper, ground), which)

    def draw(pages: QPagedPaintDevice) -> None:
        _draw_pages(pages, mat, made, ground, check)

    drawn = printing.pdf(made.page_mm, mat.name, DOTS_PER_INCH, draw)
    atomic.write_bytes(path, drawn)
    return made


def print_on(printer: "QPrinter", mat: Mat, ground: bool) -> Cut:
    """Print a mat in tiles for the printer's paper; IronTrailError if it is not on paper that there are tiles for."""
    size = printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter).size()
    short, long = sorted((size.width(), size.height()))
    near = (name for name, mm in PAPERS.items() if abs(min(mm) - short) < 2.0 and abs(max(mm) - long) < 2.0)
    paper = next(near, None)
    if paper is None:
        raise IronTrailError(
            f"the printer's paper is {short:.0f} × {long:.0f} mm", "Print",
            f"Choose {', '.join(PAPERS)} in the printer's settings, or save a PDF on Mat ▸ Files.",
        )  # fmt: skip
    made = sheets(mat, paper, ground)
    if printer.fromPage() > 0:
        made = some_of(made, f"{printer.fromPage()}-{min(printer.toPage(), len(made.tiles))}")
    printer.setFullPage(True)
    upright = made.page_mm[0] <= made.page_mm[1]
    printer.setPageOrientation(QPageLayout.Orientation.Portrait if upright else QPageLayout.Orientation.Landscape)
    printer.setDocName(mat.name)
    _draw_pages(printer, mat, made, ground)
    return made


def _draw_pages(paged: QPagedPaintDevice, mat: Mat, made: Cut, ground: bool, check: Check = carry_on) -> None:
    """Every tile on a page of its own."""
    painter = QPainter()
    if not painter.begin(paged):
        raise IronTrailError("nothing can be printed there", "Print", "Choose another printer, or save a PDF.")
    try:
        for i, tile in enumerate(made.tiles):
            check(i / len(made.tiles))
            if i > 0:
                paged.newPage()
            _draw_page(painter, mat, made, tile, ground)
    finally:
        painter.end()


def _draw_page(painter: QPainter, mat: Mat, made: Cut, tile: Tile, ground: bool) -> None:
    """One page: its part of the mat, marks where it meets its neighbours, and the foot."""
    painter.resetTransform()
    device = painter.device()
    painter.scale(device.logicalDpiX() / MM_PER_INCH, device.logicalDpiY() / MM_PER_INCH)
    part = QRectF(MARGIN_MM, MARGIN_MM, tile.width_mm, tile.height_mm)
    painter.save()
    painter.setClipRect(part)
    if ground:
        painter.fillRect(part, QColor(mat.colour))
    _draw_mat(painter, mat, tile)
    painter.restore()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(_pen(0.15))
    painter.drawRect(part)
    _draw_overlaps(painter, made, tile, part)
    _draw_foot(painter, mat, made, tile)


def _has_something(mat: Mat, tile: Tile) -> bool:
    """Whether anything of the mat comes to lie on a tile, but its ground."""
    top = mat.height_mm - tile.y_mm - tile.height_mm
    rows = slice(max(floor(top), 0), ceil(top + tile.height_mm))
    columns = slice(max(floor(tile.x_mm), 0), ceil(tile.x_mm + tile.width_mm))
    return bool(_drawn_on(mat)[rows, columns].any())


@lru_cache(maxsize=2)
def _drawn_on(mat: Mat) -> NDArray[np.bool_]:
    """Where on a mat something is drawn but its ground: a point a millimetre, the first row at the top."""
    picture = QImage(ceil(mat.width_mm), ceil(mat.height_mm), QImage.Format.Format_Alpha8)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    # As a tile that is the whole mat and has no margin.
    _draw_mat(painter, mat, Tile(0, 0, MARGIN_MM, -MARGIN_MM, mat.width_mm, mat.height_mm))
    painter.end()
    rows = np.frombuffer(picture.constBits(), np.uint8).reshape(picture.height(), picture.bytesPerLine())
    return np.asarray(rows[:, : picture.width()] > 0)


def _draw_mat(painter: QPainter, mat: Mat, tile: Tile) -> None:
    """What is on the mat, where it lies on a tile's page in millimetres."""
    # From millimetres on the mat, y up, to millimetres on the page, y down.
    to_page = QTransform(1.0, 0.0, 0.0, -1.0, MARGIN_MM - tile.x_mm, MARGIN_MM + tile.y_mm + tile.height_mm)
    draw_tape(painter, mat, to_page)
    for zone, word in ((mat.start, "start"), (mat.finish, "finish")):
        if zone is not None:
            shape = QPolygonF([to_page.map(QPointF(*corner)) for corner in corners(zone)])
            painter.setPen(_pen(0.4))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPolygon(shape)
            _text(painter, shape.boundingRect().bottomLeft() + QPointF(1.0, TEXT_MM + 1.0), word)


def _draw_overlaps(painter: QPainter, made: Cut, tile: Tile, part: QRectF) -> None:
    """Dashed lines as far inside a tile's edges as its neighbour reaches: lay the neighbour's edge on them."""
    painter.setPen(_pen(0.15, dashed=True))
    inner = []
    if made.has(tile.row, tile.column - 1):
        inner.append(part.left() + OVERLAP_MM)
    if made.has(tile.row, tile.column + 1):
        inner.append(part.right() - OVERLAP_MM)
    for x in inner:
        painter.drawLine(QPointF(x, part.top() - 4.0), QPointF(x, part.bottom() + 4.0))
    level = []
    if made.has(tile.row - 1, tile.column):
        level.append(part.top() + OVERLAP_MM)
    if made.has(tile.row + 1, tile.column):
        level.append(part.bottom() - OVERLAP_MM)
    for y in level:
        painter.drawLine(QPointF(part.left() - 4.0, y), QPointF(part.right() + 4.0, y))


def _draw_foot(painter: QPainter, mat: Mat, made: Cut, tile: Tile) -> None:
    """The check bar, and which tile it is."""
    y = made.page_mm[1] - MARGIN_MM - 0.5 * FOOT_MM + 2.0
    left = MARGIN_MM
    painter.setPen(_pen(0.3))
    painter.drawLine(QPointF(left, y), QPointF(left + CHECK_BAR_MM, y))
    for i in range(11):
        x, tick = left + 0.1 * i * CHECK_BAR_MM, 3.0 if i % 5 == 0 else 1.5
        painter.drawLine(QPointF(x, y), QPointF(x, y - tick))
    _text(
        painter,
        QPointF(left, y + TEXT_MM + 0.8),
        f"{CHECK_BAR_MM:g} mm: if it is not, print at 100 %, not fitted to the page",
    )
    grid = f"{len(made.tiles)} of {made.rows} × {made.columns}" if made.left_out else f"{made.rows} × {made.columns}"
    count = f", {grid} sheets, {OVERLAP_MM:g} mm overlap" if len(made.tiles) > 1 else ""
    _text(painter, QPointF(left + CHECK_BAR_MM + 6.0, y - 1.0), f"{tile.name}  {mat.name}{count}")


def _pen(width_mm: float, dashed: bool = False) -> QPen:
    made = QPen(QColor(INK), width_mm)
    made.setCapStyle(Qt.PenCapStyle.FlatCap)
    if dashed:
        made.setDashPattern([2.0 / width_mm, 1.5 / width_mm])
    return made


def _text(painter: QPainter, at: QPointF, words: str) -> None:
    painter.save()
    painter.translate(at)
    # Letters are drawn large and made small, since a font's size is a whole number.
    painter.scale(TEXT_MM / 32.0, TEXT_MM / 32.0)
    painter.setFont(font(32))
    painter.setPen(QColor(INK))
    painter.drawText(QPointF(0.0, 0.0), words)
    painter.restore()
