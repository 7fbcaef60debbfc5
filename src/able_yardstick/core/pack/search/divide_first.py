"""The best integers A, B, C for shown = A·(x / B) + C, where the controller divides the count before it multiplies.

A divisor makes one number of all counts of a block, so half the spread of the truth within a block is lost whatever A
and C are. For each divisor the least error that a multiplier can make with any constant that does not overflow is
convex in it, so the search goes outwards until it rises beyond the best error found. It ends where no greater divisor
can be better: a block lies in at most two blocks of any greater divisor, so one of those holds half the block's spread,
but for the step between the two.
"""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ...forms.integer import constants_within, divided, largest
from ...forms.spec import IntBits, Rounding
from ...words import pace

Array = NDArray[np.float64]
_MOST_SUMS = 20_000_000  # one for each count and divisor


class Integers(NamedTuple):
    """A, B and C with the largest error they make, in steps; `proven` says that no others make a lesser one."""

    multiplier: int
    divisor: int
    constant: int
    error: float
    proven: bool = True


class _Blocks(NamedTuple):
    """What the counts become, rising, with the least and greatest truth of each; shapes (b,)."""

    number: NDArray[np.int64]
    least: Array
    greatest: Array

    @property
    def lost(self) -> float:
        """What no multiplier and no constant can save."""
        return float(np.max(self.greatest - self.least)) / 2

    def around(self, multiplier: int) -> tuple[float, float]:
        """Least and greatest of what is shown without a constant, minus the truth."""
        made = multiplier * self.number
        return float(np.min(made - self.greatest)), float(np.max(made - self.least))


def _blocks(x: NDArray[np.int64], truth: Array, divisor: int, rounding: Rounding) -> _Blocks:
    numbers = divided(x, divisor, rounding)
    first = np.flatnonzero(np.diff(numbers, prepend=numbers[0] - 1))
    return _Blocks(numbers[first], np.minimum.reduceat(truth, first), np.maximum.reduceat(truth, first))


def best_divided_first(
    x: NDArray[np.int64], truth: Array, slope: float, top: int, bits: IntBits, rounding: Rounding
) -> Integers | None:
    """The integers with the least worst error over counts x (n,), rising, and true values (n,), both in whole steps.

    `slope` is about that of the best line. Nothing overflows at any count up to `top`. None if nothing fits.
    """
    most = largest(bits)
    step = float(np.max(np.abs(np.diff(truth))))
    best: Integers | None = None
    for divisor in range(1, min(most, 2 * top + 1) + 1):
        if top + (divisor // 2 if rounding == "nearest" else 0) > most:
            break
        pace.step()
        if divisor * len(x) > _MOST_SUMS:
            return best and best._replace(proven=False)
        blocks = _blocks(x, truth, divisor, rounding)
        if best is not None and (2 * blocks.lost - step) / 4 >= best.error:
            break
        if best is None or blocks.lost < best.error:
            highest = int(divided(np.array([top]), divisor, rounding)[0])
            best = _best_of(blocks, divisor, round(slope * divisor), _Room(bits, highest), best)
    return best


class _Room(NamedTuple):
    """The controller's integers, and the largest number that a count becomes."""

    bits: IntBits
    highest: int

    @property
    def limit(self) -> int:
        """The largest multiplier whose product never overflows."""
        return largest(self.bits) // max(self.highest, 1)


def _best_of(blocks: _Blocks, divisor: int, start: int, room: _Room, best: Integers | None) -> Integers | None:
    """The best multiplier and constant of a divisor, if they are better than what is known."""
    near = min(max(start, -room.limit), room.limit)
    for side in (-1, 1):
        before = np.inf
        for multiplier in range(near if side < 0 else near + 1, side * (room.limit + 1), side):
            low, high = blocks.around(multiplier)
            least, greatest = constants_within(multiplier * room.highest, room.bits)
            wanted = min(max(-(high + low) / 2, least), greatest)
            bound = max(abs(low + wanted), abs(high + wanted))
            if best is not None and bound >= max(before, best.error):
                break
            before, constant = bound, round(wanted)
            error = max(abs(low + constant), abs(high + constant))
            if multiplier != 0 and (best is None or error < best.error):
                best = Integers(multiplier, divisor, constant, error)
    return best
