"""From a calibration to the numbers of a form."""

import re
from collections.abc import Callable, Iterator

import numpy as np
from pydantic import ValidationError

from ..curves import Curve, Line, Polynomial
from ..curves.bend import is_straight
from ..curves.polynomial import raw_powers
from ..forms.any_form import AnyForm
from ..forms.code import CFunction, StFunction
from ..forms.expression import MEASURED, FormulaText
from ..forms.integer import FixedPoint, Ratio, largest
from ..forms.register_words import Words
from ..forms.single import SinglePolynomial, single
from ..forms.spec import FormName, PackSpec
from ..forms.straight import SlopeOffset
from ..forms.table import Knots
from ..formula.horner import formula_text
from ..path.converter import Converter
from ..regression.worst_error import HullPoints, best_pair, best_slope, deciding
from ..words.errors import NotApplicable, OutOfRange
from ..words.record import InvalidRecord, first_complaint
from . import straight
from .around import Around
from .order import Made, PackOrder, closest_line, counts_in_reach, signals_in_reach, stretch_of
from .search.chebyshev import closest
from .search.digits import Digits, best_line
from .search.knots import TableOrder, table_of
from .search.rational import Widths, best_ratio

_POLYNOMIAL_ROWS = 400
_MARGIN = 0.01  # of the full count: how far beyond the reach a count may lie where nothing says what is sound


def pack(curve: Curve, converter: Converter, spec: PackSpec, limits: tuple[float, float] | None = None) -> AnyForm:
    """The curve in the form asked for; a clamped slope and offset is held between the values `limits`.

    Raises: OutOfRange or InvalidRecord if the settings leave no usable numbers.
    """
    return pack_in_full(curve, converter, spec, Around(limits)).form


def pack_in_full(curve: Curve, converter: Converter, spec: PackSpec, around: Around | None = None) -> Made:
    """The same with what bounds its error.

    Raises: OutOfRange or InvalidRecord if the settings leave no usable numbers.
    """
    order = PackOrder(curve, converter, spec, around or Around())
    _refuse_flattened(order)
    try:
        made = _given(order) if spec.given else _MAKERS[spec.form](order)
        made.form.continuous(converter)  # refuses a packing that would hold every count at one end
    except ValidationError as error:
        raise InvalidRecord(first_complaint(error)) from error
    return made


def _given(order: PackOrder) -> Made:
    """Numbers that somebody else made, in the form that the settings ask for.

    Raises: NotApplicable for names that are not the form's.
    """
    plain = order.spec.with_(given=(), decimals=None, significant=None, value_step=None)
    if order.spec.form in ("ratio", "integers"):
        plain = plain.with_(value_step=order.spec.value_step)  # which their numbers count in
    form = _MAKERS[plain.form](order._replace(spec=plain)).form
    names = [one.name for one in form.given]
    odd = [name for name, _ in order.spec.given if name not in names]
    if odd:
        wanted = ", ".join(names) or "none: copy them from its own settings"
        raise NotApplicable(f"“{form.title}” has no number {odd[0]}. Its numbers are {wanted}.")
    return Made(form.with_numbers(dict(order.spec.given)))


def _refuse_flattened(order: PackOrder) -> None:
    """Limits that the controller holds values to must leave the curve whole."""
    low, high = order.spec.limit_low, order.spec.limit_high
    if low is None and high is None:
        return
    counts = counts_in_reach(order.curve, order.converter)
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


def _ratio(order: PackOrder) -> Made:
    counts = counts_in_reach(order.curve, order.converter)
    spec = order.spec
    widths = Widths(spec.int_bits, spec.rounding, spec.value_step or 1.0, spec.order)
    truth = order.curve.value(order.converter.inverse(counts))
    found = best_ratio(counts, truth, widths, order.converter.full_count)
    return Made(found.form, found.bound)


def _fixed(order: PackOrder) -> Made:
    counts = counts_in_reach(order.curve, order.converter)
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

    found = best_pair(points, slopes, lambda wanted, _slope: round(wanted / unit) * unit)
    return None if found is None else (round(found.slope / unit), round(found.offset / unit))


def _holds(slope: int, offset: int, top: int, bits: int) -> bool:
    """Whether slope, offset, product and sum fit at every count."""
    return max(abs(slope), abs(offset), abs(slope * top), abs(slope * top + offset)) <= largest(bits)


def _polynomial(order: PackOrder) -> Made:
    return Made(SinglePolynomial(coefficients=tuple(single(number) for number in _powers(order))))


def _powers(order: PackOrder) -> tuple[float, ...]:
    """Ascending coefficients of the curve itself, or of the polynomial whose largest error in reach is least."""
    curve = order.curve
    if isinstance(curve, Line | Polynomial):
        return curve.powers
    if is_straight(curve):
        return closest_line(curve, order.converter).powers
    signal = signals_in_reach(curve, order.converter)
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


def _words(order: PackOrder) -> Made:
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


def _formula(order: PackOrder) -> Made:
    asked, quotes = order.spec.channel_name, order.spec.name_quotes
    name = asked if asked and not quotes else MEASURED
    is_line = is_straight(order.curve) or order.spec.degree == 1
    if is_line:
        line = straight.line_in_digits(order)
        powers: tuple[float, ...] = (line.offset, line.slope)
    else:
        powers = _powers(order)
    written = f"{quotes[:1]}{asked}{quotes[1:]}" if asked and quotes else ""
    text = formula_text(powers, name)
    return Made(FormulaText(text=text, name=name, written_name=written, coefficients=powers))


def _knots(order: PackOrder) -> Made:
    spec, stretch = order.spec, stretch_of(order.spec, order.curve.domain)
    whole = spec.implied_decimals
    if whole is not None:
        spec = spec.with_(value_step=10.0**-whole)
    table, report = table_of(TableOrder(order.curve, order.converter, spec, stretch, order.around.shared))
    if whole is None:
        return Made(table, report.bound, report)
    table = table.with_(implied_decimals=whole, rounding=spec.rounding)
    return Made(table, None, report)  # the bound is of what is not brought to steps


def _c(order: PackOrder) -> Made:
    return _function(order, CFunction)


def _st(order: PackOrder) -> Made:
    return _function(order, StFunction)


def _function(order: PackOrder, kind: type[CFunction] | type[StFunction]) -> Made:
    named, converter = order.around.named, order.converter
    of = order.spec.code_of or ("slope" if is_straight(order.curve) else "knots")
    made = _MAKERS[of](order._replace(spec=order.spec.with_(implied_decimals=None)))
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


def _sound_counts(order: PackOrder) -> tuple[int, int]:
    """The counts beyond which a function reports a fault: not those that the readings reached, where that is known."""
    converter = order.converter
    if order.around.sound is not None:
        low, high = converter.count_of(np.array(order.around.sound)).tolist()
        return low, high
    counts = counts_in_reach(order.curve, converter)
    margin = round(_MARGIN * converter.full_count)
    return max(int(counts[0]) - margin, 0), min(int(counts[-1]) + margin, converter.full_count)


_MAKERS: dict[FormName, Callable[[PackOrder], Made]] = {
    "slope": straight.slope_offset,
    "ends": straight.end_values,
    "integers": straight.integers,
    "normal": straight.normalised,
    "span": straight.raw_pair,
    "divisor": straight.divisor,
    "offset": straight.zero_signal,
    "ratio": _ratio,
    "knots": _knots,
    "poly": _polynomial,
    "fixed": _fixed,
    "words": _words,
    "formula": _formula,
    "st": _st,
    "c": _c,
    "inverse": straight.output_counts,
}
