"""Pages to a printer that is chosen in the system's dialog."""

from collections.abc import Sequence

from PySide6.QtCore import QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QWidget

from ...core.words.errors import BadTable
from .page import Page
from .typeset import Paper

_POINT = 10.0  # units


def print_pages(pages: Sequence[Page], paper: Paper, parent: QWidget) -> bool:
    """Ask for a printer and print; whether it was done. Raises: BadTable where it takes nothing."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    size = QPageSize(QSizeF(paper.width / _POINT, paper.height / _POINT), QPageSize.Unit.Point, paper.name)
    printer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    printer.setFullPage(True)
    dialog = QPrintDialog(printer, parent)
    dialog.setMinMax(1, len(pages))
    if dialog.exec() != QPrintDialog.DialogCode.Accepted:
        return False
    draw_on(printer, chosen_of(printer, pages), paper)
    return True


def chosen_of(printer: QPrinter, pages: Sequence[Page]) -> Sequence[Page]:
    """The pages that were asked for: all of them, or from one to another."""
    first, last = printer.fromPage(), printer.toPage()
    return pages[first - 1 : last] if first else pages


def draw_on(printer: QPrinter, pages: Sequence[Page], paper: Paper) -> None:
    """Draw pages on a printer, each as large as its paper. Raises: BadTable where it takes nothing."""
    painter = QPainter()
    if not painter.begin(printer):
        where = printer.outputFileName() or printer.printerName() or "the printer"
        raise BadTable(f"Nothing was printed: {where} does not take it. Choose another printer or place.")
    scale = printer.width() / paper.width
    painter.scale(scale, scale)
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        page.draw(painter)
    painter.end()
