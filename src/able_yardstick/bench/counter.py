"""Counters that a source gives with its values: unwrapped where they start again, doubted where they leap."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
_Whole = NDArray[np.int64]
# where counters start again: bytes, words, and displays of so many digits
WIDTHS = (1 << 8, 1 << 16, 1 << 24, 1 << 32, *(10**digits for digits in range(2, 10)))
_LARGEST = float(1 << 53)  # beyond it, not every whole number is told apart


class Unwrapped(NamedTuple):
    """Numbers that go on rising, shape (n,), and the first leap among them in words; empty if there was none."""

    numbers: _Whole
    leap: str


class Counter:
    """Follows a counter that rises by a few from value to value, whatever its width.

    A step that no width explains is taken for one: the number was garbled, or the counter was set anew.
    """

    def __init__(self, widths: tuple[int, ...] = WIDTHS) -> None:
        self._widths = widths
        self._last: float | None = None  # as it came
        self._at = 0  # as it is given on
        self.leaps = 0

    def unwrapped(self, numbers: Array, most: float) -> Unwrapped:
        """Numbers as they came, shape (n,), with no more than `most` between two that follow each other."""
        found = np.empty(len(numbers), dtype=np.int64)
        leap = ""
        for place, number in enumerate(numbers.tolist()):
            step = self._step(number, most)
            if step is None:
                leap = leap or f"its number went from {self._last:.0f} to {number:.6g}"
                self.leaps += 1
                step = 1
            self._at += step
            self._last = number if _is_number(number) else self._last
            found[place] = self._at
        return Unwrapped(found, leap)

    def _step(self, number: float, most: float) -> int | None:
        """From the last number to this; None if that is no step of a counter."""
        if not _is_number(number):
            return None if self._last is not None else 1
        if self._last is None:
            self._at = int(number) - 1
            return 1
        step = int(number) - int(self._last)
        if 0 < step <= most:
            return step
        if step < 0:
            ways = (step + width for width in self._widths if self._last < width)
            return next((way for way in ways if 0 < way <= most), None)
        return None


def _is_number(number: float) -> bool:
    return bool(np.isfinite(number)) and 0 <= number < _LARGEST
