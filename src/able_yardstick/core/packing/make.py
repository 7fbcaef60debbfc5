"""From a calibration to the numbers of a form."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError

from ..converter import Converter
from ..curves import Curve, Line
from ..errors import OutOfRange
from ..model import InvalidRecord, first_complaint
from .forms import AnyForm, EndValues, Knots, RawPair, SlopeOffset
from .spec import FormName, PackSpec

Array = NDArray[np.float64]


def on_step(values: Array, step: float | None) -> Array:
    """`values` settled on multiples of a step, shape kept; as decimal numbers, so that 0.1 x 3 is 0.3."""
    if step is None:
        return values
    if np.any(np.abs(values) / step > 2**53):
        raise OutOfRange(f"A step of {step:g} is too fine for values of this size. Choose a coarser one.", found=step)
    decimals = min(max(0, int(np.ceil(-np.log10(step))) + 6), 300)
    return np.asarray(np.round(np.round(values / step) * step, decimals) + 0.0)  # + 0.0: no negative zero


def closest_line(curve: Curve, converter: Converter) -> Line:
    """The curve itself if it is a line, else the straight line closest to it over its counts.

    The least-squares line, moved so that its largest errors up and down are equal.
    """
    if isinstance(curve, Line):
        return curve
    signal = _signals_in_reach(curve, converter)
    value = curve.value(signal)
    centre = float(signal.mean())
    gradient = float(((signal - centre) @ (value - value.mean())) / np.square(signal - centre).sum())
    errors = value - gradient * (signal - centre)
    return Line(height=float(errors.max() + errors.min()) / 2, gradient=gradient, centre=centre, domain=curve.domain)


def _signals_in_reach(curve: Curve, converter: Converter) -> Array:
    signal = converter.inverse(converter.every_count())
    inside = signal[curve.within(signal)]
    if len(inside) < 2:
        low, high = curve.domain
        raise OutOfRange(
            f"The converter ({converter.low:g} to {converter.high:g} {converter.unit}) gives fewer than two counts "
            f"between {low:g} and {high:g}, where the curve holds. Check the converter's span.",
            found=float(len(inside)),
        )
    return np.asarray(inside)


class _Order(NamedTuple):
    curve: Curve
    converter: Converter
    spec: PackSpec
    limits: tuple[float, float] | None


def pack(curve: Curve, converter: Converter, spec: PackSpec, limits: tuple[float, float] | None = None) -> AnyForm:
    """The curve in the form asked for; a clamped slope and offset is held between the values `limits`.

    Raises: OutOfRange or InvalidRecord if the settings leave no usable numbers.
    """
    makers: dict[FormName, Callable[[_Order], AnyForm]] = {
        "slope": _slope,
        "ends": _ends,
        "span": _span,
        "knots": _knots,
    }
    try:
        form = makers[spec.form](_Order(curve, converter, spec, limits))
        form.continuous(converter)  # refuses a packing that would hold every count at one end
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error
    return form


def _slope(order: _Order) -> SlopeOffset:
    line = closest_line(order.curve, order.converter)
    offset, slope = line.powers
    if order.spec.decimals is not None:
        slope, offset = round(slope, order.spec.decimals), round(offset, order.spec.decimals)
    if slope == 0:
        raise OutOfRange(
            f"With {order.spec.decimals} decimals the slope {line.gradient:.3g} becomes 0. Choose more decimals.",
            found=slope,
        )
    low, high = sorted(order.limits) if order.limits and order.spec.clamp else (None, None)
    return SlopeOffset(slope=slope, offset=offset, lower_limit=low, upper_limit=high)


def _ends(order: _Order) -> EndValues:
    low, high = _stretch(order.spec, (order.converter.low, order.converter.high))
    signals = np.array([low, high])
    values = on_step(closest_line(order.curve, order.converter).value(signals), order.spec.value_step)
    return EndValues(
        signal_low=low, signal_high=high, value_low=values[0], value_high=values[1], clamp=order.spec.clamp
    )


def _span(order: _Order) -> RawPair:
    low, high = _stretch(order.spec, order.curve.domain)
    counts = order.converter.count_of(np.array([low, high]))
    line = closest_line(order.curve, order.converter)
    values = on_step(line.value(order.converter.inverse(counts)), order.spec.value_step)
    return RawPair(
        raw_low=int(counts[0]),
        raw_high=int(counts[1]),
        value_low=values[0],
        value_high=values[1],
        clamp=order.spec.clamp,
    )


def _knots(order: _Order) -> Knots:
    low, high = _stretch(order.spec, order.curve.domain)
    signals = on_step(np.linspace(low, high, order.spec.knots), order.spec.signal_step)
    values = on_step(order.curve.value(signals), order.spec.value_step)
    return Knots(signals=tuple(signals.tolist()), values=tuple(values.tolist()), clamp=order.spec.clamp)


def _stretch(spec: PackSpec, natural: tuple[float, float]) -> tuple[float, float]:
    low = natural[0] if spec.signal_low is None else spec.signal_low
    high = natural[1] if spec.signal_high is None else spec.signal_high
    if not low < high:
        raise OutOfRange(
            f"The lower signal end ({low:g}) must lie below the upper ({high:g}). Correct one of them.",
            found=low,
        )
    return low, high
