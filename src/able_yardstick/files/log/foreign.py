"""A log that another program wrote: a table with a time column and one column a channel."""

from collections.abc import Sequence
from datetime import UTC, datetime
from functools import cached_property
from pathlib import Path
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...core.document.channel import AnyChannel, ContinuousChannel, TwoStateChannel
from ...core.document.sources import Role
from ...core.job.job import Job
from ...core.journal.sample import BAD, Series
from ...core.path.node import Met, Node
from ...core.words.errors import BadTable, NoSuchThing
from ...core.words.numerals import parse_number
from ..tables import parse_grid, read_text
from .export import LogColumn
from .writer import LoggedFeed, LogWriter

_TIMES = ("time", "s", "seconds", "t", "zeit", "date", "timestamp")
_AT_ONCE = 65_536  # samples of each series in one transaction


def is_foreign(path: Path) -> bool:
    """Whether a file is a table and no log, by its name."""
    return path.suffix.casefold() in (".csv", ".txt", ".tsv")


class ForeignTable:
    """A table as it was read: its columns' names, and columns as times or as numbers."""

    def __init__(self, path: Path) -> None:
        """Raises: BadTable where it cannot be read as a table."""
        self.path = path
        self._grid = parse_grid(read_text(path, ""))
        self.names = [heading.name.strip() or f"column {n + 1}" for n, heading in enumerate(self._grid.headings)]
        self.units = [heading.unit for heading in self._grid.headings]

    def __len__(self) -> int:
        return len(self._grid.rows)

    def cell(self, row: int, column: int) -> str:
        """A cell's text; empty where there is none."""
        cells = self._grid.rows[row].cells
        return cells[column] if column < len(cells) else ""

    @cached_property
    def time_column(self) -> int | None:
        """The column of times, by its heading; else the first, where it is one; None where none is."""
        for n, name in enumerate(self.names):
            if name.casefold().split(",")[0].split("[")[0].split("(")[0].strip() in _TIMES:
                return n
        return 0 if len(self) and _is_time(self.cell(0, 0)) else None

    def times_s(self, column: int) -> NDArray[np.float64]:
        """A column as times in s, (rows,): numbers, or ISO 8601 since 1970. Raises: BadTable where they do not rise."""
        times = np.array([self._seconds(row, column) for row in range(len(self))])
        if np.any(np.diff(times) < 0):
            raise BadTable(f"{self.path}: the times of column “{self.names[column]}” do not rise. Sort the rows by it.")
        return times

    def _seconds(self, row: int, column: int) -> float:
        text = self.cell(row, column)
        if _is_time(text):
            when = datetime.fromisoformat(text.strip())
            return (when if when.tzinfo else when.replace(tzinfo=UTC)).timestamp()
        try:
            return parse_number(text, decimal=self._grid.decimal)
        except BadTable as error:
            raise BadTable(
                f"{self.path}, row {row + 1}: expected seconds or a time by ISO 8601, found “{text}”."
            ) from error

    def numbers(self, column: int) -> NDArray[np.float64]:
        """A column as numbers, (rows,); NaN where a cell holds none."""
        return np.array([self._number(self.cell(row, column)) for row in range(len(self))])

    def _number(self, text: str) -> float:
        try:
            return parse_number(text, decimal=self._grid.decimal) if text.strip() else float("nan")
        except BadTable:
            return float("nan")

    def series(self, time_column: int, column: int, met: Met) -> Series:
        """A column as samples; a cell without a number is a bad one. Raises: BadTable."""
        times, values = self.times_s(time_column), self.numbers(column)
        states = np.where(np.isfinite(values), 0, BAD).astype(np.uint8)
        start = float(times[0]) if len(times) else 0.0
        return Series(times - start, times, values, np.arange(len(times)), states, {}, met)

    def columns(self, tags: Sequence[str] = ()) -> list[tuple[LogColumn, Series]]:
        """Its columns as a table's, all or those of some tags. Raises: BadTable without times, NoSuchThing."""
        at = self.time_column
        if at is None:
            raise BadTable(f"{self.path} has no column of times: head it time, with seconds or ISO 8601.")
        wanted = {tag.casefold() for tag in tags}
        chosen = [
            n for n, name in enumerate(self.names)
            if n != at and (not wanted or name.casefold() in wanted or name.casefold().split(" ")[0] in wanted)
        ]  # fmt: skip
        if not chosen:
            there = ", ".join(name for n, name in enumerate(self.names) if n != at) or "none"
            raise NoSuchThing(f"{self.path} has no column {', '.join(tags)}. It has {there}.")
        return [
            (LogColumn(self.names[n], self.units[n], self.path.name), self.series(at, n, Met("pin", self.units[n])))
            for n in chosen
        ]


