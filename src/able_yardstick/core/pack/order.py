"""One packing to be made, what comes of it, and the stretch that it is made for."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import Curve, Line
from ..forms.any_form import AnyForm
from ..forms.spec import PackSpec
from ..path.converter import Converter
from ..regression.worst_error import HullPoints, best_slope, deciding
from ..words.errors import OutOfRange
from .around import Around
from .search.digits import Digits
from .search.knots import TableReport

Array = NDArray[np.float64]


class Made(NamedTuple):
    """A form with what bounds its worst error from below: of tables with a report; None where nothing is proven."""

    form: AnyForm
    bound: float | None = None
    table: TableReport | None = None


class PackOrder(NamedTuple):
    curve: Curve
    converter: Converter
    spec: PackSpec
    around: Around

    @property
    def digits(self) -> Digits:
        """The length of the constants of straight lines."""
        return Digits(self.spec.decimals, None if self.spec.decimals is not None else self.spec.significant)

    @property
    def points(self) -> HullPoints:
        """Signals in reach with the true values, those that decide."""
        signal = signals_in_reach(self.curve, self.converter)
        return deciding(signal, self.curve.value(signal))


def signals_in_reach(curve: Curve, converter: Converter) -> Array:
    """The signals, (n,) in the pin's unit, of every count at which the curve holds. Raises: OutOfRange."""
    return converter.inverse(counts_in_reach(curve, converter))


def counts_in_reach(curve: Curve, converter: Converter) -> NDArray[np.int64]:
    """The counts, (n,), at which the curve holds. Raises: OutOfRange if there are fewer than two."""
    counts = converter.every_count()
    inside = counts[curve.within(converter.inverse(counts))]
    if len(inside) < 2:
        low, high = curve.domain
        raise OutOfRange(
            f"The converter ({converter.low:g} to {converter.high:g} {converter.unit}) gives fewer than two counts "
            f"between {low:g} and {high:g}, where the curve holds. Check the converter's span.",
            found=float(len(inside)),
        )
    return np.asarray(inside)


def closest_line(curve: Curve, converter: Converter) -> Line:
    """The curve itself if it is a line, else the straight line whose largest error over its counts is least."""
    if isinstance(curve, Line):
        return curve
    signal = signals_in_reach(curve, converter)
    points = deciding(signal, curve.value(signal))
    slope = best_slope(points)
    low, high = points.extremes(slope)
    if slope == 0:
        raise OutOfRange(
            "The straight line closest to this curve is level, so every count would show the same. Choose a table.",
            found=0.0,
        )
    centre = float(signal.mean())
    return Line(height=slope * centre - (low + high) / 2, gradient=slope, centre=centre, domain=curve.domain)


def stretch_of(spec: PackSpec, natural: tuple[float, float]) -> tuple[float, float]:
    low = natural[0] if spec.signal_low is None else spec.signal_low
    high = natural[1] if spec.signal_high is None else spec.signal_high
    if not low < high:
        raise OutOfRange(
            f"The lower signal end ({low:g}) must lie below the upper ({high:g}). Correct one of them.",
            found=low,
        )
    return low, high
