"""The settings of one source: its link, and what each of its numbers is."""

from typing import Any

from pydantic import ValidationError
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from ...bench.link import Link
from ...core.document.sources import AnySource, ScanHistory
from ...core.job.job import Job
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import parse_number
from ...core.words.record import InvalidRecord, first_complaint
from ..panel.fields import Complaint, Entry, label
from .feeds_table import FeedsTable
from .kinds import kind_of

_LOOK_MS, _TEST_S = 50, 1.5
_LOOKS = round(_TEST_S * 1000 / _LOOK_MS)
_WHOLE = ("port", "device_id", "baud")
_CHOICES = {
    "link": ("tcp", "serial"), "parity": ("none", "even", "odd"), "registers": ("input", "holding"),
}  # fmt: skip


class SourceEditor(QDialog):
    """Asks for a source's settings; `source` is the one to keep once it was accepted."""

    def __init__(self, source: AnySource, job: Job, parent: QWidget) -> None:
        super().__init__(parent)
        self.source = source
        self.setWindowTitle(f"Settings of {source.name}")
        self.resize(760, 520)
        column = QVBoxLayout(self)
        form = QFormLayout()
        self.entries: dict[str, Entry] = {}
        self.choices: dict[str, QComboBox] = {}
        for name, words in (("name", "Name"), *kind_of(source).fields):
            field = self._field(name, words)
            form.addRow(words, field)
        column.addLayout(form)
        column.addWidget(label(kind_of(source).help, "muted", 12))
        self.feeds = FeedsTable(source, job)
        column.addWidget(self.feeds, 1)
        self._complaint = Complaint()
        column.addWidget(self._complaint)
        self._words = label("", "good", 12)
        column.addWidget(self._words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel)
        self._test = buttons.addButton("Test it", QDialogButtonBox.ButtonRole.ActionRole)
        self._test.clicked.connect(self.test)
        self._tested: Link | None = None
        self._looks = 0
        self._look = QTimer(self, interval=_LOOK_MS)
        self._look.timeout.connect(self._look_at_link)
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def _field(self, name: str, words: str) -> QWidget:
        text = _text(_found(self.source, name))
        if name in _CHOICES:
            box = QComboBox()
            box.addItems(_CHOICES[name])
            box.setCurrentText(text)
            box.setAccessibleName(words)
            self.choices[name] = box
            return box
        entry = Entry()
        entry.setText(text)
        entry.setAccessibleName(words)
        self.entries[name] = entry
        return entry

    def made(self) -> AnySource:
        """The source as typed. Raises: what a field or a row refuses."""
        changes: dict[str, Any] = {}
        serial: dict[str, Any] = {}
        for name, box in self.choices.items():
            (serial if name == "parity" else changes)[name] = box.currentText()
        for name, entry in self.entries.items():
            text = entry.text().strip()
            old = _found(self.source, name)
            value: Any = text
            if isinstance(old, int | float) and not isinstance(old, bool):
                value = parse_number(text)
                if name in _WHOLE:
                    if value != round(value):
                        raise BadTable(f"Expected a whole number for the {name}, found “{text}”.")
                    value = int(value)
            if name == "history":
                value = _ring(text)
            (serial if name in ("device", "baud") else changes)[name] = value
        if serial:
            changes["serial"] = self.source.serial.with_(**serial)  # type: ignore[union-attr]  # it has one
        return self.source.with_(**changes, **self.feeds.feeds())

    def accept(self) -> None:
        """Keep what was typed; a refusal stays open."""
        try:
            self.source = self.made()
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        super().accept()

    def test(self) -> None:
        """Connect with what is typed, and say what was found when it answered or did not."""
        try:
            link = Link(self.made())
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self._let_go()
        self._tested, self._looks = link, 0
        self._complaint.setText("")
        self._words.setText("Connecting …")
        self._test.setEnabled(False)
        link.start()
        self._look.start()

    def _look_at_link(self) -> None:
        if self._tested is None:
            return
        self._looks += 1
        status = self._tested.status
        if status.standing not in ("answering", "waiting") and self._looks < _LOOKS:
            return
        is_there = status.standing == "answering"
        self._complaint.setText("" if is_there else status.error or f"Nothing answered within {_TEST_S:g} s.")
        self._words.setText(f"It answers: {status.what}." if is_there else "")
        self._let_go()

    def _let_go(self) -> None:
        self._look.stop()
        self._test.setEnabled(True)
        if self._tested is not None:
            self._tested.ask_to_stop()
            self._tested = None

    def done(self, result: int) -> None:
        """Close, and let go of what is being tested."""
        self._let_go()
        super().done(result)


def _found(source: AnySource, name: str) -> Any:
    return getattr(source, name) if hasattr(source, name) else getattr(source.serial, name)  # type: ignore[union-attr]


def _ring(text: str) -> ScanHistory | None:
    """A ring of scans by its four numbers; None for an empty text. Raises: BadTable, InvalidRecord."""
    if not text:
        return None
    numbers = [int(parse_number(part)) for part in text.split(",")]
    if len(numbers) != 4:
        raise BadTable(f"Expected four numbers for the ring of scans, found {len(numbers)} in “{text}”.")
    newest, first, stride, slots = numbers
    try:
        return ScanHistory(newest_address=newest, first_address=first, stride=stride, slots=slots)
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, ScanHistory):
        return f"{value.newest_address}, {value.first_address}, {value.stride}, {value.slots}"
    return f"{value:.12g}" if isinstance(value, float) else str(value)
