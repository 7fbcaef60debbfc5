"""From a calibration to the numbers of a form."""

import re
from collections.abc import Callable, Iterator
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError

from ..curves import Curve, Line, Polynomial
from ..curves.polynomial import raw_powers
from ..forms.any_form import AnyForm
from ..forms.code import CFunction, StFunction
from ..forms.expression import MEASURED, FormulaText, formula_text
from ..forms.integer import FixedPoint, Ratio, largest
from ..forms.register_words import Words
from ..forms.single import SinglePolynomial, single
from ..forms.spec import FormName, PackSpec
from ..forms.steps import on_step
from ..forms.straight import Divisor, EndValues, Inverse, RawPair, SlopeOffset
from ..forms.table import Knots
from ..path.converter import Converter
from ..regression.worst_error import HullPoints, best_pair, best_slope, deciding
from ..words.errors import OutOfRange
from ..words.record import InvalidRecord, first_complaint
from .search.chebyshev import closest
from .search.digits import Digits, best_divisor, best_line
from .search.knots import Shared, TableOrder, TableReport, table_of
from .search.rational import Widths, best_ratio

Array = NDArray[np.float64]
_POLYNOMIAL_ROWS = 400
_MOST_STEPS = 200_000
_MARGIN = 0.01  # of the full count: how far beyond the reach a count may lie where nothing says what is sound


def closest_line(curve: Curve, converter: Converter) -> Line:
    """The curve itself if it is a line, else the straight line whose largest error over its counts is least."""
    if isinstance(curve, Line):
        return curve
    signal = _signals_in_reach(curve, converter)
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


def _signals_in_reach(curve: Curve, converter: Converter) -> Array:
    return converter.inverse(_counts_in_reach(curve, converter))


def _counts_in_reach(curve: Curve, converter: Converter) -> NDArray[np.int64]:
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


class Named(NamedTuple):
    """What the texts of a form call the channel, and the units they state."""

    name: str = ""
    about: str = ""
    unit: str = ""
    signal_unit: str = ""


class Around(NamedTuple):
    """What a packing needs to know besides the curve: limits of the range, curves that share a table, and names.

    `sound` are the signals beyond which something is broken; None where only the curve's own reach tells.
    """

    limits: tuple[float, float] | None = None
    shared: tuple[Shared, ...] = ()
    named: Named = Named()
    sound: tuple[float, float] | None = None


class Made(NamedTuple):
    """A form with what bounds its worst error from below: of tables with a report; None where nothing is proven."""

    form: AnyForm
    bound: float | None = None
    table: TableReport | None = None


class _Order(NamedTuple):
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
        signal = _signals_in_reach(self.curve, self.converter)
        return deciding(signal, self.curve.value(signal))


def pack(curve: Curve, converter: Converter, spec: PackSpec, limits: tuple[float, float] | None = None) -> AnyForm:
    """The curve in the form asked for; a clamped slope and offset is held between the values `limits`.

    Raises: OutOfRange or InvalidRecord if the settings leave no usable numbers.
    """
    return pack_in_full(curve, converter, spec, Around(limits)).form


def pack_in_full(curve: Curve, converter: Converter, spec: PackSpec, around: Around | None = None) -> Made:
    """The same with what bounds its error.

    Raises: OutOfRange or InvalidRecord if the settings leave no usable numbers.
    """
    order = _Order(curve, converter, spec, around or Around())
    _refuse_flattened(order)
    try:
        made = _MAKERS[spec.form](order)
        made.form.continuous(converter)  # refuses a packing that would hold every count at one end
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error
    return made


def _refuse_flattened(order: _Order) -> None:
    """Limits that the controller holds values to must leave the curve whole."""
    low, high = order.spec.limit_low, order.spec.limit_high
    if low is None and high is None:
        return
    counts = _counts_in_reach(order.curve, order.converter)
    values = order.curve.value(order.converter.inverse(counts))
    slack = 1e-9 * float(np.ptp(values))
    beyond = np.zeros(len(values), dtype=bool)
    beyond |= (values < low - slack) if low is not None else False
    beyond |= (values > high + slack) if high is not None else False
    if beyond.any():
        row = int(np.argmax(beyond))
        which, limit = ("lower", low) if low is not None and values[row] < low else ("upper", high)
        raise OutOfRange(
            f"The controller's {which} limit of {limit:g} flattens the curve: from count {counts[row]} on "
            f"(value {values[row]:.4g}) {int(beyond.sum())} counts would show the limit instead. "
            "Was it left over from another sensor? Correct it, or leave it empty.",
            found=float(values[row]),
        )


def _slope(order: _Order) -> Made:
    form = _line_in_digits(order)
    low, high = order.spec.limit_low, order.spec.limit_high
    if order.around.limits and order.spec.clamp:
        within = sorted(order.around.limits)
        low, high = (within[0] if low is None else low), (within[1] if high is None else high)
    return Made(form.with_(lower_limit=low, upper_limit=high))


