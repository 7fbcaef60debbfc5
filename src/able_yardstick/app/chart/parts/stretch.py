"""The stretch between the cursors: kept as a table, or taken for readings."""

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QPushButton, QWidget

from ....core.journal.sample import Series
from ....core.lookout.courses import TraceName
from ....core.words.errors import YardstickError
from ....core.words.numerals import counted
from ....files.log.courses import LogCourses
from ....files.log.export import LogColumn, chosen_series, save_log_csv, save_log_parquet, save_log_xlsx, table_of
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.fields import Complaint, label
from ..state import ChartState
from ..time_axis import clock_words, length_words
from .part import ChartPart

_SAVES = {".csv": save_log_csv, ".xlsx": save_log_xlsx, ".parquet": save_log_parquet}
_FILTER = "Workbook (*.xlsx);;Text (*.csv);;Parquet (*.parquet)"


class StretchPart(ChartPart):
    """What the stretch is, and what can be made of it."""

    def __init__(self, bench: Workbench, state: ChartState) -> None:
        super().__init__(bench, state, "stretch", "The stretch", opened=True)
        self.words = label("", "", 12)
        self.export, self.readings = QPushButton("Save as a table …"), QPushButton("Readings from it …")
        self.export.setToolTip("What was logged of the channels drawn, as a workbook, CSV or Parquet")
        self.readings.setToolTip("Steady moments of a reference and a sensor, as readings for Fit")
        self.export.clicked.connect(self.ask_export)
        self.readings.clicked.connect(self.ask_readings)
        both = QWidget()
        row = QHBoxLayout(both)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.export, 1)
        row.addWidget(self.readings, 1)
        self.complaint = Complaint()
        self.add(self.words, both, self.complaint)

    def show_now(self, theme: Theme) -> None:
        state, courses = self.state, self.state.courses
        is_log = state.log is not None
        self.export.setEnabled(is_log and bool(state.shown))
        self.readings.setEnabled(is_log)
        if courses is None:
            self.words.setText("Nothing is drawn yet.")
            return
        start, end = (courses.wall_s(at) for at in state.sight.stretch_s)
        step = min(max((end - start) / 500, 0.001), 1.0)
        told = f"{clock_words(start, step)} to {clock_words(end, step)}, {length_words(end - start)}"
        how = "" if state.sight.is_between else " A press in the chart sets cursor A, one with Shift B."
        why = "" if is_log else " Keep it as a log (Ctrl+L, Ctrl+Shift+L) to save or use it."
        self.words.setText(f"{told}.{how}{why}")
        self.show_summary(told)

    def ask_export(self) -> None:
        """Ask where the table goes, and write it."""
        log = self.state.log
        if log is None:
            return
        at = str(log.path.with_suffix(".xlsx"))
        name, chosen = QFileDialog.getSaveFileName(self, "Save the stretch as a table", at, _FILTER)
        if name:
            path = Path(name)
            self.save(path if path.suffix in _SAVES else path.with_suffix(_suffix_of(chosen)))

    def save(self, path: Path) -> None:
        """Write the stretch of the channels drawn; a refusal stands below the buttons."""
        log = self.state.log
        if log is None:
            return
        tags = list(dict.fromkeys(_logged_tags(log, trace.id, trace.tag) for trace in self.state.shown))
        start, end = (log.wall_s(at) for at in self.state.sight.stretch_s)
        try:
            logged = chosen_series(log.log, [tag for group in tags for tag in group])
            columns = [(LogColumn.of(one), log.log.read(one)) for one in logged]
            columns += [_reckoned(log, trace) for trace in self.state.shown if trace.role in ("value", "made")]
            table = table_of(columns, start, end)
            _SAVES[path.suffix](path, table)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        self.bench.said.emit(f"{counted(len(table.walls_s), 'row')} are in {path}.", False)

    def ask_readings(self) -> None:
        """Take steady moments as readings, once they were looked at."""
        from ..readings_dialog import LogReadingsDialog

        log = self.state.log
        if log is None:
            return
        try:
            dialog = LogReadingsDialog(self.bench, log, self.state.sight.stretch_s, self)
        except YardstickError as error:
            self.complaint.setText(str(error))
            return
        self.complaint.setText("")
        dialog.exec()
        dialog.deleteLater()


def _reckoned(log: LogCourses, trace: TraceName) -> tuple[LogColumn, Series]:
    """A course as the numbers of now give it, at the moments its samples came."""
    column = LogColumn(f"{trace.words} reckoned", trace.unit, "by the calibration in use")
    return column, log.at_its_samples(trace)


def _suffix_of(chosen: str) -> str:
    return next((suffix for suffix in _SAVES if f"*{suffix}" in chosen), ".xlsx")


def _logged_tags(log: LogCourses, trace_id: str, tag: str) -> tuple[str, ...]:
    """The tags under which what is drawn was logged: of a value made of channels those of its inputs."""
    from ....core.lookout.derived import inputs_of

    made = next((one for one in log.job.watch.values if one.id == trace_id), None)
    ids = (trace_id,) if made is None else inputs_of(made)
    found = tuple(dict.fromkeys(one.feed.tag for one in log.log.series() if one.feed.channel in ids))
    return found or (tag,)
