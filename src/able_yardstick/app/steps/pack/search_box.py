"""What a search for numbers that takes longer has found so far, and the button that stops it."""

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QVBoxLayout, QWidget

from ....core.words.numerals import significant
from ...frame.pack_search import PackSearch
from ...panel.fields import label

_EVERY_MS = 100
_WHOLE = 1000


class SearchBox(QWidget):
    """Seen while a search runs, and after it was stopped."""

    def __init__(self, search: PackSearch, what: str) -> None:
        super().__init__()
        self._search, self._what, self._unit = search, what, ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.says = label("", "", 12)
        self.says.setAccessibleName("Search")
        row = QHBoxLayout()
        self.bar = QProgressBar()
        self.bar.setTextVisible(False)
        self.bar.setAccessibleName("How far the search is")
        self.button = QPushButton()
        self.button.clicked.connect(self._press)
        row.addWidget(self.bar, 1)
        row.addWidget(self.button)
        column.addWidget(self.says)
        column.addLayout(row)
        self._timer = QTimer(self, interval=_EVERY_MS)
        self._timer.timeout.connect(self._show_progress)

    def show_now(self, unit: str) -> None:
        """Show how the search stands; errors are in a unit."""
        self._unit = unit
        running, stopped = self._search.is_running, self._search.is_stopped
        self.setVisible(running or stopped)
        self.bar.setVisible(running)
        self.button.setText("Stop" if running else "Search again")
        if running:
            self._show_progress()
            self._timer.start()
            return
        self._timer.stop()
        self.says.setText(f"The search for {self._what} was stopped. Search again, or choose other settings.")

    def _show_progress(self) -> None:
        """The gap between what is proven and what is found closes as the search goes on."""
        bound, best = self._search.between
        known = bound is not None and best is not None and 0 < bound <= best < float("inf")
        self.bar.setRange(0, _WHOLE if known else 0)
        said = f"Looking for {self._what}"
        if known and bound is not None and best is not None:
            self.bar.setValue(round(_WHOLE * bound / best))
            said += (
                f": worst error {significant(best, 3)} {self._unit} so far, none can be below {significant(bound, 3)}"
            )
        self.says.setText(f"{said}.")

    def _press(self) -> None:
        if self._search.is_running:
            self._search.stop()
        else:
            self._search.again()
