"""Two integers at the ends of the signal, with a decimal point that stands only on the display."""

from collections.abc import Mapping
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..path.converter import Converter
from .base import Array, Cells, Counts, GivenNumber, GivenNumbers
from .integer import largest
from .spec import IntBits, Rounding
from .steps import whole_steps
from .straight import SignalEnds


class LowHighIntegers(SignalEnds):
    """The integers at both signal ends; what lies between is brought to an integer, read with implied decimals."""

    title: ClassVar[str] = "Low and high integers"
    caption: ClassVar[str] = "integers"
    also: ClassVar[str] = "display low and high; decimal point; integer at 4 mA and at 20 mA; implied decimals"
    held: ClassVar[str] = "Held at the signal ends"
    given: ClassVar[GivenNumbers] = (
        GivenNumber("Integer at the lower end", "integer_low", is_whole=True),
        GivenNumber("Integer at the upper end", "integer_high", is_whole=True),
    )
    kind: Literal["integers"] = "integers"
    implied_decimals: int = Field(ge=0, le=9)
    rounding: Rounding = "nearest"
    int_bits: IntBits = 16

    @property
    def integers(self) -> tuple[int, int]:
        """The numbers to load."""
        low, high = whole_steps(np.array([self.value_low, self.value_high]), self.implied_decimals, "nearest").tolist()
        return int(low), int(high)

    @property
    def integer_low(self) -> int:
        """The number to load for the lower end."""
        return self.integers[0]

    @property
    def integer_high(self) -> int:
        """The number to load for the upper end."""
        return self.integers[1]

    def with_numbers(self, numbers: Mapping[str, float]) -> Self:
        """The same with other integers at its ends. Raises: InvalidRecord."""
        values = {name.replace("integer", "value"): n / 10**self.implied_decimals for name, n in numbers.items()}
        return self.with_(**values)

    @model_validator(mode="after")
    def _fits(self) -> Self:
        low, high = self.integers
        most = largest(self.int_bits)
        if max(abs(low), abs(high)) > most:
            raise ValueError(
                f"{low} and {high} do not both fit {self.int_bits}-bit integers, which end at {most}. Choose fewer "
                "implied decimals, ends closer together, or wider integers"
            )
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        joined = self.joined(counts, converter)
        return whole_steps(joined, self.implied_decimals, self.rounding) / 10.0**self.implied_decimals

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each end, and where the decimal point stands."""
        there, low, high = self.stated_ends(signal_unit)
        first, last = self.integers
        return Cells(
            (f"signal, {there}", "integer", f"shown, {unit}"),
            ((low, float(first), self.value_low), (high, float(last), self.value_high)),
        )
