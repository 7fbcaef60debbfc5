"""What can be done with a row: go there, pin, hide, group, change; and what can be added."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QMenu, QWidget

from ...core.document.channel import ContinuousChannel
from ...core.job.watching import change_row, unwatch
from ...core.lookout.rows import LookoutRow, hidden_rows, pair_words
from ...core.lookout.silent import source_of
from ..frame.workbench import Workbench
from .pair_dialog import PairDialog
from .row_dialog import RowDialog
from .value_dialog import ValueDialog
from .watcher import Watcher


class RowActs:
    """Acts on rows, in a window."""

    def __init__(self, bench: Workbench, watch: Watcher, window: QWidget) -> None:
        self._bench, self._watch, self._window = bench, watch, window

    def menu(self, row: LookoutRow) -> QMenu:
        """All that can be done with a row."""
        made = QMenu(self._window)
        shown = self._bench.job.watch.row(row.id)
        made.addAction("Let it go from the top" if shown.is_pinned else "Pin to the top", lambda: self.turn_pin(row))
        made.addAction("Hide", lambda: self.hide(row))
        made.addAction("Group, range and decimals …", lambda: self.ask_row(row))
        made.addSeparator()
        if row.kind == "channel":
            made.addAction("Compare with another sensor …", lambda: self.ask_pair(near=row.id))
        if row.kind == "pair":
            made.addAction("Change what is compared …", lambda: self.ask_pair(row.id))
            made.addAction("Compare no longer", lambda: self.take_away(row))
        if row.kind == "value":
            made.addAction("Change what it is made of …", lambda: self.ask_value(row.id))
            made.addAction("Take it away", lambda: self.take_away(row))
        return made

    def turn_pin(self, row: LookoutRow) -> None:
        """Pin a row to the top, or let it go."""
        shown = self._bench.job.watch.row(row.id)
        pinned = shown.with_(is_pinned=not shown.is_pinned)
        self._bench.try_edit(f"{row.words}: pinned" if pinned.is_pinned else f"{row.words}: let go",
                             lambda job: change_row(job, pinned))  # fmt: skip

    def hide(self, row: LookoutRow) -> None:
        """Hide a row; it is watched and logged all the same."""
        hidden = self._bench.job.watch.row(row.id).with_(is_hidden=True)
        if self._bench.try_edit(f"{row.words}: hidden", lambda job: change_row(job, hidden)):
            self._bench.said.emit(f"{row.words} is hidden; it is watched all the same. Rows brings it back.", False)

    def show_all(self) -> None:
        """Show every hidden row again."""
        job = self._bench.job
        for row in hidden_rows(job):
            job = change_row(job, job.watch.row(row.id).with_(is_hidden=False))
        self._bench.try_edit("hidden rows shown", lambda _job: job)

    def ask_row(self, row: LookoutRow) -> None:
        """Ask for the group, the range and the decimals of a row."""
        _open(RowDialog(self._bench, row, self._unit(row), self._window))

    def ask_pair(self, pair_id: str = "", near: str = "") -> None:
        """Ask which sensors are compared."""
        pair = next((one for one in self._bench.job.watch.pairs if one.id == pair_id), None)
        _open(PairDialog(self._bench, pair, near, self._window))

    def ask_value(self, value_id: str = "") -> None:
        """Ask what a value is made of."""
        value = next((one for one in self._bench.job.watch.values if one.id == value_id), None)
        _open(ValueDialog(self._bench, self._watch, value, self._window))

    def take_away(self, row: LookoutRow) -> None:
        """Take a pair or a value away."""
        self._bench.try_edit(f"{row.words} taken away", lambda job: unwatch(job, row.id))

    def _unit(self, row: LookoutRow) -> str:
        job = self._bench.job
        channel = job.document.by_id.get(row.id)
        if isinstance(channel, ContinuousChannel):
            return channel.unit
        return next((one.unit for one in job.watch.values if one.id == row.id), "")

    def words_of(self, row_id: str) -> str:
        """What a row is called, by its id; empty where it is gone."""
        job = self._bench.job
        if row_id in job.document.by_id:
            return job.document.by_id[row_id].tag
        source = source_of(row_id)
        if source:
            return next((one.name for one in job.sources if one.id == source), "A source that is gone")
        pairs = {one.id: pair_words(job, one) for one in job.watch.pairs}
        return pairs.get(row_id, next((one.tag for one in job.watch.values if one.id == row_id), ""))


def _open(dialog: QDialog) -> None:
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.open()
