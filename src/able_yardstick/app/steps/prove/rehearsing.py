"""A rehearsal that runs by itself: each signal is put on the terminal, and what the controller tells is watched."""

import time

from PySide6.QtCore import QObject, Signal

from ....core.alarms.rehearsal import RehearsalStep
from ....core.document.alarm import told_by
from ....core.document.channel import ContinuousChannel, WiredChannel
from ...frame.live import LiveBench
from ...rig.process import KnobLink

_SETTLE_S = 1.0  # until a controller that answers slowly has told what it sees
_PATIENCE_S = 3.0  # beyond the longest delay of an alarm


class Rehearsing(QObject):
    """Goes through steps one after the other; what must not come is waited for as long as it could take to come."""

    tried = Signal(object, bool, float)  # step, whether it was as expected, seconds until it came (below 0: not timed)
    ended = Signal(str)  # why; empty when all was tried

    def __init__(self, channel: WiredChannel, live: LiveBench, knobs_port: int, parent: QObject) -> None:
        super().__init__(parent)
        self._channel, self._live = channel, live
        self._knobs = KnobLink(knobs_port, self)
        self._knobs.refused.connect(self._end)
        self._left: list[RehearsalStep] = []
        self._now: RehearsalStep | None = None
        self._since_s = self._came_s = 0.0
        self._moved = False
        live.slow_ticked.connect(self._tick)

    @property
    def is_running(self) -> bool:
        """Whether a step is being tried."""
        return self._now is not None

    def start(self, steps: tuple[RehearsalStep, ...]) -> None:
        """Begin; steps whose pin floats cannot be put on and are left out. The rig's controller takes the limits."""
        self._left = [step for step in steps if step.signal is not None]
        channel = self._channel
        if isinstance(channel, ContinuousChannel):
            rows = [alarm.model_dump() for alarm in channel.alarms]
            self._knobs.turn(do="alarms", tag=channel.tag, alarms=rows, rule=channel.fault_rule.model_dump())
        self._next()

    def stop(self) -> None:
        """Take the signal off again."""
        if self._now is not None:
            self._end("Stopped.")

    def _next(self) -> None:
        if not self._left:
            self._end("")
            return
        self._now = self._left.pop(0)
        self._since_s, self._moved = time.monotonic(), False
        self._knobs.turn(do="inject", tag=self._channel.tag, signal=self._now.signal)

    @property
    def _longest_s(self) -> float:
        """The longest delay of an alarm."""
        alarms = self._channel.alarms if isinstance(self._channel, ContinuousChannel) else ()
        return max((alarm.delay_s for alarm in alarms), default=0.0)

    def _tick(self) -> None:
        step, told = self._now, self._live.alarms(self._channel)
        if step is None or told is None:
            return
        word, waited = told.latest(), time.monotonic() - self._since_s
        standing = frozenset() if word is None else told_by(round(word))
        is_so = word is not None and all((name in standing) == must for name, must in step.wanted)
        if not is_so:
            self._moved, self._came_s = True, 0.0
        elif not self._came_s:
            self._came_s = waited
        waits = _SETTLE_S + (self._longest_s if any(not must for _name, must in step.wanted) else 0.0)
        if is_so and waited >= waits:
            self._tell(step, True)
        elif waited > self._longest_s + _SETTLE_S + _PATIENCE_S:
            self._tell(step, False)

    def _tell(self, step: RehearsalStep, as_expected: bool) -> None:
        came_s = self._came_s if as_expected and self._moved else -1.0
        self._came_s = 0.0
        self.tried.emit(step, as_expected, came_s)
        if self._now is step:  # else it was stopped
            self._next()

    def _end(self, why: str) -> None:
        self._now, self._left = None, []
        self._knobs.turn(do="inject", tag=self._channel.tag, signal=None)
        self.ended.emit(why)
