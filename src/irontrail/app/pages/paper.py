"""From a filled-in template to paper: PDF, or a printer."""

from collections.abc import Callable
from functools import cache
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QRectF, QSizeF, Qt
from PySide6.QtGui import (
    QColor,
    QFont,
    QImage,
    QPagedPaintDevice,
    QPageLayout,
    QPainter,
    QTextDocument,
)

from irontrail.app import printing
from irontrail.app.theme import FAMILY, LIGHT
from irontrail.core.errors import IronTrailError

if TYPE_CHECKING:
    from jinja2 import Environment
    from PySide6.QtPrintSupport import QPrinter

# Width and height, upright, in mm.
PAPERS = {"A5": (148.0, 210.0), "A4": (210.0, 297.0)}
MARGIN_MM, FOOT_MM, FOOT_PX = 9.0, 8.0, 10
# Pages are laid out in these, whatever the screen's are.
DOTS_PER_INCH, MM_PER_INCH = 96.0, 25.4
PDF_DOTS_PER_INCH = 1200
# Letters of a page that must hold all are made smaller by this, down to the least that can be read.
LARGEST_SCALE, SMALLER, LEAST_SCALE = 1.3, 0.97, 0.6

Fill = Callable[[float], str]


@cache
def _templates() -> "Environment":
    """Made on first use; what is filled in is text, never markup."""
    from jinja2 import Environment, PackageLoader, StrictUndefined

    return Environment(
        loader=PackageLoader("irontrail.app.pages"), autoescape=True, undefined=StrictUndefined, trim_blocks=True,
        lstrip_blocks=True,
    )  # fmt: skip


def filled(template: str, **values: Any) -> str:
    """A template with its values."""
    return _templates().get_template(template).render(**values)


def laid_out(html: str, size_mm: tuple[float, float]) -> QTextDocument:
    """A text set on pages of a size."""
    made = QTextDocument()
    made.setDefaultFont(QFont(FAMILY))
    # Where a screen's dots are told from is no page's business.
    ground = QImage(1, 1, QImage.Format.Format_RGB32)
    for set_dots in (ground.setDotsPerMeterX, ground.setDotsPerMeterY):
        set_dots(round(1000.0 * DOTS_PER_INCH / MM_PER_INCH))
    made.documentLayout().setPaintDevice(ground)
    made.setProperty("ground", ground)
    made.setDocumentMargin(_dots(MARGIN_MM))
    made.setPageSize(QSizeF(*(_dots(each) for each in size_mm)))
    made.setHtml(html)
    return made


def on_one_page(fill: Fill, size_mm: tuple[float, float]) -> QTextDocument:
    """A text, filled in for letters of a scale, with the largest letters at which it is all on one page.

    Raises
    ------
    IronTrailError
        If it is too long even with the smallest that can be read.
    """
    scale = LARGEST_SCALE
    while scale >= LEAST_SCALE:
        made = laid_out(fill(scale), size_mm)
        if made.pageCount() == 1:
            return made
        scale *= SMALLER
    raise IronTrailError("there is more on it than one page holds", "page", "Choose larger paper.")


def pdf(pages: QTextDocument, size_mm: tuple[float, float], title: str) -> bytes:
    """A text as PDF; where it is on several pages, each has the title and its number at its foot."""
    return printing.pdf(size_mm, title, PDF_DOTS_PER_INCH, lambda writer: _draw(pages, writer, title))


def size_of(printer: "QPrinter") -> tuple[float, float]:
    """The size of a printer's paper as it lies in it, in mm."""
    size = printer.pageLayout().fullRect(QPageLayout.Unit.Millimeter).size()
    return size.width(), size.height()


def print_pages(pages: QTextDocument, printer: "QPrinter", title: str) -> None:
    """Print a text that was set for the printer's paper."""
    printer.setFullPage(True)
    _draw(pages, printer, title)


def _draw(pages: QTextDocument, device: QPagedPaintDevice, title: str) -> None:
    size = pages.pageSize()
    painter = QPainter(device)
    scale = device.logicalDpiX() / DOTS_PER_INCH
    painter.scale(scale, scale)
    for i in range(pages.pageCount()):
        if i:
            device.newPage()
        painter.save()
        painter.translate(0.0, -i * size.height())
        pages.drawContents(painter, QRectF(0.0, i * size.height(), size.width(), size.height()))
        painter.restore()
        if pages.pageCount() > 1:
            painter.setFont(_foot_font())
            painter.setPen(QColor(LIGHT.second))
            foot = QRectF(_dots(MARGIN_MM), size.height() - _dots(FOOT_MM), size.width() - 2 * _dots(MARGIN_MM), 16.0)
            painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, title)
            painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{i + 1} of {pages.pageCount()}")
    painter.end()


def _foot_font() -> QFont:
    """Letters of the foot, as large as those of the text's dots ask for."""
    made = QFont(FAMILY)
    made.setPixelSize(FOOT_PX)
    return made


def _dots(mm: float) -> float:
    return mm * DOTS_PER_INCH / MM_PER_INCH
