"""Arithmetic in single precision, as most controllers have it (IEEE 754 binary32): every step rounds to 24 bits."""

from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from ..curves import Curve, Polynomial
from ..path.converter import Converter
from ..words.record import Reckoned
from .base import Array, Cells, Counts, PackedForm

Single = NDArray[np.float32]


def single(number: float) -> float:
    """A number as single precision keeps it."""
    return float(np.float32(number))


def signal_of(counts: Counts, converter: Converter) -> Single:
    """The signal of counts, in the converter's unit, shape kept, reckoned in single precision."""
    return np.asarray(
        np.float32(converter.low) + np.asarray(counts).astype(np.float32) * np.float32(converter.per_count)
    )


def horner(coefficients: tuple[float, ...], x: Single) -> Single:
    """A polynomial by Horner's rule, ascending coefficients, each step in single precision."""
    total = np.full(x.shape, np.float32(coefficients[-1]), dtype=np.float32)
    for coefficient in reversed(coefficients[:-1]):
        total = total * x + np.float32(coefficient)
    return total


class SinglePolynomial(PackedForm):
    """shown = a polynomial of the signal by Horner's rule, coefficients and every step in single precision."""

    title: ClassVar[str] = "Polynomial, single precision"
    caption: ClassVar[str] = "polynomial"
    kind: Literal["poly"] = "poly"
    coefficients: tuple[Reckoned, ...] = Field(min_length=2, max_length=6)  # ascending, as single precision keeps them

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return horner(self.coefficients, signal_of(counts, converter)).astype(float)

    def continuous(self, converter: Converter) -> Curve:
        """The same polynomial in double precision."""
        return Polynomial(coefficients=self.coefficients, domain=(converter.low, converter.high))

    def horner_error(self, converter: Converter) -> float:
        """The largest difference, at any count, to the same coefficients reckoned in double precision: what the
        rounding of the signal and of every step costs.
        """
        counts = converter.every_count()
        exact = self.continuous(converter).value(converter.inverse(counts))
        return float(np.max(np.abs(self.shown(counts, converter) - exact)))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each power, rising."""
        rows = tuple((f"c{power}", number) for power, number in enumerate(self.coefficients))
        return Cells(("coefficient", f"{unit} for a signal in {signal_unit}"), rows)
