"""Fits that weigh the readings anew until nothing changes: errors in both variables, and robust ones."""

from collections.abc import Callable
from typing import Generic, NamedTuple, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..words.errors import NotConverged
from .doubt import Doubts

Array = NDArray[np.float64]
_MOST_ROUNDS = 200
_SETTLED = 1e-11  # of the largest value
_HUBER = 1.345  # residuals beyond so many deviations weigh less: 95 % as sharp as least squares on a normal scatter
# Of readings that scatter normally with deviation 1, the mean of weight times square is P(|r| < k) = 0.8214, and that
# of the weight 0.9597: residuals weighed so look smaller than they are by the root of the two's ratio. And the curve is
# found less sharply than by least squares, by the root of 0.95.
_WHOLE = 0.8214
_WIDENED = float(np.sqrt(0.9597 / _WHOLE / 0.95))
_FURTHEST = 4.0  # standard uncertainties that a signal is moved to meet the curve
_DISTRUSTED = 3.0  # deviations beyond which a reading is named
_FREE_ROUNDS = 30  # then the scale is held, with which the rounds are sure to settle
_NEXT_TO_NOTHING = 1e-6
_MAD_TO_DEVIATION = 1.4826  # of a normal distribution


class FoundCurve(Protocol):
    """A curve that was found, as far as weighing needs it."""

    @property
    def dof(self) -> int:
        """How many readings more than numbers."""

    def value(self, signal: Array, /) -> Array:
        """Of the curve at signals (n,)."""

    def slope(self, signal: Array, /) -> Array:
        """Of the curve at signals (n,)."""


F = TypeVar("F", bound=FoundCurve)


class Weighed(NamedTuple, Generic[F]):
    """What was found with the weights (n,) it came to, and the rows it distrusts.

    `widened` is by how much the scatter of weighed residuals is to be taken larger, so that it is that of a reading.
    """

    solution: F
    weights: Array | None
    distrusted: tuple[int, ...] = ()
    widened: float = 1.0

    @property
    def relative(self) -> tuple[float, ...]:
        """The weights with 1 as their mean; none where all weigh the same."""
        return () if self.weights is None else tuple((self.weights / self.weights.mean()).tolist())


Solver = Callable[[Array, Array, Array | None], F]


def weighed(
    signal: Array,
    value: Array,
    solve: Solver[F],
    doubts: Doubts,
    *,
    robust: bool,
    settled: float = _SETTLED,
) -> Weighed[F]:
    """The curve with each reading weighed by its own uncertainty, and by how far off it lies where that is asked.

    `solve` finds the curve closest to points, signals (n,) and values (n,), with weights. `settled` is the share of the
    largest value that the last round may move it.
    P. J. Huber, Robust Statistics, 1981, ch. 7; the scale is the median absolute residual.
    Raises: NotConverged.
    """
    count = len(signal)
    flat = doubts.weights_at(np.zeros(count), count) if not doubts.is_in_both else None
    found = solve(signal, value, flat)
    if not robust and not doubts.is_in_both:
        return Weighed(found, flat)
    near = settled * float(np.max(np.abs(value)))
    scale, true, own, lies = 0.0, signal, flat, found.value(signal)
    for turn in range(_MOST_ROUNDS):
        wanted = value
        if doubts.is_in_both:
            own = doubts.weights_at(found.slope(true), count)
            if turn < _FREE_ROUNDS:  # then they are held, so that a level spot does not move them to and fro for ever
                true = _true_signals(signal, value, found, true, doubts)
            wanted = value + found.slope(true) * (true - signal)
        weights = own
        if robust:
            off = _scaled(lies - value, own)
            scale = _scale(off) if turn < _FREE_ROUNDS else scale
            share = _trust(off, scale)
            weights = share if own is None else own * share
        before, found = lies, solve(true, wanted, weights)
        lies = found.value(signal)
        if np.max(np.abs(lies - before)) <= near:
            if not robust:
                return Weighed(found, weights)
            named = _named(_scaled(lies - value, own))
            few = 1 + (count - found.dof) / count * (1 - _WHOLE) / _WHOLE  # P. J. Huber, 1981, 7.6: for few readings
            return Weighed(found, weights, named, _WIDENED * few)
    raise NotConverged(
        f"Weighing the readings anew did not settle within {_MOST_ROUNDS} rounds. "
        "Choose a simpler curve, or fit without it."
    )


def _true_signals(signal: Array, value: Array, found: FoundCurve, true: Array, doubts: Doubts) -> Array:
    """Where the signals most likely were, (n,), by a curve: on the shortest way to it in standard uncertainties.

    The curve is then laid through those, with the values carried along its slope: the whole likelihood of errors in
    both variables, of which weights alone leave out that signals are scattered (D. York and others, Unified equations
    for the slope, intercept, and standard errors of the best straight line, Am. J. Phys. 72 (2004), 367-375; a curve is
    taken as its tangent there).
    """
    if not doubts.is_in_both or doubts.signal is None:
        return signal
    slope = found.slope(true)
    off = value - (found.value(true) + slope * (signal - true))
    reference = np.zeros(len(signal)) if doubts.reference is None else doubts.reference
    total = reference**2 + (slope * doubts.signal) ** 2
    share = np.divide(slope * doubts.signal**2, total, out=np.zeros_like(total), where=total > 0)
    furthest = _FURTHEST * doubts.signal  # where the curve is flat, the value says nothing of the signal
    return np.asarray(signal + np.clip(share * off, -furthest, furthest))


def _scaled(residuals: Array, own: Array | None) -> Array:
    """Residuals as they would be if all readings weighed the same."""
    return residuals if own is None else np.asarray(residuals * np.sqrt(own / own.mean()))


def _scale(off: Array) -> float:
    """The deviation of the bulk of the readings; next to nothing of the largest where most lie on the curve."""
    away = np.abs(off)
    return max(_MAD_TO_DEVIATION * float(np.median(away)), _NEXT_TO_NOTHING * float(away.max()))


def _trust(off: Array, scale: float) -> Array:
    if scale == 0:
        return np.ones(len(off))
    return np.asarray(np.minimum(1.0, _HUBER / np.maximum(np.abs(off) / scale, _HUBER)))


def _named(off: Array) -> tuple[int, ...]:
    return tuple(int(row) for row in np.flatnonzero(np.abs(off) > _DISTRUSTED * _scale(off))) if off.any() else ()
