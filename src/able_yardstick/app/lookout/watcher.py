"""What the lookout knows while it looks: how every row stands, the last minute of each, and the log that runs."""

import time
from contextlib import suppress
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QPolygonF

from ...bench.hub import Live
from ...bench.recorder import LogTotals, Recorder
from ...core.document.channel import AnyChannel, ContinuousChannel, TwoStateChannel, WiredChannel
from ...core.document.watched import AnyWatched, SensorPair
from ...core.gather.gathering import reference_in_value
from ...core.job.in_force import curve_in_use
from ...core.job.pins import pins_of
from ...core.journal.sample import EMPTY, Series
from ...core.lookout.apart import PairStanding, pair_now
from ...core.lookout.attention import Attention, AttentionItem
from ...core.lookout.courses import valued
from ...core.lookout.silent import told_by_source
from ...core.lookout.standing import ChannelStanding, standing_of
from ...core.lookout.watching import ValueNow, ValueWatch
from ...core.path.node import Met
from ...core.words.errors import YardstickError
from ..frame.live import LiveBench
from ..frame.workbench import Change, Workbench

Array = NDArray[np.float64]
WINDOW_S = 60.0
_REFERENCE_S = 10.0
_TICKS, _FEWEST = 8, 2  # ticks that a look at all channels takes, and channels at a tick
_PAIRS_EVERY = 4  # looks: evidence is weighed once a second
_NEWEST = 3  # samples looked at for the one that stands for now


class Trend:
    """The last minute of a row: seconds before now (below 0), and what it was; shapes (n,)."""

    def __init__(self, ago_s: Array, pins: Array) -> None:
        self.ago_s, self.pins = ago_s, pins
        self.low, self.high = (float(pins.min()), float(pins.max())) if len(pins) else (0.0, 0.0)
        self.drawn: dict[tuple[float, ...], QPolygonF] = {}  # made once for each place it is drawn at

    def at(self, ago_s: float) -> float | None:
        """What it was so many seconds before now (below 0); None where nothing came near then."""
        if not len(self.ago_s):
            return None
        at = int(np.argmin(np.abs(self.ago_s - ago_s)))
        return float(self.pins[at]) if abs(self.ago_s[at] - ago_s) < _NEAR_S else None


_NEAR_S = 1.5
_NO_TREND = Trend(np.zeros(0), np.zeros(0))


