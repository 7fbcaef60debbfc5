"""The driver of an output: the straight line from the count written to the signal at its terminal."""

from typing import Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..words.record import Finite, Frozen

Array = NDArray[np.float64]
Counts = NDArray[np.int64]
DriverUnit = Literal["mA", "V"]


class Driver(Frozen):
    """A driver that gives `low` at its zero count and `high` at its full count, in `unit`.

    The register takes `least_count` to `most_count`, which may lie beyond the two (None: the full count).
    `within_percent` of the span between the two is how far it may be off. A current is driven into at most
    `most_load_ohm`, a voltage into at least `least_load_ohm`, where they are known.
    """

    unit: DriverUnit = "mA"
    low: Finite = 0.0
    high: Finite = 20.0
    zero_count: int = Field(default=0, ge=-(2**31), lt=2**31)
    full_count: int = Field(default=4095, ge=-(2**31), lt=2**32)
    least_count: int = Field(default=0, ge=-(2**31), lt=2**31)
    most_count: int | None = Field(default=None, ge=1, lt=2**32)
    within_percent: Finite = Field(default=0.0, ge=0, le=50)
    most_load_ohm: Finite | None = Field(default=None, gt=0)
    least_load_ohm: Finite | None = Field(default=None, gt=0)

    @model_validator(mode="after")
    def _runs_upwards(self) -> Self:
        if not self.low < self.high:
            raise ValueError(
                f"the output's signal must run upwards: found {self.low:g} to {self.high:g} {self.unit}. Swap the two"
            )
        if not self.zero_count < self.full_count:
            raise ValueError(
                f"the full count must lie above the zero count: found {self.zero_count} and {self.full_count}"
            )
        if not self.least_count < self.top_count:
            raise ValueError(f"the register must take more than one count: found {self.least_count} alone")
        return self

    @property
    def top_count(self) -> int:
        """The largest count that the register takes."""
        return self.full_count if self.most_count is None else self.most_count

    @property
    def per_count(self) -> float:
        """Signal per count, in `unit`."""
        return (self.high - self.low) / (self.full_count - self.zero_count)

    @property
    def start(self) -> float:
        """The signal at the least count that the register takes."""
        return float(self.signal_of(self.least_count))

    @property
    def end(self) -> float:
        """The signal at the largest count that the register takes."""
        return float(self.signal_of(self.top_count))

    def signal_of(self, counts: "Array | Counts | float") -> Array:
        """The signals, in `unit`, that counts give, shape kept."""
        return self.low + (np.asarray(counts, dtype=float) - self.zero_count) * self.per_count

    def exact_count(self, signals: "Array | float") -> Array:
        """The counts, whole or not, that would give signals in `unit`, shape kept."""
        return self.zero_count + (np.asarray(signals, dtype=float) - self.low) / self.per_count

    def count_for(self, signals: "Array | float") -> Counts:
        """The whole counts whose signals, in `unit`, come nearest to the wanted ones, shape kept."""
        nearest = np.floor(self.exact_count(signals) + 0.5)
        return np.clip(nearest, self.least_count, self.top_count).astype(np.int64)
