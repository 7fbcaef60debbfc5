"""The table of readings or checks: sorted by a heading, corrected in place, excluded with a reason."""

from collections.abc import Callable
from functools import partial
from typing import Any, Literal, NamedTuple

from PySide6.QtCore import (
    QAbstractTableModel,
    QItemSelectionModel,
    QModelIndex,
    QPersistentModelIndex,
    QSortFilterProxyModel,
    Qt,
)
from PySide6.QtGui import QBrush, QColor, QContextMenuEvent, QFont
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QMenu, QTableView

from ...core.document.channel import ContinuousChannel
from ...core.gather.points import pins_of_rows
from ...core.job.entries import amend, correct
from ...core.journal.reading import Amended, Amendment
from ...core.path.pin import raw_of_pin
from ...core.words.errors import BadTable, YardstickError
from ...core.words.numerals import decimals_for, fixed, parse_number
from ..frame.theme import Theme, font
from ..frame.workbench import Workbench, now

Index = QModelIndex | QPersistentModelIndex
ColumnKey = Literal["number", "reference", "raw", "shown", "direction"]
Numbers = list[float | None]
ARROWS = {"up": "↑", "down": "↓", "not stated": "·"}
_WAYS = ("up", "down", "not stated")
ORIGINS = [("measured", "measured"), ("rated", "rated, by a sheet"), ("assumed", "assumed")]
DIRECTIONS = [("not stated", "direction not stated"), ("up", "↑ going up"), ("down", "↓ coming down")]
_TURNED = {"not stated": "up", "up": "down", "down": "not stated"}


class Column(NamedTuple):
    """A column of the table."""

    key: ColumnKey
    heading: str
    editable: bool


def _numbers_of(channel: ContinuousChannel, rows: list[Amended]) -> dict[ColumnKey, Numbers]:
    """The numbers of each column, in the units of its heading."""
    readings = [row.reading for row in rows]
    return {
        "number": [float(n + 1) for n in range(len(rows))],
        "reference": [_in_unit(channel, one.reference, one.reference_unit) for one in readings],
        "raw": [
            pin if one.raw else None for one, pin in zip(readings, pins_of_rows(channel, rows).tolist(), strict=True)
        ],
        "shown": [_in_unit(channel, one.shown, one.shown_unit or one.reference_unit) for one in readings],
        "direction": [float(_WAYS.index(one.direction)) for one in readings],
    }


def _in_unit(channel: ContinuousChannel, value: float | None, unit: str) -> float | None:
    """A value in the channel's unit; None if there is none, or if it measures something else."""
    try:
        return None if value is None else channel.in_unit(value, unit)[0]
    except YardstickError:
        return None


def _decimals_in(numbers: Numbers) -> int:
    """The most decimals, up to six, that any of some numbers needs."""
    written = (len(f"{number:.6f}".rstrip("0").partition(".")[2]) for number in numbers if number is not None)
    return max(written, default=0)


