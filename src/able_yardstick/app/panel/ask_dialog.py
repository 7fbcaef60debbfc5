"""A dialog of a few named rows that takes what was typed at once, or says why not; what was typed stays."""

from collections.abc import Callable

from pydantic import ValidationError
from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from ...core.words.errors import YardstickError
from ...core.words.record import first_complaint
from .fields import Complaint, label

_WIDTH = 440


class AskDialog(QDialog):
    """Rows are added in their order; `take` gets called on “Keep”, and raises what it refuses."""

    def __init__(self, title: str, about: str, take: Callable[[], None], parent: QWidget, keep: str = "Keep") -> None:
        super().__init__(parent)
        self._take = take
        self.setWindowTitle(title)
        self.setMinimumWidth(_WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.setSpacing(9)
        self.about = label(about, "muted", 12)
        column.addWidget(self.about)
        self._grid = QGridLayout()
        self._grid.setColumnStretch(1, 1)
        column.addLayout(self._grid)
        self.complaint = Complaint()
        column.addWidget(self.complaint)
        column.addStretch(1)
        row = QHBoxLayout()
        self.keep = QPushButton(keep)
        self.keep.setObjectName("primary")
        self.keep.setDefault(True)
        self.keep.clicked.connect(self.try_to_take)
        self._cancel = QPushButton("Cancel")
        self._cancel.setAutoDefault(False)
        self._cancel.clicked.connect(self.reject)
        row.addWidget(self.keep, 1)
        row.addWidget(self._cancel)
        column.addLayout(row)

    def add(self, title: str, widget: QWidget, name: str = "") -> None:
        """Add a row; the widget's name for a reader of the screen is its title, unless another is given."""
        at = self._grid.rowCount()
        words = label(title, "muted", 12)
        words.setWordWrap(False)
        self._grid.addWidget(words, at, 0)
        self._grid.addWidget(widget, at, 1)
        widget.setAccessibleName(name or title)

    def add_line(self, title: str, text: str = "", hint: str = "") -> QLineEdit:
        """Add a line to type in."""
        line = QLineEdit(text)
        line.setPlaceholderText(hint)
        self.add(title, line)
        return line

    def show_row(self, widget: QWidget, shown: bool) -> None:
        """Show or hide a row by its widget."""
        at = self._grid.getItemPosition(self._grid.indexOf(widget))[0]  # type: ignore[index]  # four numbers
        for column in range(2):
            item = self._grid.itemAtPosition(at, column)
            part = None if item is None else item.widget()
            if part is not None:
                part.setVisible(shown)

    def showEvent(self, event: QShowEvent) -> None:
        """The first row is typed in at once; the buttons, which were made before the rows, are reached after them."""
        last = self.previousInFocusChain()
        if last is not None and last is not self._cancel:  # else it was shown before
            self.setTabOrder(last, self._cancel)
            self.setTabOrder(last, self.keep)
        first = self.nextInFocusChain()
        while first is not None and first is not self and not first.focusPolicy() & Qt.FocusPolicy.TabFocus:
            first = first.nextInFocusChain()
        if first is not None:
            first.setFocus()
        super().showEvent(event)

    def try_to_take(self) -> None:
        """Take what was typed, and close; a refusal is told, and everything stays."""
        try:
            self._take()
        except ValidationError as error:
            self.complaint.setText(first_complaint(error))
        except YardstickError as error:
            self.complaint.setText(str(error))
        else:
            self.accept()
