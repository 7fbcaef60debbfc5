"""A table of breakpoints as controllers take it."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..curves import Curve, Table
from ..path.converter import Converter
from ..words.record import Reckoned, added_later
from .base import Array, Cells, Counts, PackedForm, free_stretch
from .spec import Rounding
from .steps import whole_steps


class Knots(PackedForm):
    """A breakpoint table: values at rising signals, joined by straight lines, held or carried on at the ends.

    With implied decimals its values are kept as integers, and what it shows is brought to the same step.
    """

    title: ClassVar[str] = "Breakpoint table"
    caption: ClassVar[str] = "knots"
    also: ClassVar[str] = "lookup table; rows; linearisation points; integer table with a decimal point"
    held: ClassVar[str] = "Held at the first and last knot"
    kind: Literal["knots"] = "knots"
    signals: tuple[Reckoned, ...] = Field(min_length=2)
    values: tuple[Reckoned, ...] = Field(min_length=2)
    clamp: bool = True
    implied_decimals: int | None = added_later(None, ge=0, le=9)
    rounding: Rounding = added_later("nearest")

    @model_validator(mode="after")
    def _signals_rise(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        if np.any(np.diff(self.signals) <= 0):
            raise ValueError("two knots fall on one signal: take fewer knots, a wider stretch or a finer signal step")
        return self

    def shown(self, counts: Counts, converter: Converter) -> Array:
        """What the controller shows for counts, shape kept."""
        if counts.size > 2 * converter.full_count and counts.min() >= 0 and counts.max() <= converter.full_count:
            return np.asarray(self.shown(converter.every_count(), converter)[counts])  # each count is reckoned once
        points = converter.inverse(counts)
        joined = (
            np.asarray(np.interp(points, self.signals, self.values))
            if self.clamp
            else self.continuous(converter).value(points)
        )
        if self.implied_decimals is None:
            return joined
        return whole_steps(joined, self.implied_decimals, self.rounding) / 10.0**self.implied_decimals

    def continuous(self, converter: Converter) -> Curve:
        """The knots joined."""
        low, high = self.signals[0], self.signals[-1]
        reach = (
            free_stretch((low, high), converter) if self.clamp else (min(low, converter.low), max(high, converter.high))
        )
        return Table(signals=self.signals, values=self.values, domain=reach)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each knot; values that are kept as integers as those, with the step they count."""
        if self.implied_decimals is None:
            return Cells(
                (f"signal, {signal_unit}", f"value, {unit}"), tuple(zip(self.signals, self.values, strict=True))
            )
        whole = whole_steps(np.array(self.values), self.implied_decimals, "nearest").tolist()
        step = 10.0**-self.implied_decimals
        return Cells(
            (f"signal, {signal_unit}", f"integer, {step:g} {unit}"), tuple(zip(self.signals, whole, strict=True))
        )
