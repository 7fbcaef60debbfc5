"""Ratings that are straight lines: two points, slope and offset, sensitivity, turns, pulses; and none at all."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ...curves import Line
from ...units.conversion import affine_gain
from ...units.electrical import SignalUnit
from ...words.errors import UnitMismatch
from ...words.numerals import significant
from ...words.record import Finite
from .base import Array, RatingBase, Sheet, rising


class Unrated(RatingBase):
    """Nothing is known but what will be measured."""

    title: ClassVar[str] = "nothing: measured only"
    kind: Literal["unrated"] = "unrated"

    def curve(self, sheet: Sheet) -> None:
        """None: there is no nominal curve."""

    def sentence(self, sheet: Sheet) -> str:
        """What to do instead."""
        return "Gather readings: the curve will come from them alone."


class StraightRating(RatingBase):
    """A rating that is a line over the range."""

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """Slope and offset: value = slope x signal + offset."""
        raise NotImplementedError

    def curve(self, sheet: Sheet) -> Line:
        """The line; it holds over the range."""
        slope, offset = self.line(sheet)
        line = Line(height=offset, gradient=slope, domain=(0.0, 1.0))
        return line.with_(domain=rising(line.signal(np.array([sheet.low, sheet.high]))))

    def sentence(self, sheet: Sheet) -> str:
        """The line in numbers."""
        slope, offset = self.line(sheet)
        sign = "−" if offset < 0 else "+"
        return f"{sheet.unit} = {significant(slope)} × {sheet.output_unit} {sign} {significant(abs(offset))}"


class TwoPoints(StraightRating):
    """Two rated pairs of output signal and value, at the ends of the range or anywhere in it."""

    title: ClassVar[str] = "two rated points"
    kind: Literal["two points"] = "two points"
    signals: tuple[Finite, Finite]
    values: tuple[Finite, Finite]

    @model_validator(mode="after")
    def _apart(self) -> Self:
        for what, pair in (("signals", self.signals), ("values", self.values)):
            if pair[0] == pair[1]:
                raise ValueError(
                    f"the two rated {what} are both {pair[0]:g}: a line needs two different ones. Correct one of them"
                )
        return self

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """Slope and offset of the line through both."""
        (s0, s1), (v0, v1) = self.signals, self.values
        slope = (v1 - v0) / (s1 - s0)
        return slope, v0 - slope * s0

    def curve(self, sheet: Sheet) -> Line:
        """The line through the points, exact at both; it holds over the range."""
        first, second = zip(self.signals, self.values, strict=True)
        line = Line.through(first, second, rising(self.signals))
        return line.with_(domain=rising(line.signal(np.array([sheet.low, sheet.high]))))


class RatedSlope(StraightRating):
    """value = slope x signal + offset."""

    title: ClassVar[str] = "slope and offset"
    kind: Literal["slope and offset"] = "slope and offset"
    slope: Finite
    offset: Finite

    @model_validator(mode="after")
    def _leads_somewhere(self) -> Self:
        if self.slope == 0:
            raise ValueError("the slope is 0: every signal would mean the same value. Give value per signal")
        return self

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """As stated."""
        return self.slope, self.offset


class Sensitivity(StraightRating):
    """A bridge: so many mV/V at capacity, less the zero balance."""

    title: ClassVar[str] = "sensitivity in mV/V"
    gives: ClassVar[SignalUnit | None] = "mV/V"
    kind: Literal["sensitivity"] = "sensitivity"
    mv_per_v: Finite = Field(default=2.0)
    capacity: Finite = Field(default=1000.0, gt=0)
    tolerance_percent: Finite = Field(default=0.1, ge=0, le=50)
    zero_mv_per_v: Finite = 0.0
    zero_tolerance_mv_per_v: Finite = Field(default=0.0, ge=0)

    @model_validator(mode="after")
    def _leads_somewhere(self) -> Self:
        if self.mv_per_v == 0:
            raise ValueError("the sensitivity is 0 mV/V: every load would look the same. Give that of the data sheet")
        return self

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """Capacity over sensitivity, from the zero balance."""
        slope = self.capacity / self.mv_per_v
        return slope, -slope * self.zero_mv_per_v

    def half_width(self, values: Array, sheet: Sheet) -> Array:
        """The tolerances of sensitivity (at the load) and of zero balance, in the unit of the value, shape kept."""
        zero = abs(self.capacity / self.mv_per_v) * self.zero_tolerance_mv_per_v
        return np.asarray(np.abs(values) * self.tolerance_percent / 100 + zero)


class Turns(StraightRating):
    """A current transformer: primary amperes give secondary milliamperes."""

    title: ClassVar[str] = "current transformer's ratio"
    gives: ClassVar[SignalUnit | None] = "mA"
    measures: ClassVar[str] = "A"
    kind: Literal["turns"] = "turns"
    primary_a: Finite = Field(default=50.0, gt=0)
    secondary_ma: Finite = Field(default=50.0, gt=0)

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """Primary over secondary."""
        return self.primary_a / self.secondary_ma * affine_gain("A", sheet.unit or "A"), 0.0


_SECONDS = {"s": 1.0, "min": 60.0, "h": 3600.0}


class Pulses(StraightRating):
    """A frequency: so many pulses for each unit that passed (per m³ of a flow), or hertz for each unit."""

    title: ClassVar[str] = "pulses or hertz per unit"
    gives: ClassVar[SignalUnit | None] = "Hz"
    kind: Literal["pulses"] = "pulses"
    pulses: Finite = Field(default=1.0, gt=0)
    per: str = ""  # a unit that passes, such as m³; empty: hertz per unit of the data sheet

    def line(self, sheet: Sheet) -> tuple[float, float]:
        """Value per hertz. Raises: UnitMismatch where the value does not count `per` in time."""
        if not self.per.strip():
            return 1 / self.pulses, 0.0
        passed, _, time = sheet.unit.partition("/")
        if passed == self.per.strip() and time in _SECONDS:  # the usual case, without the unit registry
            return _SECONDS[time] / self.pulses, 0.0
        try:
            return affine_gain(f"{self.per.strip()}/s", sheet.unit) / self.pulses, 0.0
        except UnitMismatch as error:
            raise UnitMismatch(
                f"{self.per} in time is no {sheet.unit}: expected what passes, such as m³ for m³/h. "
                "Leave it empty for hertz per unit.",
                found=self.per,
                expected=sheet.unit,
            ) from error
