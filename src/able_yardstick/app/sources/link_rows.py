"""What is drawn of each source: how its link stands, how often it gives a value, and one of its numbers over time."""

import time
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...bench.link import LinkStatus
from ...core.document.sources import AnySource, Feed
from ...core.job.job import Job
from ...core.journal.sample import BAD, Series
from ..frame.live import LiveBench

WINDOW_S = 60.0
_POINTS = 300  # of a trace: more than there are pixels are drawn as their extremes
_LATE = 3.0  # steps without a value: a gap

Array = NDArray[np.float64]


class Gap(NamedTuple):
    """A stretch without a value, in seconds before now."""

    begin_s: float
    end_s: float


class LinkRow(NamedTuple):
    """One source. `times_s` are seconds before now, at or below 0; `values` in `unit`; both of shape (n,)."""

    source: AnySource
    status: LinkStatus | None
    asked_hz: float | None
    feed: str
    unit: str
    times_s: Array
    values: Array
    gaps: tuple[Gap, ...]

    @property
    def given_hz(self) -> float:
        """How many values come in a second."""
        return 0.0 if self.status is None else self.status.rate_hz

    @property
    def share(self) -> float | None:
        """Of what was asked for; None where values come by themselves, or none comes."""
        return None if self.asked_hz is None or not self.given_hz else min(self.given_hz / self.asked_hz, 1.0)


def rows_of(job: Job, live: LiveBench, channel_id: str) -> tuple[LinkRow, ...]:
    """Every source of a job, with the number it gives for the channel looked at, else its first."""
    return tuple(_row(source, live, channel_id) for source in job.sources)


def _row(source: AnySource, live: LiveBench, channel_id: str) -> LinkRow:
    feed = _told_by(source.every_feed, channel_id)
    link = live.hub.link(source.id) if live.is_on else None
    asked = None if feed is None else source.asked_hz(feed)
    if link is None or feed is None:
        nothing = np.zeros(0)
        name = "" if feed is None else feed.name
        return LinkRow(source, None, asked, name, "" if feed is None else feed.unit, nothing, nothing, ())
    now_s = time.monotonic()
    series = link.streams[feed.name].after(now_s - WINDOW_S)
    good = series.good
    times, values = _thinned(good.times_s - now_s, good.values)
    gaps = _gaps(series, now_s, link.stale_after_s)
    return LinkRow(source, link.status, asked, feed.name, feed.unit, times, values, gaps)


def _told_by(feeds: Sequence[Feed], channel_id: str) -> Feed | None:
    """The number that a row tells of: the channel's own raw signal first."""
    own = [feed for feed in feeds if feed.channel == channel_id]
    raw = [feed for feed in own if feed.role == "raw"]
    return next(iter([*raw, *own, *feeds]), None)


def _gaps(series: Series, now_s: float, patience_s: float) -> tuple[Gap, ...]:
    """Where nothing came for longer than the link is waited for, or where the link says that it was lost."""
    times = series.good.times_s
    if not len(times):
        return ()
    ends = np.append(times, now_s)
    wide = np.diff(ends) > max(patience_s, _LATE * float(np.median(np.diff(ends)))) if len(ends) > 2 else [False]
    lost = series.times_s[series.states == BAD]
    marked = np.isin(times, lost)
    return tuple(
        Gap(float(ends[n] - now_s), float(ends[n + 1] - now_s))
        for n in range(len(times))
        if wide[n] or (marked[n] and ends[n + 1] - ends[n] > patience_s)
    )


def _thinned(times_s: Array, values: Array) -> tuple[Array, Array]:
    """As many points as can be seen, shapes (n,): of each stretch the lowest and the highest."""
    if len(times_s) <= 2 * _POINTS:
        return times_s, values
    kept = []
    for part in np.array_split(np.arange(len(times_s)), _POINTS):
        low, high = part[np.argmin(values[part])], part[np.argmax(values[part])]
        kept += sorted({int(low), int(high)})
    return times_s[kept], values[kept]
