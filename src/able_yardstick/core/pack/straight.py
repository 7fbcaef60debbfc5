"""The numbers of straight lines: slope and offset, two values, a divisor, a zero signal; counts to send."""

import math
from collections.abc import Iterator
from contextlib import suppress
from typing import Any

import numpy as np
from pydantic import ValidationError

from ..forms.cost import packing_errors
from ..forms.implied import LowHighIntegers
from ..forms.normalised import Normalised
from ..forms.single import single
from ..forms.steps import on_step
from ..forms.straight import Divisor, EndValues, Inverse, RawPair, SlopeOffset, ZeroSignal
from ..regression.worst_error import HullPoints, best_pair, best_slope
from .order import Array, Made, PackOrder, closest_line, stretch_of
from .search.digits import best_divisor, best_line, best_zero

_MOST_STEPS = 200_000
_MOST_IMPLIED = 6  # decimals of integers, where none are asked for


def slope_offset(order: PackOrder) -> Made:
    form = line_in_digits(order)
    low, high = order.spec.limit_low, order.spec.limit_high
    if order.around.limits and order.spec.clamp:
        within = sorted(order.around.limits)
        low, high = (within[0] if low is None else low), (within[1] if high is None else high)
    return Made(form.with_(lower_limit=low, upper_limit=high))


def line_in_digits(order: PackOrder) -> SlopeOffset:
    """The line at full precision, or the best one of the wanted length."""
    if not order.digits.are_limited:
        offset, slope = closest_line(order.curve, order.converter).powers
    else:
        pair = best_line(order.points, order.digits)
        slope, offset = pair.slope, pair.offset
    return SlopeOffset(slope=slope, offset=offset)


def divisor(order: PackOrder) -> Made:
    if not order.digits.are_limited:
        offset, slope = closest_line(order.curve, order.converter).powers
        return Made(Divisor(divisor=1 / slope, constant=offset))
    pair = best_divisor(order.points, order.digits)
    return Made(Divisor(divisor=pair.slope, constant=pair.offset))


def zero_signal(order: PackOrder) -> Made:
    if not order.digits.are_limited:
        offset, slope = closest_line(order.curve, order.converter).powers
        return Made(ZeroSignal(slope=slope, zero=-offset / slope))
    pair = best_zero(order.points, order.digits)
    return Made(ZeroSignal(slope=pair.slope, zero=order.digits.nearest(-pair.offset / pair.slope)))


def end_values(order: PackOrder) -> Made:
    ends = _stated_ends(order)
    values = _values_at(order, ends["signal_low"], ends["signal_high"], order.spec.value_step)
    return Made(EndValues(**ends, value_low=values[0], value_high=values[1], clamp=order.spec.clamp))


def _stated_ends(order: PackOrder) -> dict[str, Any]:
    """The two signals at which a line is given, as the fields of a form: rising at the pin."""
    ends = order.around.ends
    if ends is None:
        low, high = stretch_of(order.spec, (order.converter.low, order.converter.high))
        return {"signal_low": low, "signal_high": high}
    (low, first), (high, last) = sorted(zip(ends.pins, ends.outputs, strict=True))
    return {
        "signal_low": low, "signal_high": high, "output_low": first, "output_high": last, "output_unit": ends.unit,
    }  # fmt: skip


def integers(order: PackOrder) -> Made:
    """The integers at both ends with the decimals asked for, else with one count told apart, as far as they fit."""
    spec = order.spec
    if spec.implied_decimals is not None:
        return Made(_with_integers(order, spec.implied_decimals))
    points = order.points
    per_count = abs(best_slope(points)) * order.converter.resolution
    needed = min(max(math.ceil(-math.log10(per_count)), 0), _MOST_IMPLIED) if per_count else 0
    for decimals in range(needed, -1, -1):
        with suppress(ValidationError):
            return Made(_with_integers(order, decimals))
    return Made(_with_integers(order, 0))  # says why not


def _with_integers(order: PackOrder, decimals: int) -> LowHighIntegers:
    """The best pair for the way the controller comes to an integer: cutting off asks for half a step more."""
    ends, spec, step = _stated_ends(order), order.spec, 10.0**-decimals
    found = []
    for shift in (0.0,) if spec.rounding == "nearest" else (0.0, step / 2, -step / 2):
        values = _values_at(order, ends["signal_low"], ends["signal_high"], step, shift)
        form = LowHighIntegers(
            **ends, value_low=values[0], value_high=values[1], clamp=spec.clamp, implied_decimals=decimals,
            rounding=spec.rounding, int_bits=spec.int_bits,
        )  # fmt: skip
        errors = packing_errors(form, order.curve, order.converter)
        inside = order.curve.within(order.converter.inverse(order.converter.every_count()))
        found.append((float(np.max(np.abs(errors[inside]))), form))
    return min(found, key=lambda one: one[0])[1]


def raw_pair(order: PackOrder) -> Made:
    return Made(RawPair(**_raw_ends(order)))


def normalised(order: PackOrder) -> Made:
    ends = _raw_ends(order)
    return Made(Normalised(**ends | {name: single(ends[name]) for name in ("value_low", "value_high")}))


def _raw_ends(order: PackOrder) -> dict[str, Any]:
    """Two counts and their values, as the fields of a form."""
    low, high = stretch_of(order.spec, order.curve.domain)
    counts = order.converter.count_of(np.array([low, high]))
    low, high = order.converter.inverse(counts).tolist()
    values = _values_at(order, low, high, order.spec.value_step).tolist()
    return {
        "raw_low": int(counts[0]), "raw_high": int(counts[1]), "value_low": values[0], "value_high": values[1],
        "clamp": order.spec.clamp,
    }  # fmt: skip


def _values_at(order: PackOrder, low: float, high: float, step: float | None, shift: float = 0.0) -> Array:
    """Values at two signals, shape (2,), whose line errs least; on a value step the best pair, not each rounded alone.

    Along the share of the way from the lower to the upper signal, the slope and the offset of a line between two values
    on a grid lie on that same grid. `shift` is added to all that the line is to follow.
    """
    line = closest_line(order.curve, order.converter).value(np.array([low, high])) + shift
    if step is None:
        return line
    on_step(line, step)  # refuses a step too fine
    share = HullPoints((order.points.x - low) / (high - low), order.points.truth + shift)

    def slopes(near: float, side: int) -> Iterator[float]:
        first = np.floor(near / step) if side < 0 else np.floor(near / step) + 1
        return ((first + side * n) * step for n in range(_MOST_STEPS))

    pair = best_pair(share, slopes, lambda wanted, _slope: round(wanted / step) * step)
    if pair is None:
        return on_step(line, step)
    return on_step(np.array([pair.offset, pair.offset + pair.slope]), step)


def output_counts(order: PackOrder) -> Made:
    line, converter = closest_line(order.curve, order.converter), order.converter
    ends = np.sort(line.value(np.array(order.curve.domain))) if order.around.limits is None else order.around.limits
    counts = converter.forward(line.signal(np.array([0.0, 1.0])))
    return Made(
        Inverse(
            slope=float(counts[1] - counts[0]),
            offset=float(counts[0]),
            value_low=float(ends[0]),
            value_high=float(ends[1]),
        )
    )
