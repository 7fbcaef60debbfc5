"""The transducer as its data sheet gives it, and the nominal curve that follows."""

from typing import Annotated, Literal, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from .conditions import NOMINAL, Conditions
from .curves import Curve, Line, Table
from .electrical import SignalUnit
from .model import Finite, Frozen
from .quantity import Quantity

OutputKind = Literal["voltage", "ratiometric voltage", "current loop", "frequency", "counts"]
OUTPUT_UNITS: dict[OutputKind, SignalUnit] = {
    "voltage": "V",
    "ratiometric voltage": "V",
    "current loop": "mA",
    "frequency": "Hz",
    "counts": "counts",
}


class Unrated(Frozen):
    """Nothing is known but what will be measured."""

    kind: Literal["unrated"] = "unrated"

    def curve(self, range_: tuple[float, float]) -> Curve | None:
        """None: there is no nominal curve."""
        return None


class TwoPoints(Frozen):
    """Two rated pairs of output signal and value, at the ends of the range or anywhere in it."""

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

    def curve(self, range_: tuple[float, float]) -> Curve:
        """The line through the points; it holds over the range."""
        first, second = zip(self.signals, self.values, strict=True)
        line = Line.through(first, second, _rising(self.signals))
        return line.with_(domain=_rising(line.signal(np.array(range_))))


class SlopeOffset(Frozen):
    """value = slope x signal + offset."""

    kind: Literal["slope and offset"] = "slope and offset"
    slope: Finite
    offset: Finite

    @model_validator(mode="after")
    def _leads_somewhere(self) -> Self:
        if self.slope == 0:
            raise ValueError("the slope is 0: every signal would mean the same value. Give value per signal")
        return self

    def curve(self, range_: tuple[float, float]) -> Curve:
        """The line; it holds over the range."""
        line = Line(height=self.offset, gradient=self.slope, domain=(0.0, 1.0))
        return line.with_(domain=_rising(line.signal(np.array(range_))))


class RatedTable(Frozen):
    """Rows of output signal and value, as printed."""

    kind: Literal["table"] = "table"
    signals: tuple[Finite, ...] = Field(min_length=2)
    values: tuple[Finite, ...] = Field(min_length=2)

    @model_validator(mode="after")
    def _is_a_curve(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        Table.through(np.array(self.signals), np.array(self.values)).refuse_turns()
        return self

    def curve(self, range_: tuple[float, float]) -> Curve:
        """The rows joined by straight lines; it holds from the first row to the last."""
        return Table.through(np.array(self.signals), np.array(self.values))


Rating = Annotated[Unrated | TwoPoints | SlopeOffset | RatedTable, Field(discriminator="kind")]


def _rising(pair: "tuple[float, float] | NDArray[np.float64]") -> tuple[float, float]:
    low, high = sorted(float(end) for end in pair)
    return low, high


class Transducer(Frozen):
    """A transducer; its range and rated values are in `unit`, as the data sheet prints them."""

    quantity: Quantity = "other"
    unit: str = ""
    range_low: Finite = 0.0
    range_high: Finite = 100.0
    output: OutputKind = "voltage"
    rating: Rating = Field(default_factory=Unrated)
    source: Literal["data sheet", "similar part", "measured", "assumed"] = "data sheet"
    supply_v: Finite = Field(default=5.0, gt=0)

    @model_validator(mode="after")
    def _range_runs_upwards(self) -> Self:
        if not self.range_low < self.range_high:
            raise ValueError(
                f"the range must run upwards: found {self.range_low:g} to {self.range_high:g} {self.unit}. Swap the two"
            )
        return self

    @property
    def span(self) -> float:
        """Width of the range, in `unit`."""
        return self.range_high - self.range_low

    @property
    def output_unit(self) -> SignalUnit:
        """The unit of the output signal."""
        return OUTPUT_UNITS[self.output]

    @property
    def is_ratiometric(self) -> bool:
        """Whether the output follows the supply."""
        return self.output == "ratiometric voltage"

    def nominal(self, conditions: Conditions = NOMINAL) -> Curve | None:
        """The curve from output signal to value in `unit`, or None where nothing is rated.

        A ratiometric output is rated at the nominal supply, and stretches with the one that was measured.
        """
        curve = self.rating.curve((self.range_low, self.range_high))
        if curve is None or not self.is_ratiometric or conditions.supply_v is None:
            return curve
        return _stretched(curve, conditions.supply_v / self.supply_v)


def _stretched(curve: Curve, factor: float) -> Curve:
    low, high = (factor * end for end in curve.domain)
    if isinstance(curve, Table):
        return Table.through(factor * np.array(curve.signals), np.array(curve.values))
    assert isinstance(curve, Line)  # the ratings above give nothing else
    return curve.with_(gradient=curve.gradient / factor, centre=curve.centre * factor, domain=(low, high))
