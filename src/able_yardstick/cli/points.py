"""Points and curves that commands read from files, and refusals that say where."""

import json
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any

import typer

if TYPE_CHECKING:
    from ..core.curves import AnyCurve


_HEAD = 60  # lines, in which headings stand


@contextmanager
def told_where(path: Path, lines: list[int], signal: list[float]) -> Iterator[None]:
    """Refusals of points get the file, and the lines they are about, where they are about some."""
    from ..core.words.errors import BadTable, ConflictingReadings, NotMonotonic, YardstickError

    try:
        yield
    except YardstickError as error:
        rows: list[int] = []
        if isinstance(error, ConflictingReadings):
            rows = list(error.rows)
        elif isinstance(error, NotMonotonic):
            rows = [row for row, x in enumerate(signal) if x == error.at]
        where = ", ".join(f"line {lines[row]}" for row in sorted(rows))
        raise BadTable(f"{path}{', ' if where else ''}{where}: {error}") from error


def two_columns(path: Path, first: str | None, second: str | None) -> tuple[list[int], list[list[float]]]:
    """The lines, and the numbers of two columns: those named, else the first two."""
    from ..core.words.errors import BadTable
    from ..files.tables import parse_grid, read_text, strict_columns

    try:
        _say_sheet(path)
        grid = parse_grid(read_text(path))
        if grid.width < 2:
            raise BadTable(f"Expected two columns, found {grid.width} (line {grid.rows[0].line if grid.rows else 1}).")
        columns = [grid.column_named(first) if first else 0, grid.column_named(second) if second else 1]
        return strict_columns(path, grid, columns)
    except BadTable as error:
        text = str(error)
        raise BadTable(text if text.startswith(str(path)) else f"{path}: {text}") from error


def _say_sheet(path: Path) -> None:
    """Which sheet is read, where a workbook has several and none was named."""
    from ..files.workbooks import is_workbook, sheets_of

    names = sheets_of(path) if is_workbook(path) else ()
    if len(names) > 1:
        others = ", ".join(f"{path.name}#{name}" for name in names[1:])
        typer.echo(f"{path}: sheet “{names[0]}” is read. The others by name: {others}.", err=True)


def checked(record: Any, **fields: Any) -> Any:
    from pydantic import ValidationError

    from ..core.words.record import InvalidRecord, first_complaint

    try:
        return record(**fields)
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error


def signal_unit_of(path: Path, name: str | None = None) -> str:
    """The unit of the signals in a file: that of a column's heading, or that which `fit --json` printed."""
    from ..files.tables import parse_grid, read_text

    text = read_text(path)
    if text.lstrip().startswith("{"):
        tree = json.loads(text)
        unit = tree.get("signal_unit", "") if isinstance(tree, dict) else ""
        return unit if isinstance(unit, str) else ""
    grid = parse_grid("\n".join(islice(text.splitlines(), _HEAD)))  # a file may be long
    heading = grid.headings[grid.column_named(name) if name else 0]
    return "counts" if "count" in heading.name.casefold() else heading.unit


def curve_from(path: Path) -> "AnyCurve":
    """The curve in a file: what `fit --json` printed, else the table through the points of a CSV."""
    import numpy as np

    from ..core.curves import Table
    from ..core.regression.least_squares import need_different
    from ..files.tables import read_text

    text = read_text(path)
    if text.lstrip().startswith("{"):
        return _curve_from_json(path, text)
    lines, (x, y) = two_columns(path, None, None)
    with told_where(path, lines, x):
        need_different(np.array(x), 2)
        return Table.through(np.array(x), np.array(y)).refuse_turns()


def _curve_from_json(path: Path, text: str) -> "AnyCurve":
    from pydantic import TypeAdapter, ValidationError

    from ..core.curves import AnyCurve
    from ..core.words.errors import BadTable
    from ..core.words.record import first_complaint

    try:
        tree = json.loads(text)
        return TypeAdapter[AnyCurve](AnyCurve).validate_python(tree["curve"])
    except json.JSONDecodeError as error:
        raise BadTable(f"{path}, line {error.lineno}, column {error.colno}: this is no whole JSON text.") from error
    except ValidationError as error:
        raise BadTable(f"{path}: the curve is not usable. {first_complaint(error)}.") from error
    except (KeyError, TypeError, ValueError, RecursionError) as error:
        raise BadTable(f"{path}: expected what fit --json printed, found JSON without a curve.") from error


def number_column(path: Path) -> list[float]:
    """The numbers of a file's first column. Raises: BadTable."""
    from ..core.words.errors import BadTable
    from ..files.tables import parse_grid, read_text, strict_columns

    try:
        return strict_columns(path, parse_grid(read_text(path)), [0])[1][0]
    except BadTable as error:
        text = str(error)
        raise BadTable(text if text.startswith(str(path)) else f"{path}: {text}") from error
