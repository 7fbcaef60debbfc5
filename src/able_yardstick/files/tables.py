"""Points and tables as text: files and pasted cells, with any common separator, decimal mark and heading.

Bad rows are listed by line and column with the reason; good rows are kept.
"""

import csv
import io
from array import array
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Literal, NamedTuple, overload

import numpy as np

from ..core.words.errors import BadTable, YardstickError
from ..core.words.numerals import parse_number
from ..loading import without_garbage
from .headings import Heading, split_heading
from .workbooks import book_and_sheet, is_workbook, sheet_text

DecimalMark = Literal[".", ","]
SEPARATORS: dict[str, str] = {"\t": "tab", ";": "semicolon", "|": "bar", ",": "comma", " ": "blanks"}
LARGEST_FILE = 64 * 1024 * 1024
_LONGEST_CELL = 32_767  # characters, and columns, as in a spreadsheet
_MOST_COLUMNS = 16_384
_BLOCK = 10_000  # lines that are read at once


class TableRow(NamedTuple):
    """The cells of one line; lines count from 1."""

    line: int
    cells: tuple[str, ...]


class Problem(NamedTuple):
    """A row that was left out, and why."""

    line: int
    column: int
    reason: str

    def __str__(self) -> str:
        return f"line {self.line}, column {self.column}: {self.reason}"


class TextGrid(NamedTuple):
    """A table as text, with how it was understood."""

    headings: tuple[Heading, ...]
    rows: "TableRows"
    separator: str
    decimal: DecimalMark
    has_header: bool

    @property
    def width(self) -> int:
        """Number of columns."""
        return len(self.headings)

    def column_named(self, wanted: str) -> int:
        """The column of a heading, by its name or with its unit, capitals or not.

        Raises: BadTable that names those there are.
        """
        asked = _letters(wanted)
        for column, heading in enumerate(self.headings):
            if asked and asked in (_letters(heading.name), _letters(heading.name + heading.unit)):
                return column
        names = ", ".join(heading.name for heading in self.headings if heading.name) or "none: it has no headings"
        raise BadTable(f"Expected a column “{wanted}”. The columns are {names}.")

    def column_like(self, *words: str) -> int | None:
        """The first column whose heading holds one of the words, if any."""
        for column, heading in enumerate(self.headings):
            if any(word in heading.name.casefold() for word in words):
                return column
        return None


def _letters(text: str) -> str:
    """Letters and digits alone, in small ones."""
    return "".join(sign for sign in text.casefold() if sign.isalnum())


class Columns(NamedTuple):
    """Numbers picked from a grid: one tuple a good row, with its line; and the rows left out."""

    lines: tuple[int, ...]
    numbers: tuple[tuple[float | None, ...], ...]
    problems: tuple[Problem, ...]


