"""The curves that can be fitted, each by its maker."""

from collections.abc import Callable
from typing import NamedTuple, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError

from ..curves import AnyCurve, FormulaCurve, Line, MonotoneCubic, PlatinumCurve, Polynomial, Table, ThermistorCurve
from ..words.errors import ConflictingReadings, NotApplicable, NotMonotonic, TooFewReadings
from ..words.record import first_complaint
from . import least_squares
from .doubt import Doubts, checked
from .elements import ElementFit, ElementModel, fit_element
from .fitted import FitSpec, Fitted, Parameter
from .free_formula import FormulaFit, fit_formula
from .iterated import Solver, Weighed, weighed
from .kinds import DEGREES, KINDS, TITLES, ModelName
from .least_squares import Solution
from .repeats import Stops, refuse_scattered, stop_means, stops_or_near

Array = NDArray[np.float64]
_LAW_SETTLED = 1e-8  # of the largest value: as close as the search for a law's numbers comes to the same place again
FitCurve = Line | Polynomial | Table | MonotoneCubic | FormulaCurve | ThermistorCurve | PlatinumCurve
ELEMENT_MODELS: tuple[ElementModel, ...] = get_args(ElementModel)


class _Order(NamedTuple):
    """Points (n,), how much each is to be trusted, and the curve asked for."""

    signal: Array
    reference: Array
    spec: FitSpec
    doubts: Doubts
    stops: Stops


def fit(
    signal: Array, reference: Array, spec: FitSpec, doubts: Doubts | None = None, stops: Stops | None = None
) -> Fitted:
    """The curve asked for through points, signal (n,) in the pin's unit, reference (n,) in the value's.

    `stops` (n,) says which are repeats of one stop; without it those that lie together are.

    Raises: TooFewReadings, ConflictingReadings, DegenerateReadings, NotMonotonic, NotConverged or NotApplicable with
    what to do.
    """
    if len(signal) == 0:
        raise TooFewReadings("There are no readings to fit a curve to. Gather some first.", needed=2, found=0)
    _refuse_flat(signal, reference)
    if spec.robust and KINDS[spec.model].through_points:
        raise NotApplicable(
            f"{TITLES[spec.model]}: it goes through the points it is made of, so none of them can weigh less. "
            "Choose another curve, or fit it without asking for a robust fit."
        )
    numbers = stops_or_near(reference, stops)
    order = _Order(signal, reference, spec, checked(doubts or Doubts(), len(signal)), numbers)
    return MAKERS[spec.model](order)


def described(curve: AnyCurve, signal: Array, reference: Array) -> Fitted:
    """The nominal curve as a candidate, with its errors at the readings there are: signals and references (n,) each."""
    errors = tuple(float(e) for e in curve.value(signal) - reference) if len(signal) else ()
    reason = "nothing was fitted, they are those of the description"
    known = float(np.sqrt(np.mean(np.square(errors)))) if errors else None
    return Fitted(
        spec=FitSpec(model="nominal"),
        curve=curve,
        errors=errors,
        signals=tuple(float(x) for x in signal),
        dof=len(signal),
        residual_sd=known,
        why_no_spread=reason,
    )


def _refuse_flat(signal: Array, reference: Array) -> None:
    if len(signal) > 1 and np.ptp(reference) == 0 and np.ptp(signal) > 0:
        raise ConflictingReadings(
            f"Every reference value is {reference[0]:.6g} while the signal moves: no value can be told from it. "
            "Are the two columns swapped?"
        )


def _domain(signal: Array) -> tuple[float, float]:
    return float(signal.min()), float(signal.max())


def _errors(curve: FitCurve, signal: Array, reference: Array) -> dict[str, tuple[float, ...]]:
    errors = curve.value(signal) - reference
    return {"errors": tuple(float(e) for e in errors), "signals": tuple(float(x) for x in signal)}


def _from_solution(order: _Order, found: Weighed[Solution], curve: Line | Polynomial) -> Fitted:
    solution = found.solution
    if solution.residual_sd is not None:
        solution = solution.with_(residual_sd=solution.residual_sd * found.widened)
    free = len(solution.coefficients) - solution.first_power
    return Fitted(
        spec=order.spec,
        curve=curve,
        solution=solution,
        dof=solution.dof,
        residual_sd=solution.residual_sd,
        weights=found.relative,
        distrusted=found.distrusted,
        why_no_spread="" if solution.dof else f"{free} numbers through {free} readings leave no freedom: take one more",
        **_errors(curve, order.signal, order.reference),
    )


def _as_line(solution: Solution, domain: tuple[float, float]) -> Line:
    height, rise = solution.coefficients
    if rise == 0:
        raise ConflictingReadings(
            "The closest line is level: the signal tells nothing about the value. Check columns and wiring."
        )
    return Line(height=height, gradient=rise / solution.scale, centre=solution.centre, domain=domain)


