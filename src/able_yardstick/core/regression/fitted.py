"""What a fit comes to: the models, what is asked for, the curve with its errors and how well it is known."""

from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from ..curves import AnyCurve, Line, MonotoneCubic, Polynomial, Table
from ..words.record import Finite, Frozen
from .elements import element_slopes
from .free_formula import slopes_of
from .least_squares import Solution

Array = NDArray[np.float64]
ModelName = Literal[
    "nominal", "two-point", "terminal", "through-zero", "line", "poly2", "poly3", "poly4", "poly5", "table", "pchip",
    "formula", "steinhart-hart", "beta", "platinum",
]  # fmt: skip
MODEL_NAMES: tuple[ModelName, ...] = get_args(ModelName)
DEGREES: dict[ModelName, int] = {"line": 1, "poly2": 2, "poly3": 3, "poly4": 4, "poly5": 5}
TITLES: dict[ModelName, str] = {
    "nominal": "As described",
    "two-point": "Two-point line",
    "terminal": "Terminal-based line",
    "through-zero": "Line through a zero",
    "line": "Least-squares line",
    "poly2": "Second order",
    "poly3": "Third order",
    "poly4": "Fourth order",
    "poly5": "Fifth order",
    "table": "Lookup table",
    "pchip": "Monotone cubic",
    "formula": "Formula",
    "steinhart-hart": "Three coefficients",
    "beta": "R25 and beta",
    "platinum": "Platinum's own R0, A, B",
}


CAPTIONS: dict[ModelName, str] = {
    "nominal": "data sheet",
    "two-point": "two points",
    "terminal": "terminal-based",
    "through-zero": "through a zero",
    "line": "least squares",
    "poly2": "second order",
    "poly3": "third order",
    "poly4": "fourth order",
    "poly5": "fifth order",
    "table": "lookup table",
    "pchip": "monotone cubic",
    "formula": "formula",
    "steinhart-hart": "own coefficients",
    "beta": "own beta",
    "platinum": "own R0, A, B",
}


class FitSpec(Frozen):
    """Which curve is asked for. `first` and `second` are rows of the points; `zero` is (signal, value).

    `robust` lets readings far off weigh less; none is ever dropped. `start` are the parameters of a formula of x, the
    signal, with where to begin.
    """

    model: ModelName = "line"
    first: int | None = None
    second: int | None = None
    zero: tuple[Finite, Finite] = (0.0, 0.0)
    robust: bool = False
    formula: str = ""
    start: tuple[tuple[str, Finite], ...] = ()


class FitSettings(Frozen):
    """How a channel's curves are fitted.

    Each reading is weighed by its own uncertainty, where that is known for all of them, or all weigh the same.
    """

    weigh: Literal["own uncertainty", "all the same"] = "own uncertainty"
    robust: bool = False
    formula: str = ""
    start: tuple[tuple[str, Finite], ...] = ()


class Parameter(Frozen):
    """A named number of a fitted formula, with its standard error where it is known."""

    name: str
    value: Finite
    standard_error: Finite | None = None


class Fitted(Frozen):
    """A curve laid through points, with its errors: the curve minus the reference, in the unit of the value.

    `solution` is None where nothing was averaged and so no spread is known; `why_no_spread` says why. `weights` are
    those that the readings came to, all 1 if empty; `distrusted` are the rows that a robust fit names. A curve laid
    through means of readings has `anchors`: their signals, and how many readings each is the mean of.
    """

    spec: FitSpec
    curve: AnyCurve
    solution: Solution | None = None
    parameters: tuple[Parameter, ...] = ()
    parameter_covariance: tuple[tuple[Finite, ...], ...] | None = None
    why_no_spread: str = ""
    errors: tuple[Finite, ...]
    signals: tuple[Finite, ...]
    dof: int
    residual_sd: Finite | None
    weights: tuple[Finite, ...] = ()
    distrusted: tuple[int, ...] = ()
    anchors: tuple[tuple[Finite, int], ...] = ()
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
        if isinstance(self.curve, Table | MonotoneCubic):
            return len(self.curve.signals)
        if self.parameters:
            return len(self.parameters)
        if not isinstance(self.curve, Line | Polynomial):
            return 0
        free = 2 if isinstance(self.curve, Line) else len(self.curve.coefficients)
        return free - (1 if self.spec.model == "through-zero" else 0)

    def band(self, signal: Array, confidence: float = 0.95) -> Array | None:
        """Half-width of the confidence band of the curve at signals (n,), or None where it is not known."""
        spread = self.curve_spread(signal)
        return None if spread is None else spread * student_quantile(confidence, self.dof)

    def prediction(self, signal: Array, confidence: float = 0.95) -> Array | None:
        """Half-width of the band that holds one further reading at signals (n,), or None where it is not known."""
        spread = self.curve_spread(signal)
        if spread is None or self.residual_sd is None:
            return None
        return np.asarray(np.hypot(spread, self.residual_sd) * student_quantile(confidence, self.dof))

    def curve_spread(self, signal: Array) -> Array | None:
        """Standard deviation of the curve at signals (n,), or None where it is not known."""
        if self.solution is not None:
            return self.solution.curve_spread(signal)
        if self.anchors:
            return None if self.residual_sd is None else self.residual_sd * anchored_spread(self.anchors, signal)
        if not self.parameters or self.parameter_covariance is None:
            return None
        slopes = self._parameter_slopes(signal)
        return np.asarray(np.sqrt(np.einsum("ni,ij,nj->n", slopes, np.array(self.parameter_covariance), slopes)))

    def _parameter_slopes(self, signal: Array) -> Array:
        names = tuple(one.name for one in self.parameters)
        values = np.array([one.value for one in self.parameters])
        if self.spec.model == "formula":
            return slopes_of(self.spec.formula, names, values, signal)
        return element_slopes(self.curve, names, values, signal)


def anchored_spread(anchors: tuple[tuple[float, int], ...], signal: Array) -> Array:
    """How far lines from anchor to anchor, and on beyond the last two, stray at signals (n,), in deviations of one.

    Each anchor is the mean of its readings: its variance is theirs divided by their number.
    """
    at = np.array([anchor for anchor, _ in anchors])
    spreads = 1 / np.sqrt(np.array([count for _, count in anchors], dtype=float))
    piece = np.clip(np.searchsorted(at, signal, side="right") - 1, 0, len(at) - 2)
    share = (signal - at[piece]) / (at[piece + 1] - at[piece])
    return np.asarray(np.hypot((1 - share) * spreads[piece], share * spreads[piece + 1]))


def student_quantile(confidence: float, dof: int) -> float:
    """Two-sided quantile of Student's distribution (JCGM 100:2008, table G.2)."""
    from scipy.special import stdtrit  # a second to import: only where a band is drawn

    return float(stdtrit(dof, (1 + confidence) / 2))
