"""Courses of channels over time, wherever they are from: what can be drawn of them, and stretches of their samples."""

from abc import ABC, abstractmethod
from collections import Counter
from collections.abc import Sequence
from typing import ClassVar, Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..document.channel import ContinuousChannel
from ..document.watched import AnyWatched
from ..job.in_force import curve_in_use
from ..job.job import Job
from ..job.pins import pins_of
from ..journal.sample import EMPTY, Series
from ..path.node import Met
from .certain import certainty_of
from .derived import DerivedCourse, InputCourse, derived, inputs_of

Array = NDArray[np.float64]
TraceRole = Literal["value", "shown", "raw", "reference", "made"]
ROLE_WORDS: dict[TraceRole, str] = {
    "value": "",
    "shown": "as shown",
    "raw": "raw",
    "reference": "reference",
    "made": "",
}


class TraceName(NamedTuple):
    """One course that can be drawn: a key of its own, the tag and id it belongs to, its role and its unit."""

    key: str
    tag: str
    id: str
    role: TraceRole
    unit: str
    source: str = ""

    @property
    def words(self) -> str:
        """What it is called."""
        source = f"({self.source})" if self.source else ""
        return " ".join(part for part in (self.tag, ROLE_WORDS[self.role], source) if part)


def told_apart(traces: Sequence[TraceName]) -> tuple[TraceName, ...]:
    """Courses with their sources, which only those keep that two sources give."""
    times = Counter((trace.id, trace.role) for trace in traces)
    return tuple(trace if times[trace.id, trace.role] > 1 else trace._replace(source="") for trace in traces)


class Envelope(NamedTuple):
    """A stretch as it is drawn: times in s, the least and the largest value about each; shapes (n,)."""

    times_s: Array
    lows: Array
    highs: Array

    @property
    def middles(self) -> Array:
        """Midway between the two, shape (n,), in their unit."""
        return (self.lows + self.highs) / 2


_MADE_AT, _MADE_PIXELS = 2, 4000  # moments a pixel, and pixels of one that is made whole
NOTHING_DRAWN = Envelope(np.zeros(0), np.zeros(0), np.zeros(0))


