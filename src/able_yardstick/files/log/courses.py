"""The courses of a log: what was logged, values by the numbers of a job, values made of channels."""

from pathlib import Path

import numpy as np

from ...core.document.channel import ContinuousChannel
from ...core.document.document import Document
from ...core.job.job import Job
from ...core.journal.sample import Series
from ...core.lookout.courses import (
    Courses,
    Envelope,
    Happening,
    TraceName,
    TraceRole,
    made_course,
    told_apart,
    valued,
    valued_envelope,
)
from ...core.lookout.derived import inputs_of
from ...core.path.node import Met
from ...core.words.errors import BadTable
from .reader import LogFile, LogSeries

_ROLES: tuple[TraceRole, ...] = ("shown", "raw", "reference")


class LogCourses(Courses):
    """One log, read with the numbers of a job: the one given where it is of it, else that which the log holds."""

    is_live = False

    def __init__(self, path: Path, job: Job) -> None:
        """Raises: BadTable where it cannot be read."""
        self.log = LogFile(path)
        self.path, self.title = path, path.name
        self.job = job if self.log.about.get("job id", job.id) == job.id else _own_job(self.log)
        self._series = {one.number: one for one in self.log.series()}
        self._traces: tuple[TraceName, ...] | None = None
        first = min(self._series.values(), key=lambda one: one.first_s, default=None)
        self._wall_ahead_s = 0.0 if first is None else self.log.first_wall_s - first.first_s

    def close(self) -> None:
        self.log.close()

    def use(self, job: Job) -> None:
        """Read it with other numbers of its job from now on."""
        if job.id == self.job.id:
            self.job, self._traces = job, None

    def measured(self) -> tuple[TraceName, ...]:
        if self._traces is None:
            known = self.job.document.by_id
            values, others = [], []
            for one in self._series.values():
                feed, channel = one.feed, known.get(one.feed.channel)
                if feed.role == "raw" and isinstance(channel, ContinuousChannel):
                    key = f"value {one.number}"
                    values.append(TraceName(key, channel.tag, channel.id, "value", channel.unit, feed.source))
                role = next((role for role in _ROLES if role == feed.role), None)
                if role is not None:
                    others.append(TraceName(str(one.number), feed.tag, feed.channel, role, feed.unit, feed.source))
            self._traces = told_apart((*values, *others))
        return self._traces

    def span_s(self) -> tuple[float, float]:
        rows = self._series.values()
        return min((one.first_s for one in rows), default=0.0), max((one.last_s for one in rows), default=0.0)

    def series_of(self, trace: TraceName) -> LogSeries:
        """The logged series that a trace is drawn from. Raises: BadTable for one that is made of several."""
        number = trace.key.removeprefix("value ")
        if not number.isdecimal():
            raise BadTable(f"{trace.tag} is made of several series.")
        return self._series[int(number)]

    def samples_of(self, trace: TraceName, start_s: float, end_s: float) -> float:
        one = self.series_of(trace)
        length = max(one.last_s - one.first_s, 1e-9)
        return one.samples * max(min(end_s, one.last_s) - max(start_s, one.first_s), 0.0) / length

    def drawn(self, trace: TraceName, start_s: float, end_s: float, pixels: int) -> Envelope:
        one = self.series_of(trace)
        found = self.log.envelope(one, start_s, end_s, pixels)
        if trace.role != "value" or not len(found.times_s):
            return found
        return valued_envelope(self.job, self.job.continuous(trace.id), found, _met(one))

    def samples_read(self, trace: TraceName, start_s: float, end_s: float) -> Series:
        one = self.series_of(trace)
        series = self.log.read(one, start_s, end_s)
        return series.good if trace.role != "value" else valued(self.job, self.job.continuous(trace.id), series)

    def at_its_samples(self, trace: TraceName) -> Series:
        """All of a course where samples of it came; of what is made of channels, where those of its first input did.

        Raises: YardstickError.
        """
        if trace.role != "made":
            return self.read(trace, *self._whole)
        value = next(one for one in self.job.watch.values if one.id == trace.id)
        courses = {
            one: self.samples_read(known, *self._whole)
            for one in inputs_of(value)
            if (known := self.value_trace(one)) is not None
        }
        first = courses[inputs_of(value)[0]]
        found = made_course(self.job, value, courses, first.times_s).values
        there = np.isfinite(found)
        return first.where(there).scaled(found[there], Met("pin", trace.unit))

    @property
    def _whole(self) -> tuple[float, float]:
        first, last = self.span_s()
        return first, float(np.nextafter(last, np.inf))

    def wall_s(self, time_s: float) -> float:
        return time_s + self._wall_ahead_s

    def happenings(self) -> tuple[Happening, ...]:
        return tuple(Happening(one.time_s, one.kind, one.says) for one in self.log.events())


def _met(one: LogSeries) -> Met:
    return Met(one.feed.node, one.feed.unit)  # type: ignore[arg-type]  # as the feed had it


def _own_job(log: LogFile) -> Job:
    """The job that a log was taken of, as it stood then. Raises: BadTable."""
    from pydantic import ValidationError

    try:
        document = Document.model_validate_json(log.about.get("document", "{}"))
    except ValidationError as error:
        raise BadTable(f"{log.path}: the job that it was taken of cannot be read.") from error
    return Job.new(log.about.get("job id", "log")).with_(document=document)
