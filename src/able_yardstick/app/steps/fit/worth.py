"""What a curve is worth, in figures: linearity, the budget of U, the tests, the coefficients with their covariance."""

from collections.abc import Sequence

import numpy as np

from ....core.document.channel import ContinuousChannel
from ....core.fit.assumption_cost import AssumptionCost
from ....core.fit.budget import FitBudget, Reach
from ....core.fit.linearity import Linearity
from ....core.regression.fitted import Fitted
from ....core.regression.worth import Worth
from ....core.uncertainty.coverage import Contribution
from ....core.words.numerals import decimals_for, fixed, significant
from ...panel.bar_table import Bar, origin_words
from ...panel.figures import FigureRow

_ENDLESS = 1e5  # degrees of freedom: as good as known outright


def linearity_rows(found: Linearity) -> list[FigureRow]:
    """Each figure in the unit and in percent of span; those that the readings cannot give say why."""
    rows = []
    for term in found.terms:
        percent = found.percent(term)
        if term.value is None or percent is None:
            rows.append(FigureRow(term.name, "—", "—", note=term.why_not))
        else:
            decimals = decimals_for(found.span / 20_000)
            rows.append(FigureRow(term.name, fixed(term.value, decimals), fixed(percent, 3)))
    return rows


def linearity_meanings(found: Linearity) -> str:
    """What each term means, a line each."""
    return "\n".join(f"{term.name}: {term.means}" for term in found.terms)


def linearity_summary(found: Linearity) -> str:
    """The first figure there is, in percent of span."""
    first = next((term for term in found.terms if term.value is not None), None)
    percent = None if first is None else found.percent(first)
    return "" if first is None or percent is None else f"{first.name} {fixed(percent, 3)} % of span"


def budget_bars(budget: FitBudget) -> list[Bar]:
    """Every row of the budget with where it came from, and what they come to."""
    most = max(row.standard for row in budget.rows)
    decimals = decimals_for(most / 200)
    bars = [
        Bar(row.name, fixed(row.standard, decimals), row.standard / most if most else 0.0, _origin(row))
        for row in budget.rows
    ]
    found = budget.interval
    how = "k from scatter and limits together" if found.by_integration else "k from Student's distribution"
    freedom = f"{_freedom(found.dof)} degrees of freedom"
    note = f"{freedom}; times k = {fixed(found.factor, 2)} makes U; {how}; the first two count as one"
    bars.append(Bar("combined", fixed(found.combined, decimals), 0.0, note, heavy=True))
    return bars


def _origin(row: Contribution) -> str:
    """Size, distribution, divisor and sensitivity of a row; where it is its own size, how it was found."""
    if row.divisor == 1.0 and row.sensitivity == 1.0:
        found = f"normal, found from the readings, {_freedom(row.dof)} degrees of freedom"
        return found if np.isfinite(row.dof) else "normal, standard"
    return origin_words(row)


def _freedom(dof: float) -> str:
    return "∞" if dof > _ENDLESS else f"{dof:.0f}"


def uncertainty_title(budget: FitBudget, channel: ContinuousChannel) -> str:
    """U with its sign and unit."""
    expanded = budget.interval.expanded
    return f"±{fixed(expanded, decimals_for(expanded / 20))} {channel.unit}"


def growth_sentence(fitted: Fitted, reach: Reach, channel: ContinuousChannel) -> str:
    """How U grows beyond the readings."""
    low, high = fitted.curve.domain
    decimals = decimals_for(channel.span / 2000)
    parts = []
    for end in (0, -1):
        value = fixed(float(fitted.curve.value(reach.pins[end])), decimals)
        parts.append(f"±{significant(float(reach.expanded[end]), 2)} at {value} {channel.unit}")
    return f"There U grows: {', '.join(parts)}." if high > low else ""


