"""The best integers A, B, C for shown = A·x / B + C.

What a controller shows depends on A and B by their ratio alone, and for each count it moves one way with the ratio. So
for all ratios between two the worst error is at least (max over x of min(d1, d2) - min over x of max(d1, d2)) / 2,
where d1 and d2 are shown minus truth without C at the two. The ratios are gone through as the tree of Stern and Brocot
orders them (R. L. Graham, D. E. Knuth, O. Patashnik, Concrete Mathematics, 4.5): between two neighbours of the tree
lies no fraction with smaller numbers than their mediant. A branch is left when its mediant has numbers beyond the
widths, or its bound is no better than what is known. So none better is passed over. Where the controller divides
first, the search is that of `divide_first`.
"""

from heapq import heapify, heappop, heappush
from itertools import count, pairwise
from math import ceil, floor
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...forms.integer import Ratio, constants_within, divided, largest
from ...forms.spec import IntBits, Order, Rounding
from ...forms.steps import on_step
from ...regression.worst_error import HullPoints, best_slope, deciding
from ...words import pace
from ...words.errors import OutOfRange
from .divide_first import best_divided_first

Array = NDArray[np.float64]
_MOST_SUMS = 10_000_000  # a look takes one for each count
_EQUAL = 1e-12


class Widths(NamedTuple):
    """The integers a controller has and how it divides them; values are in steps of `value_step`."""

    int_bits: IntBits
    rounding: Rounding
    value_step: float
    order: Order = "multiply first"


class FoundRatio(NamedTuple):
    """The best ratio found with its largest error, and a bound that no ratio within the widths goes below.

    The two are equal where every other ratio was ruled out.
    """

    form: Ratio
    error: float
    bound: float


class _Fraction(NamedTuple):
    top: int
    bottom: int


class _Looked(NamedTuple):
    """A ratio looked at: shown minus truth without the constant, shape (n,)."""

    ratio: _Fraction
    over: Array


