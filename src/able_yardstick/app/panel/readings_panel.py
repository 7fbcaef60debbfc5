"""What Gather and Prove share: readings typed, pasted or read from a file, in one table."""

from pathlib import Path
from typing import Any, Literal, NamedTuple

from pydantic import ValidationError
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QInputDialog, QLabel, QPushButton, QWidget

from ...core.document.channel import ContinuousChannel
from ...core.document.reference import Reference
from ...core.gather.gathering import referenced
from ...core.gather.raw_nodes import NodeChoice, node_choices
from ...core.job.entries import exclude as exclude_edit
from ...core.job.entries import include
from ...core.journal.reading import Raw, Reading
from ...core.units.typed import number_and_unit
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import counted, parse_number, plain_decimals
from ...core.words.record import InvalidRecord, first_complaint
from ...files.tables import read_text
from ...files.workbooks import is_workbook, sheets_of
from ..frame.theme import Theme
from ..frame.workbench import Workbench, new_id, now
from . import import_dialog
from .fields import ChoiceField, Complaint, Entry, label
from .import_dialog import RAW, REFERENCE, SHOWN, ColumnRole, ImportDialog
from .readings_table import DIRECTIONS, ORIGINS, ReadingsModel, ReadingsTable, excluded_reason
from .step_panel import StepPanel

TABLE_FILES = "Tables (*.csv *.txt *.tsv *.xlsx);;All (*)"


class Seen(NamedTuple):
    """What was seen at one moment."""

    reference: float
    raw: Raw | None
    shown: float | None
    direction: str = "not stated"
    origin: str = "measured"


class ReadingForm(QWidget):
    """One reading typed by hand: reference, raw signal, and what the controller showed."""

    def __init__(self, panel: "ReadingsPanel", words: tuple[str, str, str], button: str) -> None:
        super().__init__()
        self._panel = panel
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.reference, self.raw, self.shown = Entry(), Entry(), Entry()
        self._units: list[QLabel] = []
        self.raw.setPlaceholderText("2.51; 2.52")
        self.raw.setToolTip("One value, or several in a row with semicolons: their mean and spread are kept")
        for row, (entry, title) in enumerate(zip((self.reference, self.raw, self.shown), words, strict=True)):
            entry.setAccessibleName(title)
            entry.returnPressed.connect(self.add)
            grid.addWidget(label(title, "muted", 12), row, 0)
            grid.addWidget(entry, row, 1)
        self.node = ChoiceField("", (), lambda _key: None)
        self.node.box.setAccessibleName("Where the raw signal was read")
        self._units = [label("", "muted", 12), label("", "muted", 12)]
        grid.addWidget(self._units[0], 0, 2)
        grid.addWidget(self.node, 1, 2)
        grid.addWidget(self._units[1], 2, 2)
        self.direction = ChoiceField("", DIRECTIONS, lambda _key: None)
        self.direction.box.setAccessibleName("Direction")
        self.button = QPushButton(button)
        self.button.clicked.connect(self.add)
        self.origin = ChoiceField("", ORIGINS, lambda _key: None)
        self.origin.box.setAccessibleName("Where the figures are from")
        grid.addWidget(self.direction, 3, 0, 1, 2)
        grid.addWidget(self.origin, 3, 2)
        grid.addWidget(self.button, 4, 0, 1, 3)
        grid.setColumnStretch(1, 1)
        self._choices: list[NodeChoice] = []

    def show_channel(self, channel: ContinuousChannel) -> None:
        """Offer the nodes and units of a channel."""
        self._choices = node_choices(channel)
        self.node.offer([(choice.key, choice.words) for choice in self._choices])
        for unit, text in zip(self._units, (channel.unit, channel.shown_in), strict=True):
            unit.setText(text)

    def add(self) -> None:
        """Take the reading typed; on a refusal what was typed stays."""
        try:
            chosen = next(choice for choice in self._choices if choice.key == self.node.box.currentData())
            raw = chosen.possible(chosen.typed(self.raw.text())) if self.raw.text().strip() else None
            own = self._panel.channel
            shown = self._in_unit(self.shown, own.shown_in) if self.shown.text().strip() else None
            seen = Seen(
                self._in_unit(self.reference, own.unit), raw, shown, self.direction.box.currentData(),
                self.origin.box.currentData(),
            )  # fmt: skip
            self._panel.take_one(seen)
        except YardstickError as error:
            self._panel.complain(str(error))
            return
        self._panel.complain("")
        self.clear()
        self.reference.setFocus()

    def _in_unit(self, entry: Entry, wanted: str) -> float:
        number, unit = number_and_unit(entry.text())
        value = parse_number(number)
        return float(self._panel.channel.converted(value, unit, wanted)) if unit else value

    def clear(self) -> None:
        """Make room for the next reading; where and which way it is read stays."""
        for entry in (self.reference, self.raw, self.shown):
            entry.clear()

    def forget(self) -> None:
        """Begin anew, with another channel: what it was said of the last one's readings is not said of this one's."""
        self.clear()
        for choice in (self.direction, self.origin):
            choice.box.setCurrentIndex(0)