class ReadingsModel(QAbstractTableModel):
    """The readings of the channel looked at, as they stand after their amendments."""

    def __init__(self, bench: Workbench, purpose: Literal["gather", "prove"], theme: Theme) -> None:
        super().__init__()
        self._bench, self._purpose, self._theme = bench, purpose, theme
        self._rows: list[Amended] = []
        self._numbers: dict[ColumnKey, Numbers] = {}
        self._fonts: dict[tuple[bool, bool], QFont] = {}
        self._written_decimals: dict[ColumnKey, int] = {}
        self._channel: ContinuousChannel | None = None
        self.columns: tuple[Column, ...] = ()
        self.refused: Callable[[str], None] = lambda _text: None

    def show_channel(self, channel: ContinuousChannel, theme: Theme) -> None:
        """Show a channel's rows as they now are."""
        rows = self._bench.job.amended(channel.id, self._purpose)
        numbers, most = _numbers_of(channel, rows), decimals_for(channel.span / 1e5)  # or a refusal
        self.beginResetModel()
        self._channel, self._theme, self._rows, self._numbers = channel, theme, rows, numbers
        self.columns = (
            Column("number", "#", False),
            Column("reference", f"reference\n{channel.unit}", True),
            Column("raw", f"pin\n{channel.path.pin_unit}", True),
            Column("shown", f"shown\n{channel.unit}", True),
            Column("direction", "way", True),
        )
        self._written_decimals = {key: min(_decimals_in(numbers), most) for key, numbers in self._numbers.items()}
        self.endResetModel()

    def row(self, number: int) -> Amended:
        """The reading in a row."""
        return self._rows[number]

    def rowCount(self, _parent: Index = QModelIndex()) -> int:  # noqa: B008
        return len(self._rows)

    def columnCount(self, _parent: Index = QModelIndex()) -> int:  # noqa: B008
        return len(self.columns)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].heading
        return None

    def flags(self, index: Index) -> Qt.ItemFlag:
        base = Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsEnabled
        column = self.columns[index.column()]
        editable = column.editable and column.key != "direction"
        if column.key == "raw" and self._rows[index.row()].reading.raw is None:
            editable = False
        return base | Qt.ItemFlag.ItemIsEditable if editable else base

    def number(self, index: Index) -> float | None:
        """The number of a cell, in the units of the headings; None if there is none, or it cannot be converted."""
        return self._numbers[self.columns[index.column()].key][index.row()]

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        row = self._rows[index.row()]
        key = self.columns[index.column()].key
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.EditRole):
            return self._text(index, key)
        if role == Qt.ItemDataRole.UserRole:
            number = self.number(index)
            return float("-inf") if number is None else number
        if role == Qt.ItemDataRole.TextAlignmentRole:
            centred = key == "direction"
            side = Qt.AlignmentFlag.AlignHCenter if centred else Qt.AlignmentFlag.AlignRight
            return int(side | Qt.AlignmentFlag.AlignVCenter)
        if role == Qt.ItemDataRole.ForegroundRole:
            return QBrush(self._color(row, key))
        if role == Qt.ItemDataRole.FontRole:
            return self._font(row)
        if role == Qt.ItemDataRole.ToolTipRole:
            return self._tip(row)
        return None

    def _text(self, index: Index, key: ColumnKey) -> str:
        row = self._rows[index.row()]
        if key == "direction":
            return ARROWS[row.reading.direction]
        if key == "number":
            mark = {"rated": " □", "assumed": " ⬠"}.get(row.reading.origin, "")
            return f"{index.row() + 1}{mark}"
        number = self.number(index)
        return "" if number is None else fixed(number, self._decimals(key))

    def _decimals(self, key: ColumnKey) -> int:
        """As many as the numbers of the column were written with."""
        assert self._channel is not None
        if key == "raw":
            return decimals_for(self._channel.path.converter.per_count) + 1
        return self._written_decimals[key]

    def _color(self, row: Amended, key: ColumnKey) -> QColor:
        if not row.is_used:
            return self._theme.color("muted")
        return self._theme.color({"reference": "blue", "raw": "teal"}.get(key, "ink"))

    def _font(self, row: Amended) -> QFont:
        look = (row.is_used, row.corrected)
        if look not in self._fonts:
            made = self._fonts[look] = font(12)
            made.setStrikeOut(not row.is_used)
            made.setItalic(row.corrected)
        return self._fonts[look]

    @staticmethod
    def _tip(row: Amended) -> str:
        reading = row.reading
        lines = [f"{reading.captured:%Y-%m-%d %H:%M:%S} UTC, {reading.origin}, {reading.source}"]
        if reading.raw:
            spread = f", spread {reading.raw.spread:g}" if reading.raw.spread is not None else ""
            words = f"{reading.raw.mean:g} {reading.raw.unit}, mean of {reading.raw.count}{spread}"
            lines.append(f"read as {words}")
        if reading.reference_id:
            read = f", read {reading.reference_read:g}" if reading.reference_read is not None else ""
            lines.append(f"reference {reading.reference_id}{read}, stimulated: {reading.stimulated}")
        lines += [f"read off {reading.shown_by}"] if reading.shown_by else []
        lines += [text for text in (reading.orientation, reading.reference_note) if text]
        lines += [f"excluded: {row.excluded}"] if row.excluded else []
        lines += ["corrected; what was first read is kept in the job"] if row.corrected else []
        return "\n".join(lines)

    def setData(self, index: Index, value: Any, role: int = Qt.ItemDataRole.EditRole) -> bool:
        """Correct a figure: an amendment beside the reading."""
        if role != Qt.ItemDataRole.EditRole or self._channel is None or str(value) == self.data(index):
            return False
        row, key = self._rows[index.row()].reading, self.columns[index.column()].key
        try:
            figures = self._corrected(index, key, parse_number(str(value)))
            self._bench.edit("correction of a reading", lambda job: correct(job, row.id, now(), **figures))
        except YardstickError as error:
            self.refused(str(error))
            return False
        self.refused("")
        return True

    def _corrected(self, index: Index, key: ColumnKey, value: float) -> dict[str, float]:
        """The figure as it was first written: in the reading's own unit and at its own node."""
        assert self._channel is not None
        reading = self._rows[index.row()].reading
        if key == "raw" and reading.raw is not None:
            path, around = self._channel.path, self._channel.surrounded(reading.conditions)
            return {"raw_mean": float(raw_of_pin(path, value, reading.raw.met, around))}
        written = reading.reference_unit if key == "reference" else (reading.shown_unit or reading.reference_unit)
        back = float(self._channel.converted(value, self._channel.unit, written))
        return {"reference" if key == "reference" else "shown": back}

    def turn(self, rows: list[int]) -> None:
        """Mark readings as up, down or neither, in turn."""
        if rows:
            self.mark(rows, direction=_TURNED[self._rows[rows[0]].reading.direction])

    def mark(self, rows: list[int], **figures: Any) -> None:
        """Set the direction or the origin of readings beside them."""
        ids = [self._rows[n].reading.id for n in rows]
        amendments = [Amendment(reading=one, made=now(), kind="correct", **figures) for one in ids]
        if amendments:
            self._bench.try_edit("correction of readings", lambda job: amend(job, amendments))


