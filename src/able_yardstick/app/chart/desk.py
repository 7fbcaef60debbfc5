"""The chart as the window has it: made when it is first wanted; opens logs, and looks at what is live."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ...core.words.errors import YardstickError
from ...files.log.courses import LogCourses
from ...files.log.foreign import is_foreign
from ...files.log.schema import LOG_ENDING
from ..frame.live import LiveBench
from ..frame.theme import Theme
from ..frame.workbench import Say, Workbench
from .panel import ChartPanel
from .picture import ChartPicture
from .state import ChartState

_FILTER = f"Logs (*{LOG_ENDING} *.csv *.txt *.tsv);;All (*)"


class ChartDesk:
    """Holds the state, the picture and the panel."""

    def __init__(self, bench: Workbench, live: LiveBench, theme: Theme, say: Say, window: QWidget) -> None:
        self._bench, self._say, self._window = bench, say, window
        self.state = ChartState(bench, live, window)
        self.picture = ChartPicture(self.state, theme)
        self.panel = ChartPanel(bench, theme, self.state, live, self.ask_log)
        live.ticked.connect(self.picture.move_on)
        live.slow_ticked.connect(self.panel.tick)
        self.state.look_live()

    def open_log(self, path: Path) -> None:
        """Look at a log; a table of another program's is taken in by preview first. A refusal is said."""
        if is_foreign(path):
            self._ask_foreign(path)
            return
        try:
            courses = LogCourses(path, self._bench.job)
        except YardstickError as error:
            self._say(str(error), True)
            return
        self.state.look_at(courses)
        self._say(f"{path.name} is open.", False)

    def ask_log(self) -> None:
        """Ask for a log, and look at it."""
        at = Path.home() if self._bench.path is None else self._bench.path.parent
        name, _ = QFileDialog.getOpenFileName(self._window, "Open a log", str(at), _FILTER)
        if name:
            self.open_log(Path(name))

    def _ask_foreign(self, path: Path) -> None:
        from .foreign_dialog import ForeignDialog

        try:
            dialog = ForeignDialog(path, self._bench.job, self._window)
        except YardstickError as error:
            self._say(str(error), True)
            return
        if dialog.exec() and dialog.written is not None:
            self.open_log(dialog.written)
        dialog.deleteLater()