def read_text(path: Path, sheet: str = "") -> str:
    """A file's text: UTF-8 with or without mark, else the western code page spreadsheets write.

    Of a workbook a sheet's cells, the first with any unless one is named, also behind the path (`readings.xlsx#June`).
    Raises: BadTable if it cannot be read, is too large, or is no text.
    """
    path, named = book_and_sheet(path)
    sheet = sheet or named
    if is_workbook(path):
        return sheet_text(path, sheet)
    try:
        if path.stat().st_size > LARGEST_FILE:
            raise BadTable(f"{path}: it is larger than {LARGEST_FILE // 2**20} MiB. Is it the right file?")
        data = path.read_bytes()
    except OSError as error:
        raise BadTable(f"{path} cannot be read: {error.strerror or error}.") from error
    if b"\0" in data[:4096] and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise BadTable(f"{path} is no text. Save it as CSV or XLSX first.")
    for encoding in ("utf-16" if data.startswith((b"\xff\xfe", b"\xfe\xff")) else "utf-8-sig", "cp1252"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    raise BadTable(f"{path} is no text in UTF-8 or a western code page. Save it as UTF-8 CSV.")


def parse_grid(text: str, decimal: DecimalMark | None = None) -> TextGrid:
    """How a table is written, found by looking at it; lines that start with # are skipped.

    Raises: BadTable if there is nothing in it, or more in a line than a spreadsheet holds.
    """
    texts, numbers = list[str](), array("L")
    for number, line in enumerate(text.splitlines(), 1):
        bare = line.strip()
        if bare and bare[0] != "#":
            texts.append(bare if len(bare) < len(line) and bare[0] == '"' else line)
            numbers.append(number)
    if not texts:
        raise BadTable("Expected rows of numbers, found nothing. Copy the cells, or choose another file.")
    separator = max(SEPARATORS, key=lambda mark: _fit_of(mark, texts, numbers))
    rows = TableRows(texts, numbers, separator)
    mark = decimal or _decimal_mark(text, rows)
    headers = _header_rows(rows, mark)
    headings = _headings(rows[:headers], rows.width)
    return TextGrid(headings, rows[headers:], separator, mark, headers > 0)


class TableRows(Sequence[TableRow]):
    """The lines of a table, each cut into its cells when it is asked for: long tables are kept as their text."""

    def __init__(self, texts: Sequence[str], numbers: Sequence[int], separator: str) -> None:
        self._texts, self._numbers, self._separator = texts, numbers, separator

    @property
    def separator(self) -> str:
        """What parts the cells."""
        return self._separator

    @property
    def numbers(self) -> Sequence[int]:
        """Which lines they are, from 1."""
        return self._numbers

    def plain_numbers(self, columns: Sequence[int]) -> list[tuple[float, ...]] | None:
        """Numbers of all lines as a machine writes them, at once; None where a line takes a closer look."""
        separator = None if self._separator == " " else self._separator
        try:
            found = np.loadtxt(
                self._texts, delimiter=separator, usecols=tuple(columns), comments=None, quotechar='"', ndmin=2
            )  # fmt: skip
        except (ValueError, IndexError, OverflowError):
            return None
        whole = len(found) == len(self) and bool(np.isfinite(found).all())
        return list(map(tuple, found.tolist())) if whole else None

    def __len__(self) -> int:
        return len(self._texts)

    @overload
    def __getitem__(self, at: int) -> TableRow: ...
    @overload
    def __getitem__(self, at: slice) -> "TableRows": ...
    def __getitem__(self, at: int | slice) -> "TableRow | TableRows":
        if isinstance(at, slice):
            return TableRows(self._texts[at], self._numbers[at], self._separator)
        return TableRow(self._numbers[at], _split(self._texts[at], self._separator, self._numbers[at]))

    def __iter__(self) -> Iterator[TableRow]:
        separator = self._separator
        for number, text in zip(self._numbers, self._texts, strict=True):
            yield TableRow(number, _split(text, separator, number))

    @property
    def width(self) -> int:
        """Cells of the longest line. Raises: BadTable if no spreadsheet has so many columns."""
        marks = [text.count(self._separator) for text in self._texts]
        at = max(range(len(marks)), key=marks.__getitem__)
        if marks[at] >= _MOST_COLUMNS:
            raise BadTable(
                f"line {self._numbers[at]}: expected at most {_MOST_COLUMNS} columns, found {marks[at] + 1}. Leave out "
                "what is not needed."
            )
        if self._separator == " " or any('"' in text for text in self._texts):
            return max(len(row.cells) for row in self)
        return marks[at] + 1


def _split(line: str, separator: str, number: int) -> tuple[str, ...]:
    if separator == " ":
        cells = line.split()
    elif '"' in line:
        try:
            cells = next(csv.reader(io.StringIO(line), delimiter=separator))
        except csv.Error as error:
            raise BadTable(f"line {number}: {error}. Look at its quotation marks.") from error
    else:
        cells = line.split(separator)
    if len(line) > _LONGEST_CELL and max(map(len, cells)) > _LONGEST_CELL:
        raise BadTable(f"line {number}: expected cells of at most {_LONGEST_CELL} characters, found a longer one.")
    return tuple([cell.strip() for cell in cells])


def _fit_of(separator: str, texts: Sequence[str], numbers: Sequence[int]) -> tuple[int, int]:
    """How many of the first lines become two or more numbers; then how many become two or more cells."""
    try:
        split = [_split(line, separator, number) for line, number in zip(texts[:200], numbers[:200], strict=True)]
    except BadTable:
        return -1, -1
    numeric = sum(len(cells) > 1 and all(_is_number(cell) for cell in cells if cell) and any(cells) for cells in split)
    return numeric, sum(len(cells) > 1 for cells in split) if separator != " " else 0


def _is_number(cell: str, decimal: Literal[".", ",", "either"] = "either") -> bool:
    try:
        parse_number(cell, decimal)
    except BadTable:
        return False
    return True


def _decimal_mark(text: str, rows: "TableRows") -> DecimalMark:
    """A comma where numbers have commas and none has a point that cannot group thousands."""
    if '"' not in text and (rows.separator == "," or "," not in text):
        return "."
    commas = points = 0
    for row in rows:
        for cell in row.cells:
            if _is_number(cell):
                commas += "," in cell and cell.rfind(",") > cell.rfind(".")
                points += "." in cell and cell.rfind(".") > cell.rfind(",")
    return "," if commas and not points else "."


def _header_rows(rows: Sequence[TableRow], decimal: DecimalMark) -> int:
    """Rows above the first that holds a number: names, perhaps units below them; at most three."""
    for count, row in enumerate(rows[:4]):
        if any(_is_number(cell, decimal) for cell in row.cells):
            return count
    return 1 if len(rows) <= 4 else 0


def _headings(rows: Sequence[TableRow], width: int) -> tuple[Heading, ...]:
    found = []
    for column in range(width):
        texts = [row.cells[column] for row in rows if column < len(row.cells) and row.cells[column]]
        if len(texts) > 1:
            found.append(Heading(texts[0], texts[1].strip("()[] ")))
        else:
            found.append(split_heading(texts[0]) if texts else Heading(""))
    return tuple(found)


@without_garbage()
def pick(grid: TextGrid, columns: Sequence[int], optional: Sequence[int] = ()) -> Columns:
    """The numbers of some columns, row by row; an empty cell of an optional column becomes None."""
    lines: list[int] = []
    numbers: list[tuple[float | None, ...]] = []
    problems: list[Problem] = []
    for start in range(0, len(grid.rows), _BLOCK):
        rows = grid.rows[start : start + _BLOCK]
        plain = rows.plain_numbers(columns) if grid.decimal == "." else None
        if plain is not None:
            lines.extend(rows.numbers)
            numbers.extend(plain)
            continue
        for row in rows:
            try:
                numbers.append(tuple(_cell(grid, row, column, column in optional) for column in columns))
                lines.append(row.line)
            except _BadCell as error:
                problems.append(error.problem)
    return Columns(tuple(lines), tuple(numbers), tuple(problems))


class _BadCell(YardstickError, ValueError):
    def __init__(self, problem: Problem) -> None:
        super().__init__(str(problem))
        self.problem = problem


def _cell(grid: TextGrid, row: TableRow, column: int, optional: bool) -> float | None:
    text = row.cells[column] if column < len(row.cells) else ""
    if optional and not text:
        return None
    if not text:
        raise _BadCell(
            Problem(row.line, column + 1, f"Expected a number, found nothing (the row has {len(row.cells)} cells).")
        )
    try:
        return parse_number(text, grid.decimal)
    except BadTable as error:
        raise _BadCell(Problem(row.line, column + 1, str(error))) from error


def strict_columns(path: Path, grid: TextGrid, columns: Sequence[int]) -> tuple[list[int], list[list[float]]]:
    """Lines, and one list of numbers for each column; nothing may be wrong with any row.

    Raises: BadTable that names the file, line and column of the first bad cell.
    """
    picked = pick(grid, columns)
    if picked.problems:
        first = picked.problems[0]
        more = f" ({len(picked.problems) - 1} more rows are bad.)" if len(picked.problems) > 1 else ""
        raise BadTable(f"{path}, {first} Correct it, or start the line with # to leave it out.{more}")
    if not picked.numbers:
        raise BadTable(f"{path}: expected rows of numbers, found only headings.")
    return list(picked.lines), [[float(n or 0.0) for n in column] for column in zip(*picked.numbers, strict=True)]