def _line_in_digits(order: _Order) -> SlopeOffset:
    """The line at full precision, or the best one of the wanted length."""
    if not order.digits.are_limited:
        offset, slope = closest_line(order.curve, order.converter).powers
    else:
        pair = best_line(order.points, order.digits)
        slope, offset = pair.slope, pair.offset
    return SlopeOffset(slope=slope, offset=offset)


def _divisor(order: _Order) -> Made:
    if not order.digits.are_limited:
        offset, slope = closest_line(order.curve, order.converter).powers
        return Made(Divisor(divisor=1 / slope, constant=offset))
    pair = best_divisor(order.points, order.digits)
    return Made(Divisor(divisor=pair.slope, constant=pair.offset))


def _ends(order: _Order) -> Made:
    low, high = _stretch(order.spec, (order.converter.low, order.converter.high))
    values = _end_values(order, low, high)
    return Made(
        EndValues(signal_low=low, signal_high=high, value_low=values[0], value_high=values[1], clamp=order.spec.clamp)
    )


def _end_values(order: _Order, low: float, high: float) -> Array:
    """Values at two signals, shape (2,), whose line errs least; on a value step the best pair, not each rounded alone.

    Along the share of the way from the lower to the upper signal, the slope and the offset of a line between two values
    on a grid lie on that same grid.
    """
    line = closest_line(order.curve, order.converter).value(np.array([low, high]))
    step = order.spec.value_step
    if step is None:
        return line
    on_step(line, step)  # refuses a step too fine
    share = HullPoints((order.points.x - low) / (high - low), order.points.truth)

    def slopes(near: float, side: int) -> Iterator[float]:
        first = np.floor(near / step) if side < 0 else np.floor(near / step) + 1
        return ((first + side * n) * step for n in range(_MOST_STEPS))

    pair = best_pair(share, slopes, lambda wanted: round(wanted / step) * step)
    if pair is None:
        return on_step(line, step)
    return on_step(np.array([pair.offset, pair.offset + pair.slope]), step)


def _span(order: _Order) -> Made:
    low, high = _stretch(order.spec, order.curve.domain)
    counts = order.converter.count_of(np.array([low, high]))
    values = _end_values(order, *order.converter.inverse(counts).tolist())
    return Made(
        RawPair(
            raw_low=int(counts[0]),
            raw_high=int(counts[1]),
            value_low=values[0],
            value_high=values[1],
            clamp=order.spec.clamp,
        )
    )


def _ratio(order: _Order) -> Made:
    counts = _counts_in_reach(order.curve, order.converter)
    spec = order.spec
    widths = Widths(spec.int_bits, spec.rounding, spec.value_step or 1.0, spec.order)
    truth = order.curve.value(order.converter.inverse(counts))
    found = best_ratio(counts, truth, widths, order.converter.full_count)
    return Made(found.form, found.bound)


def _fixed(order: _Order) -> Made:
    counts = _counts_in_reach(order.curve, order.converter)
    points = deciding(counts.astype(float), order.curve.value(order.converter.inverse(counts)))
    bits, top = order.spec.int_bits, order.converter.full_count
    wanted = order.spec.fraction_bits
    for fraction in range(bits - 2, -1, -1) if wanted is None else (wanted,):
        found = _in_fixed_point(points, fraction)
        if found is not None and _holds(found[0], found[1], top, bits):
            return Made(FixedPoint(slope=found[0], offset=found[1], fraction_bits=fraction, int_bits=bits))
    what = "any format" if wanted is None else f"Q{bits - 1 - wanted}.{wanted}"
    raise OutOfRange(
        f"Slope {best_slope(points):.4g} for each count does not fit {what} of {bits}-bit integers over every count. "
        "Choose wider integers or other fraction bits.",
        found=float(bits),
    )


def _in_fixed_point(points: HullPoints, fraction: int) -> tuple[int, int] | None:
    unit = 2.0**-fraction
    if fraction > 30 or round(best_slope(points) / unit) == 0:
        return None

    def slopes(near: float, side: int) -> Iterator[float]:
        number = round(near / unit) + (side > 0)
        while True:
            if number != 0:
                yield number * unit
            number += side

    found = best_pair(points, slopes, lambda wanted: round(wanted / unit) * unit)
    return None if found is None else (round(found.slope / unit), round(found.offset / unit))


def _holds(slope: int, offset: int, top: int, bits: int) -> bool:
    """Whether slope, offset, product and sum fit at every count."""
    return max(abs(slope), abs(offset), abs(slope * top), abs(slope * top + offset)) <= largest(bits)


def _polynomial(order: _Order) -> Made:
    return Made(SinglePolynomial(coefficients=tuple(single(number) for number in _powers(order))))


