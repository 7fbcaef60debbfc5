"""What is drawn: a tick for each course, and its figures at the cursors and over the stretch."""

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCheckBox, QListWidget, QListWidgetItem, QPushButton

from ....core.lookout.courses import Courses, TraceName
from ....core.lookout.shown_range import shown_decimals, watched_decimals
from ....core.lookout.stretch import StretchFigures, figures_of, value_near
from ....core.words.errors import YardstickError
from ....core.words.numerals import fixed, significant
from ...frame.theme import Theme
from ...frame.workbench import Workbench
from ...panel.figures import FigureRow, FigureTable
from ..state import ChartState
from ..time_axis import length_words
from .part import ChartPart

_MOST_READ = 2_000_000  # samples: of more the least and the largest are told only
_NEAR = 0.01  # of the stretch: so near a sample stands for a moment
_LIST_HEIGHT = 168
_MINUTE_S = 60.0


class DrawnPart(ChartPart):
    """The list of courses, and what they come to."""

    def __init__(self, bench: Workbench, state: ChartState) -> None:
        super().__init__(bench, state, "drawn", "What is drawn", opened=True)
        self.list = QListWidget()
        self.list.setAccessibleName("Courses")
        self.list.setFixedHeight(_LIST_HEIGHT)
        self.list.itemChanged.connect(self._tick)
        self.crossed = QCheckBox("against each other (x–y)")
        self.crossed.toggled.connect(state.cross)
        self.at_cursors = FigureTable("At the cursors")
        self.over = FigureTable("Over the stretch")
        self.drop = QPushButton("Take off what is laid over it")
        self.drop.clicked.connect(lambda: state.lay())
        self.add(self.list, self.drop, self.crossed, self.at_cursors, self.over)
        self._listed: tuple[TraceName, ...] = ()

    def _tick(self, item: QListWidgetItem) -> None:
        drawn = item.checkState() == Qt.CheckState.Checked
        self.state.draw(item.data(Qt.ItemDataRole.UserRole), drawn)

    def show_now(self, theme: Theme) -> None:
        self._show_list()
        self.list.setEnabled(self.state.courses is not None)
        self.drop.setVisible(bool(self.state.laid))
        self.show_summary(", ".join(trace.words for trace in self.state.shown))
        courses = self.state.courses
        if courses is None:
            self.at_cursors.show_rows((), (), theme)
            self.over.show_rows((), (), theme)
            return
        self._show_cursors(courses, theme)
        self._show_over(courses, theme)

    def _show_list(self) -> None:
        traces = self.state.traces
        self.list.blockSignals(True)
        if traces != self._listed:
            self._listed = traces
            self.list.clear()
            for trace in traces:
                item = QListWidgetItem(f"{trace.words}, {trace.unit}")
                item.setData(Qt.ItemDataRole.UserRole, trace.key)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                self.list.addItem(item)
        for n in range(self.list.count()):
            is_drawn = self.list.item(n).data(Qt.ItemDataRole.UserRole) in self.state.drawn
            self.list.item(n).setCheckState(Qt.CheckState.Checked if is_drawn else Qt.CheckState.Unchecked)
        self.list.blockSignals(False)

    def _show_cursors(self, courses: Courses, theme: Theme) -> None:
        """At A, at B, from the one to the other, and how fast; nothing without a cursor."""
        sight = self.state.sight
        places = [at for at in (sight.a_s, sight.b_s) if at is not None]
        if not places:
            self.at_cursors.show_rows((), (), theme)
            return
        rows = []
        for trace in self.state.shown:
            found = [_value_at(courses, trace, at, _NEAR * sight.length_s) for at in places]
            cells = [number_of(courses, trace, one) for one in found]
            note = ""
            if len(found) == 2:
                cells.append(number_of(courses, trace, found[1] - found[0]))
                minutes = (places[1] - places[0]) / _MINUTE_S
                slope = (found[1] - found[0]) / minutes if minutes else float("nan")
                note = f"{significant(slope, 3)} {trace.unit} a minute" if np.isfinite(slope) else ""
            rows.append(FigureRow(trace.words, *cells, note=note))
        names = [name for name, at in (("A", sight.a_s), ("B", sight.b_s)) if at is not None]
        head = (length_words(abs(places[1] - places[0])) if len(places) == 2 else "", *names)
        self.at_cursors.show_rows((*head, "B − A") if len(places) == 2 else head, rows, theme)

    def _show_over(self, courses: Courses, theme: Theme) -> None:
        start, end = self.state.sight.stretch_s
        rows = []
        for trace in self.state.shown:
            found = _figures(courses, trace, start, end)
            if found is not None:
                cells = [number_of(courses, trace, one) for one in (found.least, found.mean, found.largest)]
                note = f"spread {significant(found.spread, 2)}" if np.isfinite(found.spread) else "too long for a mean"
                rows.append(FigureRow(trace.words, *cells, note=note))
        where = "A to B" if self.state.sight.is_between else "all seen"
        self.over.show_rows((where, "least", "mean", "largest"), rows, theme)


def _value_at(courses: Courses, trace: TraceName, at_s: float, within_s: float) -> float:
    try:
        return value_near(courses.read(trace, at_s - within_s, at_s + within_s), at_s, within_s)
    except YardstickError:
        return float("nan")


def _figures(courses: Courses, trace: TraceName, start_s: float, end_s: float) -> StretchFigures | None:
    """Of every sample; of a very long stretch the least and the largest only."""
    try:
        if courses.samples(trace, start_s, end_s) <= _MOST_READ:
            return figures_of(courses.read(trace, start_s, end_s))
        drawn = courses.envelope(trace, start_s, end_s, 2000)
    except YardstickError:
        return None
    return StretchFigures(0, float(np.nanmin(drawn.lows)), float("nan"), float(np.nanmax(drawn.highs)), float("nan"))


def number_of(courses: Courses, trace: TraceName, value: float) -> str:
    """A number of a course as it is written everywhere."""
    if not np.isfinite(value):
        return "—"
    job = courses.job
    if trace.role in ("value", "shown", "reference") and trace.id in job.document.by_id:
        channel = job.continuous(trace.id) if trace.role == "value" else None
        return significant(value, 5) if channel is None else fixed(value, shown_decimals(job, channel, value))
    made = next((one for one in job.watch.values if one.id == trace.id), None)
    if made is not None:
        return fixed(value, watched_decimals(job, made, value, float("nan")))
    return significant(value, 6)
