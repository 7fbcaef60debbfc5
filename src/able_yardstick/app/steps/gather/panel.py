"""Gather: readings by hand, by paste or from a file; corrected, excluded and sorted in one table."""

from pathlib import Path
from typing import TYPE_CHECKING, Literal, NamedTuple, get_args

from pydantic import ValidationError
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import QFileDialog, QGridLayout, QHBoxLayout, QLabel, QPushButton, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.gather.advice import conflicts_of, next_stop
from ....core.gather.gathering import referenced
from ....core.gather.points import points_of
from ....core.job.entries import exclude as exclude_edit
from ....core.job.entries import include
from ....core.journal.reading import Raw, Reading, Stimulated
from ....core.regression.repeats import stop_numbers
from ....core.words.errors import YardstickError
from ....core.words.numerals import fixed, parse_number, significant
from ....core.words.record import InvalidRecord, first_complaint
from ....files.tables import read_text
from ...frame.theme import Theme, font
from ...frame.workbench import Workbench, new_id, now
from ...panel import import_dialog
from ...panel.fields import ChoiceField, Complaint, Entry, heading, label
from ...panel.import_dialog import RAW, REFERENCE, SHOWN, ImportDialog, Role
from ...panel.raw_nodes import NodeChoice, node_choices
from ...panel.readings_table import ReadingsModel, ReadingsTable, excluded_reason
from ...panel.record_form import plain
from ...panel.step_panel import StepPanel

_MOST_CONFLICTS = 6

if TYPE_CHECKING:
    from .session import GatherSession

ORIGINS = [("measured", "measured"), ("rated", "rated, by a sheet"), ("assumed", "assumed")]
STIMULATED = [(one, one) for one in get_args(Stimulated)]
DIRECTIONS = [("not stated", "direction not stated"), ("up", "↑ going up"), ("down", "↓ coming down")]


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
        for unit in self._units:
            unit.setText(channel.unit)

    def add(self) -> None:
        """Take the reading typed; on a refusal what was typed stays."""
        try:
            chosen = next(choice for choice in self._choices if choice.key == self.node.box.currentData())
            raw = chosen.raw(parse_number(self.raw.text())) if self.raw.text().strip() else None
            shown = parse_number(self.shown.text()) if self.shown.text().strip() else None
            seen = Seen(
                parse_number(self.reference.text()), raw, shown, self.direction.box.currentData(),
                self.origin.box.currentData(),
            )  # fmt: skip
            self._panel.take_one(seen)
        except YardstickError as error:
            self._panel.complain(str(error))
            return
        self._panel.complain("")
        self.clear()
        self.reference.setFocus()

    def clear(self) -> None:
        """Make room for the next reading; where and which way it is read stays."""
        for entry in (self.reference, self.raw, self.shown):
            entry.clear()


class ReadingsPanel(StepPanel):
    """What Gather and Prove share: the form, the table, pasting, excluding."""

    purpose: Literal["gather", "prove"] = "gather"
    roles: tuple[Role, ...] = (REFERENCE, RAW, SHOWN)
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
        self._source_row = self._buttons(
            ("Paste cells", self.paste, "Ctrl+V"), ("From a CSV file …", self.from_file, "")
        )
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
        self.form.clear()
        self.reason.clear()
        self.complain("")

    def complain(self, text: str) -> None:
        """Show why something was refused, in place."""
        self._complaint.setText(text)

    # -- taking readings --------------------------------------------------------------------------------------------

    def basis(self) -> str:
        """What a reading of this purpose rests on."""
        return ""

    def take_one(self, seen: Seen) -> None:
        """Capture one reading. Raises: what the model refuses."""
        unit = self.channel.unit
        self.bench.capture([self._reading(seen, (unit, unit), "typed")])

    def _reading(self, seen: Seen, units: tuple[str, str], source: str) -> Reading:
        """A reading of this purpose; `units` are those of the reference and of what was shown."""
        channel = self.channel
        fields = {
            "id": new_id(),
            "channel": channel.id,
            "captured": now(),
            "purpose": self.purpose,
            "reference": seen.reference,
            "reference_unit": units[0],
            "raw": seen.raw,
            "shown": seen.shown,
            "shown_unit": units[1] if seen.shown is not None else "",
            "direction": seen.direction,
            "origin": seen.origin,
            "source": source,
            "conditions": channel.conditions,
            "basis": self.basis() if seen.shown is not None else "",
        }
        try:
            return Reading(**fields)
        except ValidationError as error:
            complaint = first_complaint(error)
            raise InvalidRecord(f"{complaint[:1].upper()}{complaint[1:]}.") from error

    def paste(self) -> None:
        """Take cells from the clipboard."""
        self._import(QGuiApplication.clipboard().text(), "the clipboard")

    def from_file(self) -> None:
        """Take columns from a file."""
        name, _ = QFileDialog.getOpenFileName(self, "Readings from a file", "", "Tables (*.csv *.txt *.tsv);;All (*)")
        if name:
            self.take_file(Path(name))

    def take_file(self, path: Path) -> None:
        """Take columns from this file."""
        try:
            text = read_text(path)
        except YardstickError as error:
            self.complain(str(error))
            return
        self._import(text, path.name)

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
        for row in dialog.taken():
            raw = dialog.node.raw(row.raw) if row.raw is not None else None
            where = f"{source}, line {row.line}"
            seen = Seen(row.reference, raw, row.shown)
            readings.append(self._reading(seen, (dialog.unit, dialog.shown_unit), where))
        self.bench.capture(readings)
        self.complain("")
        self.bench.said.emit(f"{len(readings)} readings taken from {source}.", False)

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


