"""Pairs taken by themselves: a signal injected at the terminal, and what the controller then shows."""

import time

from PySide6.QtCore import QObject, Signal

from ....core.document.channel import ContinuousChannel
from ....core.prove.recovery.candidates import Recovered, recovered
from ....core.prove.recovery.next_signal import next_count
from ....core.prove.recovery.pairs import SeenPairs, seen_pairs
from ....core.words.numerals import plain_decimals
from ...frame.live import LiveBench
from ...rig.process import KnobLink

PAIRS = 16
_SETTLE_S = 0.5
_PATIENCE_S = 6.0
_SINGLE = 2e-6  # of the largest value: what a controller's single precision keeps


class Injection(QObject):
    """Asks for one count after the other, each where it tells most, and waits until the controller shows it."""

    paired = Signal(float, float)  # count and what is shown
    ended = Signal(str)  # why; empty when all pairs are taken

    def __init__(self, channel: ContinuousChannel, live: LiveBench, knobs_port: int, parent: QObject) -> None:
        super().__init__(parent)
        self._channel, self._live = channel, live
        self._knobs = KnobLink(knobs_port, self)
        self._knobs.refused.connect(self._end)
        self._counts: list[float] = []
        self._shown: list[float] = []
        self._wanted: int | None = None
        self._since_s = 0.0
        live.slow_ticked.connect(self._tick)

    def start(self) -> None:
        """Begin at the lower end."""
        self._inject(0)

    def stop(self) -> None:
        """Take the signal off again."""
        if self._wanted is not None:
            self._end("Stopped.")

    def _inject(self, count: int) -> None:
        self._wanted, self._since_s = count, time.monotonic()
        signal = float(self._channel.path.converter.inverse(count))
        self._knobs.turn(do="inject", tag=self._channel.tag, signal=signal)

    def _tick(self) -> None:
        raw, shown = self._live.raw(self._channel), self._live.shown(self._channel)
        if self._wanted is None or raw is None or shown is None:
            return
        waited = time.monotonic() - self._since_s
        value, count = shown.latest(), raw.latest()
        if waited < _SETTLE_S or value is None or count is None or round(count) != self._wanted:
            if waited > _PATIENCE_S:
                self._end(
                    f"Count {self._wanted} did not come within {_PATIENCE_S:g} s: is the rig's signal injected here?"
                )
            return
        self._counts.append(float(self._wanted))
        self._shown.append(float(value))
        self.paired.emit(float(self._wanted), float(value))
        following = self._next()
        if following is None or len(self._counts) >= PAIRS:
            self._end("")
        else:
            self._inject(following)

    def _next(self) -> int | None:
        full = self._channel.path.converter.full_count
        if len(self._counts) < 2:
            return full
        seen, found = read_out(self._counts, self._shown)
        return next_count(seen, found, full)

    def _end(self, why: str) -> None:
        self._wanted = None
        self._knobs.turn(do="inject", tag=self._channel.tag, signal=None)
        self.ended.emit(why)


def read_out(counts: list[float], shown: list[float], slack: float = 0.0) -> tuple[SeenPairs, tuple[Recovered, ...]]:
    """What pairs say; values of single precision are rounded to the digits that it keeps. Raises: BadTable."""
    most = max((abs(value) for value in shown), default=1.0) or 1.0
    kept = max(0, -int(f"{_SINGLE * most:.0e}".partition("e")[2]))
    decimals = min(max((plain_decimals(value) for value in shown), default=0), kept)
    pairs = seen_pairs(counts, [round(value, decimals) for value in shown], decimals, slack)
    return pairs, recovered(pairs)
