"""The reference instruments of the job, and references found in nature."""

from collections.abc import Callable
from datetime import date
from functools import partial
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QFrame, QGridLayout, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from ...core.document.reference import Correction, Head, Reference
from ...core.job.instruments import change_reference
from ...core.standards.natural import NaturalValue, ambient_pressure, gravity, ice_point, steam_point, weight_of
from ...core.units.conversion import taken_for
from ...core.units.quantity import SUGGESTED_UNITS
from ...core.words.errors import BadTable, NotApplicable, YardstickError
from ...core.words.numerals import counted, parse_number, significant
from ...core.words.record import InvalidRecord
from ..frame.theme import Theme, font
from ..frame.workbench import Workbench, new_id, now
from ..panel.fields import ChoiceField, Complaint, Entry, TextField, heading, label
from ..panel.lead_box import Act, Headline
from ..panel.record_form import FieldRow, RecordForm, plain
from ..panel.step_panel import StepPanel

_QUANTITIES = ((None, "not said"), *((one, one) for one in SUGGESTED_UNITS))


def _undated(reference: Reference) -> str:
    """That a drift counts from a day that is not stated."""
    is_open = bool(reference.drift_per_year) and reference.calibrated is None
    return "Say below when it was calibrated: until then its drift does not count." if is_open else ""


_ROWS = (
    FieldRow("Name", ("name",), kind="text"),
    FieldRow("Serial", ("serial",), kind="text"),
    FieldRow(
        "Quantity", ("quantity",), kind="choice", choices=((None, "not said"), *((one, one) for one in SUGGESTED_UNITS))
    ),
    FieldRow("Unit", ("unit",), kind="text", note=lambda reference: taken_for(reference.unit)),
    FieldRow("Range", ("range_low", "range_high"), "{unit}", optional=True, between="to"),
    FieldRow("Uncertainty U", ("expanded_uncertainty",), "{unit}, k = 2", optional=True),
    FieldRow("Resolution", ("resolution",), "{unit}", optional=True),
    FieldRow("Certificate", ("certificate",), kind="text"),
    FieldRow("Drifts by", ("drift_per_year",), "{unit} a year", optional=True, hint="not stated", note=_undated),
    FieldRow("Stands for", ("stands_for",), "{unit}", optional=True, hint="a meter: it reads any value"),
)
_NATURE = (
    ("air", "Air pressure, from a weather page", (("Reduced to sea level, kPa", "101.3"), ("Altitude, m", "0"))),
    ("gravity", "Free fall, by latitude", (("Latitude, °", "50"), ("Altitude, m", "0"))),
    ("ice", "Ice point", ()),
    ("steam", "Steam point", (("Absolute pressure, kPa", "101.325"),)),
    ("mass", "Force of a known mass", (("Mass, kg", "10"), ("Free fall, m/s²", "9.81"))),
)


