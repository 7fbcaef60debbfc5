"""Fitting without a window: every model, what it is worth, and which readings it distrusts."""

from enum import StrEnum
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from ..core.regression.kinds import MODEL_NAMES
from .output import AsJson, print_json
from .points import signal_unit_of, told_where, two_columns

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    from ..core.regression.choice import Choice
    from ..core.regression.doubt import Doubts
    from ..core.regression.fitted import Fitted
    from ..core.regression.worth import Worth

    Array = NDArray[np.float64]

Model = StrEnum("Model", {name: name for name in (*MODEL_NAMES[1:], "auto")})  # type: ignore[misc]  # from the one list
_AUTO = Model("auto")


def fit(
    points: Annotated[Path, typer.Argument(help="Points: CSV with a signal and a reference column.")],
    model: Annotated[Model, typer.Option(help="Which curve.")] = _AUTO,
    tolerance: Annotated[float | None, typer.Option(help="Largest error allowed, for auto.", min=0)] = None,
    signal: Annotated[str | None, typer.Option(help="Heading of the signal column; else the first.")] = None,
    reference: Annotated[str | None, typer.Option(help="Heading of the reference column; else the second.")] = None,
    zero_signal: Annotated[float, typer.Option(help="Signal of the given zero.")] = 0.0,
    zero_value: Annotated[float, typer.Option(help="Value of the given zero.")] = 0.0,
    weights: Annotated[str | None, typer.Option(help="Heading of a column of weights.")] = None,
    u_reference: Annotated[
        str | None, typer.Option(help="Standard uncertainty of the reference: a number, or a column's heading.")
    ] = None,
    u_signal: Annotated[
        str | None, typer.Option(help="Standard uncertainty of the signal: a number, or a column's heading.")
    ] = None,
    robust: Annotated[bool, typer.Option("--robust", help="Readings far off weigh less, and are named.")] = False,
    formula: Annotated[str, typer.Option(help="Formula of x, the signal, with free parameters.")] = "",
    start: Annotated[str, typer.Option(help="Where its parameters begin, such as p=12,q=3.")] = "",
    as_json: AsJson = False,
) -> None:
    """Fit a curve to points and say what it is worth."""
    import numpy as np

    from ..core.regression.choice import choose
    from ..core.regression.fitted import FitSpec
    from ..core.regression.free_formula import starts_of
    from ..core.regression.models import fit as fit_curve
    from ..core.regression.worth import worth_of

    lines, columns = two_columns(points, signal, reference)
    x, y = (np.array(column) for column in columns)
    doubts = _doubts(points, len(x), weights, u_reference, u_signal)
    reason = ""
    with told_where(points, lines, columns[0]):
        if model is _AUTO:
            choice: Choice = choose(x, y, tolerance, doubts, robust=robust)
            assert choice.candidate.fitted is not None  # only usable ones are chosen
            fitted, reason = choice.candidate.fitted, choice.reason
        else:
            spec = FitSpec(
                model=model.value,
                zero=(zero_signal, zero_value),
                robust=robust,
                formula=formula,
                start=starts_of(start),
            )
            fitted = fit_curve(x, y, spec, doubts)
        worth = worth_of(x, y, fitted, doubts)
    found = {**_fit_data(fitted, reason, tolerance), **_worth_data(worth)}
    found["signal_unit"] = signal_unit_of(points, signal)
    found["distrusted_lines"] = [lines[row] for row in fitted.distrusted]
    if as_json:
        print_json(found)
    else:
        print("\n".join(_fit_text(found)))


def _doubts(
    path: Path, count: int, weights: str | None, u_reference: str | None, u_signal: str | None
) -> "Doubts | None":
    from ..core.regression.doubt import Doubts
    from ..core.words.errors import BadTable

    if weights is None and u_reference is None and u_signal is None:
        return None
    if weights is not None and (u_reference is not None or u_signal is not None):
        raise BadTable("Expected --weights or uncertainties, found both: weights already say what uncertainties would.")
    columns = [_column(path, count, text) for text in (weights, u_reference, u_signal)]
    return Doubts(*columns)


def _column(path: Path, count: int, text: str | None) -> "Array | None":
    """A number for every reading, or the column of a heading. Raises: BadTable."""
    import numpy as np

    from ..core.words.errors import BadTable
    from ..core.words.numerals import parse_number

    if text is None:
        return None
    try:
        return np.full(count, parse_number(text))
    except BadTable:
        return np.array(two_columns(path, text, text)[1][0])


