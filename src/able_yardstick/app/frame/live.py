"""The live bench beside the job: links to its sources, and a tick at which widgets look at what came."""

import time
from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, QTimer, Signal

from ...bench.hub import Hub, Live
from ...bench.replay import Replay
from ...core.document.channel import AnyChannel, WiredChannel
from ...core.document.sources import AnySource, ReplaySource
from ...core.job.pins import pins_of
from ...core.journal.sample import EMPTY, Series
from ...core.units.electrical import SignalUnit, is_signal_in
from .workbench import Change, Workbench

TICK_MS = 30
_SLOW_TICKS = 8
_NEWEST = 10  # samples that stand for the present


class LiveBench(QObject):
    """Connects to the job's sources when asked to; nothing is connected by opening a job."""

    ticked = Signal()  # more than thirty times a second while connected
    slow_ticked = Signal()  # four times a second
    connected = Signal(bool)

    def __init__(self, bench: Workbench, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._bench = bench
        self.hub = Hub()
        self._ticks = 0
        self._job_id = ""
        self._replayed: ReplaySource | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(TICK_MS)
        self._timer.timeout.connect(self._tick)
        bench.changed.connect(self._follow)

    @property
    def is_on(self) -> bool:
        """Whether links run."""
        return self._timer.isActive()

    def connect_all(self) -> None:
        """Run a link for each source that is switched on."""
        self._replayed = None
        self._run()

    def replay(self, source: ReplaySource) -> None:
        """Play a log in place of the job's own sources, until they are connected again."""
        self._replayed = source
        self._run()

    @property
    def replayed(self) -> Replay | None:
        """What is played back, if anything is."""
        if self._replayed is None or not self.is_on:
            return None
        link = self.hub.link(self._replayed.id)
        return link.source if link is not None and isinstance(link.source, Replay) else None

    def order_replay(self, act: Callable[[Replay], None]) -> None:
        """Have something done with what is played back, in its own thread."""
        link = None if self._replayed is None else self.hub.link(self._replayed.id)
        if link is not None:
            link.order(lambda source: act(source) if isinstance(source, Replay) else None)

    def _run(self) -> None:
        self._job_id = self._bench.job.id
        self.hub.run(self._sources)
        self._timer.start()
        self.connected.emit(True)

    @property
    def _sources(self) -> Sequence[AnySource]:
        return self._bench.job.sources if self._replayed is None else (self._replayed,)

    def disconnect_all(self) -> None:
        """End all links."""
        self._replayed = None
        self._timer.stop()
        self.hub.stop()
        self.connected.emit(False)

    def _follow(self, change: Change) -> None:
        if not change.job or not self.is_on:
            return
        if self._bench.job.id != self._job_id:
            self.disconnect_all()  # another job was opened: its sources are for the person to connect
        else:
            self.hub.run(self._sources)

    def _tick(self) -> None:
        self._ticks += 1
        self.ticked.emit()
        if self._ticks % _SLOW_TICKS == 0:
            self.slow_ticked.emit()

    # -- what is seen of the channel looked at ----------------------------------------------------------------------

    def raw(self, channel: AnyChannel | None) -> Live | None:
        """The feed of a channel's raw signal, if any."""
        return None if channel is None or not self.is_on else self.hub.of_channel(channel.id, "raw")

    def shown(self, channel: AnyChannel | None) -> Live | None:
        """The feed of what the controller shows for a channel."""
        return None if channel is None or not self.is_on else self.hub.of_channel(channel.id, "shown")

    def reference(self, channel: AnyChannel | None) -> Live | None:
        """The feed of the reference beside a channel."""
        return None if channel is None or not self.is_on else self.hub.of_channel(channel.id, "reference")

    def alarms(self, channel: AnyChannel | None) -> Live | None:
        """The feed of the word that tells which alarms of a channel stand, or that a contact is open."""
        return None if channel is None or not self.is_on else self.hub.of_channel(channel.id, "alarms")

    def meter(self, unit: SignalUnit) -> Live | None:
        """A meter that can be held to any terminal and reads this kind of signal, if one answers."""
        if not self.is_on:
            return None
        fitting = (live for live in self.hub.meters() if is_signal_in(live.feed.unit, unit))
        return next((live for live in fitting if not live.is_stale), None)

    def pin(self, channel: WiredChannel) -> float | None:
        """The signal at the pin now, the mean of the newest good samples; None before any came.

        Raises: UnitMismatch.
        """
        raw = self.raw(channel)
        return None if raw is None else self.pin_of(channel, raw)

    @staticmethod
    def pin_of(channel: WiredChannel, raw: Live) -> float | None:
        """The same by the feed of its raw signal. Raises: UnitMismatch."""
        newest = raw.stream.window(newest=_NEWEST).good
        return float(pins_of(channel, newest).values.mean()) if len(newest) else None

    def window(self, live: Live | None, seconds: float) -> Series:
        """The samples of the last seconds up to now; empty without a feed."""
        if live is None:
            return EMPTY
        return live.stream.after(time.monotonic() - seconds)

    def words(self) -> str:
        """How the links stand, in a few words."""
        if not self.is_on:
            return "not connected"
        if self._replayed is not None:
            played = self.replayed
            state = "" if played is None else ", held" if played.is_held else ", over" if played.is_over else ""
            return f"replays {self._replayed.name}{state}"
        standing = [link.status.standing for link in self.hub.links]
        answering = sum(one == "answering" for one in standing)
        return f"{answering} of {len(standing)} sources answer"
