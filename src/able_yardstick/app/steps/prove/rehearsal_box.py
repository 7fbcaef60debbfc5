"""The rehearsal of alarms, step by step: which signal to put on, what must be seen, and whether it was."""

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from ....core.alarms.rehearsal import RehearsalStep, Rehearsed, rehearsal_summary
from ....core.document.channel import ContinuousChannel
from ....core.words.errors import YardstickError
from ....core.words.numerals import parse_number, significant
from ...panel.fields import Complaint, Entry, heading, label

Rehearse = Callable[[RehearsalStep, bool, float | None], None]


class RehearsalBox(QWidget):
    """The next step that was not tried yet, with its two answers; `put` enters what was seen."""

    def __init__(self, put: Rehearse) -> None:
        super().__init__()
        self._put = put
        self._next: RehearsalStep | None = None
        self.summary, self.step = label("", "muted", 12), label("", "", 13)
        self.delay = Entry()
        self.delay.setPlaceholderText("s until it came")
        self.delay.setAccessibleName("Seconds until it came")
        self.came, self.failed = QPushButton("Seen so"), QPushButton("Not so")
        self.came.clicked.connect(lambda: self._answer(True))
        self.failed.clicked.connect(lambda: self._answer(False))
        self._complaint = Complaint()
        row = QHBoxLayout()
        for widget in (self.delay, self.came, self.failed):
            row.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        for words in (heading("Rehearsal"), self.summary, self.step):
            column.addWidget(words)
        column.addLayout(row)
        column.addWidget(self._complaint)

    def show_rows(self, rows: tuple[Rehearsed, ...], channel: ContinuousChannel) -> None:
        """Show how far the rehearsal has come, and what is next."""
        self.setVisible(bool(rows))
        if not rows:
            return
        self.summary.setText(rehearsal_summary(rows))
        self._next = next((row.step for row in rows if row.record is None), None)
        for widget in (self.step, self.delay, self.came, self.failed):
            widget.setVisible(self._next is not None)
        if self._next is not None:
            self.step.setText(_step_words(self._next, channel))

    def _answer(self, as_expected: bool) -> None:
        if self._next is None:
            return
        try:
            text = self.delay.text().strip()
            self._put(self._next, as_expected, parse_number(text) if text else None)
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self._complaint.setText("")
        self.delay.clear()


def _step_words(step: RehearsalStep, channel: ContinuousChannel) -> str:
    """What to do, and what must be seen."""
    unit = channel.path.pin_unit
    how = "Take the lead off" if step.signal is None else f"Put {significant(step.signal, 5)} {unit} on the input"
    return f"{how} ({step.name}): {step.expects}."
