"""Two sensors of one quantity over time: their difference, its trend, the lag between them."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..journal.sample import Series
from ..words.errors import TooFewReadings
from .parting import Parting, parted

Array = NDArray[np.float64]
_LONGEST_LAG_S = 60.0
_TELLS = 0.35  # correlation of their movements: below it nothing tells a lag
_FEWEST = 10
_HOUR_S = 3600.0


class PairCourse(NamedTuple):
    """The second less the first at the times of the slower one, shapes (n,): s as given, and their common unit."""

    times_s: Array
    first: Array
    difference: Array


class PairResult(NamedTuple):
    """What a pair comes to; times in s, all else in the common unit.

    `trend` is the slope of the difference an hour with its standard uncertainty `trend_doubt`; `lag_s` is how much the
    second follows the first, None where their movement does not tell.
    """

    course: PairCourse
    mean: float
    spread: float
    trend: float
    trend_doubt: float
    lag_s: float | None
    parting: Parting | None


def compare_pair(one: Series, other: Series) -> PairResult:
    """Two series of values in one unit. Raises: TooFewReadings where they hardly overlap."""
    lag_s = _lag(one.good, other.good)
    course = _course(one.good, other.good, lag_s or 0.0)
    difference, hours = course.difference, (course.times_s - course.times_s.mean()) / _HOUR_S
    mean, spread = float(difference.mean()), float(difference.std(ddof=1))
    square = float(hours @ hours)
    trend = float(hours @ (difference - mean)) / square if square else 0.0
    rest = difference - mean - trend * hours
    doubt = float(np.sqrt(rest @ rest / max(len(rest) - 2, 1) / square)) if square else float("nan")
    return PairResult(course, mean, spread, trend, doubt, lag_s, parted(course.times_s, difference))


def _course(one: Series, other: Series, lag_s: float) -> PairCourse:
    """Both at the times of the slower one where both are known; the second is taken a lag later."""
    slow, fast = (one, other) if one.rate_hz <= other.rate_hz else (other, one)
    shift = lag_s if slow is one else -lag_s
    inside = slow.times_s[(slow.times_s + shift >= _first(fast)) & (slow.times_s + shift <= _last(fast))]
    if len(inside) < _FEWEST:
        raise TooFewReadings(
            f"The two were watched together at {len(inside)} moments: at least {_FEWEST} are needed.",
            needed=_FEWEST, found=len(inside),
        )  # fmt: skip
    own, far = np.interp(inside, slow.times_s, slow.values), np.interp(inside + shift, fast.times_s, fast.values)
    first, second = (own, far) if slow is one else (far, own)
    return PairCourse(inside, first, second - first)


def _first(series: Series) -> float:
    return float(series.times_s[0]) if len(series) else float("inf")


def _last(series: Series) -> float:
    return float(series.times_s[-1]) if len(series) else float("-inf")


def _lag(one: Series, other: Series) -> float | None:
    """How much the second follows the first, by the correlation of their movements on one grid; s, None if untold."""
    start, end = max(_first(one), _first(other)), min(_last(one), _last(other))
    rates = [rate for rate in (one.rate_hz, other.rate_hz) if rate]
    if len(rates) < 2 or not end > start:
        return None
    step = 1 / min(rates)
    grid = np.arange(start, end, step)
    most = min(int(_LONGEST_LAG_S / step), len(grid) // 4)
    if most < 2:
        return None
    moves = []
    for series in (one, other):
        values = np.interp(grid, series.times_s, series.values)
        width = max(round(1.0 / step), 1)
        moved = np.convolve(values, np.ones(width) / width, mode="valid")  # a second's mean: noise moves too
        moved = np.diff(moved)
        moves.append(moved - moved.mean())
    size = float(np.sqrt((moves[0] @ moves[0]) * (moves[1] @ moves[1])))
    if not size > 0:
        return None
    shifts = np.arange(-most, most + 1)
    found = np.array([_overlap(moves[0], moves[1], int(shift)) for shift in shifts]) / size
    at = int(np.argmax(found))
    if found[at] < _TELLS or at in (0, len(found) - 1):
        return None
    left, top, right = found[at - 1 : at + 2]
    bend = left - 2 * top + right
    return float((shifts[at] + (0.5 * (left - right) / bend if bend else 0.0)) * step)


def _overlap(one: Array, other: Array, shift: int) -> float:
    """The sum of products with the second taken so many steps later."""
    if shift >= 0:
        return float(one[: len(one) - shift] @ other[shift:])
    return float(one[-shift:] @ other[: len(other) + shift])


def noise_of(series: Series) -> tuple[float, float]:
    """The quick noise of a series' first and last third, in its unit: from sample to sample, whatever it follows."""
    values = series.good.values
    third = max(len(values) // 3, 2)
    early, late = values[:third], values[-third:]
    return tuple(float(np.median(np.abs(np.diff(part)))) / _OF_STEPS if len(part) > 1 else 0.0
                 for part in (early, late))  # type: ignore[return-value]  # fmt: skip


_OF_STEPS = 0.9539  # median size of the difference of two normal numbers, over their standard deviation
