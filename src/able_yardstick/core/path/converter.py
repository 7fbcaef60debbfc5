"""The converter at the end of a path: its straight line from signal to counts, and the quantiser that ends it.

The two are kept apart: the line is inverted exactly, the quantiser only to an interval, within which every signal is as
likely (JCGM 100:2008, F.2.2.1).
"""

from functools import cached_property
from typing import Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..units.electrical import SignalUnit
from ..words.record import Finite, Frozen

Array = NDArray[np.float64]
Counts = NDArray[np.int64]


class Quantiser(Frozen):
    """Turns a continuous count into the whole one that is read, held between 0 and the full count."""

    full_count: int = Field(ge=1)
    rounding: Literal["floor", "nearest"] = "nearest"

    def whole(self, continuous: Array | float) -> Counts:
        """The counts read, shape kept."""
        shifted = np.asarray(continuous, dtype=float) + (0.5 if self.rounding == "nearest" else 0.0)
        return np.clip(np.floor(shifted), 0, self.full_count).astype(np.int64)

    def interval(self, count: int) -> tuple[float, float]:
        """The continuous counts that are read as `count`; the end counts reach to infinity."""
        low = count - (0.5 if self.rounding == "nearest" else 0.0)
        return (-np.inf if count <= 0 else low, np.inf if count >= self.full_count else low + 1)


class Converter(Frozen):
    """A converter of `bits` whose nominal span runs from `low` at count 0 to `high` at its top.

    `top` says what the upper end of the span means: the full count itself, or one above it, which is never read.
    Where its reference was measured off nominal, the true span is stretched with it (`start` to `end`); who reads
    the count goes on believing the nominal one. `shares_supply` says that the sensor lives from that same reference.
    """

    unit: SignalUnit = "V"
    bits: int = Field(default=12, ge=1, le=32)
    low: Finite = 0.0
    high: Finite = 5.0
    full_count: int = Field(default=4095, ge=1)
    top: Literal["full count", "one above"] = "full count"
    rounding: Literal["floor", "nearest"] = "nearest"
    input_ohm: Finite | None = Field(default=None, gt=0)
    reference_v: Finite = Field(default=5.0, gt=0)
    reference_measured_v: Finite | None = Field(default=None, gt=0)
    reference_tolerance_percent: Finite = Field(default=0.0, ge=0, le=50)
    shares_supply: bool = False
    window_s: Finite | None = Field(default=None, gt=0)
    safe_low_v: Finite | None = None
    safe_high_v: Finite | None = None

    @model_validator(mode="after")
    def _possible(self) -> Self:
        if not self.low < self.high:
            raise ValueError(
                f"the converter's span must run upwards: found {self.low:g} to {self.high:g} {self.unit}. Swap the two"
            )
        if self.full_count > 2**self.bits - 1:
            raise ValueError(
                f"full count {self.full_count} does not fit in {self.bits} bits, which end at {2**self.bits - 1}. "
                "Give more bits or a smaller full count"
            )
        return self

    @property
    def counts_at_top(self) -> int:
        """The count that the upper end of the span stands for."""
        return self.full_count + (1 if self.top == "one above" else 0)

    @property
    def reference_factor(self) -> float:
        """Measured reference over nominal; 1 where it was not measured."""
        return 1.0 if self.reference_measured_v is None else self.reference_measured_v / self.reference_v

    @property
    def start(self) -> float:
        """The signal that is truly read as count 0."""
        return self.low * self.reference_factor

    @property
    def end(self) -> float:
        """The signal that is truly read as the count at the top."""
        return self.high * self.reference_factor

    @property
    def nominal(self) -> "Converter":
        """The converter as who reads its counts believes it to be."""
        return self if self.reference_measured_v is None else self.with_(reference_measured_v=None)

    @property
    def reckoning(self) -> "Converter":
        """What the controller reckons with: the nominal span, and which count stands for which end of it."""
        return Converter(
            unit=self.unit, bits=self.bits, low=self.low, high=self.high, full_count=self.full_count, top=self.top,
            rounding=self.rounding,
        )  # fmt: skip

    @property
    def per_count(self) -> float:
        """Signal per count, in `unit`."""
        return (self.end - self.start) / self.counts_at_top

    @property
    def resolution(self) -> float:
        """The smallest step that is told apart, in `unit`: one count, or one pulse more in the counting window."""
        return self.per_count if self.window_s is None else max(self.per_count, 1 / self.window_s)

    @cached_property
    def quantiser(self) -> Quantiser:
        """What turns the continuous count into the one that is read."""
        return Quantiser(full_count=self.full_count, rounding=self.rounding)

    def forward(self, signal: Array | float) -> Array:
        """Continuous counts at signals, shape kept; not held to the span."""
        return np.asarray((np.asarray(signal, dtype=float) - self.start) / (self.end - self.start) * self.counts_at_top)

    def inverse(self, counts: Array | Counts | float) -> Array:
        """Signals at counts, shape kept: what a reader of the count takes the signal for."""
        found = np.asarray(counts, dtype=float) / self.counts_at_top
        found *= self.end - self.start  # in place: it may be ten million counts
        found += self.start
        return np.asarray(found)

    def count_of(self, signal: Array | float) -> Counts:
        """The whole counts read at signals, shape kept."""
        return self.quantiser.whole(self.forward(signal))

    def every_count(self) -> Counts:
        """All counts the converter can give, shape (full count + 1,)."""
        return np.arange(self.full_count + 1, dtype=np.int64)

    def other_top(self) -> "Converter":
        """The same converter under the other convention for the top of its span."""
        return self.with_(top="one above" if self.top == "full count" else "full count")
