"""A log that another program wrote: a CSV with a time column and one column a channel."""

from datetime import UTC, datetime
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ...core.journal.sample import BAD, Series
from ...core.path.node import Met, Node
from ...core.words.errors import BadTable, NoSuchThing
from ...core.words.numerals import parse_number
from ..tables import TextGrid, parse_grid, read_text

_TIMES = ("time", "s", "seconds", "t", "zeit", "date", "timestamp")


def is_foreign(path: Path) -> bool:
    """Whether a file is a table and no log, by its name."""
    return path.suffix.casefold() in (".csv", ".txt", ".tsv")


def foreign_series(path: Path, tag: str, role: str, node: Node = "counts", unit: str = "counts") -> Series:
    """A channel's column as samples: the one headed "TAG role", else "TAG". A cell without a number is a bad sample.

    Raises: BadTable where no column is a time, or times do not rise; NoSuchThing that names the columns there are.
    """
    grid = parse_grid(read_text(path, ""))
    names = [heading.name.strip() for heading in grid.headings]
    at = _time_column(grid, names, path)
    wanted = (f"{tag} {role}".casefold(), tag.casefold())
    column = next((n for want in wanted for n, name in enumerate(names) if name.casefold() == want), None)
    if column is None:
        there = ", ".join(name for n, name in enumerate(names) if n != at) or "none"
        raise NoSuchThing(f"{path} has no column {tag}. It has {there}.")
    times = np.array([_seconds(row.cells[at], grid, n, path) for n, row in enumerate(grid.rows, 1)])
    if np.any(np.diff(times) < 0):
        raise BadTable(f"{path}: the times of column “{names[at]}” do not rise. Sort the rows by it.")
    values = np.array([_number(row.cells[column] if column < len(row.cells) else "", grid) for row in grid.rows])
    return _as_series(times, values, Met(node, unit))


def _as_series(times: NDArray[np.float64], values: NDArray[np.float64], met: Met) -> Series:
    numbers = np.arange(len(times))
    states = np.where(np.isfinite(values), 0, BAD).astype(np.uint8)
    return Series(times - (times[0] if len(times) else 0.0), times, values, numbers, states, {}, met)


def _time_column(grid: TextGrid, names: list[str], path: Path) -> int:
    """The column of times, by its heading; else the first, where it is one."""
    for n, name in enumerate(names):
        if name.casefold().split(",")[0].split("[")[0].split("(")[0].strip() in _TIMES:
            return n
    if grid.rows and _is_time(grid.rows[0].cells[0]):
        return 0
    raise BadTable(f"{path} has no column of times: head it time, with seconds or ISO 8601. Found {', '.join(names)}.")


def _is_time(text: str) -> bool:
    try:
        datetime.fromisoformat(text.strip())
    except ValueError:
        return False
    return True


def _seconds(text: str, grid: TextGrid, row: int, path: Path) -> float:
    """A time in s: as a number, or by ISO 8601 since 1970. Raises: BadTable."""
    if _is_time(text):
        when = datetime.fromisoformat(text.strip())
        return (when if when.tzinfo else when.replace(tzinfo=UTC)).timestamp()
    try:
        return parse_number(text, decimal=grid.decimal)
    except BadTable as error:
        raise BadTable(f"{path}, row {row}: expected seconds or a time by ISO 8601, found “{text}”.") from error


def _number(text: str, grid: TextGrid) -> float:
    try:
        return parse_number(text, decimal=grid.decimal) if text.strip() else float("nan")
    except BadTable:
        return float("nan")
