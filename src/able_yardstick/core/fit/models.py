"""The curves that can be fitted, and what a fit is worth."""

from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from ..curves import AnyCurve, Line, Polynomial, Table
from ..errors import ConflictingReadings, TooFewReadings
from ..model import Finite, Frozen
from . import least_squares
from .least_squares import Solution
from .stops import is_strictly_rising_or_falling, stop_means, stop_numbers

Array = NDArray[np.float64]
ModelName = Literal["nominal", "two-point", "through-zero", "line", "poly2", "table"]
MODEL_NAMES: tuple[ModelName, ...] = get_args(ModelName)
TITLES: dict[ModelName, str] = {
    "nominal": "As described",
    "two-point": "Two-point line",
    "through-zero": "Line through a zero",
    "line": "Least-squares line",
    "poly2": "Second order",
    "table": "Lookup table",
}


# Repeats of one stop lie within this share of the signals' span.
_STOP_SCATTER = 0.1
CAPTIONS: dict[ModelName, str] = {
    "nominal": "data sheet",
    "two-point": "two points",
    "through-zero": "through a zero",
    "line": "least squares",
    "poly2": "second order",
    "table": "lookup table",
}


class FitSpec(Frozen):
    """Which curve is asked for. `first` and `second` are rows of the points; `zero` is (signal, value)."""

    model: ModelName = "line"
    first: int | None = None
    second: int | None = None
    zero: tuple[Finite, Finite] = (0.0, 0.0)


class Fitted(Frozen):
    """A curve laid through points, with its errors: the curve minus the reference, in the unit of the value.

    `solution` is None where nothing was averaged and so no spread is known; `why_no_spread` says why.
    """

    spec: FitSpec
    curve: AnyCurve
    solution: Solution | None = None
    why_no_spread: str = ""
    errors: tuple[Finite, ...]
    signals: tuple[Finite, ...]
    dof: int
    residual_sd: Finite | None
    remark: str = ""

    @model_validator(mode="after")
    def _has_spread_or_reason(self) -> "Fitted":
        if self.residual_sd is None and not self.why_no_spread:
            raise ValueError("a fit without a known spread must say why")
        return self

    @property
    def largest_error(self) -> float:
        """The largest error either way, without its sign."""
        return max((abs(error) for error in self.errors), default=0.0)

    @property
    def largest_at(self) -> float | None:
        """The signal of the largest error."""
        return self.signals[int(np.argmax(np.abs(self.errors)))] if self.errors else None

    @property
    def standard_errors(self) -> tuple[float, ...] | None:
        """Of the coefficients in ascending powers of the signal; None where they are not known."""
        return self.solution.power_spread() if self.solution else None

    @property
    def numbers(self) -> int:
        """How many numbers the curve takes; none if a law gives it."""
        if isinstance(self.curve, Table):
            return len(self.curve.signals)
        if not isinstance(self.curve, Line | Polynomial):
            return 0
        free = 2 if isinstance(self.curve, Line) else len(self.curve.coefficients)
        return free - (1 if self.spec.model == "through-zero" else 0)

    def band(self, signal: Array, confidence: float = 0.95) -> Array | None:
        """Half-width of the confidence band of the curve at signals (n,), or None where it is not known."""
        if self.solution is None:
            return None
        spread = self.solution.curve_spread(signal)
        return None if spread is None else spread * student_quantile(confidence, self.solution.dof)


def student_quantile(confidence: float, dof: int) -> float:
    """Two-sided quantile of Student's distribution (JCGM 100:2008, table G.2)."""
    from scipy.special import stdtrit  # a second to import: only where a band is drawn

    return float(stdtrit(dof, (1 + confidence) / 2))


