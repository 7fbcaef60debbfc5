"""A stretch of a log as a table: a row for each moment at which anything came, a column for each series."""

import csv
import io
from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, datetime
from itertools import chain
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...core.journal.sample import GOOD, Series
from ...core.words.errors import BadTable, NoSuchThing
from ..output import harmless, put_bytes, refuse_over
from .reader import LogFile, LogSeries

Array = NDArray[np.float64]
_MOST_ROWS = 1_048_576  # of a sheet (ECMA-376, the format's own bound)
_SHEET = "Log"


class LogColumn(NamedTuple):
    """What a column is: its name, its unit, and where it comes from in words."""

    name: str
    unit: str
    about: str

    @classmethod
    def of(cls, one: LogSeries) -> "LogColumn":
        """A series as it was logged."""
        feed = one.feed
        about = f"{feed.source}, at the {feed.node}" if feed.role == "raw" else feed.source
        return cls(f"{feed.tag} {feed.role}".strip(), feed.unit, about)


class LogTable(NamedTuple):
    """A stretch of a log: its columns, clock times in s since 1970, (rows,), and values, (rows, columns), NaN for none.

    A value is given only where it was good when it came.
    """

    columns: tuple[LogColumn, ...]
    walls_s: Array
    values: Array

    @property
    def headings(self) -> list[list[str]]:
        """Three rows: what each column is, its unit, and where it comes from."""
        return [
            ["time, UTC", "s", *(one.name for one in self.columns)],
            ["", "s since the first row", *(one.unit for one in self.columns)],
            ["", "", *(one.about for one in self.columns)],
        ]

    def rows(self) -> Iterator[list[object]]:
        """A row for each moment: clock time, seconds since the first one, the values; None where none came."""
        first = float(self.walls_s[0]) if len(self.walls_s) else 0.0
        for wall_s, values in zip(self.walls_s.tolist(), self.values.tolist(), strict=True):
            cells = [None if value != value else value for value in values]
            when = datetime.fromtimestamp(wall_s, UTC).isoformat(timespec="milliseconds").removesuffix("+00:00")
            yield [when, round(wall_s - first, 6), *cells]


def chosen_series(log: LogFile, tags: Sequence[str] = ()) -> tuple[LogSeries, ...]:
    """The series of some tags, or all. Raises: NoSuchThing that names the tags there are."""
    known = log.series()
    wanted = {tag.casefold() for tag in tags}
    missing = [tag for tag in tags if tag.casefold() not in {one.feed.tag.casefold() for one in known}]
    if missing:
        there = ", ".join(dict.fromkeys(one.feed.tag for one in known)) or "none"
        raise NoSuchThing(f"The log has no channel {missing[0]}. It has {there}.")
    return tuple(one for one in known if not tags or one.feed.tag.casefold() in wanted)


def log_table(
    log: LogFile, series: Sequence[LogSeries], start_wall_s: float = -np.inf, end_wall_s: float = np.inf
) -> LogTable:
    """A stretch between two clock times in s since 1970, moments that came together in one row. Raises: BadTable."""
    return table_of([(LogColumn.of(one), log.read(one)) for one in series], start_wall_s, end_wall_s)


def table_of(
    columns: Sequence[tuple[LogColumn, Series]], start_wall_s: float = -np.inf, end_wall_s: float = np.inf
) -> LogTable:
    """Columns between two clock times in s since 1970, moments that came together in one row."""
    parts = [part.where((part.walls_s >= start_wall_s) & (part.walls_s < end_wall_s)) for _column, part in columns]
    walls = np.unique(np.concatenate([np.zeros(0), *(np.round(part.walls_s, 6) for part in parts)]))
    values = np.full((len(walls), len(parts)), np.nan)
    for column, part in enumerate(parts):
        good = part.where(part.states == GOOD)
        values[np.searchsorted(walls, np.round(good.walls_s, 6)), column] = good.values
    return LogTable(tuple(column for column, _part in columns), walls, values)


def save_log_csv(path: Path, table: LogTable) -> None:
    """Write a table as CSV with three heading rows. Raises: BadTable."""
    text = io.StringIO()
    lines = csv.writer(text, lineterminator="\n")
    lines.writerows([harmless(cell) for cell in row] for row in table.headings)
    lines.writerows(["" if cell is None else cell for cell in row] for row in table.rows())
    put_bytes(path, text.getvalue().encode())


def save_log_xlsx(path: Path, table: LogTable) -> None:
    """Write a table as a workbook with one sheet. Raises: BadTable where it is too long for one."""
    from openpyxl import Workbook

    if len(table.walls_s) + len(table.headings) > _MOST_ROWS:
        raise BadTable(
            f"{len(table.walls_s):,} rows do not fit in a sheet, which ends at {_MOST_ROWS:,}. Choose a shorter "
            "stretch, fewer channels, or CSV."
        )
    refuse_over(path)
    book = Workbook(write_only=True)
    sheet = book.create_sheet(_SHEET)
    words: Iterable[list[object]] = ([harmless(cell) for cell in row] for row in table.headings)
    for row in chain(words, table.rows()):
        sheet.append(row)
    try:
        book.save(path)
    except OSError as error:
        raise BadTable(f"{path} cannot be written: {error.strerror or error}.") from error


def save_log_parquet(path: Path, table: LogTable) -> None:
    """Write a table as Parquet, its units among the columns' own data. Raises: BadTable where that is not installed."""
    try:
        import pyarrow
        from pyarrow import parquet
    except ImportError as error:
        raise BadTable(
            "Parquet needs a package that is not installed: pip install able-yardstick[parquet]. CSV and XLSX do not."
        ) from error
    refuse_over(path)
    stamps = pyarrow.array(np.round(table.walls_s * 1e6).astype(np.int64)).cast(pyarrow.timestamp("us", tz="UTC"))
    columns, fields = [stamps], [pyarrow.field("time", stamps.type)]
    for one, values in zip(table.columns, table.values.T, strict=True):
        columns.append(pyarrow.array(np.ascontiguousarray(values), from_pandas=True))  # no number is a missing value
        fields.append(pyarrow.field(one.name, pyarrow.float64(), metadata={"unit": one.unit, "source": one.about}))
    try:
        parquet.write_table(pyarrow.Table.from_arrays(columns, schema=pyarrow.schema(fields)), path)
    except OSError as error:
        raise BadTable(f"{path} cannot be written: {error.strerror or error}.") from error