def _fit_data(fitted: "Fitted", reason: str, tolerance: float | None) -> dict[str, Any]:
    import numpy as np

    from ..core.curves import Line, Polynomial

    curve, solution = fitted.curve, fitted.solution
    centre = scale = None
    coefficients: Any = None
    errors: Any = list(fitted.standard_errors) if fitted.standard_errors else None
    covariance: Any = solution.power_covariance() if solution else fitted.parameter_covariance
    if isinstance(curve, Line | Polynomial):
        centre = curve.centre
        scale = solution.scale if solution else 1.0
        coefficients = list(curve.powers)
    if fitted.parameters:
        coefficients = {one.name: one.value for one in fitted.parameters}
        errors = {one.name: one.standard_error for one in fitted.parameters}
    return {
        "model": fitted.spec.model,
        "reason": reason,
        "coefficients": coefficients,
        "centre": centre,
        "scale": scale,
        "scaled_coefficients": list(solution.coefficients) if solution else None,
        "standard_errors": errors,
        "covariance": covariance,
        "residual_sd": fitted.residual_sd,
        "dof": fitted.dof,
        "no_spread_because": fitted.why_no_spread if fitted.residual_sd is None else "",
        "largest_error": fitted.largest_error,
        "largest_at": fitted.largest_at,
        "within_tolerance": None if tolerance is None else fitted.largest_error <= tolerance,
        "monotonic": curve.is_monotonic,
        "turns_at": list(curve.turning_points()),
        "domain": list(curve.domain),
        "points": len(fitted.signals),
        "residuals": list(fitted.errors),
        "fitted": curve.value(np.array(fitted.signals)).tolist(),
        "weights": list(fitted.weights),
        "remark": fitted.remark,
        "curve": curve.model_dump(mode="json"),
    }


def _worth_data(worth: "Worth") -> dict[str, Any]:
    test = worth.lack_of_fit
    return {
        "lack_of_fit": None if test is None else test._asdict(),
        "no_test_because": worth.why_no_test,
        "cross_validated": worth.cross_validated,
        "aicc": worth.aicc,
    }


def _fit_text(found: dict[str, Any]) -> list[str]:
    low, high = found["domain"]
    lines = [f"model            {found['model']}" + (f" ({found['reason']})" if found["reason"] else "")]
    lines += _coefficient_lines(found)
    spread = found["no_spread_because"] if found["residual_sd"] is None else f"{found['residual_sd']:.6g}"
    lines += [
        f"residual sd      {spread} (degrees of freedom {found['dof']})",
        f"largest error    {found['largest_error']:.6g} at signal {found['largest_at']:.6g}",
        f"trusted from     {low:.6g} to {high:.6g} of signal; beyond that it is extrapolated",
        f"lack of fit      {_test_words(found)}",
    ]
    if found["cross_validated"] is not None:
        lines.append(f"cross-validated  {found['cross_validated']:.6g} (stops left out in turn)")
    if found["aicc"] is not None:
        lines.append(f"AICc             {found['aicc']:.4f}")
    if found["distrusted_lines"]:
        lines.append(
            f"distrusted       line {', '.join(map(str, found['distrusted_lines']))}: far off, kept, weighs less"
        )
    if not found["monotonic"]:
        turn = found["turns_at"][0]
        lines.append(f"NOT MONOTONIC    it turns at signal {turn:.6g}: one value belongs to two signals there")
    return lines + ([f"remark           {found['remark']}"] if found["remark"] else [])


def _coefficient_lines(found: dict[str, Any]) -> list[str]:
    coefficients, errors = found["coefficients"], found["standard_errors"]
    if coefficients is None:
        return [f"knots            {len(found['curve']['signals'])}"]
    if isinstance(coefficients, dict):
        rows = [(name, number, errors[name]) for name, number in coefficients.items()]
    else:
        listed = errors or [None] * len(coefficients)
        rows = [(f"signal^{n}", *row) for n, row in enumerate(zip(coefficients, listed, strict=True))]
    return [f"{name:<17}{number:.12g}{f'  ± {error:.3g}' if error is not None else ''}" for name, number, error in rows]


def _test_words(found: dict[str, Any]) -> str:
    test = found["lack_of_fit"]
    if test is None:
        return f"not tested: {found['no_test_because']}"
    said = "more than chance" if test["chance"] < 0.05 else "no more than chance"
    return f"F = {test['ratio']:.3g} ({test['dof_lack']}, {test['dof_pure']}), probability {test['chance']:.3g}: {said}"
