"""A table as text: typed, or pasted with as many columns as a data sheet prints."""

from collections.abc import Callable, Sequence

from PySide6.QtWidgets import QComboBox, QGridLayout, QPlainTextEdit, QPushButton, QWidget

from ...core.words.errors import BadTable, YardstickError
from ...files.tables import TextGrid, parse_grid, pick
from ..frame.theme import font
from .fields import FieldBase, label
from .record_form import plain


class TableField(FieldBase):
    """Rows of signal and value. With more than two columns the two that are meant are chosen, with their units."""

    def __init__(
        self,
        put: Callable[[Sequence[float], Sequence[float], str, str], None],
        name: str = "Table of the data sheet: signal and value",
        hint: str = "Paste the sheet's columns: signal, value; more if it prints several units",
    ) -> None:
        super().__init__("")
        self._put = put
        self.text = QPlainTextEdit()
        self.text.setPlaceholderText(hint)
        self.text.setAccessibleName(name)
        self.text.setFont(font(12))
        self.text.setFixedHeight(150)
        self.text.setTabChangesFocus(True)
        self.text.textChanged.connect(self._offer_columns)
        self.row.addWidget(self.text)
        self._columns = QWidget()
        grid = QGridLayout(self._columns)
        grid.setContentsMargins(0, 0, 0, 0)
        self.signal, self.value = QComboBox(), QComboBox()
        for row, (words, box) in enumerate((("Signal in", self.signal), ("Value in", self.value))):
            grid.addWidget(label(words, "muted", 12), row, 0)
            grid.addWidget(box, row, 1)
            box.setAccessibleName(f"Column of the {words.split()[0].lower()}")
        grid.setColumnStretch(1, 1)
        self._column.insertWidget(1, self._columns)
        self._columns.hide()
        self.take = QPushButton("Take these rows")
        self.take.clicked.connect(self._commit)
        self._column.insertWidget(2, self.take)

    def show_rows(self, signals: Sequence[float], values: Sequence[float]) -> None:
        """Show the model's rows, unless something else is typed here."""
        rows = "\n".join(f"{plain(x)}\t{plain(y)}" for x, y in zip(signals, values, strict=True))
        if not self.text.document().isModified() and self.text.toPlainText() != rows:
            self.text.setPlainText(rows)

    def _grid(self) -> TextGrid | None:
        try:
            return parse_grid(self.text.toPlainText())
        except YardstickError:
            return None

    def _offer_columns(self) -> None:
        """Offer the columns by heading and unit, where there are more than two."""
        grid = self._grid()
        several = grid is not None and grid.width > 2
        self._columns.setVisible(several)
        if grid is None or not several:
            return
        names = [_words_of(grid, column) for column in range(grid.width)]
        if [self.signal.itemText(n) for n in range(self.signal.count())] != names:
            for at, box in enumerate((self.signal, self.value)):
                box.clear()
                box.addItems(names)
                box.setCurrentIndex(at)

    def _commit(self) -> None:
        try:
            grid = parse_grid(self.text.toPlainText())
            several = grid.width > 2
            columns = (self.signal.currentIndex(), self.value.currentIndex()) if several else (0, 1)
            if columns[0] == columns[1]:
                raise BadTable("Signal and value are the same column: choose two.")
            picked = pick(grid, columns)
            if picked.problems:
                raise BadTable(f"{picked.problems[0]} Correct it, or remove the line.")
            rows = [(float(x or 0.0), float(y or 0.0)) for x, y in picked.numbers]
            units = [grid.headings[column].unit if column < len(grid.headings) else "" for column in columns]
            self._put([x for x, _ in rows], [y for _, y in rows], units[0], units[1])
        except YardstickError as error:
            self.fail(str(error))
            return
        self.text.document().setModified(False)
        self._columns.hide()
        self.fail("")


def _words_of(grid: TextGrid, column: int) -> str:
    heading = grid.headings[column] if column < len(grid.headings) else None
    words = " ".join(part for part in (heading.name, heading.unit) if part) if heading else ""
    return words or f"column {column + 1}"
