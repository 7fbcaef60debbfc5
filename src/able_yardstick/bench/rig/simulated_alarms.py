"""The alarms of a simulated controller: what it makes of a value it shows, scan by scan, with dead bands and delays."""

import math
from collections.abc import Sequence

from ...core.document.alarm import ALARM_BITS, Alarm, FaultRule
from ...core.document.channel import ContinuousChannel, TwoStateChannel, WiredChannel
from ...core.document.sound_band import sound_band

_READS = {"reads low": -math.inf, "reads high": math.inf}


class SimulatedAlarms:
    """The alarms of one channel as they are set in the controller; `word` is what its register tells."""

    def __init__(self, channel: WiredChannel) -> None:
        self._channel = channel
        self._alarms: tuple[Alarm, ...] = ()
        self._rule = FaultRule()
        self._since_s: dict[str, float] = {}
        self._standing: set[str] = set()
        self._value = 0.0
        self.word = 0
        if isinstance(channel, ContinuousChannel):
            self.enter(channel.alarms, channel.fault_rule)

    def enter(self, alarms: Sequence[Alarm], rule: FaultRule) -> None:
        """Set other limits, as a hand at the controller would."""
        self._alarms, self._rule = tuple(alarms), rule
        self._since_s.clear()
        self._standing.clear()

    def step(self, value: float, signal: float, elapsed_s: float) -> None:
        """Go on by so many seconds with a value shown and the signal that the count is taken for, in the pin's unit."""
        if isinstance(self._channel, TwoStateChannel):
            self._follow_contact(self._channel, signal)
        else:
            self._value = self._believed(self._channel, value, signal)
            for alarm in self._alarms:
                self._look(alarm, elapsed_s)
        self.word = sum(ALARM_BITS[name] for name in self._standing)

    def _follow_contact(self, channel: TwoStateChannel, level: float) -> None:
        before = "open" if "open" in self._standing else "closed"
        state = channel.state(level, "open" if before == "open" else "closed")
        self._standing = {"open"} if state == "open" else set()

    def _believed(self, channel: ContinuousChannel, value: float, signal: float) -> float:
        """The value as the alarms see it: of a fault what the controller makes of one."""
        if self._rule.on_fault == "shown as it is" or not self._is_fault(channel, signal):
            return value
        return _READS.get(self._rule.on_fault, self._value)  # else the last one is held

    def _is_fault(self, channel: ContinuousChannel, signal: float) -> bool:
        low, high = self._rule.low, self._rule.high
        if not self._rule.stated:
            band = sound_band(channel)
            low, high = (None, None) if band is None else band
        return (low is not None and signal < low) or (high is not None and signal > high)

    def _look(self, alarm: Alarm, elapsed_s: float) -> None:
        value, kind = self._value, alarm.kind
        if value >= alarm.limit if alarm.is_high else value <= alarm.limit:
            self._since_s[kind] = self._since_s.get(kind, -elapsed_s) + elapsed_s
            if self._since_s[kind] >= alarm.delay_s:
                self._standing.add(kind)
            return
        self._since_s.pop(kind, None)
        if value < alarm.clears_at if alarm.is_high else value > alarm.clears_at:
            self._standing.discard(kind)
