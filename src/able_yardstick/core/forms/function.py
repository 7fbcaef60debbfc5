"""A calibration as a function for a controller: C99 or IEC 61131-3 Structured Text, with a range check.

Both do the same operations in the same order, in single precision or in integers, and `shown` does them too: so the
three agree to the last bit.
"""

import re
from typing import Annotated

import numpy as np
from pydantic import Field

from ..curves import Curve
from ..path.converter import Converter
from ..words.record import Reckoned
from .base import Array, Cells, Counts, PackedForm
from .integer import FixedPoint, Ratio
from .single import SinglePolynomial, signal_of
from .straight import SlopeOffset
from .table import Knots

Arithmetic = Annotated[SlopeOffset | Knots | SinglePolynomial | Ratio | FixedPoint, Field(discriminator="kind")]


class CodeFunction(PackedForm):
    """A function of the count. `lower_end` and `per_count` give the signal; beyond two counts it reports a fault.

    A count beyond `full_count`, which the converter cannot make, is reckoned as that, so that no integer overflows.
    """

    name: str = Field(pattern=r"^[A-Za-z][A-Za-z0-9_]*$")
    of: Arithmetic
    about: str = ""
    unit: str = ""
    signal_unit: str = ""
    lower_end: Reckoned
    per_count: Reckoned
    first_good: int
    last_good: int
    full_count: int

    @property
    def tests(self) -> tuple[int | None, int | None]:
        """The counts below and above which it reports a fault; None where no count could lie."""
        below = self.first_good if self.first_good > 0 else None
        return below, self.last_good if self.last_good < self.full_count else None

    @property
    def is_integer(self) -> bool:
        """Whether it reckons in integers only."""
        return isinstance(self.of, Ratio | FixedPoint)

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the function gives for counts, shape kept: in the channel's unit, also where it is in steps."""
        of = self.of
        if isinstance(of, Ratio | FixedPoint | SinglePolynomial):
            return of.shown(counts, converter)
        signal = signal_of(counts, converter)
        found = _table(of, signal) if isinstance(of, Knots) else _line(of, signal)
        return found.astype(float)

    def continuous(self, converter: Converter) -> Curve:
        """The same without the counts' steps."""
        return self.of.continuous(converter)

    @property
    def text(self) -> str:
        """The function, ready to compile."""
        raise NotImplementedError

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """The lines of the function."""
        return Cells((self.title,), tuple((line,) for line in self.text.splitlines()))


def _line(of: SlopeOffset, signal: "np.ndarray[tuple[int, ...], np.dtype[np.float32]]") -> Array:
    found = np.float32(of.slope) * signal + np.float32(of.offset)
    if of.lower_limit is not None:
        found = np.maximum(found, np.float32(of.lower_limit))
    if of.upper_limit is not None:
        found = np.minimum(found, np.float32(of.upper_limit))
    return np.asarray(found)


def _table(of: Knots, signal: "np.ndarray[tuple[int, ...], np.dtype[np.float32]]") -> Array:
    x, y = np.array(of.signals, dtype=np.float32), np.array(of.values, dtype=np.float32)
    at = np.clip(np.searchsorted(x, signal, side="right") - 1, 0, len(x) - 2)
    found = y[at] + (signal - x[at]) * ((y[at + 1] - y[at]) / (x[at + 1] - x[at]))
    if of.clamp:
        found = np.where(signal <= x[0], y[0], np.where(signal >= x[-1], y[-1], found))
    return np.asarray(found)


def harmless(text: str) -> str:
    """Words that a person typed, as one line that ends no comment of either language and begins none."""
    return re.sub(r"([*/(])(?=[*/)])", r"\1 ", " ".join(text.split()))


def number(value: float) -> str:
    """A number as single precision keeps it, in the fewest digits that give it back."""
    return str(np.float32(value))


def numbers(values: tuple[float, ...], suffix: str = "") -> list[str]:
    """Numbers in rows of six."""
    texts = [number(value) + suffix for value in values]
    return [", ".join(texts[n : n + 6]) for n in range(0, len(texts), 6)]
