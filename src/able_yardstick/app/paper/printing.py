"""Pages to a printer that is chosen in the system's dialog."""

from collections.abc import Sequence

from PySide6.QtCore import QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QWidget

from .page import Page
from .typeset import Paper

_POINT = 10.0  # units


def print_pages(pages: Sequence[Page], paper: Paper, parent: QWidget) -> bool:
    """Ask for a printer and print; whether it was done."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    size = QPageSize(QSizeF(paper.width / _POINT, paper.height / _POINT), QPageSize.Unit.Point, paper.name)
    printer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    printer.setFullPage(True)
    if QPrintDialog(printer, parent).exec() != QPrintDialog.DialogCode.Accepted:
        return False
    draw_on(printer, pages, paper)
    return True


def draw_on(printer: QPrinter, pages: Sequence[Page], paper: Paper) -> None:
    """Draw pages on a printer, each as large as its paper."""
    painter = QPainter(printer)
    scale = printer.width() / paper.width
    painter.scale(scale, scale)
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        page.draw(painter)
    painter.end()