def foreign_series(path: Path, tag: str, role: str, node: Node = "counts", unit: str = "counts") -> Series:
    """A channel's column as samples: the one headed "TAG role", else "TAG".

    Raises: BadTable where no column is a time, or times do not rise; NoSuchThing that names the columns there are.
    """
    table = ForeignTable(path)
    at = table.time_column
    if at is None:
        raise BadTable(
            f"{path} has no column of times: head it time, with seconds or ISO 8601. Found {', '.join(table.names)}."
        )
    wanted = (f"{tag} {role}".casefold(), tag.casefold())
    column = next((n for want in wanted for n, name in enumerate(table.names) if name.casefold() == want), None)
    if column is None:
        there = ", ".join(name for n, name in enumerate(table.names) if n != at) or "none"
        raise NoSuchThing(f"{path} has no column {tag}. It has {there}.")
    return table.series(at, column, Met(node, unit))


class ColumnMeaning(NamedTuple):
    """What a column is: of which channel, its role, where it was met and in which unit."""

    column: int
    channel: str
    tag: str
    role: Role
    node: Node
    unit: str


MEANINGS: tuple[tuple[str, str], ...] = (
    ("shown", "the value shown"),
    ("counts", "raw, in counts"),
    ("pin", "raw, at the pin"),
    ("reference", "its reference"),
)


def meaning_of(table: ForeignTable, column: int, channel: AnyChannel, kind: str) -> ColumnMeaning:
    """A column as a kind of number of a channel, in the unit of its heading, else in the channel's."""
    written = table.units[column]
    own = channel.unit if isinstance(channel, ContinuousChannel) else ""
    if kind in ("shown", "reference"):
        role: Role = "shown" if kind == "shown" else "reference"
        return ColumnMeaning(column, channel.id, channel.tag, role, "counts", written or own)
    if kind == "counts":
        return ColumnMeaning(column, channel.id, channel.tag, "raw", "counts", "counts")
    pin = channel.path.pin_unit if isinstance(channel, ContinuousChannel | TwoStateChannel) else "V"
    return ColumnMeaning(column, channel.id, channel.tag, "raw", "pin", written or pin)


def guessed(table: ForeignTable, job: Job) -> dict[int, tuple[str, str]]:
    """What each column seems to be, by its heading: the channel's id and the kind of number."""
    found = {}
    for n, name in enumerate(table.names):
        words = name.casefold()
        channel = next((one for one in job.channels if words.split()[:1] == [one.tag.casefold()]), None)
        if channel is not None and n != table.time_column:
            found[n] = (channel.id, "counts" if "raw" in words else "reference" if "ref" in words else "shown")
    return found


def take_in(table: ForeignTable, time_column: int, columns: Sequence[ColumnMeaning], job: Job, into: Path) -> Path:
    """Write a table's columns as a log of a job. Raises: BadTable where times do not rise, or the file is there."""
    if not columns:
        raise BadTable("No column says what it is. Choose a channel for at least one.")
    feeds = [
        LoggedFeed(one.tag, one.channel, one.role, table.names[one.column], table.path.name, one.node, one.unit)
        for one in columns
    ]
    series = [table.series(time_column, one.column, Met(one.node, one.unit)) for one in columns]
    about = {"job": job.title, "job id": job.id, "began": "", "program": f"taken in from {table.path.name}",
             "document": job.document.model_dump_json()}  # fmt: skip
    with LogWriter(into, feeds, about) as writer:
        for start in range(0, len(table), _AT_ONCE):
            part = np.zeros(len(table), dtype=bool)
            part[start : start + _AT_ONCE] = True
            writer.append({n: one.where(part) for n, one in enumerate(series)})
    return into


def _is_time(text: str) -> bool:
    try:
        datetime.fromisoformat(text.strip())
    except ValueError:
        return False
    return True
