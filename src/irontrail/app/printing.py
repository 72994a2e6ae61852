"""On paper: pages as PDF, and the printer's own dialog."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QSizeF
from PySide6.QtGui import QPagedPaintDevice, QPageLayout, QPageSize, QPdfWriter
from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter


def pdf(
    size_mm: tuple[float, float], title: str, dots_per_inch: int, draw: Callable[[QPagedPaintDevice], None]
) -> bytes:
    """Pages of a size without margins as PDF; `draw` draws them all."""
    memory = QByteArray()
    buffer = QBuffer(memory)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setResolution(dots_per_inch)
    writer.setTitle(title)
    writer.setCreator("Iron Trail")
    page = QPageSize(QSizeF(*size_mm), QPageSize.Unit.Millimeter, title, QPageSize.SizeMatchPolicy.ExactMatch)
    writer.setPageLayout(QPageLayout(page, QPageLayout.Orientation.Portrait, QMarginsF(0.0, 0.0, 0.0, 0.0)))
    draw(writer)
    buffer.close()
    return bytes(memory.data())


def ask(over: QWidget, what: str, print_on: Callable[["QPrinter"], None]) -> None:
    """Ask for a printer over a window, and print `what` there."""
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    dialog = QPrintDialog(printer, over)
    dialog.setWindowTitle(f"Print {what}")
    if dialog.exec() == QPrintDialog.DialogCode.Accepted:
        print_on(printer)
    dialog.deleteLater()