def _powers(order: _Order) -> tuple[float, ...]:
    """Ascending coefficients of the curve itself, or of the polynomial whose largest error in reach is least."""
    curve = order.curve
    if isinstance(curve, Line | Polynomial):
        return curve.powers
    signal = _signals_in_reach(curve, order.converter)
    rows = np.unique(np.linspace(0, len(signal) - 1, _POLYNOMIAL_ROWS).round().astype(np.int64))
    signal = signal[rows]
    value = curve.value(signal)
    centre, scale = float(signal.mean()), float(np.ptp(signal)) / 2
    level = float(value.mean())
    design = np.polynomial.chebyshev.chebvander((signal - centre) / scale, order.spec.degree)
    coefficients, _ = closest(design, value - level, value - level)
    powers = np.polynomial.chebyshev.cheb2poly(coefficients)
    powers = np.pad(powers, (0, order.spec.degree + 1 - len(powers)))
    powers[0] += level
    return raw_powers(tuple(float(number) for number in powers), centre, scale)


def _words(order: _Order) -> Made:
    spec = order.spec
    decimals = 0 if spec.number_type == "f32" else min(spec.decimals or 0, 9)
    if spec.number_type == "f32":
        offset, slope = closest_line(order.curve, order.converter).powers
        slope, offset = single(slope), single(offset)
    else:
        pair = best_line(order.points, Digits(decimals))
        slope, offset = pair.slope, pair.offset
    return Made(
        Words(
            slope=slope, offset=offset, number_type=spec.number_type, word_order=spec.word_order, decimals=decimals
        )
    )  # fmt: skip


def _formula(order: _Order) -> Made:
    name = order.spec.channel_name or MEASURED
    straight = isinstance(order.curve, Line) or order.spec.degree == 1
    if straight:
        line = _line_in_digits(order)
        powers: tuple[float, ...] = (line.offset, line.slope)
    else:
        powers = _powers(order)
    return Made(FormulaText(text=formula_text(powers, name), name=name, coefficients=powers))


def _knots(order: _Order) -> Made:
    stretch = _stretch(order.spec, order.curve.domain)
    table, report = table_of(TableOrder(order.curve, order.converter, order.spec, stretch, order.around.shared))
    return Made(table, report.bound, report)


def _inverse(order: _Order) -> Made:
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


def _c(order: _Order) -> Made:
    return _function(order, CFunction)


def _st(order: _Order) -> Made:
    return _function(order, StFunction)


def _function(order: _Order, kind: type[CFunction] | type[StFunction]) -> Made:
    named, converter = order.around.named, order.converter
    of = order.spec.code_of or ("slope" if isinstance(order.curve, Line) else "knots")
    made = _MAKERS[of](order)
    assert isinstance(made.form, SlopeOffset | Knots | SinglePolynomial | Ratio | FixedPoint)  # what code is made of
    first_good, last_good = _sound_counts(order)
    name = re.sub(r"\W+", "_", order.spec.channel_name or named.name, flags=re.ASCII).strip("_").lower() or "channel"
    form = kind(
        name=f"{name if name[:1].isalpha() else f'channel_{name}'}_value",
        of=made.form,
        about=named.about,
        unit=named.unit,
        signal_unit=named.signal_unit,
        lower_end=converter.low,
        per_count=converter.per_count,
        first_good=first_good,
        last_good=last_good,
        full_count=converter.full_count,
    )
    return made._replace(form=form)


def _sound_counts(order: _Order) -> tuple[int, int]:
    """The counts beyond which a function reports a fault: not those that the readings reached, where that is known."""
    converter = order.converter
    if order.around.sound is not None:
        low, high = converter.count_of(np.array(order.around.sound)).tolist()
        return low, high
    counts = _counts_in_reach(order.curve, converter)
    margin = round(_MARGIN * converter.full_count)
    return max(int(counts[0]) - margin, 0), min(int(counts[-1]) + margin, converter.full_count)


_MAKERS: dict[FormName, Callable[[_Order], Made]] = {
    "slope": _slope,
    "ends": _ends,
    "span": _span,
    "divisor": _divisor,
    "ratio": _ratio,
    "knots": _knots,
    "poly": _polynomial,
    "fixed": _fixed,
    "words": _words,
    "formula": _formula,
    "st": _st,
    "c": _c,
    "inverse": _inverse,
}


def _stretch(spec: PackSpec, natural: tuple[float, float]) -> tuple[float, float]:
    low = natural[0] if spec.signal_low is None else spec.signal_low
    high = natural[1] if spec.signal_high is None else spec.signal_high
    if not low < high:
        raise OutOfRange(
            f"The lower signal end ({low:g}) must lie below the upper ({high:g}). Correct one of them.",
            found=low,
        )
    return low, high
