"""How a row is shown: its group, the range of its scale, its decimals."""

from PySide6.QtWidgets import QWidget

from ...core.job.watching import change_row
from ...core.lookout.rows import LookoutRow
from ...core.units.typed import typed_in
from ...core.words.errors import BadTable
from ...core.words.numerals import significant
from ..frame.workbench import Workbench
from ..panel.ask_dialog import AskDialog

_MOST_DECIMALS = 9


class RowDialog(AskDialog):
    """One setting for strip, glance, chart and log."""

    def __init__(self, bench: Workbench, row: LookoutRow, unit: str, parent: QWidget) -> None:
        about = "Holds for the strip, the glance, the chart and what a log shows. Empty: by itself."
        super().__init__(f"{row.words}: how it is shown", about, self._keep_row, parent)
        self._bench, self._row, self._unit = bench, row, unit
        shown = bench.job.watch.row(row.id)
        self.group = self.add_line("Group", shown.group, "such as burner, or drying")
        has_scale = row.kind == "channel"
        self.low = self.add_line(f"From{_in(unit)}", _text(shown.low), "all that can come")
        self.high = self.add_line(f"To{_in(unit)}", _text(shown.high), "all that can come")
        self.decimals = self.add_line(
            "Decimals", "" if shown.decimals is None else str(shown.decimals), "as U supports them"
        )
        for line in (self.low, self.high):
            self.show_row(line, has_scale)
        self.show_row(self.decimals, row.kind != "pair")

    def _keep_row(self) -> None:
        now = self._bench.job.watch.row(self._row.id)
        low, high = (
            typed_in(line.text(), self._unit).value if line.text().strip() else None for line in (self.low, self.high)
        )
        row = now.with_(group=self.group.text().strip(), low=low, high=high, decimals=self._decimals())
        self._bench.edit(f"{self._row.words}: how it is shown", lambda job: change_row(job, row))

    def _decimals(self) -> int | None:
        text = self.decimals.text().strip()
        if not text:
            return None
        if not text.isdecimal() or int(text) > _MOST_DECIMALS:
            raise BadTable(f"Expected 0 to {_MOST_DECIMALS} decimals, found “{text}”.")
        return int(text)


def _in(unit: str) -> str:
    return f", {unit}" if unit else ""


def _text(number: float | None) -> str:
    return "" if number is None else significant(number, 8)
