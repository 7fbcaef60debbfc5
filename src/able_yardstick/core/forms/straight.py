"""Straight lines as controllers take them: slope and offset, values at ends, pairs, a divisor; counts for outputs."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import field_validator, model_validator

from ..curves import Curve, Line
from ..path.converter import Converter
from ..words.record import Reckoned, added_later
from .base import Array, Cells, Counts, GivenNumber, GivenNumbers, PackedForm, free_stretch


class SlopeOffset(PackedForm):
    """shown = slope x signal + offset, held between the limits where there are any."""

    title: ClassVar[str] = "Slope and offset"
    caption: ClassVar[str] = "slope, offset"
    also: ClassVar[str] = "gain and zero; m and b; multiplier and constant"
    given: ClassVar[GivenNumbers] = (GivenNumber("Slope", "slope", "per pin"), GivenNumber("Offset", "offset", "unit"))
    held: ClassVar[str] = "Held at the ends of the range"
    kind: Literal["slope"] = "slope"
    slope: Reckoned
    offset: Reckoned
    lower_limit: Reckoned | None = None
    upper_limit: Reckoned | None = None

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
        return line.with_(domain=free_stretch((low, high), converter))

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

    given: ClassVar[GivenNumbers] = (
        GivenNumber("Value at the lower end", "value_low", "unit"),
        GivenNumber("Value at the upper end", "value_high", "unit"),
    )
    value_low: Reckoned
    value_high: Reckoned
    clamp: bool = False

    @staticmethod
    def _between(x: Array, low: tuple[float, float], high: tuple[float, float], clamp: bool) -> Array:
        (x0, y0), (x1, y1) = low, high
        held = np.clip(x, min(x0, x1), max(x0, x1)) if clamp else x
        return np.asarray(y0 + (held - x0) * (y1 - y0) / (x1 - x0))

    @staticmethod
    def _line(low: tuple[float, float], high: tuple[float, float], clamp: bool, converter: Converter) -> Curve:
        free = free_stretch((low[0], high[0]), converter) if clamp else (converter.low, converter.high)
        return Line.through(low, high, free)

    @model_validator(mode="after")
    def _values_apart(self) -> Self:
        if self.value_low == self.value_high:
            raise ValueError(
                f"both values become {self.value_low:g}, so every count would show the same. Choose a finer value step "
                "or ends further apart"
            )
        return self


class SignalEnds(_PairForm):
    """A straight line given at two signals: at the pin, and where so stated, as the transducer puts them out."""

    signal_low: Reckoned
    signal_high: Reckoned
    output_low: Reckoned | None = added_later(None)
    output_high: Reckoned | None = added_later(None)
    output_unit: str = added_later("")

    @model_validator(mode="after")
    def _ends_apart(self) -> Self:
        if not self.signal_low < self.signal_high:
            raise ValueError(
                f"the lower signal end ({self.signal_low:g}) must lie below the upper ({self.signal_high:g}). Swap them"
            )
        return self

    def joined(self, counts: Counts, converter: Converter) -> Array:
        """The line at counts before anything is rounded, shape kept."""
        ends = (self.signal_low, self.value_low), (self.signal_high, self.value_high)
        return self._between(converter.inverse(counts), *ends, self.clamp)

    def continuous(self, converter: Converter) -> Curve:
        """The line through the ends."""
        ends = (self.signal_low, self.value_low), (self.signal_high, self.value_high)
        return self._line(*ends, self.clamp, converter)

    def stated_ends(self, signal_unit: str) -> tuple[str, float, float]:
        """The unit and the signals at both ends as they are typed into the controller."""
        if self.output_low is None or self.output_high is None:
            return signal_unit, self.signal_low, self.signal_high
        return self.output_unit, self.output_low, self.output_high


class EndValues(SignalEnds):
    """The values at both ends of the input's signal, or at any two signals, such as 4 and 20 mA."""

    title: ClassVar[str] = "Value at both signal ends"
    caption: ClassVar[str] = "signal ends"
    also: ClassVar[str] = "value at 4 mA and at 20 mA; value at 0.5 V and at 4.5 V; zero and full scale"
    held: ClassVar[str] = "Held at the signal ends"
    kind: Literal["ends"] = "ends"

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return self.joined(counts, converter)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each end."""
        there, low, high = self.stated_ends(signal_unit)
        return Cells((f"signal, {there}", f"value, {unit}"), ((low, self.value_low), (high, self.value_high)))


class RawEnds(_PairForm):
    """A straight line given at two counts."""

    given: ClassVar[GivenNumbers] = (
        GivenNumber("Lower count", "raw_low", "counts", True),
        GivenNumber("Upper count", "raw_high", "counts", True),
        *_PairForm.given,
    )
    raw_low: int
    raw_high: int

    @model_validator(mode="after")
    def _counts_apart(self) -> Self:
        if not self.raw_low < self.raw_high:
            raise ValueError(f"the lower count ({self.raw_low}) must lie below the upper ({self.raw_high}). Swap them")
        return self

    def continuous(self, converter: Converter) -> Curve:
        """The line through the pairs."""
        low, high = converter.inverse(np.array([self.raw_low, self.raw_high])).tolist()
        return self._line((low, self.value_low), (high, self.value_high), self.clamp, converter)


class RawPair(RawEnds):
    """Two counts and the engineering values they mean."""

    title: ClassVar[str] = "Raw pair and engineering pair"
    caption: ClassVar[str] = "raw pair"
    also: ClassVar[str] = "raw low and high, scaled low and high; counts at zero and full count"
    held: ClassVar[str] = "Held at the two pairs"
    kind: Literal["span"] = "span"

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        ends = (float(self.raw_low), self.value_low), (float(self.raw_high), self.value_high)
        return self._between(np.asarray(counts, dtype=float), *ends, self.clamp)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each pair."""
        return Cells(
            ("raw, counts", f"value, {unit}"),
            ((self.raw_low, self.value_low), (self.raw_high, self.value_high)),
        )