class _Search:
    def __init__(self, x: NDArray[np.int64], truth: Array, widths: Widths, sign: int, top: int) -> None:
        self._x, self._truth, self._widths, self.sign = x, truth, widths, sign
        self._most = largest(widths.int_bits)
        self.best: tuple[float, int, int, int] | None = None
        self.looks = 0
        self.most_looks = max(_MOST_SUMS // len(x), 100)
        self.top, self.value_step = top, widths.value_step

    def allowed(self, ratio: _Fraction) -> bool:
        """Whether the numbers and every intermediate product fit."""
        if ratio.bottom < 1 or max(ratio) > self._most:
            return False
        half = ratio.bottom // 2 if self._widths.rounding == "nearest" else 0
        return ratio.top * self.top + half <= self._most

    @property
    def most_whole(self) -> int:
        """The largest multiplier without a divisor that fits."""
        return self._most // max(self.top, 1)

    def look(self, ratio: _Fraction) -> _Looked:
        """Reckon a ratio over every count, and keep it if it is the best so far."""
        self.looks += 1
        over = self._whole(ratio, self._x) * self.value_step - self._truth
        if self.allowed(ratio) and ratio.top != 0:
            self._keep(ratio, float(over.min()), float(over.max()))
        return _Looked(ratio, over)

    def _whole(self, ratio: _Fraction, x: NDArray[np.int64]) -> NDArray[np.int64]:
        return divided(self.sign * ratio.top * x, ratio.bottom, self._widths.rounding)

    def _keep(self, ratio: _Fraction, low: float, high: float) -> None:
        step = self._widths.value_step
        at_top = int(self._whole(ratio, np.array([self.top]))[0])
        least, greatest = constants_within(at_top, self._widths.int_bits)
        constant = min(max(round(-(high + low) / 2 / step), least), greatest)
        error = max(abs(low + constant * step), abs(high + constant * step))
        if self.best is None or error < self.best[0] - _EQUAL:
            self.best = (error, self.sign * ratio.top, ratio.bottom, constant)

    def bound(self, first: _Looked, second: _Looked) -> float:
        """The least worst error of all ratios between two, each with its best whole constant."""
        step = self.value_step
        high = float(np.minimum(first.over, second.over).max())
        low = float(np.maximum(first.over, second.over).min())
        wanted = -(high + low) / 2 / step
        return min(max(high + c * step, -low - c * step) for c in (floor(wanted), ceil(wanted)))

    def run(self, row: "list[_Fraction]") -> float:
        """Go through all ratios along a row of neighbours of the tree; gives a bound for those not looked at."""
        order = count()
        ends = [self.look(ratio) for ratio in row]
        waiting = [(self.bound(*pair), next(order), *pair) for pair in pairwise(ends)]
        heapify(waiting)
        while waiting:
            bound, _, first, second = heappop(waiting)
            pace.step(bound, self.best[0] if self.best is not None else None)
            if (self.best is not None and bound >= self.best[0] - _EQUAL) or self.looks > self.most_looks:
                return bound
            middle = _mediant(first.ratio, second.ratio)
            if not self.allowed(middle):
                continue
            looked = self.look(middle)
            for pair in ((first, looked), (looked, second)):
                heappush(waiting, (self.bound(*pair), next(order), *pair))
        return float("inf")


def _mediant(first: _Fraction, second: _Fraction) -> _Fraction:
    return _Fraction(first.top + second.top, first.bottom + second.bottom)


def best_ratio(x: NDArray[np.int64], truth: Array, widths: Widths, top: int) -> FoundRatio:
    """The integers with the least worst error over counts x (n,), rising, and true values (n,).

    Nothing overflows at any count up to `top`.

    Raises: OutOfRange if no ratio but 0 fits into the widths, or the values do not.
    """
    points = deciding(x.astype(float), truth)
    slope = best_slope(points) / widths.value_step
    if np.max(np.abs(truth)) > largest(widths.int_bits) * widths.value_step:
        numbers, bound = None, 0.0  # the values themselves are too large
    elif widths.order == "divide first":
        steps = truth / widths.value_step
        found = best_divided_first(x, steps, slope, top, widths.int_bits, widths.rounding)
        numbers = None if found is None else (found.multiplier, found.divisor, found.constant)
        bound = float("inf") if found is not None and found.proven else 0.0
    else:
        search = _Search(x, truth, widths, 1 if slope >= 0 else -1, top)
        bound = _searched(search, abs(slope), points)
        numbers = None if search.best is None else search.best[1:]
    if numbers is None:
        raise OutOfRange(
            f"No integer ratio fits: the slope of {slope:.4g} steps for each count leaves nothing within "
            f"{widths.int_bits} bits when every count up to {top} is multiplied. "
            "Choose wider integers, or a coarser value step.",
            found=slope,
        )
    multiplier, divisor, constant = numbers
    form = Ratio(
        multiplier=multiplier, divisor=divisor, constant=constant, value_step=widths.value_step,
        rounding=widths.rounding, order=widths.order, int_bits=widths.int_bits,
    )  # fmt: skip
    shown = on_step(form.whole(x).astype(float) * widths.value_step, widths.value_step)
    reached = float(np.max(np.abs(shown - truth)))
    return FoundRatio(form, reached, min(max(bound, 0.0), reached))


def _searched(search: _Search, slope: float, points: HullPoints) -> float:
    """Look for the best ratio around a slope without its sign; gives a bound for those not looked at."""
    _descend(search, slope, 0.0, looking=True)
    if search.best is None:
        return float("inf")  # none is within the widths
    reach = _reach(search, points)
    bound = search.run(_descend(search, slope, reach, looking=False))
    if reach > slope:  # so flat that a ratio of the other sign may be as good
        search.sign = -search.sign
        bound = min(bound, search.run(_descend(search, -slope, reach, looking=False)))
    return bound


def _reach(search: _Search, points: HullPoints) -> float:
    """How far off the best slope a ratio may be and still be as good as what is known, in steps for each count.

    Off by r it moves the ends of n counts apart by r·n steps, of which the best line's error and the rounding take
    their part either way.
    """
    assert search.best is not None  # looked for on the way down
    step = search.value_step
    least = points.bound(best_slope(points)) / step
    return 2 * (search.best[0] / step + least + 1) / float(points.x[-1] - points.x[0])


def _descend(search: _Search, slope: float, reach: float, *, looking: bool) -> list[_Fraction]:
    """The closest row of neighbours of the tree around all ratios within reach of a slope, as far as the widths go.

    Of two fractions p/q and r/s that are neighbours, p·s and q·r differ by one; whole numbers that follow each other
    are such a row. With `looking` the ratios on the way are reckoned, the smallest numbers first.
    """
    low, high = _Fraction(0, 1), _Fraction(1, 0)
    bottom, top = slope - reach, slope + reach
    while True:
        middle = _mediant(low, high)
        if not search.allowed(middle):
            break
        if middle.top < bottom * middle.bottom:
            low = reached = _stepped(search, low, high, bottom)
        elif middle.top > top * middle.bottom:
            high = reached = _stepped(search, high, low, top)
        else:
            if looking:
                search.look(middle)
            break
        if looking:
            search.look(reached)
    if high.bottom:
        return [low, high]
    last = max(min(ceil(top), search.most_whole + 1), low.top + 1)  # none was stepped to from above: `low` is whole
    return [_Fraction(whole, 1) for whole in range(low.top, last + 1)]


def _stepped(search: _Search, moving: _Fraction, towards: _Fraction, limit: float) -> _Fraction:
    """`moving` taken towards its neighbour as often as it stays on its side of a limit and within the widths."""
    rising = moving.top * towards.bottom < towards.top * moving.bottom
    found = _mediant(moving, towards)
    times = 2
    while True:
        further = _Fraction(moving.top + times * towards.top, moving.bottom + times * towards.bottom)
        if not search.allowed(further) or (further.top < limit * further.bottom) != rising:
            return found
        found, times = further, 2 * times
