"""Numbers for a controller as text: cells for a spreadsheet, CSV, JSON, or lines to read."""

import csv
import io
import json
from pathlib import Path
from typing import Any

from ..core.forms.any_form import AnyForm
from ..core.forms.base import Cells
from ..core.forms.cost import PackingCost
from ..core.forms.expression import FormulaText
from ..core.forms.function import CodeFunction
from ..core.wake.burst import Burst
from ..core.words.errors import BadTable
from .output import harmless, put_text
from .workbooks import is_workbook, put_cells

ENDINGS = {".csv": "CSV", ".xlsx": "workbook", ".json": "JSON", ".txt": "text"}


def _number(cell: float | str) -> str:
    if isinstance(cell, str):
        return cell
    return f"{cell:.0f}" if float(cell).is_integer() and abs(cell) < 1e15 else repr(float(cell))


def save_burst(path: Path, tag: str, burst: Burst, unit: str) -> None:
    """Write a fast capture as CSV: seconds from the trigger, and the signal. Raises: BadTable."""
    rows = zip(burst.times_s.tolist(), burst.values.tolist(), strict=True)
    cells = Cells(("time (s)", f"{tag} ({unit})"), tuple(rows))
    if is_workbook(path):
        put_cells(path, cells)
    else:
        put_text(path, as_rows(cells, ","))


def as_rows(cells: Cells, separator: str) -> str:
    """Headings and rows for a spreadsheet, each number with all its digits."""
    text = io.StringIO()
    writer = csv.writer(text, delimiter=separator, lineterminator="\n")
    writer.writerow([harmless(heading) for heading in cells.headings])
    writer.writerows([harmless(cell) if isinstance(cell, str) else _number(cell) for cell in row] for row in cells.rows)
    return text.getvalue()


def as_cells(cells: Cells) -> str:
    """Cells that paste into a spreadsheet: tabs between them, without the headings."""
    return "\n".join("\t".join(_number(cell) for cell in row) for row in cells.rows)


def as_text(title: str, cells: Cells, remark: str) -> str:
    """A table to read, its columns lined up."""
    rows = [list(cells.headings)] + [[_number(cell) for cell in row] for row in cells.rows]
    widths = [max(len(row[column]) for row in rows) for column in range(len(cells.headings))]
    lines = ["  ".join(cell.rjust(width) for cell, width in zip(row, widths, strict=True)) for row in rows]
    return "\n".join([title, "", *lines, "", remark, ""])


def as_plain(form: AnyForm, cost: PackingCost, signal_unit: str, unit: str) -> dict[str, Any]:
    """A packing as plain data, with its cost."""
    text = {"text": form.text} if isinstance(form, CodeFunction) else {}
    text |= {"text": form.written} if isinstance(form, FormulaText) else {}
    return {
        "form": form.kind,
        **text,
        "numbers": form.model_dump(mode="json", exclude={"kind"}),
        "signal_unit": signal_unit,
        "unit": unit,
        "worst_error": abs(cost.overall.error),
        "worst_error_signed": cost.overall.error,
        "worst_percent_of_span": cost.overall.percent_of_span,
        "worst_at": cost.overall.signal,
        "worst_at_count": cost.overall.count,
        "in_reach": cost.in_reach.model_dump(mode="json") if cost.in_reach else None,
    }


def save_packing(path: Path, title: str, form: AnyForm, cost: PackingCost, signal_unit: str, unit: str) -> None:
    """Write a packing in the format of the file's ending.

    Raises: BadTable on another ending, or if the file cannot be written.
    """
    cells = form.cells(signal_unit, unit)
    worst = cost.overall
    remark = f"Worst packing error {worst.error:+.6g} {unit} at {worst.signal:.6g} {signal_unit} (count {worst.count})."
    ending = path.suffix.lower()
    if is_workbook(path):
        put_cells(path, cells)
        return
    if ending == ".csv":
        text = as_rows(cells, ",")
    elif ending == ".json":
        text = json.dumps(as_plain(form, cost, signal_unit, unit), indent=1, ensure_ascii=False) + "\n"
    elif ending == ".txt":
        text = as_text(f"{title}: {form.title.lower()}", cells, remark)
    else:
        raise BadTable(f"Expected a name ending in {', '.join(ENDINGS)}, found {path.name}.")
    put_text(path, text)
