"""The printer's own dialog, and what is printed where the person says so."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

if TYPE_CHECKING:
    from PySide6.QtPrintSupport import QPrinter


def ask(over: QWidget, what: str, print_on: Callable[["QPrinter"], None]) -> None:
    """Ask for a printer over a window, and print `what` there."""
    from PySide6.QtPrintSupport import QPrintDialog, QPrinter

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    dialog = QPrintDialog(printer, over)
    dialog.setWindowTitle(f"Print {what}")
    if dialog.exec() == QPrintDialog.DialogCode.Accepted:
        print_on(printer)
    dialog.deleteLater()
