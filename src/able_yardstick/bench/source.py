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
    """New values of one feed: monotonic times in s, values in its unit, and the source's numbers, shapes (n,)."""

    feed: str
    times_s: Array
    values: Array
    sequences: NDArray[np.int64]


class OpenSource(ABC):
    """An open source. It is opened, polled and closed by one thread, its link's."""

    spec: AnySource
    capacity: ClassVar[int] = CAPACITY  # values that are kept of each feed
    keeps_orders: ClassVar[bool] = False  # whether what was asked of it before it dropped still holds

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
    """Puts a source's own times on our monotonic clock: by the least delay seen, anew when they drift apart."""

    _DRIFT_S = 0.25

    def __init__(self) -> None:
        self._shift_s: float | None = None

    def ours(self, times_s: Array) -> Array:
        """The source's times as monotonic ones, shape (n,)."""
        now = time.monotonic()
        seen = now - float(times_s[-1])
        if self._shift_s is None or seen < self._shift_s or seen - self._shift_s > self._DRIFT_S:
            self._shift_s = seen
        return np.asarray(times_s + self._shift_s)


def one(feed: str, value: float, sequence: int) -> Batch:
    """A single value that came just now."""
    return Batch(feed, np.array([time.monotonic()]), np.array([value]), np.array([sequence]))
