"""What undo offers after a reading was captured: to leave it out with a reason, since it is never taken back."""

from typing import Literal

from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.journal.reading import Reading
from ...core.words.numerals import significant
from ..panel.fields import heading, label

Answer = Literal["leave out", "undo the edit", "neither"]
_MOST = 4


class LeaveOutDialog(QDialog):
    """Names the readings captured last, and asks for the reason."""

    def __init__(self, readings: list[Reading], edit_before: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Leave the last reading out?")
        self.answer: Answer = "neither"
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(9)
        column.addWidget(heading("Captured last" if len(readings) == 1 else f"The last {len(readings)} captured"))
        column.addWidget(label("\n".join(map(_words, readings[:_MOST])) + ("\n…" if len(readings) > _MOST else "")))
        column.addWidget(label("A reading stays on record. It can be left out of the fit, with the reason.", "muted"))
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("Why: not steady yet, wrong stop …")
        self.reason.setAccessibleName("Reason for leaving it out")
        column.addWidget(self.reason)
        row = QHBoxLayout()
        self.leave = QPushButton("Leave it out")
        self.leave.setEnabled(False)
        self.leave.setDefault(True)
        self.reason.textChanged.connect(lambda text: self.leave.setEnabled(bool(text.strip())))
        self.leave.clicked.connect(lambda: self._close("leave out"))
        row.addWidget(self.leave)
        self.undo = QPushButton(f"Undo instead: {edit_before}")
        self.undo.setAutoDefault(False)
        self.undo.setVisible(bool(edit_before))
        self.undo.clicked.connect(lambda: self._close("undo the edit"))
        row.addWidget(self.undo)
        keep = QPushButton("Keep it")
        keep.setAutoDefault(False)
        keep.clicked.connect(self.reject)
        row.addWidget(keep)
        column.addLayout(row)
        self.reason.setFocus()

    def _close(self, answer: Answer) -> None:
        self.answer = answer
        self.accept()


def _words(reading: Reading) -> str:
    raw = reading.raw
    said = f"{significant(reading.reference, 5)} {reading.reference_unit}"
    return said if raw is None else f"{said} at {significant(raw.mean, 5)} {raw.unit}"
