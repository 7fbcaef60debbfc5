"""Values that a person types as they are read off a display."""

import threading
from collections.abc import Iterator

from ..core.document.sources import ManualSource
from .source import LISTEN_S, Batch, OpenSource, one

TYPED_STANDS_S = 60.0  # how long a value that a person typed stands for the present


class Manual(OpenSource):
    """Gives each typed value once."""

    keeps_orders = True

    def __init__(self, spec: ManualSource) -> None:
        self.spec: ManualSource = spec
        self._waiting: list[tuple[str, float]] = []
        self._lock = threading.Lock()
        self._sequence = 0

    @property
    def period_s(self) -> float:
        """Values come when they are typed."""
        return LISTEN_S

    @property
    def stale_after_s(self) -> float:
        """What was read off stands for a while."""
        return TYPED_STANDS_S

    def open(self) -> str:
        """It is always there."""
        return "waits for what is typed"

    def enter(self, feed: str, value: float) -> None:
        """Take a typed value."""
        with self._lock:
            self._waiting.append((feed, value))

    def poll(self) -> Iterator[Batch]:
        """What was typed since the last poll."""
        with self._lock:
            typed, self._waiting = self._waiting, []
        for feed, value in typed:
            self._sequence += 1
            yield one(feed, value, self._sequence)

    def close(self) -> None:
        """Nothing to let go of."""
