"""Takes columns of numbers from pasted cells or a file: shows what was understood before anything is taken."""

from collections.abc import Sequence
from typing import NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import QBrush
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHeaderView,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from ...core.document.channel import ContinuousChannel
from ...core.gather.raw_nodes import NodeChoice, choice_for_unit, node_choices
from ...core.units.conversion import taken_for
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import counted
from ...files.tables import Columns, DecimalMark, parse_grid, pick
from ..frame.plain_text import PlainLabel
from ..frame.theme import Theme, bold
from .fields import label

_NOT_THERE = -1
_PREVIEW_ROWS = 200


class ColumnRole(NamedTuple):
    """What a column may be: `words` are looked for in its heading."""

    key: str
    title: str
    words: tuple[str, ...]
    optional: bool = False


REFERENCE = ColumnRole("reference", "Reference", ("ref", "true", "standard", "gauge", "applied", "actual"))
RAW = ColumnRole("raw", "Raw signal", ("raw", "signal", "volt", "current", "count", "sensor", "pin", "output", "hz"))
SHOWN = ColumnRole(
    "shown", "Shown by the controller", ("shown", "display", "controller", "indicat", "as found"), optional=True
)


class Taken(NamedTuple):
    """One row: numbers by role, with the line it came from."""

    line: int
    reference: float
    raw: float | None
    shown: float | None


