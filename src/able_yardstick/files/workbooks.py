"""Workbooks of a spreadsheet (XLSX): a sheet read as the text that its pasted cells would be, and cells written."""

import io
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any
from zipfile import BadZipFile, ZipFile

from ..core.forms.base import Cells
from ..core.words.errors import BadTable
from .output import harmless, put_bytes

if TYPE_CHECKING:
    from openpyxl.worksheet.worksheet import Worksheet

ENDING = ".xlsx"
_LARGEST = 64 * 1024 * 1024  # as it lies on disk
_LARGEST_INSIDE = 32 * 1024 * 1024  # all parts unpacked: half a million cells, some seconds
_DECIMAL_COMMA = re.compile(r"[+-]?\d+,(\d{1,2}|\d{4,})")  # three digits may be thousands
_MOST_CELLS = 1_000_000


def is_workbook(path: Path) -> bool:
    """Whether a file is a workbook by its name."""
    return path.suffix.lower() == ENDING


def book_and_sheet(path: Path) -> tuple[Path, str]:
    """A workbook and the sheet named behind it, as in `readings.xlsx#June`; a file of that very name is itself."""
    name, mark, sheet = path.name.rpartition("#")
    book = path.with_name(name) if mark and name else path
    return (book, sheet) if book is not path and is_workbook(book) and not path.exists() else (path, "")


def sheets_of(path: Path) -> tuple[str, ...]:
    """The names of the sheets that have cells. Raises: BadTable."""
    with _opened(path) as book:
        return tuple(sheet.title for sheet in book.worksheets if any(True for _ in _rows(sheet)))


def sheet_text(path: Path, sheet: str = "") -> str:
    """A sheet, the first with cells unless named, as lines of cells with tabs between them.

    A merged cell stands in each place it covers, a date as ISO 8601 writes it, a formula as what it came to when the
    workbook was saved. Raises: BadTable for what is no workbook, too large, or has no such sheet.
    """
    with _opened(path) as book:
        there = [one.title for one in book.worksheets]
        if sheet and sheet not in there:
            raise BadTable(f"{path}: expected a sheet “{sheet}”. Its sheets are {', '.join(there)}.")
        for one in book.worksheets:
            if one.title == sheet or not sheet:
                lines = ["\t".join(map(_text, row)).rstrip("\t") for row in _rows(one)]
                if any(lines) or sheet:
                    return "\n".join(lines)
    raise BadTable(f"{path} has no cells. Is it the right file?")


@contextmanager
def _opened(path: Path) -> Iterator[Any]:
    """A workbook to be read, once it is known to be no larger than it should."""
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        if path.stat().st_size > _LARGEST:
            raise BadTable(f"{path}: it is larger than {_LARGEST // 2**20} MiB. Is it the right file?")
        with ZipFile(path) as parts:
            inside = sum(part.file_size for part in parts.infolist())
        if inside > _LARGEST_INSIDE:
            raise BadTable(f"{path}: unpacked it is larger than {_LARGEST_INSIDE // 2**20} MiB. Save it as CSV.")
        book = load_workbook(path, data_only=True)
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    except (BadZipFile, InvalidFileException) as error:
        raise BadTable(f"{path} is no workbook, though it has the name of one. Save it anew, or as CSV.") from error
    except BadTable:
        raise
    except Exception as error:  # whatever a reader of damaged parts stumbles over: of many unrelated classes
        raise BadTable(f"{path} is a damaged workbook: {type(error).__name__}. Save it anew, or as CSV.") from error
    try:
        yield book
    finally:
        book.close()


def _rows(sheet: "Worksheet") -> Iterator[list[Any]]:
    """The rows of a sheet, merged cells filled in. Raises: BadTable if it has too many cells."""
    if sheet.max_row * sheet.max_column > _MOST_CELLS:
        raise BadTable(f"The sheet “{sheet.title}” has over {_MOST_CELLS:,} cells. Save the columns wanted as CSV.")
    merged: dict[tuple[int, int], Any] = {}
    for area in sheet.merged_cells.ranges:
        value = sheet.cell(area.min_row, area.min_col).value
        merged |= dict.fromkeys(area.cells, value)
    for row in sheet.iter_rows():
        values = [merged.get((cell.row, cell.column), cell.value) if merged else cell.value for cell in row]
        if any(value is not None for value in values):
            yield values


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return str(int(value))
    if isinstance(value, float):
        return f"{value:.0f}" if value.is_integer() and abs(value) < 1e15 else repr(value)
    text = " ".join(str(value).split())
    return text.replace(",", ".") if _DECIMAL_COMMA.fullmatch(text) else text  # beside numbers, which have a point


def put_cells(path: Path, cells: Cells, *made_from: Path) -> None:
    """Write headings and rows as a workbook: numbers as numbers, words as words and never as formulas.

    Raises: BadTable if it cannot be written.
    """
    from openpyxl import Workbook

    book = Workbook()
    sheet = book.active
    sheet.append([harmless(heading) for heading in cells.headings])
    for row in cells.rows:
        sheet.append([harmless(cell) if isinstance(cell, str) else cell for cell in row])
    held = io.BytesIO()
    book.save(held)
    put_bytes(path, held.getvalue(), *made_from)
