"""Readings of one stop, taken together: a table needs one row for each."""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
# Repeats of one stop lie within this share of the span of the reference.
STOP_WIDTH = 0.01


def stop_numbers(reference: Array, width: float = STOP_WIDTH) -> NDArray[np.int64]:
    """Which stop each reading belongs to, shape (n,), numbered from 0 by rising reference.

    A stop ends where the reference has moved by more than `width` of its whole span.
    """
    order = np.argsort(reference, kind="stable")
    limit = width * float(np.ptp(reference))
    numbers = np.empty(len(reference), dtype=np.int64)
    stop, start = 0, float(reference[order[0]])
    for row in order:
        if reference[row] - start > limit:
            stop, start = stop + 1, float(reference[row])
        numbers[row] = stop
    return numbers


def stop_means(signal: Array, reference: Array) -> tuple[Array, Array, NDArray[np.int64]]:
    """Mean signal and reference of each stop and how many readings it has, shape (m,) each."""
    numbers = stop_numbers(reference)
    counts = np.bincount(numbers)
    means = (np.bincount(numbers, weights=column) / counts for column in (signal, reference))
    mean_signal, mean_reference = means
    return mean_signal, mean_reference, counts


def is_strictly_rising_or_falling(signal: Array, reference: Array) -> bool:
    """Whether the points already are a table: no signal twice, and the reference never turns."""
    order = np.argsort(signal, kind="stable")
    steps = np.diff(reference[order])
    return bool(np.all(np.diff(signal[order]) > 0) and (np.all(steps > 0) or np.all(steps < 0)))
