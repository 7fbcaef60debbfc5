"""What the lookout knows while it looks: how every channel stands, the last minute of each, and the log that runs."""

import time
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QObject, Signal

from ...bench.recorder import LogTotals, Recorder
from ...core.document.channel import AnyChannel, ContinuousChannel, TwoStateChannel, WiredChannel
from ...core.job.in_force import curve_in_use
from ...core.job.pins import pins_of
from ...core.lookout.attention import Attention, AttentionItem
from ...core.lookout.standing import ChannelStanding, standing_of
from ...core.words.errors import YardstickError
from ..frame.live import LiveBench
from ..frame.workbench import Change, Workbench

Array = NDArray[np.float64]
WINDOW_S = 60.0


class Trend:
    """The last minute of a channel: seconds before now (below 0), and signals at the pin; shapes (n,)."""

    def __init__(self, ago_s: Array, pins: Array) -> None:
        self.ago_s, self.pins = ago_s, pins

    def at(self, ago_s: float) -> float | None:
        """The signal so many seconds before now (below 0); None where none came near then."""
        if not len(self.ago_s):
            return None
        at = int(np.argmin(np.abs(self.ago_s - ago_s)))
        return float(self.pins[at]) if abs(self.ago_s[at] - ago_s) < _NEAR_S else None


_NEAR_S = 1.5
_NO_TREND = Trend(np.zeros(0), np.zeros(0))


class Watcher(QObject):
    """Looks at every live channel four times a second, whether the lookout is seen or not."""

    changed = Signal()
    told = Signal(str, bool)  # something to say, and whether it went wrong

    def __init__(self, bench: Workbench, live: LiveBench, parent: QObject) -> None:
        super().__init__(parent)
        self._bench, self._live = bench, live
        self.standings: dict[str, ChannelStanding] = {}
        self.attention = Attention()
        self.recorder: Recorder | None = None
        self._logged_job = ""
        live.slow_ticked.connect(self._look)
        live.connected.connect(lambda _on: self._look())
        bench.changed.connect(self._follow)

    @property
    def is_on(self) -> bool:
        """Whether anything is live."""
        return self._live.is_on

    def _look(self) -> None:
        job = self._bench.job
        self.standings = {}
        for channel in job.channels:
            if isinstance(channel, ContinuousChannel | TwoStateChannel) and self._live.raw(channel) is not None:
                self.standings[channel.id] = standing_of(job, channel, self._pin(channel))
        self.attention = self.attention.seen(self.standings, time.time()) if self.is_on else Attention()
        if self.recorder is not None and self.recorder.refusal:
            self.told.emit(self.recorder.refusal, True)
            self.stop_log()
        self.changed.emit()

    def _pin(self, channel: WiredChannel) -> float | None:
        raw = self._live.raw(channel)
        try:
            return None if raw is None or raw.is_stale else self._live.pin(channel)
        except YardstickError:
            return None

    def trend(self, channel: AnyChannel) -> Trend:
        """The last minute of a channel."""
        raw = self._live.raw(channel)
        if raw is None or not isinstance(channel, ContinuousChannel | TwoStateChannel):
            return _NO_TREND
        now_s = time.monotonic()
        try:
            series = pins_of(channel, raw.stream.after(now_s - WINDOW_S).good)
        except YardstickError:
            return _NO_TREND
        return Trend(series.times_s - now_s, series.values)

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
        if not change.job or self.recorder is None:
            return
        if self._bench.job.id == self._logged_job:
            self.recorder.follow(self._bench.job)
            return
        path = self.recorder.path
        self.stop_log()
        self.told.emit(f"The log of the job before is ended: {path}.", False)