class ReferencesPanel(StepPanel):
    """One instrument at a time, chosen from the list; its certificate's corrections as lines of text."""

    title = "References"
    chosen = Signal(str)

    def __init__(self, bench: Workbench, theme: Theme) -> None:
        super().__init__(bench, theme)
        self._chosen = ""
        self.list = ChoiceField("Instrument", (), self.choose)
        self.body.addWidget(self.list)
        self.form = RecordForm(_ROWS, self._put)
        self.body.addWidget(self.form)
        self.calibrated = TextField(
            "Calibrated", partial(self._put_date, "calibrated"), optional=True, hint="2026-04-30"
        )
        self.due = TextField("Due", partial(self._put_date, "due"), optional=True, hint="2027-04-30")
        self.body.addWidget(self.calibrated)
        self.body.addWidget(self.due)
        self.overdue = label("", "look", 12)
        self.body.addWidget(self.overdue)
        self.head = TextField("Head", self._put_head, parts=2, between="m above, kg/m³", optional=True)
        self.head.setToolTip("How far the sensor's port lies above the reference's, and the density of what is between")
        self.body.addWidget(self.head)
        self.body.addWidget(heading("Corrections of the certificate"))
        self.corrections = QPlainTextEdit()
        self.corrections.setAccessibleName("Corrections: reading and what is added")
        self.corrections.setPlaceholderText("reading, correction – one line each")
        self.corrections.setFont(font(12))
        self.corrections.setFixedHeight(96)
        self.corrections.setTabChangesFocus(True)
        self.body.addWidget(self.corrections)
        self._complaint = Complaint()
        self.body.addWidget(self._complaint)
        take = QPushButton("Take these corrections")
        take.clicked.connect(self._put_corrections)
        self.body.addWidget(take)
        self.body.addWidget(heading("Found in nature"))
        self.nature = NatureBox(self._keep_natural)
        self.body.addWidget(self.nature)
        self.body.addStretch(1)
        self.action("Add an instrument", self._add)

    @property
    def reference(self) -> Reference | None:
        """The instrument shown."""
        rows = self.bench.job.references
        return next((one for one in rows if one.id == self._chosen), rows[0] if rows else None)

    def _keep_natural(self, title: str, found: NaturalValue) -> None:
        """Put a natural reference among the instruments, so that readings can be compared with it."""
        made = Reference(
            id=new_id(), name=title, unit=found.unit, stands_for=found.value,
            expanded_uncertainty=2 * found.standard_uncertainty, certificate=found.says,
        )  # fmt: skip
        if self.bench.try_edit(f"reference {title}", lambda job: change_reference(job, made)):
            self.choose(made.id)

    def choose(self, key: str) -> None:
        """Show another instrument."""
        self._chosen = key
        self.corrections.document().setModified(False)
        self.refresh()

    def _add(self) -> None:
        names = {one.name for one in self.bench.job.references}
        name = next(text for n in range(1, len(names) + 2) if (text := f"Instrument {n}") not in names)
        channel = self.bench.continuous  # beside which it stands
        made = Reference(id=new_id(), name=name, unit="" if channel is None else channel.unit)
        if self.bench.try_edit(f"reference {name}", lambda job: change_reference(job, made)):
            self.choose(made.id)
            self._begin_name()

    def _begin_name(self) -> None:
        """Have what is typed next be the instrument's name."""
        field = self.form.fields["name"]
        assert isinstance(field, TextField)
        field.entries[0].setFocus()
        field.entries[0].selectAll()

    def _put(self, changes: dict[str, Any]) -> None:
        one = self.reference
        if one is None:
            raise NotApplicable("Add an instrument first.")
        changed = one.with_(**changes)
        self.bench.edit(f"reference {changed.name}", lambda job: change_reference(job, changed))

    def _put_date(self, name: str, text: str) -> None:
        if not text.strip():
            self._put({name: None})
            return
        try:
            when = date.fromisoformat(text.strip())
        except ValueError as error:
            raise BadTable(f"Expected a date as year-month-day, such as 2027-04-30, found “{text.strip()}”.") from error
        self._put({name: when})

    def _put_head(self, height: str, density: str) -> None:
        if not height.strip() and not density.strip():
            self._put({"head": None})
            return
        metres, kg_m3 = parse_number(height), parse_number(density)
        if kg_m3 <= 0:
            raise InvalidRecord(
                f"The density must be above 0 kg/m³, found {significant(kg_m3)}: water has 998, air 1.2."
            )
        self._put({"head": Head(height_m=metres, density_kg_m3=kg_m3)})

    def _put_corrections(self) -> None:
        try:
            rows = tuple(
                _correction(n, line)
                for n, line in enumerate(self.corrections.toPlainText().splitlines(), 1)
                if line.strip()
            )
            self._put({"corrections": rows})
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self._complaint.setText("")
        self.corrections.document().setModified(False)

    def lead(self) -> Headline | None:
        """Which instruments are overdue."""
        rows = self.bench.job.references
        if not rows:
            return Headline(
                "open", "No instruments yet.", "Add the one beside your sensor.", (Act("Add it", self._add),)
            )
        overdue = [one for one in rows if one.overdue_words(now().date())]
        if overdue:
            names = ", ".join(one.name for one in overdue)
            acts = (Act("Show it", lambda: self.choose(overdue[0].id)),)
            says = f"{counted(len(overdue), 'instrument')} overdue."
            return Headline("look", says, f"{names}. Readings record it.", acts)
        more = "Every reading keeps which one it was compared with, its correction and its uncertainty."
        return Headline("ok", f"{counted(len(rows), 'instrument')}, none overdue.", more)

    def refresh(self) -> None:
        """Show the job's instruments, as they now are."""
        rows = self.bench.job.references
        one = self.reference
        self.list.offer([(row.id, row.name) for row in rows])
        for widget in (self.list, self.form, self.calibrated, self.due, self.head, self.corrections):
            widget.setEnabled(one is not None)
        self.chosen.emit("" if one is None else one.id)
        if one is None:
            return
        self.list.show_value(one.id)
        self.form.show_record(one, unit=one.unit)
        self.calibrated.show_values("" if one.calibrated is None else one.calibrated.isoformat())
        self.due.show_values("" if one.due is None else one.due.isoformat())
        overdue = one.overdue_words(now().date())
        self.overdue.setText(f"{overdue[:1].upper()}{overdue[1:]}. Readings record it." if overdue else "")
        self.overdue.setVisible(bool(overdue))
        head = one.head
        self.head.show_values(
            "" if head is None else plain(head.height_m), "" if head is None else plain(head.density_kg_m3)
        )
        if not self.corrections.document().isModified():
            text = "\n".join(f"{plain(row.reading)}, {plain(row.correction)}" for row in one.corrections)
            if text != self.corrections.toPlainText():
                self.corrections.setPlainText(text)
                self.corrections.document().setModified(False)