class Watcher(QObject):
    """Looks at every live channel about four times a second, whether the lookout is seen or not."""

    changed = Signal()  # all of it was looked at
    looked = Signal(frozenset)  # the channels that were looked at just now, by their ids
    told = Signal(str, bool)  # something to say, and whether it went wrong

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject) -> None:
        super().__init__(parent)
        self._bench, self._live = bench, live
        self.standings: dict[str, ChannelStanding] = {}
        self.pairs: dict[str, PairStanding] = {}
        self.values: dict[str, ValueNow] = {}
        self.attention = Attention()
        self.recorder: Recorder | None = None
        self._logged_job = ""
        self._value_watch = ValueWatch()
        self._courses: dict[str, Series] = {}  # of this look, by channel
        self._trends: dict[str, Trend] = {}
        self._judged: dict[str, ChannelStanding] = {}  # the pairs, as they were judged last
        self._looks = 0
        self._at = 0  # the channel that is looked at next
        live.ticked.connect(self._tick)
        live.connected.connect(lambda _on: self._begin())
        bench.changed.connect(self._follow)

    @property
    def is_on(self) -> bool:
        """Whether anything is live."""
        return self._live.is_on

    @property
    def live_channels(self) -> int:
        """How many channels a source gives values for."""
        known = self._bench.job.document.by_id
        return sum(key in known for key in self.standings)

    def _begin(self) -> None:
        """Totals count from now on, and everything is looked at at once."""
        self._value_watch = ValueWatch()
        self._at = 0
        self._look_at_some(len(self._bench.job.channels))

    def _tick(self) -> None:
        """A share of the channels each time, so that a look at hundreds of them never stands in the way."""
        self._look_at_some(max(-(-len(self._bench.job.channels) // _TICKS), _FEWEST))

    def _look_at_some(self, count: int) -> None:
        """Look at so many more channels; after the last one at what is made of them."""
        job = self._bench.job
        some = job.channels[self._at : self._at + count]
        for channel in some:
            self._courses.pop(channel.id, None)
            self._trends.pop(channel.id, None)
            raw = self._live.raw(channel)
            if isinstance(channel, ContinuousChannel | TwoStateChannel) and raw is not None:
                self.standings[channel.id] = standing_of(job, channel, self._pin(channel, raw))
            else:
                self.standings.pop(channel.id, None)
        self._at += len(some)
        if some:
            self.looked.emit(frozenset(channel.id for channel in some))
        if self._at >= len(job.channels):
            self._at = 0
            self._end_look()

    def _end_look(self) -> None:
        """What is made of channels, pairs, and what needs attention."""
        known = self._bench.job.document.by_id
        self.standings = {key: one for key, one in self.standings.items() if key in known}
        self._look_at_values()
        self._look_at_pairs()
        before = self.attention
        self.attention = before.seen(self._with_sources(), time.time()) if self.is_on else Attention()
        self._log_what_began(before)
        if self.recorder is not None and self.recorder.refusal:
            self.told.emit(self.recorder.refusal, True)
            self.stop_log()
        self.changed.emit()

    def _with_sources(self) -> dict[str, ChannelStanding]:
        """The standings, a source that is silent in place of its channels; what has not begun yet is not silent."""
        job = self._bench.job
        raw = {channel.id: live for channel in job.channels if (live := self._live.raw(channel)) is not None}
        begun = {key: one for key, one in self.standings.items() if key not in raw or raw[key].stream.placed}
        sources = {key: (live.link.spec.id, live.link.spec.name) for key, live in raw.items()}
        return told_by_source(begun, sources, {channel.id: channel.tag for channel in job.channels})

    def _log_what_began(self, before: Attention) -> None:
        """What began to need attention is an event of the log that runs."""
        if self.recorder is None or self.attention is before:
            return
        known = {(item.channel, item.kind, item.since_s) for item in before.items}
        for item in self.attention.items:
            if (item.channel, item.kind, item.since_s) not in known:
                channel = self._bench.job.document.by_id.get(item.channel)
                tag = "" if channel is None else f"{channel.tag}: "
                self.recorder.note(f"{tag}{item.words}", kind=item.kind, channel=item.channel)

    def _pin(self, channel: WiredChannel, raw: Live) -> float | None:
        try:
            return None if raw.is_stale else self._live.pin_of(channel, raw)
        except YardstickError:
            return None

    def _look_at_values(self) -> None:
        """Every value made of channels, as they stand by now."""
        job = self._bench.job
        self.values = self._value_watch.look(job, self.standings, time.monotonic()) if self.is_on else {}
        for value in job.watch.values:
            found = self.values.get(value.id)
            if found is not None:
                self.standings[value.id] = found.standing(value)

    def _look_at_pairs(self) -> None:
        """Every pair, by the last minute of its sensors and of all that moves beside them."""
        job = self._bench.job
        if not job.watch.pairs or not self.is_on:
            self.pairs = {}
            return
        self._looks += 1
        if self._looks % _PAIRS_EVERY != 1 and self._judged.keys() == {pair.id for pair in job.watch.pairs}:
            self.standings.update(self._judged)
            return
        self.pairs, self._judged = {}, {}
        live = [one for one in job.channels if isinstance(one, ContinuousChannel) and self._is_sound(one.id)]
        courses = {one.id: self.course(one) for one in live}
        courses |= {one.id: self.value_course(one) for one in job.watch.values}
        made = {key: now.expanded for key, now in self.values.items()}
        for pair in job.watch.pairs:
            try:
                self.pairs[pair.id] = found = pair_now(job, pair, courses, self._references(pair), made)
                self._judged[pair.id] = found.standing(job)
            except YardstickError as error:
                self._judged[pair.id] = ChannelStanding("value", "not compared", str(error))
        self.standings.update(self._judged)

    def _references(self, pair: SensorPair) -> dict[str, Series]:
        """What references beside a pair's sensors said just now, corrected, each in its channel's unit."""
        found = {}
        for one in pair.channels:
            channel = self._bench.job.document.by_id.get(one)
            live = self._live.reference(channel)
            if live is None or live.is_stale or not isinstance(channel, ContinuousChannel):
                continue
            known = {instrument.id: instrument for instrument in self._bench.job.references}
            series = self._live.window(live, _REFERENCE_S).good
            with suppress(YardstickError):
                found[one] = reference_in_value(channel, series, known.get(live.feed.reference), live.feed.unit)
        return found

    def _is_sound(self, channel_id: str) -> bool:
        standing = self.standings.get(channel_id)
        return standing is not None and standing.value is not None and not standing.is_fault

    # -- the last minute --------------------------------------------------------------------------------------------

    def trend(self, channel: AnyChannel) -> Trend:
        """The last minute of a channel, at its pin, as of this look."""
        if channel.id not in self._trends:
            series = self._pins(channel)
            made = _NO_TREND if series is None else Trend(series.times_s - time.monotonic(), series.values)
            self._trends[channel.id] = made
        return self._trends[channel.id]

    def pin_now(self, channel: AnyChannel) -> float | None:
        """The newest signal at the pin, which moves between two looks; None without any."""
        raw = self._live.raw(channel)
        if raw is None or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return None
        try:
            newest = pins_of(channel, raw.stream.window(newest=_NEWEST).good).values
        except YardstickError:
            return None
        return float(newest[-1]) if len(newest) else None

    def _pins(self, channel: AnyChannel) -> Series | None:
        raw = self._live.raw(channel)
        if raw is None or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return None
        try:
            return pins_of(channel, raw.stream.after(time.monotonic() - WINDOW_S).good)
        except YardstickError:
            return None

    def course(self, channel: ContinuousChannel) -> Series:
        """The last minute of a channel in its unit, by the curve in use; empty without one."""
        if channel.id not in self._courses:
            pins = self._pins(channel)
            self._courses[channel.id] = EMPTY if pins is None else valued(self._bench.job, channel, pins)
        return self._courses[channel.id]

    def value_trend(self, value: AnyWatched) -> Trend:
        """The last minute of a value made of channels, as it was reckoned then."""
        times, values = self._value_watch.course(value.id)
        return Trend(times - time.monotonic(), values)

    def value_course(self, value: AnyWatched) -> Series:
        """The same in monotonic s."""
        times, values = self._value_watch.course(value.id)
        recent = times >= time.monotonic() - WINDOW_S
        return Series.of(times[recent], values[recent], Met("pin", value.unit))

    def value_at(self, channel: AnyChannel, pin: float) -> float | None:
        """A signal as a value of a channel, by the curve in use; None without one."""
        use = curve_in_use(self._bench.job, channel) if isinstance(channel, ContinuousChannel) else None
        return None if use is None else float(use.curve.value(pin))

    def acknowledge(self, item: AttentionItem) -> None:
        """Say of something that it was seen."""
        self.attention = self.attention.acknowledged(item)
        self.changed.emit()

    # -- the log ----------------------------------------------------------------------------------------------------

    def start_log(self, path: Path) -> None:
        """Log everything from now on. Raises: NotApplicable, BadTable."""
        self.recorder = Recorder(path, self._live.hub.feeds(), self._bench.job)
        self._logged_job = self._bench.job.id
        self.changed.emit()

    def stop_log(self) -> LogTotals | None:
        """End the log; gives what it has taken, None where none ran."""
        recorder, self.recorder = self.recorder, None
        totals = None if recorder is None else recorder.stop()
        self.changed.emit()
        return totals

    def keep(self, path: Path, seconds: float = WINDOW_S) -> LogTotals:
        """Keep what just happened as a log of its own. Raises: NotApplicable, BadTable."""
        return Recorder(path, self._live.hub.feeds(), self._bench.job, past_s=seconds).stop()

    def note(self, says: str) -> None:
        """Write something down in the log that runs."""
        if self.recorder is not None:
            self.recorder.note(says)

    def _follow(self, change: Change) -> None:
        if not change.job:
            return
        if self.recorder is None:
            return
        if self._bench.job.id == self._logged_job:
            self.recorder.follow(self._bench.job)
            return
        path = self.recorder.path
        self.stop_log()
        self.told.emit(f"The log of the job before is ended: {path}.", False)
