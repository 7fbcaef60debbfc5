"""Which readings are repeats of one stop: a table needs one row for each, and their scatter is that of a reading."""

import numpy as np
from numpy.typing import NDArray

from ..words.errors import ConflictingReadings

Array = NDArray[np.float64]
Stops = NDArray[np.int64]
# Readings are repeats of one stop where they lie together within this share of the way to the nearest other ones.
CLOSE = 0.08
_SPREADS = 3.0  # of the reference within its window: nearer ones cannot be told apart
_STOP_SCATTER = 0.1  # of the signals' span, which the repeats of one stop stay within


def stop_numbers(reference: Array, spread: Array | None = None, set_values: Array | None = None) -> Stops:
    """Which stop each reading belongs to, shape (n,), numbered from 0 by rising reference.

    Readings are repeats where they were meant as such: taken at one set value of the plan (`set_values`, NaN where
    there was none), not to be told apart by the reference's own `spread`, or, where nothing is known, lying together
    closely against the way to the next. No width is fixed, so that decades are told apart as well as even steps.
    """
    count = len(reference)
    if set_values is not None and count and np.all(np.isfinite(set_values)):
        return _by_set_value(reference, set_values)
    order = np.argsort(reference, kind="stable")
    ordered = reference[order]
    blur = np.zeros(count) if spread is None else _SPREADS * np.nan_to_num(spread[order])
    numbers = np.empty(count, dtype=np.int64)
    for stop, (start, end) in enumerate(_parted(ordered, blur)):
        numbers[order[start:end]] = stop
    return numbers


def _by_set_value(reference: Array, set_values: Array) -> Stops:
    values = np.array(sorted(set(set_values.tolist())))
    which = np.searchsorted(values, set_values)
    means = [float(reference[which == n].mean()) for n in range(len(values))]
    ranks = np.argsort(np.argsort(means))
    return np.asarray(ranks[which], dtype=np.int64)


def _parted(ordered: Array, blur: Array) -> list[tuple[int, int]]:
    """The stretches of one stop each, first and one behind the last, of references in rising order.

    A stretch is parted at its widest gap until it is one stop, so that it does not matter how the readings came.
    """
    gaps = np.diff(ordered)
    places, ways = ordered.tolist(), gaps.tolist()  # plain numbers are quicker one by one
    blurred = blur if blur.any() else None
    found, left = [], [(0, len(ordered))] if len(ordered) else []
    while left:
        start, end = left.pop()
        if _is_one(places, ways, blurred, start, end):
            found.append((start, end))
            continue
        at = start + 1 + int(np.argmax(gaps[start : end - 1]))
        left += [(at, end), (start, at)]
    return found


def _is_one(places: list[float], gaps: list[float], blur: Array | None, start: int, end: int) -> bool:
    wide = places[end - 1] - places[start]
    if wide == 0 or (blur is not None and wide <= float(blur[start:end].max())):
        return True
    outer = [gaps[at] for at in (start - 1, end - 1) if 0 <= at < len(gaps)]
    return bool(outer) and wide <= CLOSE * min(outer)


def stops_or_near(reference: Array, stops: Stops | None) -> Stops:
    """The stops (n,) that were meant, where that is told; else references (n,) that lie together are repeats of one."""
    return stop_numbers(reference) if stops is None else stops


def stop_means(signal: Array, reference: Array, stops: Stops | None = None) -> tuple[Array, Array, Stops]:
    """Mean signal and reference of each stop and how many readings it has, shape (m,) each, by rising reference."""
    numbers = stops_or_near(reference, stops)
    counts = np.bincount(numbers)
    means = (np.bincount(numbers, weights=column) / counts for column in (signal, reference))
    mean_signal, mean_reference = means
    return mean_signal, mean_reference, counts


def refuse_scattered(signal: Array, reference: Array, stops: Stops) -> None:
    """One reference value read at signals (n,) far apart is no repeat of a stop. Raises: ConflictingReadings."""
    for stop in range(int(stops.max()) + 1):
        rows = np.flatnonzero(stops == stop)
        first, last = rows[np.argmin(signal[rows])], rows[np.argmax(signal[rows])]
        if signal[last] - signal[first] > _STOP_SCATTER * np.ptp(signal):
            raise ConflictingReadings(
                f"About the same reference value was read at signals far apart: {reference[first]:.6g} at "
                f"{signal[first]:.6g}, {reference[last]:.6g} at {signal[last]:.6g}. Exclude one of the two.",
                rows=(int(first), int(last)),
            )