def worth_sentences(fitted: Fitted, worth: Worth, least: tuple[str, float] | None, unit: str) -> str:
    """The lack-of-fit test, the stops left out in turn, and Akaike's criterion, a line each."""
    lines = [_lack_of_fit(worth)]
    if worth.cross_validated is not None:
        lines.append(
            f"Stops left out of the fit in turn are missed by {significant(worth.cross_validated, 2)} {unit} "
            f"(scatter {significant(fitted.residual_sd or 0.0, 2)})."
        )
    if worth.aicc is not None and least is not None:
        name, figure = least
        best = "the least of all" if figure >= worth.aicc else f"least: {figure:.1f}, {name.lower()}"
        lines.append(f"AICc {fixed(worth.aicc, 1)} ({best}).".replace("-", "−"))
    return "\n".join(lines)


def _lack_of_fit(worth: Worth) -> str:
    test = worth.lack_of_fit
    if test is None:
        return f"Lack of fit is not tested: {worth.why_no_test}."
    figures = f"F = {significant(test.ratio, 3)} ({test.dof_lack} and {test.dof_pure} degrees of freedom)"
    chance = "under 0.1 %" if test.chance < 0.001 else f"{significant(100 * test.chance, 2)} %"
    said = "more than chance: the curve misses the stops" if test.is_significant else "no more than chance"
    return f"Lack of fit: {figures}, probability {chance}, {said}."


def assumption_sentences(costs: Sequence[AssumptionCost], unit: str) -> str:
    """What an assumed reading that is off by 1 % of the span would make of the curve."""
    return " ".join(
        f"Were the one at {significant(cost.reference, 4)} {unit} off by 1 % of span, the curve would be off by "
        f"{significant(100 * cost.share, 2)} % at {significant(cost.value, 4)}."
        for cost in costs
    )


def coefficients_text(fitted: Fitted) -> str:
    """Coefficients in ascending powers of the signal, or by name, with all digits, standard errors and covariance."""
    names, values, errors, covariance = _coefficients(fitted)
    if not names:
        return ""
    lines = []
    for name, value, error in zip(names, values, errors, strict=True):
        lines.append(f"{name:<6} {value:.12g}" + ("" if error is None else f"  ± {error:.3g}"))
    if covariance is not None:
        lines.append("covariance")
        lines += ["  ".join(f"{cell: .3e}" for cell in row) for row in covariance]
    return "\n".join(lines).replace("-", "−")


def _coefficients(
    fitted: Fitted,
) -> tuple[list[str], list[float], list[float | None], tuple[tuple[float, ...], ...] | None]:
    if fitted.parameters:
        rows = [(one.name, one.value, one.standard_error) for one in fitted.parameters]
        return [r[0] for r in rows], [r[1] for r in rows], [r[2] for r in rows], fitted.parameter_covariance
    powers = getattr(fitted.curve, "powers", None)
    if powers is None:
        return [], [], [], None
    errors = fitted.standard_errors or (None,) * len(powers)
    covariance = fitted.solution.power_covariance() if fitted.solution else None
    return [f"x^{n}" for n in range(len(powers))], list(powers), list(errors), covariance


def trust_sentence(fitted: Fitted, doubted: bool, channel: ContinuousChannel) -> str:
    """How the readings were weighed, and which of them a robust fit distrusts."""
    parts = []
    if fitted.weights and doubted:
        parts.append("Each reading is weighed by its own uncertainty.")
    if fitted.spec.robust:
        parts.append(_distrusted(fitted, channel))
    return " ".join(parts)


def _distrusted(fitted: Fitted, channel: ContinuousChannel) -> str:
    if not fitted.distrusted:
        return "The robust fit distrusts no reading."
    values = fitted.curve.value(np.array(fitted.signals)) - np.array(fitted.errors)
    named = [
        f"row {row + 1} ({significant(float(values[row]), 4)} {channel.unit}, off by "
        f"{significant(fitted.errors[row], 2)})"
        for row in fitted.distrusted
    ]
    return f"The robust fit distrusts {', '.join(named)}. They stay in, weighing less: exclude them at Gather if wrong."
