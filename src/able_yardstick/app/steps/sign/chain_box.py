"""The records signed of a channel, the newest first: number, day, who, and how the hash begins."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QPushButton, QWidget

from ....core.journal.records import SignedRecord
from ...frame.widgets import discard
from ...panel.fields import label

_SHORT = 8


class ChainBox(QWidget):
    """A row for each record, with the button that opens it."""

    def __init__(self, open_record: Callable[[SignedRecord], None]) -> None:
        super().__init__()
        self._open = open_record
        self._shown: tuple[SignedRecord, ...] | None = None
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setColumnStretch(0, 1)

    def show_records(self, records: tuple[SignedRecord, ...]) -> None:
        """Show them; the rows are made anew only where they are others."""
        if records == self._shown:
            return
        self._shown = records
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                discard(widget)
        for row, record in enumerate(reversed(records)):
            approved = f", {record.approver}" if record.approver else ""
            correction = " · a correction" if record.corrects else ""
            words = f"{record.number}   {record.made.date()}   {record.sha256[:_SHORT]}"
            words += f"\n{record.name}{approved}{correction}"
            button = QPushButton("Open")
            button.setAccessibleName(f"Open record {record.number}")
            button.clicked.connect(lambda _checked=False, one=record: self._open(one))
            self._grid.addWidget(label(words, "", 12), row, 0)
            self._grid.addWidget(button, row, 1, Qt.AlignmentFlag.AlignTop)
