"""Integer arithmetic: a ratio with an offset, and fixed point."""

from typing import ClassVar, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..curves import Curve, Line
from ..path.converter import Converter
from ..words.record import Reckoned
from .base import Array, Cells, Counts, GivenNumber, GivenNumbers, PackedForm
from .spec import IntBits, Order, Rounding
from .steps import on_step

Whole = NDArray[np.int64]


def largest(bits: int) -> int:
    """The largest signed integer of so many bits."""
    return int(2 ** (bits - 1)) - 1


def divided(product: Whole, by: int, rounding: Rounding) -> Whole:
    """Integer division as controllers do it, shape kept: truncating, towards below, or to nearest (halves outwards)."""
    if rounding == "floor":
        return np.asarray(product // by)
    half = by // 2 if rounding == "nearest" else 0
    return np.asarray(np.sign(product) * ((np.abs(product) + half) // by))


def constants_within(at_top: int, bits: IntBits) -> tuple[int, int]:
    """The least and greatest constant that does not overflow, nor its sum with what the top count makes."""
    most = largest(bits)
    return max(-most, -most - at_top), min(most, most - at_top)


class Ratio(PackedForm):
    """shown = (A x count / B + C) x value step, all in signed integers of `int_bits`, the intermediate product too."""

    title: ClassVar[str] = "Integer ratio"
    caption: ClassVar[str] = "ratio"
    also: ClassVar[str] = "multiply, divide and add in integers"
    given: ClassVar[GivenNumbers] = (
        GivenNumber("A, multiplier", "multiplier", is_whole=True),
        GivenNumber("B, divisor", "divisor", is_whole=True),
        GivenNumber("C, constant", "constant", is_whole=True),
    )
    kind: Literal["ratio"] = "ratio"
    multiplier: int
    divisor: int = Field(ge=1)
    constant: int
    value_step: Reckoned = Field(default=1.0, gt=0)
    rounding: Rounding = "nearest"
    order: Order = "multiply first"
    int_bits: IntBits = 32

    @model_validator(mode="after")
    def _fits(self) -> Self:
        most = largest(self.int_bits)
        for name, number in (("A", self.multiplier), ("B", self.divisor), ("C", self.constant)):
            if abs(number) > most:
                raise ValueError(f"{name} is {number}, beyond the {most} of {self.int_bits}-bit integers")
        return self

    def whole(self, counts: Counts) -> Whole:
        """The integers that the controller gets for counts, shape kept."""
        x = np.asarray(counts, dtype=np.int64)
        if self.order == "divide first":
            return np.asarray(self.multiplier * divided(x, self.divisor, self.rounding) + self.constant)
        return divided(self.multiplier * x, self.divisor, self.rounding) + self.constant

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return on_step(self.whole(counts).astype(float) * self.value_step, self.value_step)

    def continuous(self, converter: Converter) -> Curve:
        """The line without the steps of the division."""
        x = np.array([0, converter.full_count])
        y = (self.multiplier * x / self.divisor + self.constant) * self.value_step
        low, high = converter.inverse(x).tolist()
        return Line.through((low, float(y[0])), (high, float(y[1])), (low, high))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """A, B and C, one row each."""
        rows: list[tuple[float | str, ...]] = [
            ("A, multiplier", float(self.multiplier)),
            ("B, divisor", float(self.divisor)),
            ("C, constant", float(self.constant)),
            (f"one step, {unit}", self.value_step),
        ]
        return Cells(("number", "value"), tuple(rows))


class FixedPoint(PackedForm):
    """shown = (slope x count + offset) / 2^n with slope and offset as integers in Qm.n, m + n + 1 bits."""

    title: ClassVar[str] = "Fixed point"
    caption: ClassVar[str] = "fixed point"
    kind: Literal["fixed"] = "fixed"
    slope: int
    offset: int
    fraction_bits: int = Field(ge=0, le=30)
    int_bits: IntBits = 32

    @property
    def name(self) -> str:
        """The format, such as Q15.16."""
        return f"Q{self.int_bits - 1 - self.fraction_bits}.{self.fraction_bits}"

    def whole(self, counts: Counts) -> Whole:
        """The integers that the controller gets for counts, shape kept."""
        return self.slope * np.asarray(counts, dtype=np.int64) + self.offset

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return np.asarray(self.whole(counts) / 2.0**self.fraction_bits)

    def continuous(self, converter: Converter) -> Curve:
        """The line itself."""
        low, high = converter.inverse(np.array([0, converter.full_count])).tolist()
        ends = self.shown(np.array([0, converter.full_count]), converter)
        return Line.through((low, float(ends[0])), (high, float(ends[1])), (low, high))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """Slope and offset as integers, in hexadecimal too, and the format."""
        digits = self.int_bits // 4
        rows = tuple(
            (name, float(number), f"{number % 2**self.int_bits:0{digits}X}h")
            for name, number in (("slope", self.slope), ("offset", self.offset))
        )
        return Cells((f"{self.name}, {unit}", "integer", "hexadecimal"), rows)
