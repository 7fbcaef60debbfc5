"""A calibration in a controller's own numbers, with the controller's arithmetic on them.

`shown(counts)` is what the controller would show for each count: in double precision, from the signal the
controller takes the count for.
"""

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..converter import Converter
from ..curves import Curve, Line, Table
from ..errors import OutOfRange
from ..model import Finite, Frozen

Array = NDArray[np.float64]
Counts = NDArray[np.int64]


class Cells(NamedTuple):
    """Numbers to load as a grid: headings, then rows, each number with all its digits."""

    headings: tuple[str, ...]
    rows: tuple[tuple[float | str, ...], ...]


class PackedForm(Frozen):
    """A calibration as the controller takes it."""

    title: ClassVar[str] = ""
    caption: ClassVar[str] = ""

    @abstractmethod
    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""

    @abstractmethod
    def continuous(self, converter: Converter) -> Curve:
        """The same arithmetic without the counts' steps; its domain is where no limit holds it."""

    @abstractmethod
    def cells(self, signal_unit: str, unit: str) -> Cells:
        """The numbers to load, as they are typed or pasted."""


def _free(stretch: tuple[float, float], converter: Converter) -> tuple[float, float]:
    """The part of a stretch of signal that the converter reaches.

    Raises: OutOfRange if there is none: then every count would be held at one end.
    """
    low, high = max(stretch[0], converter.low), min(stretch[1], converter.high)
    if not low < high:
        raise OutOfRange(
            f"The packing follows the signal from {stretch[0]:.6g} to {stretch[1]:.6g} only, but the converter reads "
            f"{converter.low:g} to {converter.high:g} {converter.unit}: every count would be held at one end. "
            "Correct the signal ends or the range.",
            found=stretch[0],
        )
    return low, high


class SlopeOffset(PackedForm):
    """shown = slope x signal + offset, held between the limits where there are any."""

    title: ClassVar[str] = "Slope and offset"
    caption: ClassVar[str] = "slope, offset"
    kind: Literal["slope"] = "slope"
    slope: Finite
    offset: Finite
    lower_limit: Finite | None = None
    upper_limit: Finite | None = None

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        value = self.slope * converter.inverse(counts) + self.offset
        if self.lower_limit is None and self.upper_limit is None:
            return np.asarray(value)
        return np.clip(value, self.lower_limit, self.upper_limit)

    def continuous(self, converter: Converter) -> Curve:
        """The line, over the converter's span or between the limits."""
        line = Line(height=self.offset, gradient=self.slope, domain=(converter.low, converter.high))
        if self.lower_limit is None or self.upper_limit is None:
            return line
        low, high = np.sort(line.signal(np.array([self.lower_limit, self.upper_limit]))).tolist()
        return line.with_(domain=_free((low, high), converter))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """Slope and offset, one row each, and the limits."""
        rows: list[tuple[float | str, ...]] = [
            ("slope", self.slope, f"{unit}/{signal_unit}"),
            ("offset", self.offset, unit),
        ]
        if self.lower_limit is not None:
            rows.append(("lower limit", self.lower_limit, unit))
        if self.upper_limit is not None:
            rows.append(("upper limit", self.upper_limit, unit))
        return Cells(("number", "value", "unit"), tuple(rows))


class _PairForm(PackedForm):
    """A straight line given by two pairs; beyond them it goes on, or is held where `clamp` says so."""

    value_low: Finite
    value_high: Finite
    clamp: bool = False

    @staticmethod
    def _between(x: Array, low: tuple[float, float], high: tuple[float, float], clamp: bool) -> Array:
        (x0, y0), (x1, y1) = low, high
        held = np.clip(x, min(x0, x1), max(x0, x1)) if clamp else x
        return np.asarray(y0 + (held - x0) * (y1 - y0) / (x1 - x0))

    @staticmethod
    def _line(low: tuple[float, float], high: tuple[float, float], clamp: bool, converter: Converter) -> Curve:
        free = _free((low[0], high[0]), converter) if clamp else (converter.low, converter.high)
        return Line.through(low, high, free)

    @model_validator(mode="after")
    def _values_apart(self) -> Self:
        if self.value_low == self.value_high:
            raise ValueError(
                f"both values become {self.value_low:g}, so every count would show the same. Choose a finer value step "
                "or ends further apart"
            )
        return self


