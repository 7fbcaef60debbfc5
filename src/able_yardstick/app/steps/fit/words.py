"""A fitted curve in words: its equation, its reach, and what it is worth."""

import numpy as np

from ....core.curves import Line, MonotoneCubic, Polynomial, Table
from ....core.document.channel import ContinuousChannel
from ....core.regression.choice import Candidate, Choice
from ....core.regression.fitted import Fitted
from ....core.regression.kinds import KINDS
from ....core.words.numerals import decimals_for, fixed, significant


def introduction(channel: ContinuousChannel, rows: list[Candidate], advised: Choice | None) -> str:
    """Which curve would do, and why; or what is missing to say so."""
    if not rows:
        return "There is nothing to fit yet. Gather readings, or describe the transducer."
    fitted = [row for row in rows if row.usable and row.fitted and row.fitted.signals]
    if not fitted:
        return "No readings yet: only the described curve is on offer. It says nothing of this one sensor."
    if advised is None:
        return "No curve can be recommended from these readings: see beside each why."
    said = f"Recommended: {advised.candidate.title.lower()}, {advised.reason}."
    if not channel.tolerance.is_stated:
        return f"{said} State the error allowed, and it will be seen which curves are good enough."
    inside = [row.title for row in fitted if stays_within(channel, row)]
    if len(inside) == len(fitted) and advised.candidate.fitted and advised.candidate.fitted.dof:
        return f"Every curve stays within the error allowed. {said}"
    return said if inside else f"No curve stays within the error allowed at every reading. {said}"


def stays_within(channel: ContinuousChannel, row: Candidate) -> bool:
    """Whether every error of a candidate is allowed."""
    assert row.fitted is not None
    errors = np.abs(np.array(row.fitted.errors))
    values = row.fitted.curve.value(np.array(row.fitted.signals))
    return bool(np.all(errors <= channel.tolerance.at(values, channel.span)))


def equation(fitted: Fitted, channel: ContinuousChannel) -> str:
    """The curve as an equation in the signal at the pin."""
    curve = fitted.curve
    unit, pin = channel.unit, channel.path.pin_unit
    if isinstance(curve, Table):
        return f"{len(curve.signals)} knots, joined by straight lines"
    if isinstance(curve, MonotoneCubic):
        return f"{len(curve.signals)} knots, joined by cubics that never overshoot"
    if fitted.parameters:
        return _by_parameters(fitted, unit, pin)
    if not isinstance(curve, Line | Polynomial):
        return f"by its {curve.name}, seen through the signal path"
    powers = curve.powers
    terms = [f"{significant(abs(powers[-1]))}\u00a0x{_POWERS[len(powers) - 1]}"]
    signs = ["−" if powers[-1] < 0 else ""]
    for power in range(len(powers) - 2, -1, -1):
        signs.append(" − " if powers[power] < 0 else " + ")
        terms.append(significant(abs(powers[power])) + (f"\u00a0x{_POWERS[power]}" if power else ""))
    body = "".join(sign + term for sign, term in zip(signs, terms, strict=True))
    return f"y = {body}\n(y in {unit}, x in {pin})"


_POWERS = ("", "", "²", "³", "⁴", "⁵")


def _by_parameters(fitted: Fitted, unit: str, pin: str) -> str:
    """The law, and each of its numbers with its standard error."""
    kind = KINDS[fitted.spec.model]
    free = [f"(y in {unit}, x in {pin})"] if fitted.spec.formula else []
    return "\n".join(
        [kind.law(fitted), *free, *(f"{one.name} = {significant(one.value)}" for one in fitted.parameters)]
    )


def spread_sentence(fitted: Fitted, channel: ContinuousChannel) -> str:
    """Standard errors of the coefficients and the scatter, or why they are not known."""
    if fitted.parameters and fitted.residual_sd is not None:
        named = ", ".join(f"{one.name} ±{significant(one.standard_error or 0.0, 2)}" for one in fitted.parameters)
        return f"Standard errors: {named}. One count is {significant(_one_count(fitted, channel), 2)} {channel.unit}."
    errors = fitted.standard_errors
    if errors is None:
        return f"Standard errors of the coefficients are not known: {fitted.why_no_spread}."
    per = f"{channel.unit}/{channel.path.pin_unit}"
    units = [channel.unit, *(f"{per}{power}" for power in _POWERS[1:])]
    parts = [f"{significant(error, 2)} {unit}" for error, unit in zip(errors, units, strict=False)]
    names = ["offset", "slope", "bend", "third", "fourth", "fifth"]
    said = ", ".join(f"{name} ±{part}" for name, part in zip(names, parts, strict=False))
    return f"Standard errors: {said}. One count is {significant(_one_count(fitted, channel), 2)} {channel.unit}."


def _one_count(fitted: Fitted, channel: ContinuousChannel) -> float:
    middle = sum(fitted.curve.domain) / 2
    return abs(float(fitted.curve.slope(middle))) * channel.path.converter.per_count


def reach_sentence(fitted: Fitted, channel: ContinuousChannel) -> str:
    """Over which values the curve is to be trusted."""
    low, high = fitted.curve.domain
    values = sorted(float(v) for v in fitted.curve.value(np.array([low, high])))
    decimals = decimals_for(abs(values[1] - values[0]) / 2000)
    ends = " to ".join(fixed(value, decimals) for value in values)
    pin, places = channel.path.pin_unit, decimals_for(channel.path.converter.per_count)
    word = "described" if fitted.spec.model == "nominal" else "trusted"
    return (
        f"{word.capitalize()} from {ends} {channel.unit}. Below {fixed(low, places)} {pin} and above "
        f"{fixed(high, places)} {pin} it is extrapolated."
    )
