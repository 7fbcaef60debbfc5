"""What a fit comes to: the models, what is asked for, the curve with its errors and how well it is known."""

from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from ..curves import AnyCurve
from ..words.record import Frozen, Reckoned
from .kinds import KINDS, ModelName
from .least_squares import Solution

Array = NDArray[np.float64]


class FitSpec(Frozen):
    """Which curve is asked for. `first` and `second` are rows of the points; `zero` is (signal, value).

    `robust` lets readings far off weigh less; none is ever dropped. `start` are the parameters of a formula of x, the
    signal, with where to begin.
    """

    model: ModelName = "line"
    first: int | None = None
    second: int | None = None
    zero: tuple[Reckoned, Reckoned] = (0.0, 0.0)
    robust: bool = False
    formula: str = ""
    start: tuple[tuple[str, Reckoned], ...] = ()


class FitSettings(Frozen):
    """How a channel's curves are fitted.

    Each reading is weighed by its own uncertainty, where that is known for all of them, or all weigh the same.
    """

    weigh: Literal["own uncertainty", "all the same"] = "own uncertainty"
    robust: bool = False
    formula: str = ""
    start: tuple[tuple[str, Reckoned], ...] = ()


class Parameter(Frozen):
    """A named number of a fitted formula, with its standard error where it is known."""

    name: str
    value: Reckoned
    standard_error: Reckoned | None = None


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
    parameter_covariance: tuple[tuple[Reckoned, ...], ...] | None = None
    why_no_spread: str = ""
    errors: tuple[Reckoned, ...]
    signals: tuple[Reckoned, ...]
    dof: int
    residual_sd: Reckoned | None
    weights: tuple[Reckoned, ...] = ()
    distrusted: tuple[int, ...] = ()
    anchors: tuple[tuple[Reckoned, int], ...] = ()
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
        """How many numbers were found from the readings; none if a description gives the curve."""
        return KINDS[self.spec.model].numbers(self)

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
        return KINDS[self.spec.model].spread(self, signal)


def student_quantile(confidence: float, dof: int) -> float:
    """Two-sided quantile of Student's distribution (JCGM 100:2008, table G.2)."""
    from scipy.special import stdtrit  # a second to import: only where a band is drawn

    return float(stdtrit(dof, (1 + confidence) / 2))