class EndValues(_PairForm):
    """The values at both ends of the input's signal."""

    title: ClassVar[str] = "Value at both signal ends"
    caption: ClassVar[str] = "signal ends"
    kind: Literal["ends"] = "ends"
    signal_low: Finite
    signal_high: Finite

    @model_validator(mode="after")
    def _ends_apart(self) -> Self:
        if not self.signal_low < self.signal_high:
            raise ValueError(
                f"the lower signal end ({self.signal_low:g}) must lie below the upper ({self.signal_high:g}). Swap them"
            )
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        ends = (self.signal_low, self.value_low), (self.signal_high, self.value_high)
        return self._between(converter.inverse(counts), *ends, self.clamp)

    def continuous(self, converter: Converter) -> Curve:
        """The line through the ends."""
        ends = (self.signal_low, self.value_low), (self.signal_high, self.value_high)
        return self._line(*ends, self.clamp, converter)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each end."""
        rows = ((self.signal_low, self.value_low), (self.signal_high, self.value_high))
        return Cells((f"signal, {signal_unit}", f"value, {unit}"), rows)


class RawPair(_PairForm):
    """Two counts and the engineering values they mean."""

    title: ClassVar[str] = "Raw pair and engineering pair"
    caption: ClassVar[str] = "raw pair"
    kind: Literal["span"] = "span"
    raw_low: int
    raw_high: int

    @model_validator(mode="after")
    def _counts_apart(self) -> Self:
        if not self.raw_low < self.raw_high:
            raise ValueError(f"the lower count ({self.raw_low}) must lie below the upper ({self.raw_high}). Swap them")
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        ends = (float(self.raw_low), self.value_low), (float(self.raw_high), self.value_high)
        return self._between(np.asarray(counts, dtype=float), *ends, self.clamp)

    def continuous(self, converter: Converter) -> Curve:
        """The line through the pairs."""
        low, high = converter.inverse(np.array([self.raw_low, self.raw_high])).tolist()
        return self._line((low, self.value_low), (high, self.value_high), self.clamp, converter)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each pair."""
        return Cells(
            ("raw, counts", f"value, {unit}"),
            ((self.raw_low, self.value_low), (self.raw_high, self.value_high)),
        )


class Knots(PackedForm):
    """A breakpoint table: values at rising signals, joined by straight lines, held or carried on at the ends."""

    title: ClassVar[str] = "Breakpoint table"
    caption: ClassVar[str] = "knots"
    kind: Literal["knots"] = "knots"
    signals: tuple[Finite, ...] = Field(min_length=2)
    values: tuple[Finite, ...] = Field(min_length=2)
    clamp: bool = True

    @model_validator(mode="after")
    def _signals_rise(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        if np.any(np.diff(self.signals) <= 0):
            raise ValueError("two knots fall on one signal: take fewer knots, a wider stretch or a finer signal step")
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        points = converter.inverse(counts)
        if self.clamp:
            return np.asarray(np.interp(points, self.signals, self.values))
        return self.continuous(converter).value(points)

    def continuous(self, converter: Converter) -> Curve:
        """The knots joined."""
        low, high = self.signals[0], self.signals[-1]
        reach = _free((low, high), converter) if self.clamp else (min(low, converter.low), max(high, converter.high))
        return Table(signals=self.signals, values=self.values, domain=reach)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each knot."""
        return Cells((f"signal, {signal_unit}", f"value, {unit}"), tuple(zip(self.signals, self.values, strict=True)))


AnyForm = Annotated[SlopeOffset | EndValues | RawPair | Knots, Field(discriminator="kind")]