class Divisor(PackedForm):
    """shown = signal / divisor + constant."""

    title: ClassVar[str] = "Divisor and constant"
    caption: ClassVar[str] = "divisor"
    also: ClassVar[str] = "divider and constant; volts per unit"
    given: ClassVar[GivenNumbers] = (
        GivenNumber("Divisor", "divisor", "pin per"),
        GivenNumber("Constant", "constant", "unit"),
    )
    kind: Literal["divisor"] = "divisor"
    divisor: Reckoned
    constant: Reckoned

    @field_validator("divisor")
    @classmethod
    def _divides(cls, divisor: float) -> float:
        if divisor == 0:
            raise ValueError("nothing can be divided by 0. Choose more digits for the divisor")
        return divisor

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return np.asarray(converter.inverse(counts) / self.divisor + self.constant)

    def continuous(self, converter: Converter) -> Curve:
        """The line, over the converter's span."""
        return Line(height=self.constant, gradient=1 / self.divisor, domain=(converter.low, converter.high))

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """Divisor and constant, one row each."""
        rows = (("divisor", self.divisor, f"{signal_unit}/{unit}"), ("constant", self.constant, unit))
        return Cells(("number", "value", "unit"), rows)


class ZeroSignal(PackedForm):
    """shown = slope x (signal - zero): the zero is given as a signal, in the pin's unit."""

    title: ClassVar[str] = "Slope and zero signal"
    caption: ClassVar[str] = "slope, zero signal"
    also: ClassVar[str] = "offset in volts; signal at zero and sensitivity; tare in milliamps"
    given: ClassVar[GivenNumbers] = (
        GivenNumber("Slope", "slope", "per pin"),
        GivenNumber("Signal at zero", "zero", "pin"),
    )
    kind: Literal["offset"] = "offset"
    slope: Reckoned
    zero: Reckoned

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        return np.asarray(self.slope * (converter.inverse(counts) - self.zero))

    def continuous(self, converter: Converter) -> Curve:
        """The line, over the converter's span."""
        domain = (converter.low, converter.high)
        return Line(height=-self.slope * self.zero, gradient=self.slope, domain=domain)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """Slope and zero signal, one row each."""
        rows = (("slope", self.slope, f"{unit}/{signal_unit}"), ("signal at zero", self.zero, signal_unit))
        return Cells(("number", "value", "unit"), rows)


class Inverse(PackedForm):
    """For an output: count = slope x value + offset, rounded and held to what the converter has.

    `shown` is the value that a count stands for, so that its cost is measured like that of every other form.
    """

    title: ClassVar[str] = "Counts for a value (output)"
    caption: ClassVar[str] = "output counts"
    also: ClassVar[str] = "analog output; counts to send"
    kind: Literal["inverse"] = "inverse"
    slope: Reckoned  # counts per unit of value
    offset: Reckoned
    value_low: Reckoned
    value_high: Reckoned

    @field_validator("slope")
    @classmethod
    def _moves(cls, slope: float) -> float:
        if slope == 0:
            raise ValueError("every value would give the same count. Choose more digits for the slope")
        return slope

    def counts_for(self, values: Array | float, converter: Converter) -> Counts:
        """The counts to send for wanted values, shape kept."""
        wanted = self.slope * np.asarray(values, dtype=float) + self.offset
        return np.clip(np.floor(wanted + 0.5), 0, converter.full_count).astype(np.int64)

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """The values that counts stand for, shape kept."""
        return np.asarray((np.asarray(counts, dtype=float) - self.offset) / self.slope)

    def continuous(self, converter: Converter) -> Curve:
        """The line, over the converter's span."""
        ends = self.shown(np.array([0, converter.counts_at_top]), converter)
        span = (converter.low, converter.high)
        return Line.through((span[0], float(ends[0])), (span[1], float(ends[1])), span)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """Slope and offset, and the counts at both ends of the range."""
        rows: list[tuple[float | str, ...]] = [
            ("slope", self.slope, f"counts/{unit}"),
            ("offset", self.offset, "counts"),
        ]
        for value in (self.value_low, self.value_high):
            count = float(np.floor(self.slope * value + self.offset + 0.5))
            rows.append((f"at {value:.6g} {unit}", count, "counts"))
        return Cells(("number", "value", "unit"), tuple(rows))
