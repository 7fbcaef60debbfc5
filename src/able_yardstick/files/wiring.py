"""The wiring list of a job as text and as CSV."""

import csv
import io
from pathlib import Path

from ..core.job.job import Job
from ..core.outputs.wiring_list import wiring_of
from ..core.wire.landing import WIRING_HEADINGS, WiringRow
from .output import harmless, put_text


def every_row(job: Job) -> list[WiringRow]:
    """The wiring of all channels, in their order."""
    return [row for channel in job.channels for row in wiring_of(job, channel)]


def wiring_text(job: Job) -> str:
    """The list in columns that line up."""
    rows = [WIRING_HEADINGS, *(tuple(row) for row in every_row(job))]
    widths = [max(len(row[n]) for row in rows) for n in range(len(WIRING_HEADINGS))]
    lines = ["  ".join(cell.ljust(width) for cell, width in zip(row, widths, strict=True)).rstrip() for row in rows]
    return "\n".join(lines) + "\n"


def wiring_csv(job: Job) -> str:
    """The list with commas between."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(WIRING_HEADINGS)
    writer.writerows([harmless(cell) for cell in row] for row in every_row(job))
    return out.getvalue()


def save_wiring_csv(path: Path, job: Job, *made_from: Path) -> None:
    """Write the list as CSV. Raises: BadTable if it cannot be written."""
    put_text(path, wiring_csv(job), *made_from)
