"""What every source can do once it is open, and how its values reach the streams."""

import time
from abc import ABC, abstractmethod
from collections.abc import Iterator
from typing import ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..core.document.sources import AnySource
from .stream import CAPACITY

Array = NDArray[np.float64]
STALE_AFTER_S = 0.8  # so that a value is drawn as stale within a second of the last
LISTEN_S = 0.02  # between two looks at what came by itself
_PERIODS_TO_STALE = 2.5


class Batch(NamedTuple):
    """New values of one feed: monotonic times in s, values in its unit, and the source's numbers, shapes (n,).

    `leap` says what makes their times doubtful: a window that holds it is no good.
    """

    feed: str
    times_s: Array
    values: Array
    sequences: NDArray[np.int64]
    leap: str = ""


class OpenSource(ABC):
    """An open source. It is opened, polled and closed by one thread, its link's."""

    spec: AnySource
    capacity: ClassVar[int] = CAPACITY  # values that are kept of each feed
    keeps_orders: ClassVar[bool] = False  # whether what was asked of it before it dropped still holds
    remark: str = ""  # what of it was left out, in words

    @property
    @abstractmethod
    def period_s(self) -> float:
        """From one poll to the next."""

    @property
    def stale_after_s(self) -> float:
        """How long after the last value it no longer stands for the present."""
        return max(STALE_AFTER_S, _PERIODS_TO_STALE / self.spec.rate_hz)

    @abstractmethod
    def open(self) -> str:
        """Connect, and say what is there. Raises: NoLink, BadAnswer."""

    @abstractmethod
    def poll(self) -> Iterator[Batch]:
        """What came since the last time, without waiting for more. Raises: NoLink, BadAnswer."""

    @abstractmethod
    def close(self) -> None:
        """Let go of the link; never raises."""

    def command(self, feed: str, value: float) -> None:
        """Move the stimulus a feed measures. Raises: NoLink, or NotApplicable where it cannot."""
        from ..core.words.errors import NotApplicable

        raise NotApplicable(f"{self.spec.name} cannot set {feed}: set it by hand.")


class SourceClock:
    """Puts a source's own times on our monotonic clock: by the least delay seen, anew when they drift apart.

    A clock that starts again after `wraps_s` goes on. A step back, or one longer than the time that passed here, is no
    step of a clock: it is left out, and told of in `leap` until the next call.
    """

    _DRIFT_S = 0.25
    _SLACK_S = 2.0  # what may have waited at the source

    def __init__(self, wraps_s: float | None = None) -> None:
        self._wraps_s = wraps_s
        self._last_s: float | None = None  # as it came
        self._at_s = 0.0  # with its leaps left out
        self._seen_s = 0.0  # by our clock
        self._shift_s: float | None = None
        self.leap = ""

    def ours(self, times_s: Array) -> Array:
        """The source's times as monotonic ones, shape (n,); none is later than now."""
        now = time.monotonic()
        times = self._steady(times_s, now)
        seen = now - float(times[-1])
        if self._shift_s is None or seen < self._shift_s or seen - self._shift_s > self._DRIFT_S:
            self._shift_s = seen
        return np.asarray(times + self._shift_s)

    def _steady(self, times_s: Array, now_s: float) -> Array:
        """The times without leaps, going on from the last."""
        begins = self._last_s is None
        steps = np.diff(times_s, prepend=times_s[0] if self._last_s is None else self._last_s)
        if self._wraps_s is not None:
            steps = np.where(steps < 0, steps + self._wraps_s, steps)
        longest = self._SLACK_S if begins else now_s - self._seen_s + self._SLACK_S
        odd = ~((steps >= 0) & (steps <= longest))
        self.leap = f"its clock leapt by {steps[odd][0]:.6g} s" if odd.any() else ""
        times = np.asarray(self._at_s + np.cumsum(np.where(odd, 0.0, steps)))
        self._last_s, self._at_s, self._seen_s = float(times_s[-1]), float(times[-1]), now_s
        return times


def one(feed: str, value: float, sequence: int) -> Batch:
    """A single value that came just now."""
    return Batch(feed, np.array([time.monotonic()]), np.array([value]), np.array([sequence]))
