"""Candidates side by side, and the simplest one that is good enough."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..curves import AnyCurve
from ..errors import TooFewReadings, YardstickError
from .models import TITLES, FitSpec, Fitted, ModelName, described, fit, student_quantile

Array = NDArray[np.float64]
_SIMPLEST_FIRST: tuple[ModelName, ...] = ("line", "poly2", "table")
_SIGNIFICANT = 0.95


class Candidate(NamedTuple):
    """One model, with its fit or with the reason why there is none."""

    model: ModelName
    fitted: Fitted | None
    refusal: str = ""

    @property
    def title(self) -> str:
        """The model's name for a person."""
        return TITLES[self.model]

    @property
    def usable(self) -> bool:
        """Whether it may become the calibration: it exists and never turns."""
        return self.fitted is not None and self.fitted.curve.is_monotonic


def candidate(signal: Array, reference: Array, spec: FitSpec) -> Candidate:
    """One model tried on points, shape (n,) each; a refusal is kept in words."""
    try:
        fitted = fit(signal, reference, spec)
    except YardstickError as error:
        return Candidate(spec.model, None, str(error))
    turns = fitted.curve.turning_points()
    if turns:
        reason = (
            f"It turns at a signal of {turns[0]:.4g} inside the readings, so one value would belong to two signals. "
            "Choose a line or a table, or exclude what bends it."
        )
        return Candidate(spec.model, fitted, reason)
    return Candidate(spec.model, fitted)


def candidates(
    signal: Array, reference: Array, specs: tuple[FitSpec, ...], nominal: AnyCurve | None
) -> list[Candidate]:
    """Every model on offer, the described curve first."""
    rows = [candidate(signal, reference, spec) for spec in specs]
    if nominal is not None:
        rows.insert(0, Candidate("nominal", described(nominal, signal, reference)))
    return rows


class Choice(NamedTuple):
    """The candidate that is the simplest adequate one, and why."""

    candidate: Candidate
    reason: str


def choose(signal: Array, reference: Array, tolerance: float | None = None) -> Choice:
    """The simplest of line, second order and table that is good enough for points, shape (n,) each.

    With a tolerance: the first whose largest error is within it. Without: the line, unless the second-order term
    is more than chance (two-sided t-test at 95 %).

    Raises: TooFewReadings if none can be had.
    """
    rows = [candidate(signal, reference, FitSpec(model=model)) for model in _SIMPLEST_FIRST]
    usable = [row for row in rows if row.usable]
    if not usable:
        raise TooFewReadings(rows[0].refusal or rows[-1].refusal, needed=2, found=len(np.unique(signal)))
    if tolerance is None:
        return _by_significance(usable)
    for row in usable:
        if _largest(row) <= tolerance:
            return Choice(row, f"the simplest whose largest error {_largest(row):.3g} is within {tolerance:g}")
    best = min(usable, key=_largest)
    return Choice(best, f"none stays within {tolerance:g}; this one misses least, by {_largest(best):.3g}")


def _largest(row: Candidate) -> float:
    return row.fitted.largest_error if row.fitted else float("inf")


def _by_significance(usable: list[Candidate]) -> Choice:
    bent = next((row for row in usable if row.model == "poly2"), None)
    straight = next((row for row in usable if row.model == "line"), usable[0])
    solution = bent.fitted.solution if bent and bent.fitted else None
    spread = solution.spread(np.array([[0.0, 0.0, 1.0]])) if solution else None
    if bent is None or solution is None or spread is None:
        return Choice(straight, "there are too few readings to test for a bend")
    ratio = abs(solution.coefficients[2]) / spread[0] if spread[0] > 0 else np.inf
    if ratio > student_quantile(_SIGNIFICANT, solution.dof):
        return Choice(bent, f"the bend is {ratio:.1f} times its standard error: more than chance")
    return Choice(straight, f"the bend is {ratio:.1f} times its standard error: no more than chance")