class ReadingsPanel(StepPanel):
    """What Gather and Prove share: the form, the table, pasting, excluding."""

    purpose: Literal["gather", "prove"] = "gather"
    roles: tuple[ColumnRole, ...] = (REFERENCE, RAW, SHOWN)
    form_words = ("Reference", "Raw signal", "Shown, if seen")
    add_words = "Add reading"

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self.form = ReadingForm(self, self.form_words, self.add_words)
        self.body.addWidget(self.form)
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        self.model = ReadingsModel(bench, self.purpose, theme)
        self.model.refused = self.complain
        self.table = ReadingsTable(self.model)
        self.table.setAccessibleName("Readings")
        self.table.setMinimumHeight(170)
        self._source_row = self._buttons(("Paste cells", self.paste, "Ctrl+V"), ("From a file …", self.from_file, ""))
        self.body.addLayout(self._source_row)
        self.build_above_table()
        self.body.addWidget(self.table, 1)
        self.body.addLayout(self._exclude_row())
        delete = QShortcut(QKeySequence.StandardKey.Delete, self.table, context=Qt.ShortcutContext.WidgetShortcut)
        delete.activated.connect(self.reason.setFocus)

    def build_above_table(self) -> None:
        """Room for what a step shows above its table."""

    def _buttons(self, *buttons: tuple[str, object, str]) -> QHBoxLayout:
        row = QHBoxLayout()
        row.setSpacing(6)
        for text, act, shortcut in buttons:
            button = QPushButton(text)
            button.setToolTip(f"{text} ({shortcut})" if shortcut else text)
            button.clicked.connect(act)
            row.addWidget(button)
        return row

    def _exclude_row(self) -> QHBoxLayout:
        self.reason = Entry()
        self.reason.setPlaceholderText("reason to leave the selected out")
        self.reason.setAccessibleName("Reason for leaving the selected readings out")
        self.reason.returnPressed.connect(self.exclude)
        self._exclude = QPushButton("Exclude")
        self._exclude.clicked.connect(self.exclude)
        self._turn = QPushButton("↑↓")
        self._turn.setToolTip("Mark the selected readings as going up, coming down, or neither")
        self._turn.setAccessibleName("Turn the direction of the selected readings")
        self._turn.clicked.connect(lambda: self.model.turn(self.table.selected_rows()))
        row = QHBoxLayout()
        row.setSpacing(6)
        row.addWidget(self.reason, 1)
        row.addWidget(self._exclude)
        row.addWidget(self._turn)
        self.table.selectionModel().selectionChanged.connect(self._offer)
        return row

    def _offer(self) -> None:
        rows = self.table.selected()
        back = bool(rows) and all(not row.is_used for row in rows)
        self._exclude.setText("Take back in" if back else "Exclude")
        self.reason.setEnabled(bool(rows) and not back)
        for button in (self._exclude, self._turn):
            button.setEnabled(bool(rows))

    def forget(self) -> None:
        """Drop what was typed and not taken."""
        super().forget()
        self.form.forget()
        self.reason.clear()
        self.complain("")

    def complain(self, text: str) -> None:
        """Show why something was refused, in place."""
        self._complaint.setText(text)

    # -- taking readings --------------------------------------------------------------------------------------------

    def basis(self) -> str:
        """What a reading of this purpose rests on."""
        return ""

    @property
    def typed_instrument(self) -> Reference | None:
        """The instrument that typed values are read off; None where none is chosen."""
        raise NotImplementedError

    def take_one(self, seen: Seen) -> None:
        """Capture one reading. Raises: what the model refuses."""
        channel = self.channel
        self.bench.capture([self._reading(seen, (channel.unit, channel.shown_in), "typed")])

    def _reading(self, seen: Seen, units: tuple[str, str], source: str) -> Reading:
        """A reading of this purpose; `units` are those of the reference and of what was shown.

        With the corrections and the uncertainty of the instrument chosen for typed values.
        """
        channel = self.channel
        fields: dict[str, Any] = {
            "id": new_id(),
            "channel": channel.id,
            "captured": now(),
            "purpose": self.purpose,
            "reference": seen.reference,
            "reference_unit": units[0],
            "raw": seen.raw,
            "shown": seen.shown,
            "shown_unit": units[1] if seen.shown is not None else "",
            "shown_by": channel.display.name if seen.shown is not None and self.purpose == "prove" else "",
            "direction": seen.direction,
            "origin": seen.origin,
            "source": source,
            "conditions": channel.conditions,
            "basis": self.basis() if seen.shown is not None else "",
        }
        said = referenced(channel, seen.reference, units[0], self.typed_instrument, fields["captured"].date())
        try:
            return Reading(**fields | said.fields)
        except ValidationError as error:
            complaint = first_complaint(error)
            raise InvalidRecord(f"{complaint[:1].upper()}{complaint[1:]}.") from error

    def paste(self) -> None:
        """Take cells from the clipboard."""
        self._import(QGuiApplication.clipboard().text(), "the clipboard")

    def from_file(self) -> None:
        """Take columns from a file."""
        name, _ = QFileDialog.getOpenFileName(self, "Readings from a file", "", TABLE_FILES)
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Take columns from this file."""
        try:
            text = read_text(path, self._sheet_of(path))
        except YardstickError as error:
            self.complain(str(error))
            return
        self._import(text, path.name)

    def _sheet_of(self, path: Path) -> str:
        """The sheet of a workbook, asked for where several have cells; empty for another file. Raises: BadTable."""
        sheets = sheets_of(path) if is_workbook(path) else ()
        if len(sheets) < 2:
            return ""
        chosen, agreed = QInputDialog.getItem(self, "Readings from a workbook", "Sheet", sheets, 0, False)
        if not agreed:
            raise BadTable("No sheet was chosen: nothing was taken.")
        return chosen

    def _import(self, text: str, source: str) -> None:
        try:
            dialog = import_dialog.ask(text, source, self.channel, self.roles, self.theme, self)
            if dialog is not None:
                self.take_rows(dialog, source)
        except YardstickError as error:
            self.complain(str(error))

    def take_rows(self, dialog: ImportDialog, source: str) -> None:
        """Capture what a dialog understood. Raises: what the model refuses."""
        readings = []
        taken = dialog.taken()
        digit = 10.0 ** -max((plain_decimals(row.raw) for row in taken if row.raw is not None), default=0)
        for row in taken:
            raw = dialog.node.possible(dialog.node.raw(row.raw, digit)) if row.raw is not None else None
            where = f"{source}, line {row.line}"
            seen = Seen(row.reference, raw, row.shown)
            readings.append(self._reading(seen, (dialog.unit, dialog.shown_unit), where))
        self.bench.capture(readings)
        self.complain("")
        self.bench.said.emit(f"{counted(len(readings), 'reading')} taken from {source}.", False)

    def exclude(self) -> None:
        """Leave the selected readings out for the reason typed, or take them back in."""
        rows = self.table.selected()
        if not rows:
            return
        ids = [row.reading.id for row in rows]
        try:
            if all(not row.is_used for row in rows):
                self.bench.edit("taking readings back in", lambda job: include(job, ids, now()))
            else:
                reason = excluded_reason(self.reason.text())
                self.bench.edit("exclusion of readings", lambda job: exclude_edit(job, ids, reason, now()))
                self.reason.clear()
        except YardstickError as error:
            self.complain(str(error))
            return
        self.complain("")

    def show_table(self, channel: ContinuousChannel) -> None:
        """Show the rows as they now are, with the same ones selected."""
        kept = {row.reading.id for row in self.table.selected()}
        self.model.show_channel(channel, self.theme)
        self.table.select_readings(kept)
        self.form.show_channel(channel)
        self._offer()
