"""The numbers to load as a table: long ones in two halves side by side, the knots beside the hairline tinted."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem

from ...core.forms.base import Cells
from ...core.words.numerals import fixed, plain_decimals, significant
from ..frame.theme import Theme, bold, font

ROW_HEIGHT = 23
HEADINGS_HEIGHT = 29
_MOST_ROWS = 16  # in sight; more are scrolled to
_HALVED_FROM = 8  # rows
_LONGEST_HALVED = 7  # characters that a quarter of the width holds
_MOST_DECIMALS = 6  # that a whole column is written to
_SINGLE_DIGITS = 7  # as many as single precision keeps; what is copied has all


def plain_table(name: str) -> QTableWidget:
    """A table to look at, named for those who cannot."""
    table = QTableWidget()
    _dress(table, name)
    return table


def fit_height(table: QTableWidget) -> None:
    """As high as its rows, up to a limit."""
    rows = min(table.rowCount(), _MOST_ROWS)
    table.setFixedHeight(rows * ROW_HEIGHT + HEADINGS_HEIGHT + 4)


def _dress(table: QTableWidget, name: str) -> None:
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setAccessibleName(name)
    table.verticalHeader().setDefaultSectionSize(ROW_HEIGHT)
    table.horizontalHeader().setFixedHeight(HEADINGS_HEIGHT)
    table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
    table.setShowGrid(False)
    table.setTabKeyNavigation(False)


class NumbersTable(QTableWidget):
    """Cells of a packing. A long table of pairs is folded in two, each half with its row numbers."""

    def __init__(self) -> None:
        super().__init__()
        _dress(self, "Numbers to load")
        self._columns = 1
        self._folded = 0  # rows of the left half; 0 while it is in one piece

    def show_cells(self, cells: Cells) -> None:
        """Show all cells."""
        self._columns = len(cells.headings)
        pairs = self._columns == 2 and all(isinstance(cell, float) for row in cells.rows for cell in row)
        count = len(cells.rows)
        texts = [_texts([row[n] for row in cells.rows]) for n in range(self._columns)]
        fits = all(len(text) <= _LONGEST_HALVED for column in texts for text in column)
        self._folded = (count + 1) // 2 if pairs and fits and count >= _HALVED_FROM else 0
        self.clearContents()
        self.verticalHeader().setVisible(not self._folded)
        self.setRowCount(self._folded or count)
        units = [heading.rpartition(", ")[2] for heading in cells.headings]  # all there is room for in a half
        headings = list(cells.headings) if not self._folded else 2 * ["", *units]
        self.setColumnCount(len(headings))
        self.setHorizontalHeaderLabels(headings)
        for row in range(count):
            for column in range(self._columns):
                self._put(row, column, texts[column][row], isinstance(cells.rows[row][column], str))
            if self._folded:
                self._number(row)
        self._set_widths()
        fit_height(self)

    def cell(self, row: int, column: int) -> QTableWidgetItem | None:
        """The item of a row and column of the cells, wherever it stands."""
        return self.item(*self._place(row, column))

    def tint(self, rows: Sequence[int], theme: Theme) -> None:
        """Tint these rows of the cells and no others."""
        for row in range(self.rowCount() * (2 if self._folded else 1)):
            fill = theme.color("accent_fill") if row in rows else Qt.GlobalColor.transparent
            for column in range(-1 if self._folded else 0, self._columns):
                item = self.cell(row, column)
                if item is not None:
                    item.setBackground(fill)

    def _place(self, row: int, column: int) -> tuple[int, int]:
        if not self._folded:
            return row, column
        half, line = divmod(row, self._folded)
        return line, half * (self._columns + 1) + column + 1

    def _put(self, row: int, column: int, text: str, is_words: bool) -> None:
        item = QTableWidgetItem(text)
        item.setFont(font(13) if is_words else bold(13))
        side = Qt.AlignmentFlag.AlignLeft if is_words else Qt.AlignmentFlag.AlignRight
        item.setTextAlignment(side | Qt.AlignmentFlag.AlignVCenter)
        self.setItem(*self._place(row, column), item)

    def _number(self, row: int) -> None:
        item = QTableWidgetItem(str(row + 1))
        item.setFont(font(12))
        item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.setItem(*self._place(row, -1), item)

    def _set_widths(self) -> None:
        header = self.horizontalHeader()
        for column in range(self.columnCount()):
            narrow = self._folded and column % (self._columns + 1) == 0
            mode = QHeaderView.ResizeMode.Fixed if narrow else QHeaderView.ResizeMode.Stretch
            header.setSectionResizeMode(column, mode)
            if narrow:
                header.resizeSection(column, 30)


def _texts(column: Sequence[float | str]) -> list[str]:
    """A column in words: its numbers all to the same decimals where few are enough."""
    decimals = max((plain_decimals(cell) for cell in column if not isinstance(cell, str)), default=0)
    if decimals <= _MOST_DECIMALS:
        return [cell if isinstance(cell, str) else fixed(cell, decimals) for cell in column]
    return [cell if isinstance(cell, str) else significant(cell, _SINGLE_DIGITS) for cell in column]
