"""The transducer as its data sheet gives it, and the nominal curve that follows."""

from typing import Literal, NamedTuple, Self, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import Field, model_validator

from ..curves import Curve, Line
from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import SignalUnit
from ..units.quantity import Quantity
from ..words.errors import NotApplicable
from ..words.record import Finite, Frozen
from ..words.tolerance import Tolerance
from .rating import Rating, Sheet, Unrated

OutputKind = Literal[
    "voltage", "ratiometric voltage", "current loop", "millivolts", "bridge", "resistance", "alternating current",
    "frequency", "duty cycle", "counts",
]  # fmt: skip
OUTPUT_UNITS: dict[OutputKind, SignalUnit] = {
    "voltage": "V",
    "ratiometric voltage": "V",
    "current loop": "mA",
    "millivolts": "mV",
    "bridge": "mV/V",
    "resistance": "Ω",
    "alternating current": "mA",
    "frequency": "Hz",
    "duty cycle": "%",
    "counts": "counts",
}
FigureOrigin = Literal["data sheet of this unit", "data sheet of the type", "similar part", "measured", "assumed"]
SOURCES: tuple[FigureOrigin, ...] = get_args(FigureOrigin)
RespondsTo = Literal["instantaneous", "mean", "true root-mean-square", "rectified mean, scaled for a sine"]


class MeasuredZero(Frozen):
    """The signal seen where the rated curve reads 0, and what then becomes of the slope."""

    signal: Finite
    keep: Literal["slope", "top"] = "slope"


class Transducer(Frozen):
    """A transducer; its range and rated values are in `unit`, as the data sheet prints them.

    Three ranges are kept apart: the working range, what the output signal can be at all, and the overload that the
    part survives.
    """

    quantity: Quantity = "other"
    unit: str = ""
    range_low: Finite = 0.0
    range_high: Finite = 100.0
    output: OutputKind = "voltage"
    rating: Rating = Field(default_factory=Unrated)
    source: FigureOrigin = "data sheet of the type"
    responds_to: RespondsTo = "instantaneous"
    accuracy: Tolerance = Field(default_factory=Tolerance)
    measured_zero: MeasuredZero | None = None
    supply_v: Finite = Field(default=5.0, gt=0)
    supply_least_v: Finite | None = Field(default=None, ge=0)
    supply_most_v: Finite | None = Field(default=None, gt=0)
    signal_low: Finite | None = None
    signal_high: Finite | None = None
    overload: Finite | None = None
    noise: Finite | None = Field(default=None, ge=0)  # standard deviation of the output, in its unit
    response_s: Finite | None = Field(default=None, gt=0)  # until 63 % of a step is seen
    open_collector: bool = False
    dissipation_mw_k: Finite | None = Field(default=None, gt=0)
    polarity_matters: bool = True

    @model_validator(mode="after")
    def _ranges_run_upwards(self) -> Self:
        if not self.range_low < self.range_high:
            raise ValueError(
                f"the range must run upwards: found {self.range_low:g} to {self.range_high:g} {self.unit}. Swap the two"
            )
        if self.overload is not None and self.overload < self.range_high:
            raise ValueError(
                f"the overload survived ({self.overload:g} {self.unit}) must not lie inside the range, which ends at "
                f"{self.range_high:g}. Leave it empty if it is unknown"
            )
        if self.signal_low is not None and self.signal_high is not None and not self.signal_low < self.signal_high:
            raise ValueError(
                f"the signal's limits must run upwards: found {self.signal_low:g} to {self.signal_high:g} "
                f"{self.output_unit}. Swap the two"
            )
        gives = self.rating.gives
        if gives is not None and gives != self.output_unit:
            raise ValueError(
                f"a rating by {self.rating.title} is about an output in {gives}, but this one is {self.output}. "
                "Change one of the two"
            )
        return self

    @model_validator(mode="after")
    def _has_its_curve(self) -> Self:
        _ = self.nominal()  # refuses figures that give no curve over the range
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

    @property
    def sheet(self) -> Sheet:
        """What ratings are read with."""
        return Sheet(self.range_low, self.range_high, self.unit, self.output_unit)

    def rated(self) -> Curve | None:
        """The curve as rated, from output signal to value in `unit`; None where nothing is.

        A thermocouple's is with its terminals at 0 °C. Raises: what the rating refuses.
        """
        return self.rating.curve(self.sheet)

    def nominal(self, conditions: Conditions = NOMINAL) -> Curve | None:
        """The rated curve, with a measured zero in place of the rated one.

        A ratiometric output is rated at the nominal supply, and stretches with the one that was measured.
        """
        if self.measured_zero is None:
            return self._supplied(conditions)
        choices = self.zero_choices(self.measured_zero.signal, conditions)
        return choices.keep_slope if self.measured_zero.keep == "slope" else choices.keep_top

    def _supplied(self, conditions: Conditions) -> Curve | None:
        """The rated curve at the supply there is."""
        curve = self.rated()
        if curve is None or not self.is_ratiometric or conditions.supply_v is None:
            return curve
        return curve.stretched(conditions.supply_v / self.supply_v)

    def zero_choices(self, signal: float, conditions: Conditions = NOMINAL) -> "ZeroChoices":
        """The two lines that a zero leaves open, which was measured at the supply there is.

        Raises: NotApplicable where the rated curve is no line.
        """
        line = self._supplied(conditions)
        if not isinstance(line, Line):
            raise NotApplicable("A measured zero replaces the rated one of a straight line; this one is bent.")
        at_low = min(max(0.0, self.range_low), self.range_high)
        top = self.range_high if at_low != self.range_high else self.range_low
        top_signal = float(line.signal(top))
        if signal == top_signal:
            raise NotApplicable(f"A zero at {signal:g} {self.output_unit} would be the signal of the top. Check it.")
        ends = np.array([self.range_low, self.range_high])
        keep_slope = Line(height=at_low, gradient=line.gradient, centre=signal, domain=line.domain)
        keep_top = Line.through((signal, at_low), (top_signal, top), line.domain)
        return ZeroChoices(
            rated_signal=float(line.signal(at_low)),
            keep_slope=keep_slope.with_(domain=_rising(keep_slope.signal(ends))),
            keep_top=keep_top.with_(domain=_rising(keep_top.signal(ends))),
            at_top=float(keep_slope.value(top_signal)) - top,
        )

    def half_width(self, values: NDArray[np.float64]) -> NDArray[np.float64]:
        """Accuracy as limits either way at values in `unit`, shape kept: what is stated, else the rating's own."""
        if self.accuracy.is_stated:
            return np.broadcast_to(self.accuracy.at(values, self.span), np.shape(values)).astype(float)
        return self.rating.half_width(values, self.sheet)


class ZeroChoices(NamedTuple):
    """What a measured zero leaves open: two lines, and how far the first is off at the rated top (in the unit)."""

    rated_signal: float
    keep_slope: Line
    keep_top: Line
    at_top: float


def _rising(pair: NDArray[np.float64]) -> tuple[float, float]:
    low, high = sorted(float(end) for end in pair)
    return low, high
