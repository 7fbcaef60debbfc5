"""Fields for the properties of one record, laid out from a list of rows: a record of another kind is another list."""

from collections import defaultdict
from collections.abc import Callable, Sequence
from contextlib import suppress
from typing import Any, Literal, NamedTuple

from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import parse_number
from .fields import ChoiceField, Complaint, TextField


class FieldRow(NamedTuple):
    """One row: its title, the properties in it, and how they are read.

    `{name}` in the suffix, or in what stands between two, is filled in when shown.
    """

    title: str
    names: tuple[str, ...]
    suffix: str = ""
    kind: Literal["number", "text", "choice", "tick", "pair", "whole"] = "number"
    optional: bool = False
    between: str = "and"
    choices: tuple[tuple[Any, str], ...] = ()
    hint: str = ""
    only_if: Callable[[Any], bool] | None = None
    note: Callable[[Any], str] | None = None  # said below it, of the record


def plain(value: float) -> str:
    """A model's number as it is typed: all its digits, no thousands."""
    return f"{value:.12g}".replace("-", "−") if value < 0 else f"{value:.12g}"


class TickField(QWidget):
    """A property that is so or not."""

    def __init__(self, title: str, put: Callable[[bool], None]) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.box = QCheckBox(title)
        self._put, self._value = put, False
        self._complaint = Complaint()
        column.addWidget(self.box)
        column.addWidget(self._complaint)
        self.box.clicked.connect(self._commit)

    @property
    def error(self) -> str:
        """The error shown, or nothing."""
        return self._complaint.text()

    def show_value(self, value: bool) -> None:
        """Show the model's value."""
        self._value = value
        self.box.setChecked(value)
        self._complaint.setText("")

    def _commit(self, checked: bool) -> None:
        try:
            self._put(checked)
        except YardstickError as error:
            self.box.setChecked(self._value)
            self._complaint.setText(str(error))


_NO_UNITS: dict[str, str] = defaultdict(str)


class RecordForm(QWidget):
    """Shows a record's properties; `put` gets those that were changed, and makes the edit or raises a refusal."""

    def __init__(self, rows: Sequence[FieldRow], put: Callable[[dict[str, Any]], None]) -> None:
        super().__init__()
        self._put = put
        self._rows = rows
        self.fields: dict[str, TextField | ChoiceField | TickField] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(7)
        for row in rows:
            field = self._field(row)
            self.fields[row.names[0]] = field
            column.addWidget(field)

    def _field(self, row: FieldRow) -> TextField | ChoiceField | TickField:
        if row.kind == "tick":
            return TickField(row.title, lambda on: self._send({row.names[0]: on}))
        if row.kind == "choice":
            shown = [(str(value), words) for value, words in row.choices]
            by_text = {str(value): value for value, _ in row.choices}
            return ChoiceField(row.title, shown, lambda text: self._send({row.names[0]: by_text[text]}))
        parts = len(row.names) if row.kind != "pair" else 2
        return TextField(
            row.title,
            lambda *texts: self._send(_read(row, texts)),
            parts=parts,
            between=row.between.format_map(_NO_UNITS),  # until there is a record to show
            suffix=row.suffix.format_map(_NO_UNITS),
            hint=row.hint,
            optional=row.optional,
        )

    def _send(self, fields: dict[str, Any]) -> None:
        """Put what was changed, with what was refused before where the two go together: a formula and its limits."""
        waiting: dict[str, Any] = {}
        for row in self._rows:
            field = self.fields[row.names[0]]
            if isinstance(field, TextField) and field.error and not set(row.names) & set(fields):
                with suppress(YardstickError):
                    waiting |= _read(row, field.texts)
        if waiting:
            with suppress(YardstickError):
                self._put(waiting | fields)
                return
        self._put(fields)

    def show_record(self, record: Any, **units: str) -> None:
        """Show a record; `units` fill the suffixes."""
        for row in self._rows:
            field = self.fields[row.names[0]]
            wanted = row.only_if is None or row.only_if(record)
            field.setVisible(wanted)
            if not wanted:
                continue
            if isinstance(field, TickField):
                field.show_value(bool(getattr(record, row.names[0])))
            elif isinstance(field, ChoiceField):
                field.show_value(str(getattr(record, row.names[0])))
            else:
                field.show_values(*_texts(row, record), suffix=row.suffix.format(**units))
                field.show_between(row.between.format(**units))
                field.show_note("" if row.note is None else row.note(record))


def _texts(row: FieldRow, record: Any) -> list[str]:
    values = getattr(record, row.names[0]) if row.kind == "pair" else [getattr(record, name) for name in row.names]
    if values is None:
        values = (None, None)
    return ["" if value is None else value if isinstance(value, str) else plain(value) for value in values]


def _read(row: FieldRow, texts: Sequence[str]) -> dict[str, Any]:
    if row.kind == "text":
        return {name: text.strip() for name, text in zip(row.names, texts, strict=True)}
    numbers = [_number(row, text) for text in texts]
    if row.kind == "pair":
        return {row.names[0]: None if None in numbers else tuple(numbers)}
    return dict(zip(row.names, numbers, strict=True))


def _number(row: FieldRow, text: str) -> float | int | None:
    if not text.strip() and row.optional:
        return None
    number = parse_number(text)
    if row.kind != "whole":
        return number
    if number != round(number):
        raise BadTable(f"Expected a whole number, found “{text.strip()}”.")
    return round(number)