class GatherPanel(ReadingsPanel):
    """Readings a curve is fitted to."""

    title = "Gather readings"
    purpose = "gather"

    def __init__(self, bench: Workbench, theme: Theme, session: "GatherSession") -> None:
        from .live import LiveGathering

        super().__init__(bench, theme)
        self.session = session
        self.live = LiveGathering(bench, session)
        self.stimulated = ChoiceField("Stimulated", STIMULATED, self._put_stimulated)
        self.instrument = ChoiceField("Typed values of", (), self._put_instrument)
        self.instrument.setToolTip("The reference instrument that typed values are read from (Shift+F4 describes them)")
        self._by_hand = heading("By hand")
        for at, widget in enumerate((self.live, self.stimulated, self.instrument, self._by_hand), 2):
            self.body.insertWidget(at, widget)
        session.live.connected.connect(lambda _on: self.show_now() if self.isVisible() else None)

    def _put_stimulated(self, text: str) -> None:
        self.session.stimulated = next(one for one in get_args(Stimulated) if one == text)

    def _put_instrument(self, key: str) -> None:
        chosen = next((one for one in self.bench.job.references if one.id == key), None)
        if chosen is not None and chosen.unit:  # refused if it measures something else
            stands_for = self.channel.in_unit(chosen.stands_for or 0.0, chosen.unit)[0]
            if chosen.stands_for is not None:
                self.form.reference.setText(plain(stands_for))
        self.session.instrument_id = key

    def _reading(self, seen: Seen, units: tuple[str, str], source: str) -> Reading:
        """With the instrument chosen for typed values, its corrections and uncertainty, and what was stimulated."""
        made = super()._reading(seen, units, source)
        said = referenced(
            self.channel, seen.reference, units[0], self.session.typed_instrument, made.captured.date()
        )  # fmt: skip
        return made.with_(**said.fields, stimulated=self.session.stimulated, orientation=self.session.orientation)

    def build_above_table(self) -> None:
        self._advice = label("", "muted", 12)
        self._conflicts = label("", "error", 12)
        self._covered = label("", "muted", 12)
        self._covered.setFont(font(12))
        for words in (self._covered, self._advice, self._conflicts):
            self.body.addWidget(words)
        self.body.addWidget(heading("Readings"))

    def refresh(self) -> None:
        """Show the channel looked at, as it now is."""
        channel = self.bench.continuous
        if channel is None:
            return
        self.show_table(channel)
        self.live.refresh()
        self._by_hand.setVisible(not self.live.isHidden())
        self.stimulated.show_value(self.session.stimulated)
        instruments = [(one.id, one.name) for one in self.bench.job.references]
        self.instrument.offer([("", "no instrument named"), *instruments])
        self.instrument.show_value(self.session.instrument_id)
        rows = self.bench.job.amended(channel.id, "gather")
        self.intro.setText(
            "Paste two columns from a spreadsheet, or type what the reference and the sensor said together."
            if not rows
            else "Each row is kept as it was read. Correct a figure in place; leave one out with a reason."
        )
        self._covered.setText(covered_sentence(self.bench, channel) if rows else "")
        self._covered.setVisible(bool(rows))
        self._show_advice(channel)

    def _show_advice(self, channel: ContinuousChannel) -> None:
        """Where the next reading helps most, and which readings contradict each other."""
        where, conflicts = next_stop(self.bench.job, channel), conflicts_of(self.bench.job, channel)
        words = (
            f"Helps most (ring on the Rule): {significant(where.value, 4)} {channel.unit}. {where.says}"
            if where
            else ""
        )
        self._advice.setText(words)
        self._advice.setVisible(bool(words))
        listed = [f"• {one.says}." for one in conflicts[:_MOST_CONFLICTS]]
        if len(conflicts) > _MOST_CONFLICTS:
            listed.append(f"• and {len(conflicts) - _MOST_CONFLICTS} more.")
        self._conflicts.setText("\n".join(["Readings that contradict each other:", *listed]) if conflicts else "")
        self._conflicts.setVisible(bool(conflicts))


def covered_sentence(bench: Workbench, channel: ContinuousChannel) -> str:
    """How many readings there are, at how many stops, and over which part of the range."""
    points = points_of(bench.job, channel)
    excluded = len(bench.job.amended(channel.id, "gather")) - len(points.rows)
    out = f", {excluded} excluded" if excluded else ""
    if not len(points.rows):
        return f"No readings in use{out}."
    low, high = float(points.reference.min()), float(points.reference.max())
    stops = len(set(stop_numbers(points.reference).tolist()))
    share = (high - low) / channel.span
    words = f"{len(points.rows)} readings at {stops} stops, {fixed(low, 2)} to {fixed(high, 2)} {channel.unit}{out}."
    return words + ("" if share >= 0.8 else f" They cover only {share:.0%} of the range: go further out.")
