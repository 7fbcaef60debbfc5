"""The lookout as the window has it: made when it is first wanted, with its commands."""

from collections.abc import Callable

from PySide6.QtCore import QObject

from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..frame.workbench import Workbench
from .panel import LookoutPanel
from .picture import LookoutPicture
from .watcher import Watcher


class LookoutDesk(QObject):
    """Holds the watch, the strips and the panel; `go` leads from a strip to its channel."""

    def __init__(
        self, bench: Workbench, live: LiveBench, theme: Theme, go: Callable[[str], None], parent: QObject
    ) -> None:
        super().__init__(parent)
        self.watch = Watcher(bench, live, self)
        self.picture = LookoutPicture(bench, self.watch, theme, go)
        self.panel = LookoutPanel(bench, theme, self.watch, live.connect_all)
