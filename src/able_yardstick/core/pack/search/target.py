"""What a table of knots has to follow: the true values at every count, of one curve or of several that share it."""

from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...curves import Curve
from ...path.converter import Converter
from ...words.errors import OutOfRange

Array = NDArray[np.float64]
Rows = NDArray[np.int64]
_PICKED = 8  # rows to begin with, for each knot
_BESIDE = 8  # rows beside a peak stand at this part of the way to the next


class Target(NamedTuple):
    """Rising signals (n,) and the lowest and highest true value at each, which differ where several curves meet."""

    signal: Array
    lowest: Array
    highest: Array

    def errors(self, shown: Array) -> Array:
        """Shown minus truth, in the unit of the values, shape (n,): of the curve it is furthest from."""
        above, below = shown - self.lowest, shown - self.highest
        return np.where(above >= -below, above, below)

    def worst(self, signals: Array, values: Array) -> float:
        """The largest error, either way, of knots at signals (k,) with values (k,) joined by straight lines."""
        return float(np.max(np.abs(self.errors(np.interp(self.signal, signals, values)))))

    def at(self, places: Array, side: Array) -> Array:
        """Values at any signals, shape kept: one of its columns, joined by straight lines that go on at the ends."""
        x = self.signal
        found = np.interp(places, x, side)
        first, last = (side[1] - side[0]) / (x[1] - x[0]), (side[-1] - side[-2]) / (x[-1] - x[-2])
        found = np.where(places < x[0], side[0] + first * (places - x[0]), found)
        return np.asarray(np.where(places > x[-1], side[-1] + last * (places - x[-1]), found))

    @property
    def middle(self) -> Array:
        """Values midway between the truths, shape (n,)."""
        return (self.lowest + self.highest) / 2

    @property
    def spread(self) -> float:
        """Half of what the curves differ by at most: no table of theirs can be better."""
        return float(np.max(self.highest - self.lowest)) / 2

    @property
    def span(self) -> float:
        """From the lowest true value to the highest."""
        return float(self.highest.max() - self.lowest.min())

    def picked(self, rows: Rows) -> "Target":
        """Its rows of some numbers (k,): signals and truths."""
        return Target(self.signal[rows], self.lowest[rows], self.highest[rows])


def target_of(curves: Sequence[tuple[Curve, tuple[float, float]]], converter: Converter) -> Target:
    """The truth at every count within the stretches (in signal) of curves that share one table.

    Raises: OutOfRange if fewer than two counts lie there.
    """
    signal = converter.inverse(converter.every_count())
    lowest, highest = np.full(len(signal), np.inf), np.full(len(signal), -np.inf)
    for curve, (low, high) in curves:
        inside = (signal >= low) & (signal <= high)
        values = curve.value(signal[inside])
        lowest[inside] = np.minimum(lowest[inside], values)
        highest[inside] = np.maximum(highest[inside], values)
    known = np.isfinite(lowest)
    if known.sum() < 2:
        raise OutOfRange(
            f"The converter ({converter.low:g} to {converter.high:g} {converter.unit}) gives fewer than two counts "
            "where the table is to hold. Check the signal ends and the converter's span.",
            found=float(known.sum()),
        )
    return Target(signal[known], lowest[known], highest[known])


class Sieve:
    """The few rows of a target that decide: a best table for them is a lower bound for all.

    Rows at which a table found so errs more than at the chosen ones are taken in, until there are none.
    """

    def __init__(self, target: Target, knots: int, picked: int = _PICKED) -> None:
        count = len(target.signal)
        self._whole = target
        self._rows = np.unique(np.linspace(0, count - 1, min(count, picked * knots)).round().astype(np.int64))

    @property
    def target(self) -> Target:
        """The chosen rows."""
        return self._whole.picked(self._rows)

    @property
    def is_whole(self) -> bool:
        """Whether every row is chosen."""
        return len(self._rows) == len(self._whole.signal)

    def widen(self, signals: Array, values: Array, limit: float) -> bool:
        """Take in the peaks of the error of knots, signals and values (k,), above a limit; False if there was none.

        Rows close to either side of a peak come with it: the next table's corner will stand a little beside it.
        """
        errors = np.abs(self._whole.errors(np.interp(self._whole.signal, signals, values)))
        padded = np.concatenate([[-1.0], errors, [-1.0]])
        peaks = np.flatnonzero((errors >= padded[:-2]) & (errors >= padded[2:]) & (errors > limit))
        more = np.union1d(self._rows, np.concatenate([peaks, *self._beside(peaks)]))
        grown = len(more) > len(self._rows)
        self._rows = more
        return grown

    def _beside(self, peaks: Rows) -> tuple[Rows, Rows]:
        """Rows a share of the way from each peak to the chosen ones before and after it."""
        rows, last = self._rows, len(self._rows) - 1
        before = rows[np.clip(np.searchsorted(rows, peaks, side="left") - 1, 0, last)]
        after = rows[np.clip(np.searchsorted(rows, peaks, side="right"), 0, last)]
        return peaks - (peaks - before) // _BESIDE, peaks + (after - peaks) // _BESIDE