class ReadingsTable(QTableView):
    """The view: headings sort; F2 or a double click corrects; Delete asks for the reason of an exclusion."""

    def __init__(self, model: ReadingsModel) -> None:
        super().__init__()
        self.source = model
        proxy = QSortFilterProxyModel(self)
        proxy.setSourceModel(model)
        proxy.setSortRole(Qt.ItemDataRole.UserRole)
        self.setModel(proxy)
        self.setSortingEnabled(True)
        self.sortByColumn(0, Qt.SortOrder.AscendingOrder)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.verticalHeader().hide()
        self.verticalHeader().setDefaultSectionSize(24)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.horizontalHeader().setMinimumSectionSize(26)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self.doubleClicked.connect(self._double)
        model.modelReset.connect(self._size_columns)

    def _size_columns(self) -> None:
        header = self.horizontalHeader()
        for n, column in enumerate(self.source.columns):
            narrow = column.key in ("number", "direction")
            header.setSectionResizeMode(n, QHeaderView.ResizeMode.Fixed if narrow else QHeaderView.ResizeMode.Stretch)
            if narrow:
                self.setColumnWidth(n, 36)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """What can be said of the selected readings."""
        menu = self.menu()
        if not menu.isEmpty():
            menu.exec(event.globalPos())

    def menu(self) -> QMenu:
        """Which way the selected readings were taken, and where their figures are from; empty without any."""
        menu = QMenu(self)
        rows = self.selected_rows()
        if not rows:
            return menu
        reading = self.source.row(rows[0]).reading
        for name, choices in (("direction", DIRECTIONS), ("origin", ORIGINS)):
            if not menu.isEmpty():
                menu.addSeparator()
            for value, words in choices:
                action = menu.addAction(words, partial(self.source.mark, rows, **{name: value}))
                action.setCheckable(True)
                action.setChecked(value == getattr(reading, name))
        return menu

    def selected_rows(self) -> list[int]:
        """Rows of the model that are selected."""
        proxy = self.model()
        assert isinstance(proxy, QSortFilterProxyModel)
        return [proxy.mapToSource(index).row() for index in self.selectionModel().selectedRows()]

    def selected(self) -> list[Amended]:
        """Readings that are selected."""
        return [self.source.row(row) for row in self.selected_rows()]

    def select_readings(self, ids: set[str]) -> None:
        """Select readings again after the rows were built anew."""
        proxy = self.model()
        assert isinstance(proxy, QSortFilterProxyModel)
        flags = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
        for row in range(self.source.rowCount()):
            if self.source.row(row).reading.id in ids:
                self.selectionModel().select(proxy.mapFromSource(self.source.index(row, 0)), flags)

    def _double(self, index: QModelIndex) -> None:
        proxy = self.model()
        assert isinstance(proxy, QSortFilterProxyModel)
        if self.source.columns[index.column()].key == "direction":
            self.source.turn([proxy.mapToSource(index).row()])


def excluded_reason(text: str) -> str:
    """A reason that says something. Raises: BadTable if it is empty."""
    if not text.strip():
        raise BadTable("An excluded reading needs a reason: say what was wrong with it, then exclude again.")
    return text.strip()
