"""A log of another program: what its columns are is picked from a preview, and it becomes a log of this job."""

from pathlib import Path

from PySide6.QtWidgets import QComboBox, QTableWidget, QTableWidgetItem, QWidget

from ...core.document.channel import ContinuousChannel, TwoStateChannel
from ...core.job.job import Job
from ...core.words.errors import NotApplicable
from ...core.words.numerals import counted
from ...files.log.foreign import MEANINGS, ColumnMeaning, ForeignTable, guessed, meaning_of, take_in
from ...files.log.schema import LOG_ENDING
from ..panel.ask_dialog import AskDialog
from ..panel.numbers_table import plain_table

_WIDTH, _HEIGHT = 720, 520
_SHOWN_ROWS = 3
_LEFT_OUT = "left out"


class ForeignDialog(AskDialog):
    """A row for each column: its heading, its first cells, the channel it is of, and what number it is."""

    def __init__(self, path: Path, job: Job, parent: QWidget) -> None:
        self.table = ForeignTable(path)
        rows = counted(len(self.table), "row")
        about = f"{path.name} has {rows}. Say which column is the time, and what the others are."
        super().__init__("Take in a log", about, self._take_in, parent, keep="Take it in")
        self._job = job
        self.written: Path | None = None
        self.resize(_WIDTH, _HEIGHT)
        self.time = QComboBox()
        for n, name in enumerate(self.table.names):
            self.time.addItem(name, n)
        self.time.setCurrentIndex(max(self.table.time_column or 0, 0))
        self.add("Time", self.time)
        self.columns: QTableWidget = plain_table("Columns of the log")
        self.channels: list[QComboBox] = []
        self.kinds: list[QComboBox] = []
        self.add("Columns", self.columns)
        self._fill()

    def _fill(self) -> None:
        known = guessed(self.table, self._job)
        names = self.table.names
        self.columns.setRowCount(len(names))
        self.columns.setColumnCount(4)
        self.columns.setHorizontalHeaderLabels(["heading", "begins", "channel", "is"])
        self.columns.setMinimumHeight(260)
        for n, name in enumerate(names):
            rows = range(min(_SHOWN_ROWS, len(self.table)))
            begins = ", ".join(self.table.cell(row, n) for row in rows)
            unit = f" ({self.table.units[n]})" if self.table.units[n] else ""
            self.columns.setItem(n, 0, QTableWidgetItem(f"{name}{unit}"))
            self.columns.setItem(n, 1, QTableWidgetItem(begins))
            channel, kind = QComboBox(), QComboBox()
            channel.addItem(_LEFT_OUT, "")
            for one in self._job.channels:
                if isinstance(one, ContinuousChannel | TwoStateChannel):
                    channel.addItem(one.tag, one.id)
            for key, words in MEANINGS:
                kind.addItem(words, key)
            channel_id, kind_key = known.get(n, ("", "shown"))
            channel.setCurrentIndex(max(channel.findData(channel_id), 0))
            kind.setCurrentIndex(kind.findData(kind_key))
            channel.setAccessibleName(f"Channel of {name}")
            kind.setAccessibleName(f"What {name} is")
            self.columns.setCellWidget(n, 2, channel)
            self.columns.setCellWidget(n, 3, kind)
            self.channels.append(channel)
            self.kinds.append(kind)

    def _meanings(self) -> list[ColumnMeaning]:
        found = []
        for n, (channel, kind) in enumerate(zip(self.channels, self.kinds, strict=True)):
            if channel.currentData() and n != self.time.currentData():
                of = self._job.channel(channel.currentData())
                found.append(meaning_of(self.table, n, of, kind.currentData()))
        taken = [(one.channel, one.role) for one in found]
        twice = next((one.tag for one in found if taken.count((one.channel, one.role)) > 1), "")
        if twice:
            raise NotApplicable(f"Two columns are the same number of {twice}. Leave one of them out.")
        return found

    def _take_in(self) -> None:
        path = _free(self.table.path.with_suffix(LOG_ENDING))
        self.written = take_in(self.table, self.time.currentData(), self._meanings(), self._job, path)


def _free(path: Path) -> Path:
    """A name beside the table that is not taken yet."""
    number, free = 1, path
    while free.exists():
        number += 1
        free = path.with_name(f"{path.stem} {number}{path.suffix}")
    return free
