"""A table of breakpoints as controllers take it."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..curves import Curve, Table
from ..path.converter import Converter
from ..words.record import Reckoned
from .base import Array, Cells, Counts, PackedForm, free_stretch


class Knots(PackedForm):
    """A breakpoint table: values at rising signals, joined by straight lines, held or carried on at the ends."""

    title: ClassVar[str] = "Breakpoint table"
    caption: ClassVar[str] = "knots"
    held: ClassVar[str] = "Held at the first and last knot"
    kind: Literal["knots"] = "knots"
    signals: tuple[Reckoned, ...] = Field(min_length=2)
    values: tuple[Reckoned, ...] = Field(min_length=2)
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
        if counts.size > 2 * converter.full_count and counts.min() >= 0 and counts.max() <= converter.full_count:
            return np.asarray(self.shown(converter.every_count(), converter)[counts])  # each count is reckoned once
        points = converter.inverse(counts)
        if self.clamp:
            return np.asarray(np.interp(points, self.signals, self.values))
        return self.continuous(converter).value(points)

    def continuous(self, converter: Converter) -> Curve:
        """The knots joined."""
        low, high = self.signals[0], self.signals[-1]
        reach = (
            free_stretch((low, high), converter) if self.clamp else (min(low, converter.low), max(high, converter.high))
        )
        return Table(signals=self.signals, values=self.values, domain=reach)

    def cells(self, signal_unit: str, unit: str) -> Cells:
        """One row for each knot."""
        return Cells((f"signal, {signal_unit}", f"value, {unit}"), tuple(zip(self.signals, self.values, strict=True)))
