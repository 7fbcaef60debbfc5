"""Fits that weigh the readings anew until nothing changes: errors in both variables, and robust ones."""

from collections.abc import Callable
from typing import Generic, NamedTuple, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..errors import NotConverged
from .doubt import Doubts

Array = NDArray[np.float64]
_MOST_ROUNDS = 200
_SETTLED = 1e-11  # of the largest value
_HUBER = 1.345  # residuals beyond so many deviations weigh less: 95 % as sharp as least squares on a normal scatter
_DISTRUSTED = 3.0  # deviations beyond which a reading is named
_MAD_TO_DEVIATION = 1.4826  # of a normal distribution


class Found(Protocol):
    """A curve that was found, as far as weighing needs it."""

    def value(self, signal: Array, /) -> Array:
        """Of the curve at signals (n,)."""

    def slope(self, signal: Array, /) -> Array:
        """Of the curve at signals (n,)."""


F = TypeVar("F", bound=Found)


class Weighed(NamedTuple, Generic[F]):
    """What was found with the weights (n,) it came to, and the rows it distrusts."""

    solution: F
    weights: Array | None
    distrusted: tuple[int, ...] = ()

    @property
    def relative(self) -> tuple[float, ...]:
        """The weights with 1 as their mean; none where all weigh the same."""
        return () if self.weights is None else tuple((self.weights / self.weights.mean()).tolist())


def weighed(
    signal: Array,
    value: Array,
    solve: Callable[[Array | None], F],
    doubts: Doubts,
    *,
    robust: bool,
    settled: float = _SETTLED,
) -> Weighed[F]:
    """The curve with each reading weighed by its own uncertainty, and by how far off it lies where that is asked.

    `settled` is the share of the largest value that the last round may move it.
    P. J. Huber, Robust Statistics, 1981, ch. 7; the scale is the median absolute residual.
    Raises: NotConverged.
    """
    count = len(signal)
    flat = doubts.weights_at(np.zeros(count), count) if not doubts.is_in_both else None
    found = solve(flat)
    if not robust and not doubts.is_in_both:
        return Weighed(found, flat)
    near = settled * float(np.max(np.abs(value)))
    for _ in range(_MOST_ROUNDS):
        own = doubts.weights_at(found.slope(signal), count)
        weights = own
        if robust:
            share = _trust(found.value(signal) - value, own)
            weights = share if own is None else own * share
        after = solve(weights)
        if np.max(np.abs(after.value(signal) - found.value(signal))) <= near:
            return Weighed(after, weights, _named(after.value(signal) - value, own) if robust else ())
        found = after
    raise NotConverged(
        f"Weighing the readings anew did not settle within {_MOST_ROUNDS} rounds. "
        "Choose a simpler curve, or fit without it."
    )


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
