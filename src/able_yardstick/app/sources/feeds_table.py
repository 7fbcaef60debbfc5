"""What each number of a source is, as a table that is typed into: one row a number."""

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from ...core.document.sources import (
    AnySource,
    ColumnFeed,
    Feed,
    LinesSource,
    ManualSource,
    ModbusSource,
    QueryFeed,
    RegisterFeed,
    ReplaySource,
    ScpiSource,
)
from ...core.job.job import Job
from ...core.words.errors import BadTable, NoSuchThing
from ...core.words.numerals import parse_number
from ...core.words.record import InvalidRecord

_COMMON = ("Name", "Is", "Channel", "Unit")
_MORE: dict[str, tuple[str, ...]] = {
    "modbus": ("Register", "Type", "Words", "Scale", "In"),
    "scpi": ("Query", "Set by", "Reference"),
    "lines": ("Column", "Read at"),
    "replay": ("Column", "Read at"),
    "manual": ("Reference",),
}
_ORDERS = {"high": "high word first", "low": "low word first"}


class FeedsTable(QWidget):
    """Shows a source's numbers, and reads them back as typed."""

    def __init__(self, source: AnySource, job: Job) -> None:
        super().__init__()
        self._source, self._job = source, job
        self._headings = (*_COMMON, *_MORE[source.kind])
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.table = QTableWidget(0, len(self._headings))
        self.table.setHorizontalHeaderLabels(list(self._headings))
        self.table.setAccessibleName("Numbers of the source")
        self.table.verticalHeader().setDefaultSectionSize(26)
        column.addWidget(self.table, 1)
        row = QHBoxLayout()
        for words, act in (("Add a number", self._add), ("Remove the selected", self._remove)):
            button = QPushButton(words)
            button.clicked.connect(act)
            row.addWidget(button)
        row.addStretch(1)
        column.addLayout(row)
        for feed in source.every_feed:
            self._append(self._texts(feed))
        self.table.resizeColumnsToContents()

    def _texts(self, feed: Feed) -> list[str]:
        tags = {channel.id: channel.tag for channel in self._job.channels}
        found = [feed.name, feed.role, tags.get(feed.channel, ""), feed.unit]
        if isinstance(feed, RegisterFeed):
            found += [str(feed.address), feed.type, feed.word_order.split()[0], f"{feed.scale:g}"]
            found.append("scan" if feed in self._scanned else "now")
        elif isinstance(feed, QueryFeed):
            found += [feed.query, feed.set_command, feed.reference]
        elif isinstance(feed, ColumnFeed):
            found += [feed.column, feed.node]
        else:
            found.append(feed.reference)
        return found

    @property
    def _scanned(self) -> tuple[Feed, ...]:
        return self._source.history_feeds if isinstance(self._source, ModbusSource) else ()

    def _append(self, texts: Sequence[str]) -> None:
        at = self.table.rowCount()
        self.table.insertRow(at)
        for column, text in enumerate(texts):
            self.table.setItem(at, column, QTableWidgetItem(text))

    def _add(self) -> None:
        blank = {"modbus": ["0", "u16", "high", "1", "now"], "scpi": ["READ?", "", ""], "manual": [""]}
        self._append(["new", "raw", "", "counts", *blank.get(self._source.kind, ["", "counts"])])
        item = self.table.item(self.table.rowCount() - 1, 0)
        assert item is not None  # just added
        self.table.editItem(item)

    def _remove(self) -> None:
        for at in sorted({index.row() for index in self.table.selectedIndexes()}, reverse=True):
            self.table.removeRow(at)

    def feeds(self) -> dict[str, tuple[Feed, ...]]:
        """The numbers as typed, by the source's field. Raises: BadTable with the row."""
        found: dict[str, list[Feed]] = {"feeds": []}
        if isinstance(self._source, ModbusSource):
            found["history_feeds"] = []
        for at in range(self.table.rowCount()):
            items = [self.table.item(at, column) for column in range(len(self._headings))]
            texts = [item.text().strip() if item is not None else "" for item in items]
            try:
                in_scan = isinstance(self._source, ModbusSource) and texts[-1] == "scan"
                found["history_feeds" if in_scan else "feeds"].append(self._feed(texts))
            except (BadTable, NoSuchThing, InvalidRecord, ValueError) as error:
                raise BadTable(f"Row {at + 1}, {texts[0] or 'without a name'}: {error}") from error
        return {name: tuple(feeds) for name, feeds in found.items()}

    def _feed(self, texts: list[str]) -> Feed:
        name, role, tag, unit, *more = texts
        common = {"name": name, "role": role, "channel": self._job.tagged(tag).id if tag else "", "unit": unit}
        if isinstance(self._source, ModbusSource):
            number = parse_number(more[0])
            return _made(
                RegisterFeed, **common, address=int(number), type=more[1], word_order=_ORDERS.get(more[2], more[2]),
                scale=parse_number(more[3] or "1"),
            )  # fmt: skip
        if isinstance(self._source, ScpiSource):
            node = "pin" if role in ("raw", "meter") else "counts"
            return _made(QueryFeed, **common, node=node, query=more[0], set_command=more[1], reference=more[2])
        if isinstance(self._source, LinesSource | ReplaySource):
            return _made(ColumnFeed, **common, column=more[0], node=more[1] or "counts")
        assert isinstance(self._source, ManualSource)  # the last of the kinds
        return _made(Feed, **common, reference=more[0])


def _made(kind: type[Feed], **fields: object) -> Feed:
    from pydantic import ValidationError

    from ...core.words.record import first_complaint

    try:
        return kind(**fields)
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error
