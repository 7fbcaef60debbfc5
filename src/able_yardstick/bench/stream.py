"""A bounded store of one feed's samples, filled by a link and looked at by everyone else."""

import threading

import numpy as np
from numpy.typing import NDArray

from ..core.journal.sample import BAD, GOOD, Series
from ..core.path.node import COUNTS, Met

Array = NDArray[np.float64]
CAPACITY = 1 << 16  # eleven minutes at 100 Hz
FAST_CAPACITY = 1 << 18  # half of it is always kept: a burst of 120 000 fits
_FIRST = 1 << 12
_ANEW = 1000


class Stream:
    """Samples in the order they came, `met` at one place; the oldest give way when it is full.

    Safe to use from several threads.
    """

    def __init__(self, capacity: int = CAPACITY, met: Met = COUNTS) -> None:
        self._capacity, self.met = capacity, met
        self._room = min(_FIRST, capacity)
        self._times = np.zeros(self._room)
        self._walls = np.zeros(self._room)
        self._values = np.zeros(self._room)
        self._sequences = np.zeros(self._room, dtype=np.int64)
        self._states = np.zeros(self._room, dtype=np.uint8)
        self._reasons: dict[int, str] = {}
        self._lock = threading.Lock()
        self._end = 0  # one behind the newest sample
        self.total = 0
        self.placed = 0  # samples that were ever put in, gaps among them
        self.lost = 0
        self.out_of_order = 0
        self._last_sequence = -1
        self.received_s = -np.inf

    def append(
        self, times_s: Array, walls_s: Array, values: Array, sequences: NDArray[np.int64], received_s: float
    ) -> None:
        """Take good samples, arrays of one shape (n,); those without a finite value count as bad.

        None is later than when it was received, nor earlier than the one before.
        """
        if not len(times_s):
            return
        with self._lock:
            self._count(np.asarray(sequences))
            states = np.where(np.isfinite(values), GOOD, BAD).astype(np.uint8)
            before = self._times[self._end - 1] if self._end else -np.inf
            late = np.maximum(times_s - received_s, 0.0)
            times = np.maximum.accumulate(np.maximum(times_s - late, before))
            self._put(times, walls_s - late, values, sequences, states)
            self.received_s = received_s

    def mark_gap(self, reason: str) -> None:
        """Say that nothing came after the last sample, and why; a gap that goes on is marked once."""
        with self._lock:
            if not self._end:
                return
            time_s, wall_s = float(self._times[self._end - 1]), float(self._walls[self._end - 1])
            if self._states[self._end - 1] == BAD and self._last_reason() == reason:
                return
            sequence = max(self._last_sequence, 0)
            self._reasons[sequence] = reason
            one = np.array([time_s])
            self._put(
                one, np.array([wall_s]), np.array([np.nan]), np.array([sequence]), np.array([BAD], dtype=np.uint8)
            )

    def _last_reason(self) -> str:
        return self._reasons.get(int(self._sequences[self._end - 1]), "")

    def _count(self, sequences: NDArray[np.int64]) -> None:
        """Losses and order by the source's numbers; far back means that it started numbering anew."""
        if sequences[0] < self._last_sequence - _ANEW:
            self._last_sequence = -1
        steps = np.diff(sequences, prepend=self._last_sequence if self._last_sequence >= 0 else sequences[0] - 1)
        self.lost += int((steps - 1).clip(0).sum())
        self.out_of_order += int((steps <= 0).sum())
        self.total += len(sequences)
        self._last_sequence = int(sequences[-1])

    def _put(self, *columns: NDArray[np.generic]) -> None:
        count = min(len(columns[0]), self._capacity)  # of more than there is room for, the newest
        if self._end + count > self._room:
            self._make_room(count)
        stretch = slice(self._end, self._end + count)
        for store, column in zip(self._stores, columns, strict=True):
            store[stretch] = column[-count:]
        self._end += count
        self.placed += len(columns[0])

    @property
    def _stores(self) -> tuple[NDArray[np.generic], ...]:
        return self._times, self._walls, self._values, self._sequences, self._states

    def _make_room(self, count: int) -> None:
        """Double the stores until they are full, then drop the older half."""
        if self._room < self._capacity:
            self._room = min(max(self._room * 2, self._end + count), self._capacity)
            grown = [np.concatenate([store[: self._end], np.zeros(self._room - self._end, store.dtype)])
                     for store in self._stores]  # fmt: skip
            self._times, self._walls, self._values, self._sequences, self._states = grown
        if self._end + count > self._room:
            kept = max(min(self._room // 2, self._room - count), 0)
            for store in self._stores:
                store[:kept] = store[self._end - kept : self._end].copy()
            self._end = kept

    @property
    def first_s(self) -> float | None:
        """When the oldest sample that is kept came, in monotonic s; None before any did."""
        with self._lock:
            return float(self._times[0]) if self._end else None

    def window(self, seconds: float | None = None, newest: int | None = None) -> Series:
        """The samples of the last seconds before the newest, or the newest so many; a copy."""
        with self._lock:
            start = 0
            if newest is not None:
                start = max(self._end - newest, 0)
            elif seconds is not None and self._end:
                start = int(np.searchsorted(self._times[: self._end], self._times[self._end - 1] - seconds))
            times, walls, values, sequences, states = (store[start : self._end].copy() for store in self._stores)
            return Series(times, walls, values, sequences, states, dict(self._reasons), self.met)  # type: ignore[arg-type]

    def newer(self, mark: int) -> tuple[Series, int]:
        """What was put in after `mark` samples were, and how many there are now; what gave way by then is not there."""
        with self._lock:
            start = max(self._end - (self.placed - mark), 0)
            times, walls, values, sequences, states = (store[start : self._end].copy() for store in self._stores)
            found = Series(times, walls, values, sequences, states, dict(self._reasons), self.met)  # type: ignore[arg-type]
            return found, self.placed

    def after(self, time_s: float) -> Series:
        """The samples later than a moment; a copy."""
        with self._lock:
            start = int(np.searchsorted(self._times[: self._end], time_s, side="right"))
            times, walls, values, sequences, states = (store[start : self._end].copy() for store in self._stores)
            return Series(times, walls, values, sequences, states, dict(self._reasons), self.met)  # type: ignore[arg-type]
