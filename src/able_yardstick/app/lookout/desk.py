"""The lookout as the window has it: made when it is first wanted, with its commands."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QWidget

from ...core.lookout.rows import LookoutRow
from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from .glance import GlancePicture
from .panel import LookoutPanel
from .picture import LookoutPicture
from .row_acts import RowActs
from .watcher import Watcher


class LookoutDesk:
    """Holds the watch, the strips and the panel; `go` leads from a strip to a channel, by its id."""

    def __init__(
        self, bench: Workbench, live: LiveBench, theme: Theme, go: Callable[[str], None],
        open_log: Callable[[Path | None], None], window: QWidget,
    ) -> None:  # fmt: skip
        self._go = go
        self.watch = Watcher(bench, live, window)
        self.acts = RowActs(bench, self.watch, window)
        self.picture = LookoutPicture(bench, self.watch, theme, self.go, self.acts.menu)
        self.panel = LookoutPanel(bench, theme, self.watch, self.acts, live.connect_all, open_log)
        self.glance = GlancePicture(bench, self.watch, theme)
        live.ticked.connect(self.picture.move_on)
        live.ticked.connect(self.glance.move_on)

    def go(self, row: LookoutRow) -> None:
        """To the channel of a row, to the one of a pair that is suspect, or to what a value is made of."""
        if row.kind == "value":
            self.acts.ask_value(row.id)
        elif channel := self.panel.channel_of(row.id):
            self._go(channel)
