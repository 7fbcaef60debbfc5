"""Workbooks: read as pasted cells are, written as numbers, and refused in words where they are none."""

import datetime
import random

import pytest
from openpyxl import Workbook, load_workbook

from able_yardstick.core.forms.base import Cells
from able_yardstick.core.words.errors import BadTable
from able_yardstick.files.tables import parse_grid, read_text, strict_columns
from able_yardstick.files.workbooks import book_and_sheet, put_cells, sheet_text, sheets_of


@pytest.fixture
def book(tmp_path):
    """A workbook as laboratories keep them: a title over merged cells, units in a row of their own, a decimal comma."""
    made = Workbook()
    notes = made.active
    notes.title = "Notes"
    readings = made.create_sheet("Readings")
    readings.append(["Reference", "Signal"])
    readings.append(["kPa", "V"])
    for row in ((0, 0.5), (125.5, "2,5"), (250, 4.5)):
        readings.append(row)
    other = made.create_sheet("Other")
    other["A1"], other["B2"] = "held", 3.0
    other.merge_cells("A1:B1")
    other["A3"] = datetime.datetime(2026, 11, 29, 5, 0)
    path = tmp_path / "book.xlsx"
    made.save(path)
    return path


def test_a_sheet_is_named_behind_the_path_unless_a_file_has_that_very_name(book):
    named = book.with_name("book.xlsx#Other")
    assert read_text(named).startswith("held\theld")
    with pytest.raises(BadTable, match=r"a sheet “None”. Its sheets are Notes, Readings, Other"):
        read_text(book.with_name("book.xlsx#None"))
    named.write_text("1,2\n")
    assert book_and_sheet(named) == (named, "")
    assert read_text(named) == "1,2\n"


def test_the_first_sheet_with_cells_is_read_as_its_pasted_cells(book):
    assert sheets_of(book) == ("Readings", "Other")
    assert read_text(book) == "Reference\tSignal\nkPa\tV\n0\t0.5\n125.5\t2.5\n250\t4.5"
    grid = parse_grid(read_text(book))
    assert [(one.name, one.unit) for one in grid.headings] == [("Reference", "kPa"), ("Signal", "V")]
    assert strict_columns(book, grid, [0, 1])[1] == [[0.0, 125.5, 250.0], [0.5, 2.5, 4.5]]


def test_a_named_sheet_merged_cells_and_dates(book):
    assert sheet_text(book, "Other") == "held\theld\n\t3\n2026-11-29 05:00:00"
    with pytest.raises(BadTable, match=r"expected a sheet “None such”\. Its sheets are Notes, Readings, Other"):
        sheet_text(book, "None such")


def test_numbers_are_written_as_numbers_and_words_never_as_formulas(tmp_path):
    path = tmp_path / "out.xlsx"
    put_cells(path, Cells(("=SUM(A1)", "value, kPa"), (("@x", 1.0), ("plain", 0.1))))
    rows = list(load_workbook(path).active.iter_rows(values_only=True))
    assert rows == [("'=SUM(A1)", "value, kPa"), ("'@x", 1), ("plain", 0.1)]


def test_what_is_no_workbook_is_refused_in_words(tmp_path, book):
    path = tmp_path / "odd.xlsx"
    path.write_text("reference,signal\n1,2\n")
    with pytest.raises(BadTable, match="is no workbook, though it has the name of one"):
        read_text(path)
    with pytest.raises(BadTable, match="cannot be read"):
        read_text(tmp_path / "missing.xlsx")
    Workbook().save(path)
    with pytest.raises(BadTable, match="has no cells"):
        read_text(path)
    whole = book.read_bytes()
    for seed in range(60):  # whatever is damaged is read or refused, and nothing else
        chance = random.Random(seed)
        data = bytearray(whole)
        for _ in range(chance.choice((1, 4, 40))):
            data[chance.randrange(len(data))] = chance.randrange(256)
        path.write_bytes(bytes(data[: chance.choice((len(data), len(data) // 2))]))
        try:
            read_text(path)
        except BadTable as error:
            assert str(path) in str(error)  # noqa: PT017


def test_a_workbook_that_unpacks_without_end_is_refused(tmp_path, monkeypatch, book):
    monkeypatch.setattr("able_yardstick.files.workbooks._LARGEST_INSIDE", 1000)
    with pytest.raises(BadTable, match="unpacked it is larger than"):
        read_text(book)
