"""The other way round: an instrument was found wrong, and what rests on it is listed with how far it moves."""

import csv
import io
from collections.abc import Sequence
from datetime import UTC, date, datetime
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from ...core.drift.resting import ShiftedRecord, shifted
from ...core.drift.unsigned import unsigned_resting
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import counted, signed, significant
from ..panel.fields import ChoiceField, Complaint, TextField, label
from ..panel.table_field import TableField

if TYPE_CHECKING:
    from .shop import Shop

_LIST_HEIGHT, _ROWS_HEIGHT = 150, 84
_HEADINGS = ("outcome", "tag", "serial", "signed", "certificate", "at", "unit", "error signed", "error now", "allowed",
             "readings", "record")  # fmt: skip


class RestingBox(QWidget):
    """Which instrument, since when, its new certificate; and the list to work through."""

    def __init__(self, shop: "Shop") -> None:
        super().__init__()
        self._shop = shop
        self._key, self._since = "", ""
        self._corrections: list[tuple[float, float]] = []
        self.rows: list[ShiftedRecord] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.instrument = ChoiceField("Instrument", (), self._put_instrument)
        self.since = TextField("Signed since", self._put_since, hint="year-month-day, or all", optional=True)
        self.certificate = TableField(
            self._put_certificate, "Its new certificate: reading and correction", "reading, correction: a line each"
        )
        self.certificate.text.setFixedHeight(_ROWS_HEIGHT)
        self.complaint = Complaint()
        self.says = label("", "", 12)
        self.list = QListWidget()
        self.list.setAccessibleName("What rests on the instrument")
        self.list.setFixedHeight(_LIST_HEIGHT)
        self.list.itemActivated.connect(self._look_at)
        self.list.itemClicked.connect(self._look_at)
        self.save = QPushButton("List for the owner …")
        self.save.clicked.connect(self.ask_file)
        for widget in (
            self.instrument, self.since, self.certificate, self.complaint, self.says, self.list, self.save,
        ):  # fmt: skip
            column.addWidget(widget)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        from ...files.register.find import instruments

        try:
            with self._shop.register() as register:
                known = instruments(register)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.instrument.offer(known)
        self._key = self._key or (known[0][0] if known else "")
        self.instrument.show_value(self._key)
        self._reckon()

    def _put_instrument(self, key: str) -> None:
        self._key = key
        self._reckon()

    def _put_since(self, text: str) -> None:
        if text.strip():
            _day(text)
        self._since = text.strip()
        self._reckon()

    def _put_certificate(self, readings: Sequence[float], corrections: Sequence[float], *_units: str) -> None:
        self._corrections = list(zip(readings, corrections, strict=True))
        self._reckon()

    def _reckon(self) -> None:
        """List what rests on the instrument, the worst first."""
        from ...files.register.find import resting_on

        start = datetime.combine(_day(self._since) if self._since else date.min, datetime.min.time(), UTC)
        self.list.clear()
        try:
            with self._shop.register() as register:
                resting = resting_on(register, self._key, start) if self._key else []
            self.rows = [self._shifted(one.record, one.certificate) for one in resting]
            self.rows += unsigned_resting(self._shop.bench.job, self._key, start, self._corrections)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        order = ("now fails", "no longer sure", "failed before", "still passes", "not judged")
        self.rows.sort(key=lambda row: order.index(row.outcome))
        self.says.setText(self._summary())
        for row in self.rows:
            item = QListWidgetItem(_words(row) if self._corrections else _name(row))
            item.setData(Qt.ItemDataRole.UserRole, row.sha256)
            self.list.addItem(item)
        self.save.setEnabled(bool(self.rows))

    def _shifted(self, sealed: dict, certificate: str) -> ShiftedRecord:  # type: ignore[type-arg]
        return shifted(sealed["record"], sealed["sha256"], self._key, certificate, self._corrections)

    def _summary(self) -> str:
        if not self.rows:
            return "Nothing rests on it." if self._key else "No instrument is known yet: sign a record first."
        records = sum(bool(row.sha256) for row in self.rows)
        bare = len(self.rows) - records
        parts = [counted(records, "record")] if records or not bare else []
        parts += [f"{counted(bare, 'channel')} of this job not signed so"] if bare else []
        count = f"{' and '.join(parts)} {'rests' if len(self.rows) == 1 else 'rest'} on it"
        if not self._corrections:
            return f"{count}. Give its new certificate to see how far each moves."
        told = {name: sum(row.outcome == name for row in self.rows) for name in ("now fails", "no longer sure")}
        return f"{count}: {told['now fails']} now fail, {told['no longer sure']} no longer sure."

    def _look_at(self, item: QListWidgetItem) -> None:
        from ...files.register.find import unit_of_record

        sha256 = str(item.data(Qt.ItemDataRole.UserRole))
        if not sha256:
            row = self.rows[self.list.row(item)]
            self._shop.bench.select(self._shop.bench.job.tagged(row.tag).id)
            return
        with self._shop.register() as register:
            key = unit_of_record(register, sha256)
        self._shop.look(key)

    def ask_file(self) -> None:
        """Ask where the list goes."""
        name, _ = QFileDialog.getSaveFileName(self, "What rests on it", "rests-on.csv", "Tables (*.csv)")
        if name:
            self.save_list(Path(name))

    def save_list(self, path: Path) -> None:
        """Save the list as a table."""
        from ...files.output import put_text

        try:
            put_text(path, self.table())
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self._shop.say(f"{counted(len(self.rows), 'row')} in {path}.", False)

    def table(self) -> str:
        """The list as CSV."""
        out = io.StringIO()
        rows = csv.writer(out, lineterminator="\r\n")
        rows.writerow(_HEADINGS)
        for row in self.rows:
            worst = row.worst
            figures = ("", row.unit, "", "", "") if worst is None else (
                worst.value, row.unit, f"{worst.before:.6g}", f"{worst.after:.6g}", worst.allowed
            )  # fmt: skip
            plate = (row.outcome, row.tag, row.serial, row.signed, row.certificate)
            rows.writerow((*plate, *figures, row.readings, row.sha256))
        return out.getvalue()


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text.strip())
    except ValueError:
        raise BadTable(f"Expected a day such as 2026-04-29, found “{text}”.") from None


def _name(row: ShiftedRecord) -> str:
    return f"{row.tag}  {row.serial}  {row.signed or 'not signed'}"


def _words(row: ShiftedRecord) -> str:
    worst = row.worst
    if worst is None:
        return f"{_name(row)}  no check rests on it"
    moved = f"{signed(worst.before, 2)} → {signed(worst.after, 2)} of ±{significant(worst.allowed, 3)}"
    return f"{row.outcome}: {_name(row)}\n    at {significant(worst.value, 4)}: {moved}"
