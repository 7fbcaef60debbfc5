"""Logs without a window: everything that arrives into one file, and stretches of it into tables."""

import signal
import sys
import time
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from .arguments import JobFileArgument
from .output import print_json

if TYPE_CHECKING:
    from ..bench.recorder import LogTotals


def log(
    job: JobFileArgument,
    into: Annotated[Path, typer.Option(help="The log, such as kiln.yardlog; it must not be there yet.")],
    seconds: Annotated[float | None, typer.Option(help="How long; else until it is interrupted.", min=0.1)] = None,
    note: Annotated[str, typer.Option(help="Something to write down at its beginning.")] = "",
) -> None:
    """Log everything that the job's sources give; print what was kept and lost as JSON at the end.

    An interruption (SIGINT, SIGTERM) ends it cleanly.
    """
    from ..bench.recorder import Recorder
    from ..core.words.errors import BadTable
    from ..files.jobfile import read_job
    from .links import whole_hub

    read, over = read_job(job), []
    for one in (signal.SIGINT, signal.SIGTERM):
        signal.signal(one, lambda *_what: over.append(True))
    with whole_hub(read) as hub:
        recorder = Recorder(into, hub.feeds(), read)
        if note:
            recorder.note(note)
        until = time.monotonic() + (seconds if seconds is not None else float("inf"))
        while not over and not recorder.refusal and time.monotonic() < until:
            time.sleep(0.05)
            _tell(recorder.totals)
        totals = recorder.stop()
    if recorder.refusal:
        raise BadTable(recorder.refusal)
    print_json({"log": str(into), **totals._asdict()})


def _tell(totals: "LogTotals") -> None:
    """How far it is, where somebody looks on."""
    if sys.stderr.isatty():
        lost = f"{totals.lost} lost" if totals.lost else "none lost"
        print(f"\r{totals.seconds:.0f} s, {totals.kept} samples, {lost} ", end="", file=sys.stderr, flush=True)


def log_export(
    path: Annotated[Path, typer.Argument(metavar="log", help="A log, or a CSV with a time column.")],
    csv: Annotated[Path | None, typer.Option("--csv", help="Write it as CSV.")] = None,
    xlsx: Annotated[Path | None, typer.Option("--xlsx", help="Write it as a workbook.")] = None,
    parquet: Annotated[Path | None, typer.Option("--parquet", help="Write it as Parquet.")] = None,
    start: Annotated[
        str | None, typer.Option("--from", help="From then on: ISO 8601, or seconds from its start.")
    ] = None,
    end: Annotated[str | None, typer.Option("--to", help="Until then, likewise.")] = None,
    channels: Annotated[str | None, typer.Option(help="Tags, such as AT-208,AT-209; else all.")] = None,
) -> None:
    """Write a stretch of a log as a table: a row for each moment, a column for each series, headed by what it is."""
    import numpy as np

    from ..core.words.errors import BadTable
    from ..files.log.export import (
        chosen_series,
        log_table,
        save_log_csv,
        save_log_parquet,
        save_log_xlsx,
        table_of,
    )
    from ..files.log.foreign import ForeignTable, is_foreign
    from ..files.log.reader import LogFile

    wanted = [(csv, save_log_csv), (xlsx, save_log_xlsx), (parquet, save_log_parquet)]
    if not any(into for into, _save in wanted):
        raise BadTable("Expected where it goes: --csv, --xlsx or --parquet with a file.")
    tags = [tag.strip() for tag in (channels or "").split(",") if tag.strip()]
    if is_foreign(path):
        columns = ForeignTable(path).columns(tags)
        began = float(columns[0][1].walls_s[0]) if len(columns[0][1]) else 0.0
        table = table_of(columns, *(_moment(*one) for one in ((start, began, -np.inf), (end, began, np.inf))))
    else:
        with LogFile(path) as read:
            series, began = chosen_series(read, tags), read.first_wall_s
            table = log_table(read, series, *(_moment(*one) for one in ((start, began, -np.inf), (end, began, np.inf))))
    for into, save in wanted:
        if into is not None:
            save(into, table)
            print(f"{len(table.walls_s)} rows of {len(table.columns)} series are in {into}.")


def _moment(text: str | None, began_s: float, default: float) -> float:
    """A clock time in s since 1970, written as such or as seconds from the beginning. Raises: BadTable."""
    from datetime import UTC, datetime

    from ..core.words.errors import BadTable

    if text is None:
        return default
    try:
        return began_s + float(text)
    except ValueError:
        pass
    try:
        when = datetime.fromisoformat(text)
    except ValueError as error:
        raise BadTable(f"Expected a time such as 2026-11-29T14:30:00, or seconds, found “{text}”.") from error
    return (when if when.tzinfo else when.replace(tzinfo=UTC)).timestamp()
