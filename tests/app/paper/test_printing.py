"""Pages go to the printer that is chosen: all of them or those asked for; one that takes nothing is told."""

import pytest
from pypdf import PdfReader
from PySide6.QtPrintSupport import QPrintDialog, QPrinter
from PySide6.QtWidgets import QWidget

from able_yardstick.app.paper.printing import draw_on, print_pages
from able_yardstick.app.paper.typeset import A4, LETTER, typeset
from able_yardstick.core.sign.field_sheet import field_sheet
from able_yardstick.core.words.errors import BadTable


@pytest.fixture
def pages(qapp, demo_job):
    found = typeset(field_sheet(demo_job, demo_job.channels), A4)
    assert len(found) > 4
    return found


def answers(monkeypatch, answer, place, first=0, last=0):
    """Have the print dialog be answered so, with the file as the printer."""

    def executed(dialog):
        printer = dialog.printer()
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(place))
        printer.setFromTo(first, last)
        return answer

    monkeypatch.setattr(QPrintDialog, "exec", executed)


@pytest.mark.parametrize(("first", "last"), [(0, 0), (2, 3)])
def test_all_pages_or_those_asked_for_are_printed_on_their_paper(qtbot, pages, tmp_path, monkeypatch, first, last):
    parent = QWidget()
    qtbot.addWidget(parent)
    answers(monkeypatch, QPrintDialog.DialogCode.Accepted, tmp_path / "out.pdf", first, last)
    assert print_pages(pages, A4, parent)
    printed = PdfReader(tmp_path / "out.pdf").pages
    wanted = range(first, last + 1) if first else range(1, len(pages) + 1)
    told = ["".join(page.extract_text().split()) for page in printed]
    assert all(f"page{n}of{len(pages)}" in text for n, text in zip(wanted, told, strict=True))
    assert (round(float(printed[0].mediabox.width)), round(float(printed[0].mediabox.height))) == (595, 842)


def test_nothing_is_printed_where_the_dialog_is_left(qtbot, pages, tmp_path, monkeypatch):
    parent = QWidget()
    qtbot.addWidget(parent)
    answers(monkeypatch, QPrintDialog.DialogCode.Rejected, tmp_path / "out.pdf")
    assert not print_pages(pages, LETTER, parent)
    assert not (tmp_path / "out.pdf").exists()


@pytest.mark.qt_log_ignore("QPainter::begin")
def test_a_printer_that_takes_nothing_is_told(pages, tmp_path):
    printer = QPrinter()
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "nowhere" / "out.pdf"))
    with pytest.raises(BadTable, match=r"Nothing was printed: .*out\.pdf does not take it"):
        draw_on(printer, pages, A4)
