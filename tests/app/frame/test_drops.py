"""Files dropped on the window."""

import pytest
from acting import words
from openpyxl import Workbook
from PySide6.QtCore import QMimeData, QPoint, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QApplication, QInputDialog

from able_yardstick.app.panel import import_dialog
from able_yardstick.demo import fresh_copy


def drop(window, *paths):
    """Let go of files over the window, as a file manager does."""
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    about = (Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    entering = QDragEnterEvent(QPoint(300, 300), *about)
    QApplication.sendEvent(window, entering)
    assert entering.isAccepted()
    QApplication.sendEvent(window, QDropEvent(QPoint(300, 300), *about))


@pytest.fixture
def agreed(monkeypatch):
    """Whoever is asked how a table is meant takes it as it was understood."""

    def ask(text, source, channel, roles, theme, parent):
        return import_dialog.ImportDialog(text, source, channel, roles, theme, parent)

    monkeypatch.setattr(import_dialog, "ask", ask)


def test_a_table_is_taken_as_readings_of_the_channel_looked_at(window, agreed, tmp_path):
    path = tmp_path / "it.csv"
    path.write_text("Reference (A),Signal (V)\n0,0.00\n25,2.51\n50,5.00\n")
    window.bench.select("it-207")
    drop(window, path)
    rows = window.bench.job.amended("it-207", "gather")
    assert [(row.reading.reference, row.reading.raw.mean) for row in rows] == [(0.0, 0.0), (25.0, 2.51), (50.0, 5.0)]
    assert window.bench.step == "gather"


def test_of_a_workbook_the_sheet_is_asked_for(window, agreed, tmp_path, monkeypatch):
    book = Workbook()
    book.active.append(["not", "these"])
    sheet = book.create_sheet("Second")
    for row in (["Reference (A)", "Signal (V)"], [0, 0.01], [50, 4.99]):
        sheet.append(row)
    path = tmp_path / "it.xlsx"
    book.save(path)
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_words: ("Second", True))
    window.bench.select("it-207")
    drop(window, path)
    assert [row.reading.raw.mean for row in window.bench.job.amended("it-207", "gather")] == [0.01, 4.99]
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_words: ("", False))
    drop(window, path)
    assert "No sheet was chosen: nothing was taken." in words(window.panel_shown)


def test_a_job_is_opened(window, tmp_path):
    other = tmp_path / "other"
    other.mkdir()
    path = fresh_copy(other)
    drop(window, path)
    assert window.bench.path == path