class ImportDialog(QDialog):
    """Pick the columns; good rows are taken, bad ones are listed with their line and reason."""

    def __init__(
        self,
        text: str,
        source: str,
        channel: ContinuousChannel,
        roles: Sequence[ColumnRole],
        theme: Theme,
        parent: QWidget,
    ) -> None:
        """Raises: BadTable if there is nothing in the text."""
        super().__init__(parent)
        self._text, self._channel, self._roles, self._theme = text, channel, tuple(roles), theme
        self._grid = parse_grid(text)
        self._nodes = node_choices(channel)
        self._boxes: dict[str, QComboBox] = {}
        self.setWindowTitle(f"Take readings from {source}")
        self.resize(720, 560)
        self._build()
        self._guess()
        self._understand()

    def _build(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(8)
        title = PlainLabel("Which column is what?")
        title.setFont(bold(15))
        column.addWidget(title)
        self._how = label("", "muted", 12)
        column.addWidget(self._how)
        column.addLayout(self._pickers())
        self._table = QTableWidget()
        self._table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self._table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self._table.setAccessibleName("Rows found")
        column.addWidget(self._table, 1)
        self._verdict = label("")
        self._problems = label("", "error", 12)
        self._problems.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        column.addWidget(self._verdict)
        column.addWidget(self._problems)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self._take = buttons.addButton("Take the readings", QDialogButtonBox.ButtonRole.AcceptRole)
        self._take.setObjectName("primary")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def _pickers(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        for row, role in enumerate(self._roles):
            grid.addWidget(label(role.title), row, 0)
            box = QComboBox()
            box.setAccessibleName(role.title)
            self._boxes[role.key] = box
            grid.addWidget(box, row, 1)
        self._unit = QLineEdit(self._channel.unit)
        self._unit.setAccessibleName("Unit of the reference")
        self._shown_unit = QLineEdit(self._channel.shown_in)
        self._shown_unit.setAccessibleName("Unit of what the controller showed")
        self._node = QComboBox()
        self._node.setAccessibleName("Where the raw signal was read")
        for choice in self._nodes:
            self._node.addItem(choice.words, choice.key)
        self._decimal = QComboBox()
        for mark, words in ((".", "point as decimal mark"), (",", "comma as decimal mark")):
            self._decimal.addItem(words, mark)
        self._decimal.setAccessibleName("Decimal mark")
        for row, role in enumerate(self._roles):
            widget = {"reference": self._unit, "raw": self._node, "shown": self._shown_unit}.get(role.key)
            if widget is not None:
                grid.addWidget(widget, row, 2)
        grid.addWidget(self._decimal, len(self._roles), 1)
        grid.setColumnStretch(1, 2)
        grid.setColumnStretch(2, 1)
        return grid

    def _guess(self) -> None:
        """Choose columns by their headings, by their units, by what the pin can take, else in order."""
        names = [self._column_name(n) for n in range(self._grid.width)]
        free = list(range(self._grid.width))
        picked: dict[str, int] = {}
        for role in self._roles:
            found = self._grid.column_like(*role.words)
            if found in free:
                picked[role.key] = found
                free.remove(found)
        for key, suits in (("raw", self._is_signal), ("reference", self._is_reference)):
            fitting = [n for n in free if suits(n)]
            if key not in picked and any(role.key == key for role in self._roles) and len(fitting) == 1:
                picked[key] = fitting[0]
                free.remove(fitting[0])
        for role in self._roles:
            if role.key not in picked and free and (not role.optional or self._needs_all(picked)):
                picked[role.key] = free.pop(0)
        for role in self._roles:
            box = self._boxes[role.key]
            if role.optional:
                box.addItem("not in this table", _NOT_THERE)
            for n, name in enumerate(names):
                box.addItem(name, n)
            box.setCurrentIndex(max(box.findData(picked.get(role.key, _NOT_THERE)), 0))
        self._guess_units(picked)
        self._decimal.setCurrentIndex(self._decimal.findData(self._grid.decimal))
        for widget in (*self._boxes.values(), self._node):
            widget.activated.connect(self._understand)
        self._decimal.activated.connect(self._reread)
        for entry in (self._unit, self._shown_unit):
            entry.editingFinished.connect(self._understand)

    def _unit_at(self, n: int) -> str:
        """The unit above a column; a heading may be nothing but one."""
        return self._grid.headings[n].unit or self._grid.headings[n].name

    def _is_signal(self, n: int) -> bool:
        """Whether a column is a signal by its unit; without headings, by whether the pin could take all of it."""
        unit = self._unit_at(n)
        if unit:
            return any(choice.unit.casefold() == unit.casefold() for choice in self._nodes)
        converter = self._channel.path.converter
        numbers = [row[0] for row in pick(self._grid, [n]).numbers]
        fitting = [number is not None and converter.start <= number <= converter.end for number in numbers]
        return bool(fitting) and all(fitting)

    def _is_reference(self, n: int) -> bool:
        unit = self._unit_at(n)
        try:
            return bool(unit) and bool(self._channel.in_unit(1.0, unit))
        except YardstickError:
            return False

    def _needs_all(self, picked: dict[str, int]) -> bool:
        """Whether an optional column is wanted all the same: a check without one has nothing to judge."""
        return not any(role.key in picked for role in self._roles if role.key != "reference")

    def _column_name(self, n: int) -> str:
        heading = self._grid.headings[n]
        unit = f", {heading.unit}" if heading.unit else ""
        return f"column {n + 1}: {heading.name}{unit}" if heading.name else f"column {n + 1}"

    def _guess_units(self, picked: dict[str, int]) -> None:
        if "reference" in picked and self._is_reference(picked["reference"]):
            self._unit.setText(self._unit_at(picked["reference"]))
        elif "reference" in picked and (unit := self._grid.headings[picked["reference"]].unit):
            self._unit.setText(unit)  # though it measures something else: which is then said
        if "shown" in picked and (unit := self._grid.headings[picked["shown"]].unit):
            self._shown_unit.setText(unit)
        if "raw" in picked:
            unit = self._grid.headings[picked["raw"]].unit or self._grid.headings[picked["raw"]].name
            self._node.setCurrentIndex(self._nodes.index(choice_for_unit(self._nodes, unit)))

    def _reread(self) -> None:
        mark: DecimalMark = "," if self._decimal.currentData() == "," else "."
        self._grid = parse_grid(self._text, mark)
        self._understand()

    # -- what was understood ----------------------------------------------------------------------------------------

    def _column(self, key: str) -> int:
        box = self._boxes.get(key)
        return _NOT_THERE if box is None else int(box.currentData())

    def columns(self) -> Columns:
        """The numbers of the columns picked."""
        wanted = [self._column(role.key) for role in self._roles if self._column(role.key) != _NOT_THERE]
        optional = [self._column(role.key) for role in self._roles if role.optional]
        return pick(self._grid, wanted, [column for column in optional if column != _NOT_THERE])

    def taken(self) -> list[Taken]:
        """The good rows, by role."""
        keys = [role.key for role in self._roles if self._column(role.key) != _NOT_THERE]
        found = self.columns()
        rows = []
        for line, numbers in zip(found.lines, found.numbers, strict=True):
            by_role = dict(zip(keys, numbers, strict=True))
            reference, raw, shown = by_role.get("reference"), by_role.get("raw"), by_role.get("shown")
            if reference is not None and (raw is not None or shown is not None):
                rows.append(Taken(line, reference, raw, shown))
        return rows

    @property
    def unit(self) -> str:
        """The unit of the reference values."""
        return self._unit.text().strip() or self._channel.unit

    @property
    def shown_unit(self) -> str:
        """The unit of what the controller showed."""
        return self._shown_unit.text().strip() or self._channel.unit

    @property
    def node(self) -> NodeChoice:
        """Where the raw signal was read."""
        return next(choice for choice in self._nodes if choice.key == self._node.currentData())

    def _understand(self) -> None:
        found, rows = self.columns(), self.taken()
        separator = {"\t": "tabs", ";": "semicolons", "|": "bars", ",": "commas", " ": "blanks"}[self._grid.separator]
        header = "with headings" if self._grid.has_header else "no headings"
        self._how.setText(f"{len(self._grid.rows)} rows, {self._grid.width} columns between {separator}, {header}.")
        self._problems.setText(self._said_problems(found))
        refusal = self._refusal()
        notes = [taken_for(unit) for unit in dict.fromkeys((self.unit, self.shown_unit))]
        self._verdict.setText(
            refusal or " ".join([f"{counted(len(rows), 'reading')} will be taken.", *filter(None, notes)])
        )
        self._verdict.setProperty("role", "error" if refusal else "good")
        self._verdict.style().polish(self._verdict)
        self._take.setText(f"Take {counted(len(rows), 'reading')}")
        self._take.setEnabled(bool(rows) and not refusal)
        self._fill_table(found)

    def _refusal(self) -> str:
        columns = [self._column(role.key) for role in self._roles if self._column(role.key) != _NOT_THERE]
        if len(set(columns)) < len(columns):
            return "Two roles have the same column. Pick another for one of them."
        if len(columns) < 2:
            return "Two columns are needed. Pick them."
        try:
            for unit in (self.unit, self.shown_unit):
                self._channel.in_unit(1.0, unit)
        except YardstickError as error:
            return str(error)
        return ""

    @staticmethod
    def _said_problems(found: Columns) -> str:
        said = [str(problem) for problem in found.problems[:4]]
        more = len(found.problems) - len(said)
        if not said:
            return ""
        tail = f"\n… and {more} more." if more else ""
        count = len(found.problems)
        head = "1 row is left out:" if count == 1 else f"{count} rows are left out:"
        return f"{head}\n" + "\n".join(said) + tail

    def _fill_table(self, found: Columns) -> None:
        grid = self._grid
        rows = grid.rows[:_PREVIEW_ROWS]
        self._table.setColumnCount(grid.width)
        self._table.setRowCount(len(rows))
        self._table.setHorizontalHeaderLabels([self._heading(n) for n in range(grid.width)])
        self._table.setVerticalHeaderLabels([str(row.line) for row in rows])
        picked = {self._column(role.key) for role in self._roles}
        bad = {(problem.line, problem.column - 1) for problem in found.problems}
        for n, row in enumerate(rows):
            for column in range(grid.width):
                item = QTableWidgetItem(row.cells[column] if column < len(row.cells) else "")
                item.setTextAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
                if (row.line, column) in bad:
                    item.setForeground(QBrush(self._theme.color("red")))
                elif column in picked:
                    item.setBackground(QBrush(self._theme.color("accent_fill")))
                self._table.setItem(n, column, item)

    def _heading(self, column: int) -> str:
        role = next((role.title for role in self._roles if self._column(role.key) == column), "")
        name = self._grid.headings[column].name or f"column {column + 1}"
        return f"{name}\n{role}" if role else name


def ask(
    text: str, source: str, channel: ContinuousChannel, roles: Sequence[ColumnRole], theme: Theme, parent: QWidget
) -> ImportDialog | None:
    """Show the dialog; None if nothing is to be taken. Raises: BadTable on an empty text."""
    if not text.strip():
        raise BadTable("The clipboard holds no text. Copy the cells in the spreadsheet first.")
    dialog = ImportDialog(text, source, channel, roles, theme, parent)
    return dialog if dialog.exec() == QDialog.DialogCode.Accepted else None
