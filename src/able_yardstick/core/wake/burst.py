"""A fast capture: what came about a trigger, unsmoothed, with its peaks and whether they were cut off."""

from typing import Literal, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..journal.sample import Series
from ..words.errors import TooFewReadings
from ..words.numerals import counted, significant

Array = NDArray[np.float64]
Edge = Literal["rising", "falling"]
_FLAT_LEAST = 3


class Burst(NamedTuple):
    """Samples from before the trigger to the end; times from the trigger in s, shape (n,). `at` is its position."""

    times_s: Array
    values: Array
    at: int
    clipped_high: int
    clipped_low: int

    @property
    def words(self) -> str:
        """Peaks, and a warning where they were cut off."""
        peak = f"{counted(len(self.values), 'sample')}, {significant(float(self.values.min()), 5)} to "
        peak += significant(float(self.values.max()), 5)
        cut = [name for name, count in (("top", self.clipped_high), ("bottom", self.clipped_low)) if count]
        if not cut:
            return f"{peak}."
        return (
            f"{peak}. The {' and the '.join(cut)} may be cut off: {self.clipped_high + self.clipped_low} samples stand "
            "at the end of what can be read, so the true peak is unknown."
        )


def crossing(values: Array, level: float, edge: Edge) -> int | None:
    """The first of samples (n,) that has crossed a level, in their unit, that way, from one that had not; else None."""
    above = values >= level if edge == "rising" else values <= level
    crossed = np.flatnonzero(above[1:] & ~above[:-1])
    return int(crossed[0]) + 1 if len(crossed) else None


def burst_about(series: Series, at: int, before: int, count: int, ends: tuple[float, float] | None = None) -> Burst:
    """The samples about a trigger: up to `before` ahead of it, `count` in all; `ends` are the least and most readable.

    Values that stand at an end, three or more in a row, count as clipped. Raises: TooFewReadings if none is good.
    """
    start = max(at - before, 0)
    part = series.where(np.isin(np.arange(len(series)), np.arange(start, min(start + count, len(series)))))
    good = part.good
    if not len(good):
        raise TooFewReadings("No good sample came: the burst is empty. See what the source says.", needed=1, found=0)
    times = good.times_s - series.times_s[at]
    low, high = ends if ends is not None else (-np.inf, np.inf)
    return Burst(
        times, good.values, int(np.searchsorted(times, 0.0)), _flat(good.values >= high), _flat(good.values <= low)
    )


def _flat(at_end: NDArray[np.bool_]) -> int:
    """Samples in runs of at least three."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], at_end, [False]]).astype(int)))
    runs = edges[1::2] - edges[::2]
    return int(runs[runs >= _FLAT_LEAST].sum())


def smoothed(values: Array, over: int) -> Array:
    """A running mean over so many samples, as a slow reader would see it, in the unit of the samples, shape kept."""
    if over <= 1 or len(values) < over:
        return values
    padded = np.concatenate([np.full(over - 1, values[0]), values])
    sums = np.cumsum(np.concatenate([[0.0], padded]))
    return np.asarray((sums[over:] - sums[:-over]) / over)
