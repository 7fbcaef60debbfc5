"""What each number of a source is, as a table that is typed into: one row a number."""

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from ...core.document.sources import AnySource, Feed
from ...core.job.job import Job
from ...core.units.conversion import taken_for
from ...core.words.errors import BadTable, NoSuchThing
from ...core.words.record import InvalidRecord
from ..panel.fields import label
from .kinds import kind_of

_COMMON = ("Name", "Is", "Channel", "Unit")


class FeedsTable(QWidget):
    """Shows a source's numbers, and reads them back as typed."""

    def __init__(self, source: AnySource, job: Job) -> None:
        super().__init__()
        self._source, self._job, self._kind = source, job, kind_of(source)
        self._headings = (*_COMMON, *self._kind.columns)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.table = QTableWidget(0, len(self._headings))
        self.table.setHorizontalHeaderLabels(list(self._headings))
        self.table.setAccessibleName("Numbers of the source")
        self.table.verticalHeader().setDefaultSectionSize(26)
        column.addWidget(self.table, 1)
        self.notes = label("", "look", 12)
        self.table.itemChanged.connect(lambda _item: self._say_units())
        column.addWidget(self.notes)
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
        self._say_units()

    def _say_units(self) -> None:
        """What is made of the units typed, where it could be something else."""
        items = [self.table.item(at, _COMMON.index("Unit")) for at in range(self.table.rowCount())]
        units = dict.fromkeys(item.text() for item in items if item is not None)
        self.notes.setText(" ".join(note for unit in units if (note := taken_for(unit))))
        self.notes.setVisible(bool(self.notes.text()))

    def _texts(self, feed: Feed) -> list[str]:
        tags = {channel.id: channel.tag for channel in self._job.channels}
        common = [feed.name, feed.role, tags.get(feed.channel, ""), feed.unit]
        return [*common, *self._kind.texts(self._source, feed)]

    def _append(self, texts: Sequence[str]) -> None:
        at = self.table.rowCount()
        self.table.insertRow(at)
        for column, text in enumerate(texts):
            self.table.setItem(at, column, QTableWidgetItem(text))

    def _add(self) -> None:
        self._append(["new", "raw", "", "counts", *self._kind.blank])
        item = self.table.item(self.table.rowCount() - 1, 0)
        assert item is not None  # just added
        self.table.editItem(item)

    def _remove(self) -> None:
        for at in sorted({index.row() for index in self.table.selectedIndexes()}, reverse=True):
            self.table.removeRow(at)

    def feeds(self) -> dict[str, tuple[Feed, ...]]:
        """The numbers as typed, by the source's field. Raises: BadTable with the row."""
        found: dict[str, list[Feed]] = {name: [] for name in self._kind.lists}
        for at in range(self.table.rowCount()):
            items = [self.table.item(at, column) for column in range(len(self._headings))]
            texts = [item.text().strip() if item is not None else "" for item in items]
            try:
                found[self._kind.held_in(texts)].append(self._feed(texts))
            except (BadTable, NoSuchThing, InvalidRecord, ValueError) as error:
                raise BadTable(f"Row {at + 1}, {texts[0] or 'without a name'}: {error}") from error
        return {name: tuple(feeds) for name, feeds in found.items()}

    def _feed(self, texts: list[str]) -> Feed:
        name, role, tag, unit, *more = texts
        common = {"name": name, "role": role, "channel": self._job.tagged(tag).id if tag else "", "unit": unit}
        return self._kind.feed(common, more)