def _polynomial(order: _Order) -> Fitted:
    degree = DEGREES[order.spec.model]
    signal, reference = order.signal, order.reference

    def solve(x: Array, y: Array, weights: Array | None) -> Solution:
        return least_squares.solve(x, y, degree, weights)

    found = weighed(signal, reference, solve, order.doubts, robust=order.spec.robust)
    if degree == 1:
        return _from_solution(order, found, _as_line(found.solution, _domain(signal)))
    curve = Polynomial(
        coefficients=found.solution.coefficients,
        centre=found.solution.centre,
        scale=found.solution.scale,
        domain=_domain(signal),
    )
    return _from_solution(order, found, curve)


def _through_zero(order: _Order) -> Fitted:
    zero = order.spec.zero

    def solve(x: Array, y: Array, weights: Array | None) -> Solution:
        return least_squares.solve_through(x, y, zero, weights)

    found = weighed(order.signal, order.reference, solve, order.doubts, robust=order.spec.robust)
    low, high = _domain(np.append(order.signal, zero[0]))
    return _from_solution(order, found, _as_line(found.solution, (low, high)))


def _terminal(order: _Order) -> Fitted:
    """The line through the mean readings at the lowest and the highest stop (IEC 61298-2, terminal-based)."""
    signal, reference = order.signal, order.reference
    least_squares.need_different(signal, 2)
    x, y, counts = stop_means(signal, reference, order.stops)
    if len(x) < 2 or x[0] == x[-1]:
        raise TooFewReadings("A terminal-based line needs readings at two stops. Take more.", needed=2, found=len(x))
    last = int(order.stops.max())
    ends = sorted(
        [(float(x[n]), float(y[n]), np.flatnonzero(order.stops == n)) for n in (0, last)], key=lambda end: end[0]
    )
    curve = Line.through(ends[0][:2], ends[1][:2], _domain(signal))
    said = f"through the means of {counts[0]} and {counts[-1]} readings"
    return _through_chosen(order, curve, order.spec, said, (ends[0][2], ends[1][2]))


RowsOfEnds = tuple[NDArray[np.int64], NDArray[np.int64]]


def _through_chosen(order: _Order, curve: Line, spec: FitSpec, remark: str, ends: RowsOfEnds) -> Fitted:
    """A line through the means of two groups of readings, given by their rows.

    Its errors hold the scatter of those as well as a reading's own: they are divided by what both make of a scatter of
    one, so that the deviation is that of a reading.
    """
    signal = order.signal
    errors = _errors(curve, signal, order.reference)
    dof = len(signal) - 2
    places = [float(signal[rows].mean()) for rows in ends]
    share = (signal - places[0]) / (places[1] - places[0])
    weights = np.eye(len(signal))
    weights[:, ends[0]] -= ((1 - share) / len(ends[0]))[:, None]
    weights[:, ends[1]] -= (share / len(ends[1]))[:, None]
    others = float(np.sqrt(np.square(errors["errors"]).sum() / np.square(weights).sum())) if dof > 0 else None
    return Fitted(
        spec=spec,
        curve=curve,
        dof=dof,
        residual_sd=others,
        why_no_spread="two readings say nothing of their own spread",
        remark=remark,
        anchors=tuple((place, len(rows)) for place, rows in zip(places, ends, strict=True)),
        **errors,
    )


def _two_point(order: _Order) -> Fitted:
    signal, reference, spec = order.signal, order.reference, order.spec
    least_squares.need_different(signal, 2)
    rising = np.argsort(signal, kind="stable")
    first = int(rising[0]) if spec.first is None else spec.first
    second = int(rising[-1]) if spec.second is None else spec.second
    if signal[first] == signal[second]:
        raise TooFewReadings(
            f"Both chosen readings have the signal {signal[first]:.6g}: a line needs two different ones. "
            "Choose another.",
            needed=2,
            found=1,
        )
    ends = [(float(signal[row]), float(reference[row])) for row in (first, second)]
    if ends[0][1] == ends[1][1]:
        raise ConflictingReadings(
            f"Both chosen readings have the reference value {ends[0][1]:.6g}: the line would be level. Choose another."
        )
    curve = Line.through(ends[0], ends[1], _domain(signal))
    left, right = sorted((first, second), key=lambda row: signal[row])
    rows = np.array([left], dtype=np.int64), np.array([right], dtype=np.int64)
    return _through_chosen(order, curve, spec.with_(first=first, second=second), "", rows)


def _table(order: _Order) -> Fitted:
    rows = _rows(order)
    return _through_rows(order, rows.table, rows)


def _pchip(order: _Order) -> Fitted:
    rows = _rows(order)
    return _through_rows(order, MonotoneCubic.through(rows.table.refuse_turns()), rows)


class _Rows(NamedTuple):
    """A table with one row for each stop, of how many readings each is the mean, and that in words."""

    table: Table
    counts: NDArray[np.int64]
    remark: str = ""


