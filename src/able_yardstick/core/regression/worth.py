"""What a fit is worth beyond its residuals: repeats, readings it has not seen, and numbers it did not need."""

from collections.abc import Callable
from math import log
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..words.errors import YardstickError
from .doubt import Doubts
from .fitted import FitSpec, Fitted
from .models import fit
from .repeats import Stops, stops_or_near

Array = NDArray[np.float64]
SIGNIFICANT = 0.05


class LackOfFit(NamedTuple):
    """Whether the means of the stops lie off the curve by more than the readings of one stop scatter.

    `ratio` is the F of the two mean squares with their degrees of freedom, `chance` how often it would be as large
    for a curve that is right (N. R. Draper, H. Smith, Applied Regression Analysis, 3rd ed., 2.1).
    """

    ratio: float
    dof_lack: int
    dof_pure: int
    chance: float

    @property
    def is_significant(self) -> bool:
        """Whether the curve misses the stops by more than chance."""
        return self.chance < SIGNIFICANT


class Worth(NamedTuple):
    """`cross_validated` is the root mean square error at inner stops that were left out of the fit; None if there are
    too few. `aicc` is Akaike's criterion for small samples (C. M. Hurvich, C.-L. Tsai, Biometrika 76 (1989), 297-307):
    lower is better; None where the numbers are as many as the readings. `lack_of_fit` needs repeats.
    """

    lack_of_fit: LackOfFit | None
    why_no_test: str
    cross_validated: float | None
    aicc: float | None


Refit = Callable[[Array, Array, FitSpec, Doubts | None, Stops | None], Fitted]


def worth_of(
    signal: Array,
    reference: Array,
    fitted: Fitted,
    doubts: Doubts | None = None,
    refit: Refit = fit,
    repeats: Stops | None = None,
) -> Worth:
    """The worth of a fit to points, signal and reference (n,) each; `refit` makes such a fit of fewer of them.

    `repeats` (n,) says which are repeats of one stop; without it those that lie together are.
    """
    numbers = stops_or_near(reference, repeats)
    test, why = lack_of_fit_of(fitted, numbers)
    return Worth(test, why, cross_validated(signal, reference, fitted, doubts, refit, numbers), aicc_of(fitted))


def lack_of_fit_of(fitted: Fitted, numbers: Stops) -> tuple[LackOfFit | None, str]:
    """The test of a fit, whose readings' stops (n,) are given, or why there is none.

    Errors count with the weights of the fit, so that both mean squares are those that it made small.
    """
    errors, weights = np.array(fitted.errors), _weights(fitted)
    stops = int(numbers.max()) + 1
    dof_pure, dof_lack = len(errors) - stops, stops - fitted.numbers
    if dof_pure < 1:
        return None, "no stop was repeated: take one again, and it is seen what is scatter and what is the curve"
    if dof_lack < 1:
        return None, "the curve has as many numbers as there are stops: one stop more would test it"
    means = np.bincount(numbers, weights=weights * errors) / np.bincount(numbers, weights=weights)
    pure = float(np.sum(weights * (errors - means[numbers]) ** 2))
    lack = float(np.sum(weights * means[numbers] ** 2))
    if pure <= 0:
        return None, "the readings of each stop are equal to the last digit: there is no scatter to compare with"
    from scipy.special import fdtrc  # a second to import: only where it is asked for

    ratio = (lack / dof_lack) / (pure / dof_pure)
    return LackOfFit(ratio, dof_lack, dof_pure, float(fdtrc(dof_lack, dof_pure, ratio))), ""


def cross_validated(
    signal: Array,
    reference: Array,
    fitted: Fitted,
    doubts: Doubts | None = None,
    refit: Refit = fit,
    repeats: Stops | None = None,
) -> float | None:
    """The error, in the unit of the references, at inner stops left out in turn; signals and references (n,) each.

    The ends are not left out, as nothing would bridge them.
    """
    numbers = stops_or_near(reference, repeats)
    inner = range(1, int(numbers.max()))
    if fitted.spec.model in ("nominal", "two-point") or len(inner) < 2:
        return None
    squares: list[float] = []
    for stop in inner:
        left = numbers != stop
        try:
            kept = np.unique(numbers[left], return_inverse=True)[1]
            other = refit(signal[left], reference[left], fitted.spec, _without(doubts, left), kept)
        except YardstickError:
            return None
        squares += np.square(other.curve.value(signal[~left]) - reference[~left]).tolist()
    return float(np.sqrt(np.mean(squares)))


def _without(doubts: Doubts | None, rows: NDArray[np.bool_]) -> Doubts | None:
    if doubts is None:
        return None
    return Doubts(*(None if column is None else column[rows] for column in doubts))


def aicc_of(fitted: Fitted) -> float | None:
    """Akaike's criterion for small samples, as in `Worth`."""
    count, free = len(fitted.errors), fitted.numbers + 1  # the scatter is found from the readings too
    weights = _weights(fitted)
    square = float(np.sum(weights * np.square(fitted.errors)))
    if count - free - 1 <= 0 or square <= 0:
        return None
    likelihood = count * log(square / count) - float(np.sum(np.log(weights)))
    return likelihood + 2 * free + 2 * free * (free + 1) / (count - free - 1)


def _weights(fitted: Fitted) -> Array:
    """The weights that the readings had in the fit, (n,), 1 on the mean."""
    return np.array(fitted.weights) if fitted.weights else np.ones(len(fitted.errors))