def gathered_envelope(times_s: Array, lows: Array, highs: Array, pixels: int) -> Envelope:
    """Least and largest values (n,) at times (n,) in s, neighbours put together until there are about enough."""
    by = max(len(times_s) // max(2 * pixels, 1), 1)
    if by == 1:
        return Envelope(times_s, lows, highs)
    short = -len(times_s) % by
    parts = [np.concatenate([column, np.full(short, np.nan)]).reshape(-1, by) for column in (lows, highs)]
    return Envelope(times_s[::by], np.fmin.reduce(parts[0], axis=1), np.fmax.reduce(parts[1], axis=1))


class Happening(NamedTuple):
    """Something that happened at a moment in s: a note, an event, in words."""

    time_s: float
    kind: str
    says: str


class Courses(ABC):
    """Where courses are from. Times are seconds of a clock of its own; what is made of channels follows theirs."""

    title: str
    job: Job
    is_live: ClassVar[bool]  # whether more comes

    @abstractmethod
    def measured(self) -> tuple[TraceName, ...]:
        """All that came: the values of channels first."""

    @abstractmethod
    def span_s(self) -> tuple[float, float]:
        """From its first sample to its last; live: to now."""

    @abstractmethod
    def drawn(self, trace: TraceName, start_s: float, end_s: float, pixels: int) -> Envelope:
        """A stretch of what came, over about so many pixels, in the trace's unit. Raises: YardstickError."""

    @abstractmethod
    def samples_read(self, trace: TraceName, start_s: float, end_s: float) -> Series:
        """Every good sample of a stretch of what came, in the trace's unit. Raises: YardstickError."""

    @abstractmethod
    def samples_of(self, trace: TraceName, start_s: float, end_s: float) -> float:
        """About how many samples a stretch of what came has."""

    @abstractmethod
    def wall_s(self, time_s: float) -> float:
        """The time of day of a moment, in s since 1970."""

    def happenings(self) -> tuple[Happening, ...]:
        """What happened meanwhile."""
        return ()

    def close(self) -> None:  # noqa: B027  # most hold nothing
        """Let go of what it is read from."""

    def traces(self) -> tuple[TraceName, ...]:
        """All that can be drawn: values of channels, values made of them, and what came beside."""
        came = self.measured()
        there = {trace.id for trace in came if trace.role == "value"}
        made = [
            TraceName(f"made {one.id}", one.tag, one.id, "made", one.unit)
            for one in self.job.watch.values
            if set(inputs_of(one)) <= there
        ]
        values = [trace for trace in came if trace.role == "value"]
        return (*values, *made, *(trace for trace in came if trace.role != "value"))

    def envelope(self, trace: TraceName, start_s: float, end_s: float, pixels: int) -> Envelope:
        """A stretch as it is drawn over about so many pixels, in the trace's unit. Raises: YardstickError."""
        if trace.role == "made":
            return self._made(trace, start_s, end_s, pixels)
        return self.drawn(trace, start_s, end_s, pixels)

    def read(self, trace: TraceName, start_s: float, end_s: float) -> Series:
        """Every good sample of a stretch, in the trace's unit. Raises: YardstickError."""
        if trace.role != "made":
            return self.samples_read(trace, start_s, end_s)
        drawn = self._made(trace, start_s, end_s, _MADE_PIXELS)
        there = np.isfinite(drawn.lows)
        return Series.of(drawn.times_s[there], drawn.lows[there], Met("pin", trace.unit))

    def samples(self, trace: TraceName, start_s: float, end_s: float) -> float:
        """About how many samples a stretch has."""
        if trace.role != "made":
            return self.samples_of(trace, start_s, end_s)
        return float(_MADE_PIXELS * _MADE_AT)

    def value_trace(self, channel_id: str) -> TraceName | None:
        """The course of a channel's values; None where none came."""
        return next((one for one in self.measured() if one.id == channel_id and one.role == "value"), None)

    def _made(self, trace: TraceName, start_s: float, end_s: float, pixels: int) -> Envelope:
        """At some moments a pixel, from the inputs' middles there; a total is counted from the beginning."""
        value, (first, last) = next(one for one in self.job.watch.values if one.id == trace.id), self.span_s()
        is_total = value.kind == "total"
        low, high = (first, min(end_s, last)) if is_total else (max(start_s, first), min(end_s, last))
        if not high > low:
            return NOTHING_DRAWN
        moments = np.linspace(low, high, (_MADE_PIXELS if is_total else pixels) * _MADE_AT)
        courses = {one: self._middles(one, low, high, len(moments)) for one in inputs_of(value)}
        found = made_course(self.job, value, courses, moments).values
        inside = moments >= start_s
        return Envelope(moments[inside], found[inside], found[inside])

    def _middles(self, channel_id: str, low: float, high: float, pixels: int) -> Series:
        trace = self.value_trace(channel_id)
        drawn = NOTHING_DRAWN if trace is None else self.drawn(trace, low, high, pixels)
        return Series.of(drawn.times_s, drawn.middles)


def valued(job: Job, channel: ContinuousChannel, raw: Series) -> Series:
    """Raw samples in the channel's unit by the curve in use; empty without one. Raises: UnitMismatch."""
    use = curve_in_use(job, channel)
    if use is None:
        return EMPTY
    pins = pins_of(channel, raw.good)
    return pins.scaled(np.asarray(use.curve.value(pins.values)), Met("pin", channel.unit))


def valued_envelope(job: Job, channel: ContinuousChannel, drawn: Envelope, met: Met) -> Envelope:
    """A raw envelope in the channel's unit: a curve that runs one way keeps least and largest, or turns them round."""
    ends = [valued(job, channel, Series.of(drawn.times_s, side, met)).values for side in (drawn.lows, drawn.highs)]
    if len(ends[0]) < len(drawn.times_s):
        return NOTHING_DRAWN
    return Envelope(drawn.times_s, np.fmin(*ends), np.fmax(*ends))


def made_course(job: Job, value: AnyWatched, courses: dict[str, Series], times_s: Array) -> DerivedCourse:
    """A value made of channels at moments (n,) in s, out of its inputs' courses by their ids.

    Between samples an input runs straight; before its first and after its last, and where it has none, it is dead.
    Raises: what `derived` refuses.
    """
    inputs: dict[str, InputCourse] = {}
    for one in inputs_of(value):
        channel = job.document.by_id.get(one)
        if not isinstance(channel, ContinuousChannel) or one not in courses:
            continue
        good = courses[one].good
        values = np.full(len(times_s), np.nan)
        if len(good):
            values = np.interp(times_s, good.times_s, good.values, left=np.nan, right=np.nan)
        known = certainty_of(job, channel)
        expanded = np.full(len(times_s), np.nan) if known is None else known.at(values)
        inputs[one] = InputCourse(channel.tag, channel.unit, values, expanded)
    return derived(value, inputs, times_s)