def _rows(order: _Order) -> _Rows:
    """One row for each stop, the mean of its readings: always, so that no chance of their order decides."""
    least_squares.need_different(order.signal, 2)
    refuse_scattered(order.signal, order.reference, order.stops)
    x, y, counts = stop_means(order.signal, order.reference, order.stops)
    curve = Table.through(x, y).refuse_turns()
    if len(x) == len(order.signal):
        return _Rows(curve, counts)
    least, most = int(counts.min()), int(counts.max())
    each = f"{most}" if least == most else f"{least} to {most}"
    return _Rows(curve, counts[np.argsort(x)], f"each the mean of {each} readings")


def _through_rows(order: _Order, curve: Table | MonotoneCubic, rows: _Rows) -> Fitted:
    errors = _errors(curve, order.signal, order.reference)
    dof = len(order.signal) - len(rows.counts)
    known = float(np.sqrt(np.square(errors["errors"]).sum() / dof)) if dof > 0 else None
    return Fitted(
        spec=order.spec,
        curve=curve,
        dof=dof,
        residual_sd=known,
        why_no_spread="a table passes through its points: it says nothing of their spread",
        remark=rows.remark,
        anchors=tuple(zip(rows.table.signals, rows.counts.tolist(), strict=True)),
        **errors,
    )


class _Law(NamedTuple):
    """What a search for a law's numbers came to, with the curve that they make."""

    found: FormulaFit | ElementFit
    curve: FormulaCurve | ThermistorCurve | PlatinumCurve

    @property
    def dof(self) -> int:
        return self.found.dof

    def value(self, signal: Array) -> Array:
        return self.curve.value(signal)

    def slope(self, signal: Array) -> Array:
        return self.curve.slope(signal)


def _formula(order: _Order) -> Fitted:
    signal, spec = order.signal, order.spec
    if not spec.formula.strip() or not spec.start:
        raise TooFewReadings("Give a formula of x, the signal, and a start for each parameter.", needed=1, found=0)
    low, high = _domain(signal)

    def solve(x: Array, y: Array, weights: Array | None) -> _Law:
        found = fit_formula(x, y, spec.formula, dict(spec.start), _root(weights, len(x)))
        try:
            return _Law(found, FormulaCurve(text=found.text, low=low, high=high, domain=(low, high)))
        except ValidationError as error:
            raise NotMonotonic(f"The fitted formula cannot be used: {first_complaint(error)}.") from error

    return _from_law(order, solve, "parameters")


def _element(order: _Order) -> Fitted:
    model = next(model for model in ELEMENT_MODELS if model == order.spec.model)

    def solve(x: Array, y: Array, weights: Array | None) -> _Law:
        found = fit_element(x, y, model, _root(weights, len(x)))
        return _Law(found, found.curve)

    return _from_law(order, solve, "coefficients")


def _from_law(order: _Order, solve: Solver[_Law], numbers: str) -> Fitted:
    """A law whose numbers were searched for."""
    law = weighed(order.signal, order.reference, solve, order.doubts, robust=order.spec.robust, settled=_LAW_SETTLED)
    found, curve = law.solution
    covariance = None if found.covariance is None else found.covariance * law.widened**2
    return Fitted(
        spec=order.spec,
        curve=curve,
        parameters=_numbers(found.names, found.values, covariance),
        parameter_covariance=_as_rows(covariance),
        dof=found.dof,
        residual_sd=None if found.residual_sd is None else found.residual_sd * law.widened,
        weights=law.relative,
        distrusted=law.distrusted,
        why_no_spread="" if found.dof else f"as many {numbers} as readings leave no freedom: take one more",
        remark=found.remark if isinstance(found, ElementFit) else "",
        **_errors(curve, order.signal, order.reference),
    )


def _root(weights: Array | None, count: int) -> Array:
    return np.ones(count) if weights is None else np.asarray(np.sqrt(weights / weights.mean()))


def _numbers(names: tuple[str, ...], values: Array, covariance: Array | None) -> tuple[Parameter, ...]:
    errors = [None] * len(names) if covariance is None else np.sqrt(np.diag(covariance)).tolist()
    rows = zip(names, values.tolist(), errors, strict=True)
    return tuple(Parameter(name=name, value=value, standard_error=error) for name, value, error in rows)


def _as_rows(covariance: Array | None) -> tuple[tuple[float, ...], ...] | None:
    return None if covariance is None else tuple(tuple(row) for row in covariance.tolist())


def _nothing(_order: _Order) -> Fitted:
    raise NotApplicable("The described curve is not fitted: it is taken as it stands.")


MAKERS: dict[ModelName, Callable[[_Order], Fitted]] = {
    "nominal": _nothing,
    "two-point": _two_point,
    "terminal": _terminal,
    "through-zero": _through_zero,
    "line": _polynomial,
    "poly2": _polynomial,
    "poly3": _polynomial,
    "poly4": _polynomial,
    "poly5": _polynomial,
    "table": _table,
    "pchip": _pchip,
    "formula": _formula,
    "steinhart-hart": _element,
    "beta": _element,
    "platinum": _element,
}
