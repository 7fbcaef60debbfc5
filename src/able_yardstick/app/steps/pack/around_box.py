"""Before and after: what is done before the plant is touched and put back at the end; and who uses the numbers."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from ....core.document.channel import ContinuousChannel
from ....core.document.precaution import Precaution, PrecautionState
from ....core.job.precautions import drop_precaution, precautions_of, put_precaution, to_restore
from ....core.results.usage import usage_of
from ....core.words.errors import YardstickError
from ...frame.plain_text import PlainLabel
from ...frame.theme import font
from ...frame.widgets import discard
from ...frame.workbench import Workbench
from ...panel.fields import Complaint, Entry, label

_NEXT: dict[PrecautionState, tuple[str, PrecautionState]] = {
    "open": ("Done", "taken"),
    "taken": ("Put back", "restored"),
    "restored": ("Again", "taken"),
}
_WORDS: dict[PrecautionState, tuple[str, str]] = {
    "open": ("not done", "muted"),
    "taken": ("done, to be put back", "look"),
    "restored": ("put back", "good"),
}


class AroundBox(QWidget):
    """The list with one button a row, a field for more, and the users of the channel's numbers."""

    def __init__(self, bench: Workbench) -> None:
        super().__init__()
        self._bench = bench
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        self._rows = QGridLayout()
        self._rows.setColumnStretch(0, 1)
        self.more = Entry()
        self.more.setPlaceholderText("what else must be done first")
        self.more.setAccessibleName("Add to the list")
        self.more.returnPressed.connect(self._add)
        self._complaint = Complaint()
        self.users = label("", "muted", 12)
        column.addLayout(self._rows)
        column.addWidget(self.more)
        column.addWidget(self._complaint)
        column.addWidget(self.users)

    def show_channel(self, channel: ContinuousChannel) -> str:
        """Show the list as it stands; gives what is left in a few words."""
        self._clear()
        job = self._bench.job
        for n, one in enumerate(precautions_of(job)):
            self._show_row(n, one)
        users = usage_of(job, channel)
        self.users.setText("\n".join(f"{one.name}: {one.says}." for one in users))
        self.users.setVisible(bool(users))
        left = to_restore(job)
        behind = sum(one.is_behind for one in users)
        parts = [f"to put back: {', '.join(left)}"] if left else []
        parts += [f"{behind} with other numbers"] if behind else []
        return "; ".join(parts) or "nothing to put back"

    def _show_row(self, n: int, one: Precaution) -> None:
        words, role = _WORDS[one.state]
        act, following = _NEXT[one.state]
        for column, text, part in ((0, one.name, ""), (1, words, role)):
            cell = PlainLabel(text)
            cell.setFont(font(12))
            cell.setWordWrap(column == 0)
            cell.setProperty("role", part)
            self._rows.addWidget(cell, n, column)
        button, drop = QPushButton(act), QPushButton("×")
        button.setAccessibleName(f"{act}: {one.name}")
        drop.setAccessibleName(f"Drop from the list: {one.name}")
        drop.setFixedWidth(30)
        button.clicked.connect(lambda: self._put(one.name, following))
        drop.clicked.connect(lambda: self._drop(one.name))
        self._rows.addWidget(button, n, 2, Qt.AlignmentFlag.AlignRight)
        self._rows.addWidget(drop, n, 3)

    def _clear(self) -> None:
        while self._rows.count():
            item = self._rows.takeAt(0)
            widget = item.widget() if item else None
            if isinstance(widget, QLabel | QPushButton):
                discard(widget)

    def _put(self, name: str, state: PrecautionState) -> None:
        self._complaint.setText("")
        self._bench.edit(f"{name}: {_WORDS[state][0]}", lambda job: put_precaution(job, name, state))

    def _drop(self, name: str) -> None:
        try:
            self._bench.edit(f"without {name}", lambda job: drop_precaution(job, name))
            self._complaint.setText("")
        except YardstickError as error:
            self._complaint.setText(str(error))

    def _add(self) -> None:
        try:
            self._put(self.more.text(), "open")
        except YardstickError as error:
            self._complaint.setText(str(error))
            return
        self.more.clear()
