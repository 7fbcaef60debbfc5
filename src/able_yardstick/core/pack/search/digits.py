"""Straight lines with few digits: the best pair at that length, and how many digits are enough."""

from collections.abc import Iterator
from itertools import takewhile
from math import copysign, floor, log10
from typing import NamedTuple

from ...regression.worst_error import HullPoints, LinePair, best_pair, best_slope
from ...words.errors import OutOfRange

MOST_DECIMALS = 15
_NEXT_TO_NOTHING = 1e-3


class Digits(NamedTuple):
    """How long a number may be: so many decimals, or so many significant digits; any length where both are None."""

    decimals: int | None = None
    significant: int | None = None

    @property
    def are_limited(self) -> bool:
        """Whether a number is cut off at all."""
        return self.decimals is not None or self.significant is not None

    @property
    def words(self) -> str:
        """The length in words."""
        if self.decimals is not None:
            return f"{self.decimals} decimal{'' if self.decimals == 1 else 's'}"
        return f"{self.significant} significant digit{'' if self.significant == 1 else 's'}"

    def nearest(self, number: float) -> float:
        """The number of that length that lies nearest."""
        if self.decimals is not None:
            return round(number, self.decimals) + 0.0
        if self.significant is None or number == 0:
            return number
        return round(number, self._places(number)) + 0.0

    def _places(self, number: float) -> int:
        assert self.significant is not None
        return self.significant - 1 - floor(log10(abs(number)))

    def outwards(self, near: float, side: int) -> Iterator[float]:
        """The numbers of that length from one on, downwards (-1) or upwards (+1); 0 is left out.

        Significant digits crowd towards 0 and reach beyond all bounds: they end where next to nothing is left of the
        number, or of its reciprocal.
        """
        number = self.nearest(near)
        if side > 0:
            number = self._after(number, side)
        least, most = _NEXT_TO_NOTHING * abs(near), abs(near) / _NEXT_TO_NOTHING
        while self.decimals is not None or least < abs(number) < most:
            if number != 0:
                yield number
            number = self._after(number, side)

    def _after(self, number: float, side: int) -> float:
        """The next number of that length."""
        if self.decimals is not None:
            return round(number + side * 10.0**-self.decimals, self.decimals) + 0.0
        places = self._places(number)
        shrinking = side * copysign(1.0, number) < 0
        if shrinking and round(abs(number) * 10.0**places) == 10 ** ((self.significant or 1) - 1):
            places += 1  # below a power of ten the numbers lie ten times as close
        return round(number + side * 10.0**-places, places)


def best_line(points: HullPoints, digits: Digits) -> LinePair:
    """The best slope and offset of a length.

    Raises: OutOfRange if every slope of that length is 0.
    """
    if not digits.are_limited:
        slope = best_slope(points)
        low, high = points.extremes(slope)
        return LinePair(slope, -(high + low) / 2, points.bound(slope), points.bound(slope))
    _refuse_nothing(best_slope(points), digits, "slope")
    found = best_pair(points, digits.outwards, lambda wanted, _slope: digits.nearest(wanted))
    assert found is not None  # the grid of slopes has no end
    return found


def best_divisor(points: HullPoints, digits: Digits) -> LinePair:
    """The best divisor and constant of a length; `slope` of the pair is the divisor.

    Raises: OutOfRange if every divisor of that length is 0.
    """
    slope = best_slope(points)
    if not digits.are_limited:
        return best_line(points, digits)._replace(slope=1 / slope)
    _refuse_nothing(1 / slope, digits, "divisor")

    def slopes(near: float, side: int) -> Iterator[float]:
        same_sign = takewhile(lambda divisor: (divisor > 0) == (near > 0), digits.outwards(1 / near, -side))
        return (1 / divisor for divisor in same_sign)

    found = best_pair(points, slopes, lambda wanted, _slope: digits.nearest(wanted))
    assert found is not None  # the grid of divisors has no end
    return found._replace(slope=digits.nearest(1 / found.slope))


def best_zero(points: HullPoints, digits: Digits) -> LinePair:
    """The best slope and signal of zero of a length; `offset` of the pair is the one that the two make.

    Raises: OutOfRange if every slope of that length is 0.
    """
    if not digits.are_limited:
        return best_line(points, digits)
    _refuse_nothing(best_slope(points), digits, "slope")
    found = best_pair(points, digits.outwards, lambda wanted, slope: -slope * digits.nearest(-wanted / slope))
    assert found is not None  # the grid of slopes has no end
    return found


def _refuse_nothing(wanted: float, digits: Digits, what: str) -> None:
    if digits.nearest(wanted) == 0:
        raise OutOfRange(f"With {digits.words} the {what} {wanted:.3g} becomes 0. Choose more decimals.", found=wanted)


def decimals_enough(points: HullPoints, allowed: float) -> int | None:
    """The fewest decimals with which rounding adds no more than `allowed` to the error of the best line.

    None if even 15 are not enough.
    """
    least = points.bound(best_slope(points))
    for decimals in range(MOST_DECIMALS + 1):
        try:
            found = best_line(points, Digits(decimals))
        except OutOfRange:
            continue
        if found.error - least <= allowed:
            return decimals
    return None