def fit(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    """The curve asked for through points, signal (n,) in the pin's unit, reference (n,) in the value's.

    Raises: TooFewReadings, ConflictingReadings, DegenerateReadings or NotMonotonic with what to do about it.
    """
    if len(signal) == 0:
        raise TooFewReadings("There are no readings to fit a curve to. Gather some first.", needed=2, found=0)
    _refuse_flat(signal, reference)
    makers = {
        "two-point": _two_point,
        "through-zero": _through_zero,
        "line": _line,
        "poly2": _second_order,
        "table": _table,
    }
    return makers[spec.model](signal, reference, spec)


def described(curve: AnyCurve, signal: Array, reference: Array) -> Fitted:
    """The nominal curve as a candidate, with its errors at the readings there are."""
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


def _errors(curve: Line | Polynomial | Table, signal: Array, reference: Array) -> dict[str, tuple[float, ...]]:
    errors = curve.value(signal) - reference
    return {"errors": tuple(float(e) for e in errors), "signals": tuple(float(x) for x in signal)}


def _from_solution(
    solution: Solution, curve: Line | Polynomial, signal: Array, reference: Array, spec: FitSpec
) -> Fitted:
    free = len(solution.factor)
    return Fitted(
        spec=spec,
        curve=curve,
        solution=solution,
        dof=solution.dof,
        residual_sd=solution.residual_sd,
        why_no_spread="" if solution.dof else f"{free} numbers through {free} readings leave no freedom: take one more",
        **_errors(curve, signal, reference),
    )


def _as_line(solution: Solution, domain: tuple[float, float]) -> Line:
    height, rise = solution.coefficients
    if rise == 0:
        raise ConflictingReadings(
            "The closest line is level: the signal tells nothing about the value. Check columns and wiring."
        )
    return Line(height=height, gradient=rise / solution.scale, centre=solution.centre, domain=domain)


def _line(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    solution = least_squares.solve(signal, reference, 1)
    return _from_solution(solution, _as_line(solution, _domain(signal)), signal, reference, spec)


def _through_zero(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    solution = least_squares.solve_through(signal, reference, spec.zero)
    low, high = _domain(np.append(signal, spec.zero[0]))
    return _from_solution(solution, _as_line(solution, (low, high)), signal, reference, spec)


def _second_order(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    solution = least_squares.solve(signal, reference, 2)
    curve = Polynomial(
        coefficients=solution.coefficients,
        centre=solution.centre,
        scale=solution.scale,
        domain=_domain(signal),
    )
    return _from_solution(solution, curve, signal, reference, spec)


def _two_point(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    least_squares.need_different(signal, 2)
    order = np.argsort(signal, kind="stable")
    first = int(order[0]) if spec.first is None else spec.first
    second = int(order[-1]) if spec.second is None else spec.second
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
    errors = _errors(curve, signal, reference)
    dof = len(signal) - 2
    others = float(np.sqrt(np.square(errors["errors"]).sum() / dof)) if dof > 0 else None
    return Fitted(
        spec=spec.with_(first=first, second=second),
        curve=curve,
        dof=dof,
        residual_sd=others,
        why_no_spread="two readings say nothing of their own spread",
        **errors,
    )


def _table(signal: Array, reference: Array, spec: FitSpec) -> Fitted:
    least_squares.need_different(signal, 2)
    if is_strictly_rising_or_falling(signal, reference):
        curve, remark = Table.through(signal, reference), ""
    else:
        curve, remark = _table_of_stops(signal, reference)
    errors = _errors(curve, signal, reference)
    dof = len(signal) - len(curve.signals)
    known = float(np.sqrt(np.square(errors["errors"]).sum() / dof)) if dof > 0 else None
    return Fitted(
        spec=spec,
        curve=curve,
        dof=dof,
        residual_sd=known,
        why_no_spread="a table passes through its points: it says nothing of their spread",
        remark=remark,
        **errors,
    )


def _refuse_scattered_stops(signal: Array, reference: Array) -> None:
    """One reference value read at signals far apart is no repeat of a stop."""
    numbers = stop_numbers(reference)
    for stop in range(int(numbers.max()) + 1):
        rows = np.flatnonzero(numbers == stop)
        first, last = rows[np.argmin(signal[rows])], rows[np.argmax(signal[rows])]
        if signal[last] - signal[first] > _STOP_SCATTER * np.ptp(signal):
            raise ConflictingReadings(
                f"About the same reference value was read at signals far apart: {reference[first]:.6g} at "
                f"{signal[first]:.6g}, {reference[last]:.6g} at {signal[last]:.6g}. Exclude one of the two.",
                rows=(int(first), int(last)),
            )


def _table_of_stops(signal: Array, reference: Array) -> tuple[Table, str]:
    x, y, counts = stop_means(signal, reference)
    if len(x) == len(signal):
        return Table.through(signal, reference).refuse_turns(), ""
    _refuse_scattered_stops(signal, reference)
    curve = Table.through(x, y).refuse_turns()
    least, most = int(counts.min()), int(counts.max())
    each = f"{most}" if least == most else f"{least} to {most}"
    return curve, f"each the mean of {each} readings"
