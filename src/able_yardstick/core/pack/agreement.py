"""Whether a controller shows what its table should make of its counts, to the last digit."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..journal.sample import Series
from ..journal.table_image import TableImage
from ..path.converter import Converter

_BEFORE_S, _AFTER_S = 0.3, 0.1  # a shown value belongs to one of the scans so close to when it came
_AROUND = 2  # counts read before and after those: between them lie the scans that were not read, noise and all


class Agreement(NamedTuple):
    """How many shown values were compared and how many were one that the table makes of a count at that time.

    `low` and `high` are the least and the greatest value compared; `shown` and `made` are the last that differ, as they
    came nearest.
    """

    compared: int
    equal: int
    low: float
    high: float
    shown: float = 0.0
    made: float = 0.0

    @property
    def is_full(self) -> bool:
        """Whether every one agrees."""
        return self.equal == self.compared


def agreement_of(table: TableImage, converter: Converter, counts: Series, shown: Series) -> Agreement | None:
    """Compare the values a controller showed with what a table makes of the counts around each; None without a pair.

    The scan that a value belongs to is not sent with it, so it may be any of those around, or one between two of them
    that was not read: it is what the table makes of one of their counts, or of a count that lies between them, or the
    table is another. A value at either end, whose counts before or after are not among these, says nothing when it
    differs.
    """
    counts, shown = counts.good, shown.good
    if not len(counts) or not len(shown):
        return None
    made = table.shown(np.round(counts.values).astype(np.int64), converter)
    first = np.searchsorted(counts.times_s, shown.times_s - _BEFORE_S)
    end = np.searchsorted(counts.times_s, shown.times_s + _AFTER_S, side="right")
    some = end > first
    if not some.any():
        return None
    values = shown.values[some]
    first, end = first[some], end[some]
    nearest = _nearest(made, first, end, values)
    off = np.flatnonzero(nearest != values)
    bounds = [counts.values[max(first[at] - _AROUND, 0) : end[at] + _AROUND] for at in off]
    between = [_is_between(table, converter, around, values[at]) for around, at in zip(bounds, off, strict=True)]
    off = off[~np.array(between, dtype=bool)]
    open_ended = off[(first[off] == 0) | (end[off] == len(counts))]
    off = np.setdiff1d(off, open_ended)
    last = (float(values[off[-1]]), float(nearest[off[-1]])) if len(off) else (0.0, 0.0)
    values = np.delete(values, open_ended)
    if not len(values):
        return None
    return Agreement(len(values), len(values) - len(off), float(values.min()), float(values.max()), *last)


def _is_between(table: TableImage, converter: Converter, around: NDArray[np.float64], value: float) -> bool:
    """Whether the value is made of a count that the signal passed between the counts around it, (n,)."""
    passed = np.arange(round(around.min()), round(around.max()) + 1, dtype=np.int64)
    return bool(np.any(table.shown(passed, converter) == value))


def _nearest(
    made: NDArray[np.float64], first: NDArray[np.int64], end: NDArray[np.int64], values: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Of the values made between each first (n,) and end (n,), the one nearest to each value (n,)."""
    best = made[first]
    for step in range(1, int(np.max(end - first))):
        other = made[np.minimum(first + step, end - 1)]
        best = np.where(np.abs(other - values) < np.abs(best - values), other, best)
    return best
