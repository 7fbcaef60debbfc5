"""Fits that weigh the readings anew until nothing changes: errors in both variables, and robust ones."""

from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..errors import NotConverged
from .doubt import Doubts
from .least_squares import Solution

Array = NDArray[np.float64]
Solve = Callable[[Array | None], Solution]
_MOST_ROUNDS = 200
_SETTLED = 1e-11
_HUBER = 1.345  # residuals beyond so many deviations weigh less: 95 % as sharp as least squares on a normal scatter
_DISTRUSTED = 3.0  # deviations beyond which a reading is named
_MAD_TO_DEVIATION = 1.4826  # of a normal distribution


class Weighed(NamedTuple):
    """A solution with the weights (n,) it came to, and the rows it distrusts."""

    solution: Solution
    weights: Array | None
    distrusted: tuple[int, ...] = ()


def weighed(signal: Array, value: Array, solve: Solve, doubts: Doubts, *, robust: bool) -> Weighed:
    """The solution with each reading weighed by its own uncertainty, and by how far off it lies where that is asked.

    P. J. Huber, Robust Statistics, 1981, ch. 7; the scale is the median absolute residual.
    Raises: NotConverged.
    """
    solution = solve(doubts.weights_at(np.zeros(len(signal)), len(signal)) if not doubts.is_in_both else None)
    if not robust and not doubts.is_in_both:
        return Weighed(solution, doubts.weights_at(np.zeros(len(signal)), len(signal)))
    for _ in range(_MOST_ROUNDS):
        own = doubts.weights_at(_slopes(solution, signal), len(signal))
        weights = own
        if robust:
            share = _trust(_residuals(solution, signal, value), own)
            weights = share if own is None else own * share
        after = solve(weights)
        if _is_same(solution, after):
            return Weighed(after, weights, _named(_residuals(after, signal, value), own) if robust else ())
        solution = after
    raise NotConverged(
        f"Weighing the readings anew did not settle within {_MOST_ROUNDS} rounds. "
        "Choose a simpler curve, or fit without it."
    )


def _is_same(before: Solution, after: Solution) -> bool:
    old, new = np.array(before.coefficients), np.array(after.coefficients)
    return bool(np.max(np.abs(old - new)) <= _SETTLED * np.max(np.abs(new)))


def _values(solution: Solution, signal: Array) -> Array:
    z = (signal - solution.centre) / solution.scale
    return np.asarray(np.polynomial.polynomial.polyval(z, np.array(solution.coefficients)))


def _slopes(solution: Solution, signal: Array) -> Array:
    z = (signal - solution.centre) / solution.scale
    derived = np.polynomial.polynomial.polyder(np.array(solution.coefficients))
    return np.asarray(np.polynomial.polynomial.polyval(z, derived) / solution.scale)


def _residuals(solution: Solution, signal: Array, value: Array) -> Array:
    return np.asarray(_values(solution, signal) - value)


def _deviations(residuals: Array, own: Array | None) -> Array:
    """Residuals in deviations of the bulk of the readings."""
    scaled = residuals if own is None else residuals * np.sqrt(own / own.mean())
    scale = _MAD_TO_DEVIATION * float(np.median(np.abs(scaled)))
    return np.asarray(np.abs(scaled) / scale) if scale > 0 else np.zeros(len(residuals))


def _trust(residuals: Array, own: Array | None) -> Array:
    away = _deviations(residuals, own)
    return np.minimum(1.0, _HUBER / np.maximum(away, _HUBER))


def _named(residuals: Array, own: Array | None) -> tuple[int, ...]:
    return tuple(int(row) for row in np.flatnonzero(_deviations(residuals, own) > _DISTRUSTED))
