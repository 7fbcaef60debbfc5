"""When a drifting unit leaves its tolerance: the day on which its band may, and the day on which its line does."""

from datetime import date, timedelta
from typing import NamedTuple

import numpy as np

from ..words.errors import TooFewReadings
from .trend import DriftTrend

_LONGEST_YEARS = 10.0
_STEP_DAYS = 5
_DAYS_A_YEAR = 365.25


class Leaving(NamedTuple):
    """At the value where it comes first: when the 95 % band reaches the error allowed, and when the line itself does.

    None: not within ten years.
    """

    value: float
    may: date | None
    does: date | None


def leaving(trend: DriftTrend) -> Leaving:
    """Where and when the errors left last reach what is allowed. Raises: TooFewReadings where nothing was left."""
    last = trend.visits[-1]
    if not last.left:
        raise TooFewReadings("Nothing was left at the last visit: nothing follows for the next.", needed=1, found=0)
    rows = [_at(trend, stop.value) for stop in last.left]
    return min(rows, key=lambda row: (row.may or date.max, row.does or date.max))


def _at(trend: DriftTrend, value: float) -> Leaving:
    last = trend.visits[-1]
    most = allowed_at(last.allowed, value)
    may = does = None
    for days in range(0, round(_LONGEST_YEARS * _DAYS_A_YEAR), _STEP_DAYS):
        mean, half = trend.expected(value, days / _DAYS_A_YEAR)
        if may is None and abs(mean) + half > most:
            may = last.day + timedelta(days=days)
        if abs(mean) > most:
            does = last.day + timedelta(days=days)
            break
    return Leaving(value, may, does)


def allowed_at(allowed: tuple[tuple[float, float], ...], value: float) -> float:
    """The error allowed at a value, between those stated in proportion; infinite where none is."""
    if not allowed:
        return float("inf")
    values, errors = zip(*sorted(allowed), strict=True)
    return float(np.interp(value, values, errors))
