"""The courses of what is live: the streams of the links, as far back as they reach."""

import time

from ..core.document.channel import ContinuousChannel
from ..core.job.job import Job
from ..core.journal.sample import EMPTY, Series
from ..core.lookout.courses import Courses, Envelope, TraceName, TraceRole, gathered_envelope, told_apart, valued
from .hub import Hub, Live

_ROLES: dict[str, TraceRole] = {"raw": "raw", "shown": "shown", "reference": "reference"}


class LiveCourses(Courses):
    """What the hub's links give; times are monotonic ones."""

    is_live = True
    title = "live"

    def __init__(self, hub: Hub, job: Job) -> None:
        self._hub, self.job = hub, job

    def measured(self) -> tuple[TraceName, ...]:
        known = self.job.document.by_id
        values, others = [], []
        for live in self._hub.feeds():
            channel, role = known.get(live.feed.channel), _ROLES.get(live.feed.role)
            if channel is None or role is None:
                continue
            key, source = f"{live.link.spec.id} {live.feed.name}", live.link.spec.name
            if role == "raw" and isinstance(channel, ContinuousChannel):
                values.append(TraceName(f"value {key}", channel.tag, channel.id, "value", channel.unit, source))
            others.append(TraceName(key, channel.tag, channel.id, role, live.feed.unit, source))
        return told_apart((*values, *others))

    def _live(self, trace: TraceName) -> Live | None:
        key = trace.key.removeprefix("value ")
        return next((one for one in self._hub.feeds() if f"{one.link.spec.id} {one.feed.name}" == key), None)

    def span_s(self) -> tuple[float, float]:
        now_s = time.monotonic()
        firsts = [first for one in self._hub.feeds() if (first := one.stream.first_s) is not None]
        return min(firsts, default=now_s), now_s

    def samples_of(self, trace: TraceName, start_s: float, end_s: float) -> float:
        live = self._live(trace)
        return 0.0 if live is None else (end_s - start_s) * live.rate_hz

    def samples_read(self, trace: TraceName, start_s: float, end_s: float) -> Series:
        live = self._live(trace)
        if live is None:
            return EMPTY
        series = live.stream.after(start_s).since(start_s, end_s).good
        return series if trace.role != "value" else valued(self.job, self.job.continuous(trace.id), series)

    def drawn(self, trace: TraceName, start_s: float, end_s: float, pixels: int) -> Envelope:
        series = self.samples_read(trace, start_s, end_s)
        return gathered_envelope(series.times_s, series.values, series.values, pixels)

    def wall_s(self, time_s: float) -> float:
        return time_s + time.time() - time.monotonic()
