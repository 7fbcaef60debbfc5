"""What the chart shows: where its courses are from, which are drawn, what stretch, and what is laid over them."""

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from ...bench.live_courses import LiveCourses
from ...core.journal.sample import Series
from ...core.lookout.courses import Courses, Envelope, TraceName, gathered_envelope
from ...core.lookout.sighted import Sighted
from ...core.words.errors import YardstickError
from ...files.log.courses import LogCourses
from ..frame.live import LiveBench
from ..frame.workbench import Change, Workbench

Array = NDArray[np.float64]
LIVE_S = 120.0
_DRAWN_AT_FIRST = 2
MOST_DRAWN = 12


class Laid:
    """A course that is reckoned rather than logged, laid over the others: its words, its unit, its samples."""

    def __init__(self, words: str, unit: str, series: Series) -> None:
        self.words, self.unit, self.series = words, unit, series

    def envelope(self, start_s: float, end_s: float, pixels: int) -> Envelope:
        """A stretch as it is drawn."""
        part = self.series.since(start_s, end_s)
        return gathered_envelope(part.times_s, part.values, part.values, pixels)


class ChartState(QObject):
    """Holds it for picture and panel; nothing of it is kept with the job."""

    changed = Signal()  # what is drawn, or from where
    moved = Signal()  # the stretch, or a cursor

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject) -> None:
        super().__init__(parent)
        self._bench, self._live = bench, live
        self.courses: Courses | None = None
        self.drawn: tuple[str, ...] = ()
        self.laid: tuple[Laid, ...] = ()
        self.sight = Sighted(-LIVE_S, 0.0)
        self.is_crossed = False  # drawn against each other
        bench.changed.connect(self._follow)
        live.connected.connect(lambda _on: self._connected())

    @property
    def log(self) -> LogCourses | None:
        """The log that is looked at, if it is one."""
        return self.courses if isinstance(self.courses, LogCourses) else None

    def look_live(self) -> None:
        """Look at what is live, if anything is; else at nothing."""
        self._take(LiveCourses(self._live.hub, self._bench.job) if self._live.is_on else None)
        if self.courses is not None:
            end = self.courses.span_s()[1]
            self.sight = Sighted(end - LIVE_S, end, is_held=False)
        self.changed.emit()

    def look_at(self, courses: LogCourses) -> None:
        """Look at a log, all of it."""
        self._take(courses)
        self.sight = Sighted(*courses.span_s()).shown(*courses.span_s())
        self.changed.emit()

    def _take(self, courses: Courses | None) -> None:
        if self.courses is not None:
            self.courses.close()
        self.courses, self.laid = courses, ()
        tags = {trace.key: trace for trace in self.traces}
        if not any(key in tags for key in self.drawn):
            self.drawn = self._first_drawn()

    def _first_drawn(self) -> tuple[str, ...]:
        """The channel looked at, and one more."""
        channel = self._bench.channel
        traces = self.traces
        own = [one.key for one in traces if channel is not None and one.id == channel.id and one.role == "value"]
        return tuple(dict.fromkeys([*own, *(one.key for one in traces)]))[:_DRAWN_AT_FIRST]

    @property
    def traces(self) -> tuple[TraceName, ...]:
        """All that can be drawn."""
        return () if self.courses is None else self.courses.traces()

    @property
    def shown(self) -> tuple[TraceName, ...]:
        """All that is drawn."""
        return tuple(trace for trace in self.traces if trace.key in self.drawn)

    def draw(self, key: str, drawn: bool) -> None:
        """Draw a course, or no longer."""
        rest = tuple(one for one in self.drawn if one != key)
        self.drawn = (*rest, key) if drawn else rest
        self.changed.emit()

    def lay(self, *laid: Laid) -> None:
        """Lay courses over the others in place of those before."""
        self.laid = laid
        self.changed.emit()

    def cross(self, crossed: bool) -> None:
        """Draw the others against the first, or all against time."""
        self.is_crossed = crossed
        self.changed.emit()

    def see(self, sight: Sighted) -> None:
        """Look at another stretch, or move a cursor."""
        self.sight = sight
        self.moved.emit()

    def see_all(self) -> None:
        """Look at all there is."""
        if self.courses is not None:
            self.see(self.sight.shown(*self.courses.span_s()))

    def hold(self, held: bool) -> None:
        """Stand still, or follow what is live."""
        self.see(self.sight._replace(is_held=held))

    def tick(self) -> bool:
        """Go with what is live; whether anything is to be drawn anew."""
        if self.courses is None or not self.courses.is_live or self.sight.is_held:
            return False
        self.sight = self.sight.following(self.courses.span_s()[1])
        return True

    def envelope(self, trace: TraceName, pixels: int) -> Envelope | None:
        """What is drawn of a course now; None where it cannot be read."""
        if self.courses is None:
            return None
        try:
            return self.courses.envelope(trace, self.sight.start_s, self.sight.end_s, pixels)
        except YardstickError:
            return None

    def _follow(self, change: Change) -> None:
        if change.job and self.courses is not None:
            if self.log is not None:
                self.log.use(self._bench.job)
            elif self.courses.job.id == self._bench.job.id:
                self.courses.job = self._bench.job
            self.changed.emit()

    def _connected(self) -> None:
        if self.log is None:
            self.look_live()

    def forget(self) -> None:
        """Let go of a log."""
        self._take(None)