def _correction(line: int, text: str) -> Correction:
    parts = [part for part in text.replace(";", ",").replace("\t", ",").split(",") if part.strip()]
    if len(parts) != 2:
        raise BadTable(f"Line {line}: expected a reading and its correction, found “{text.strip()}”.")
    try:
        return Correction(reading=parse_number(parts[0]), correction=parse_number(parts[1]))
    except BadTable as error:
        raise BadTable(f"Line {line}: {error}") from error


class NatureBox(QFrame):
    """Works out what nature should give, and how surely."""

    def __init__(self, keep: Callable[[str, NaturalValue], None]) -> None:
        super().__init__()
        self._keep = keep
        self.setObjectName("note")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 8)
        self.kind = QComboBox()
        self.kind.setAccessibleName("Reference found in nature")
        for key, words, _ in _NATURE:
            self.kind.addItem(words, key)
        self.kind.activated.connect(lambda _at: self._lay_out())
        column.addWidget(self.kind)
        self._inside = QWidget()
        self._grid = QGridLayout(self._inside)
        self._grid.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._inside)
        self.entries: list[Entry] = []
        self._labels = [label("", "muted", 12) for _ in range(2)]
        for row in range(2):
            entry = Entry()
            entry.textChanged.connect(lambda _text: self._work_out())
            self.entries.append(entry)
            self._grid.addWidget(self._labels[row], row, 0)
            self._grid.addWidget(entry, row, 1)
        self.result = label("", "", 13)
        column.addWidget(self.result)
        self.keep = QPushButton("Keep as a reference")
        self.keep.setToolTip("Then choose it at Gather, under “Typed values of”")
        self.keep.clicked.connect(self._keep_it)
        column.addWidget(self.keep)
        self._lay_out()

    def _lay_out(self) -> None:
        fields = next(fields for key, _, fields in _NATURE if key == self.kind.currentData())
        for n, entry in enumerate(self.entries):
            used = n < len(fields)
            entry.setVisible(used)
            self._labels[n].setVisible(used)
            if used:
                self._labels[n].setText(fields[n][0])
                entry.setAccessibleName(fields[n][0])
                entry.setText(fields[n][1])
        self._work_out()

    def _work_out(self) -> None:
        try:
            found = self._value()
        except YardstickError as error:
            self.result.setText(str(error))
            self.keep.setEnabled(False)
            return
        self.keep.setEnabled(True)
        doubt = significant(2 * found.standard_uncertainty, 2)
        self.result.setText(f"{found.says}, U {doubt} {found.unit} (k = 2).")

    def _keep_it(self) -> None:
        try:
            found = self._value()
        except YardstickError:
            return  # the box says why already
        title = self.kind.currentText().split(",")[0]
        self._keep(f"{title}, {significant(found.value, 6)} {found.unit}", found)

    def _value(self) -> NaturalValue:
        key = self.kind.currentData()
        if key == "ice":
            return ice_point()
        first = parse_number(self.entries[0].text())
        if key == "steam":
            return steam_point(first)
        second = parse_number(self.entries[1].text())
        if key == "air":
            return ambient_pressure(first, second)
        return gravity(first, second) if key == "gravity" else weight_of(first, second)
