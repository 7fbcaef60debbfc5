"""How far a curve is from a straight line."""

import numpy as np

from .base import Curve

_PLACES = 129
_LAST_DIGITS = 1e-9  # of the values' span


def bend_of(curve: Curve) -> float:
    """The largest distance of a curve from the straight line between its ends, in the unit of its values."""
    signal = np.linspace(*curve.domain, _PLACES)
    values = curve.value(signal)
    straight = np.interp(signal, signal[[0, -1]], values[[0, -1]])
    return float(np.max(np.abs(values - straight)))


def is_straight(curve: Curve) -> bool:
    """Whether a curve of any kind is a straight line, to the last digits."""
    low, high = (float(value) for value in curve.value(np.array(curve.domain)))
    return bend_of(curve) <= _LAST_DIGITS * abs(high - low)
