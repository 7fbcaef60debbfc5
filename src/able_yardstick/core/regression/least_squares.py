"""Least squares by QR in centred and scaled signals: never by the normal equations.

The spread of the coefficients follows from the triangular factor: cov = s^2 (R^T R)^-1, s^2 = SSR / dof
(G. H. Golub, C. F. Van Loan, Matrix Computations, 4th ed., 5.3; JCGM 100:2008, H.3 for the line).
"""

from fractions import Fraction
from functools import cache
from math import comb
from typing import NamedTuple

import numpy as np
from numpy.polynomial.chebyshev import cheb2poly, chebvander
from numpy.typing import NDArray

from ..words.errors import DegenerateReadings, TooFewReadings
from ..words.record import Frozen, Reckoned

Array = NDArray[np.float64]
# A diagonal of R smaller than this share of its column's length leaves a coefficient undetermined.
_RANK_LIMIT = 1e-11


class Solution(Frozen):
    """Coefficients of z^k with z = (signal - centre) / scale, and how well the points determine them.

    `factor` is the inverse of R, row by row: the covariance is residual_sd^2 factor factor^T.
    `first_power` is 1 where the curve is held to pass through its zero at the centre.
    """

    coefficients: tuple[Reckoned, ...]
    factor: tuple[tuple[Reckoned, ...], ...]
    centre: Reckoned
    scale: Reckoned
    first_power: int = 0
    dof: int
    residual_sd: Reckoned | None

    def value(self, signal: Array) -> Array:
        """Of the curve at signals (n,)."""
        return np.asarray(np.polynomial.polynomial.polyval(self._z(signal), np.array(self.coefficients)))

    def slope(self, signal: Array) -> Array:
        """Of the curve at signals (n,)."""
        derived = np.polynomial.polynomial.polyder(np.array(self.coefficients))
        return np.asarray(np.polynomial.polynomial.polyval(self._z(signal), derived) / self.scale)

    def _z(self, signal: Array) -> Array:
        return (signal - self.centre) / self.scale

    @property
    def covariance(self) -> tuple[tuple[float, ...], ...] | None:
        """Of the free coefficients, in powers of z; None without freedom to know it by."""
        if self.residual_sd is None:
            return None
        factor = np.array(self.factor)
        found = self.residual_sd**2 * factor @ factor.T
        return tuple(tuple(float(number) for number in row) for row in found)

    def spread(self, rows: Array) -> Array | None:
        """Standard deviation, in the unit of the values, of sums of the free coefficients: rows (m, p) -> (m,)."""
        if self.residual_sd is None:
            return None
        return np.asarray(self.residual_sd * np.linalg.norm(rows @ np.array(self.factor), axis=1))

    def curve_spread(self, signal: Array) -> Array | None:
        """Standard deviation of the curve at signals (n,): None without freedom to know it by."""
        powers = np.arange(self.first_power, len(self.coefficients))
        return self.spread(self._z(signal)[:, None] ** powers)

    def power_spread(self) -> tuple[float, ...] | None:
        """Standard errors of the coefficients in ascending powers of the signal itself."""
        found = self.spread(self._to_powers())
        return None if found is None else tuple(float(number) for number in found)

    def power_covariance(self) -> tuple[tuple[float, ...], ...] | None:
        """Of the coefficients in ascending powers of the signal itself; None without freedom to know it by."""
        if self.residual_sd is None:
            return None
        root = self.residual_sd * self._to_powers() @ np.array(self.factor)
        return tuple(tuple(float(number) for number in row) for row in root @ root.T)

    def _to_powers(self) -> Array:
        """What turns the free coefficients, in powers of z, into those in powers of the signal: shape (n, p)."""
        count = len(self.coefficients)
        columns = range(self.first_power, count)
        return np.array([[_binomial(power, low, self.centre, self.scale) for power in columns] for low in range(count)])


def _binomial(power: int, low: int, centre: float, scale: float) -> float:
    """How much the coefficient of z^power adds to that of signal^low."""
    if low > power:
        return 0.0
    return float(comb(power, low) * (-Fraction(centre)) ** (power - low) / Fraction(scale) ** power)


def solve(signal: Array, value: Array, degree: int, weights: Array | None = None) -> Solution:
    """The polynomial of a degree closest to points, signal (n,) and value (n,), each with its weight.

    It is solved in Chebyshev's polynomials of z, which stay apart where the plain powers crowd together.
    Raises: TooFewReadings with fewer than degree + 1 different signals, DegenerateReadings if they lie so that
    a coefficient is undetermined.
    """
    need_different(signal, degree + 1)
    centre = float(signal.mean())
    scale = float(np.abs(signal - centre).max())
    level = float(value.mean())
    design = np.asarray(chebvander((signal - centre) / scale, degree), dtype=np.float64)
    found = _qr(design, value - level, _relative(weights, len(signal)))
    to_powers = _plain_powers(degree)
    coefficients = to_powers @ found.coefficients
    coefficients[0] += level
    return _solution(coefficients, to_powers @ found.inverse, found.ssr, len(signal), centre, scale, 0)


@cache
def _plain_powers(degree: int) -> Array:
    """What turns coefficients of Chebyshev's polynomials into those of plain powers: shape (degree + 1, degree + 1)."""
    units = [np.eye(n + 1)[n] for n in range(degree + 1)]
    return np.stack([np.pad(cheb2poly(row), (0, degree - n)) for n, row in enumerate(units)], axis=1)


def _relative(weights: Array | None, count: int) -> Array:
    """Weights whose mean is 1, so that the scatter keeps the unit of the values."""
    return np.ones(count) if weights is None else np.asarray(weights / weights.mean())


def solve_through(signal: Array, value: Array, zero: tuple[float, float], weights: Array | None = None) -> Solution:
    """The line closest to points that passes through `zero` (signal, value).

    Raises: TooFewReadings if no signal differs from that of the zero.
    """
    at, height = zero
    scale = float(np.abs(signal - at).max())
    if scale == 0:
        raise TooFewReadings(
            f"A line through a given zero needs a reading away from it; every signal is {at:.6g}.",
            needed=1,
            found=0,
        )
    found = _qr(((signal - at) / scale)[:, None], value - height, _relative(weights, len(signal)))
    coefficients = np.array([height, found.coefficients[0]])
    return _solution(coefficients, found.inverse, found.ssr, len(signal), at, scale, 1)


def need_different(signal: Array, needed: int) -> None:
    """Refuse fewer than `needed` different signals (n,). Raises: TooFewReadings."""
    found = len(np.unique(signal))
    if found < needed:
        every = f": every one is {signal[0]:.6g}" if found == 1 and len(signal) > 1 else ""
        raise TooFewReadings(
            f"At least {needed} readings at different signals are needed, found {found}{every}. "
            "Take more, further apart.",
            needed=needed,
            found=found,
        )


class _Found(NamedTuple):
    """Coefficients (p,), the inverse of R (p, p) and the weighted sum of squared residuals."""

    coefficients: Array
    inverse: Array
    ssr: float


def _qr(design: Array, value: Array, weights: Array) -> _Found:
    root = np.sqrt(weights)
    rows, wanted = design * root[:, None], value * root
    q, r = np.linalg.qr(rows)
    signs = np.where(np.diag(r) < 0, -1.0, 1.0)  # which sign comes out hangs on the processor's library
    q, r = q * signs, r * signs[:, None]
    lengths = np.linalg.norm(rows, axis=0)
    if np.any(np.abs(np.diag(r)) < _RANK_LIMIT * lengths):
        raise DegenerateReadings(
            "The signals lie too close together to tell this curve's coefficients apart. "
            "Take readings further apart, or choose a simpler curve."
        )
    coefficients = np.linalg.solve(r, q.T @ wanted)
    # one step of refinement: the residuals are small, so their own fit costs no digits
    coefficients = coefficients + np.linalg.solve(r, q.T @ (wanted - rows @ coefficients))
    residuals = wanted - rows @ coefficients
    return _Found(coefficients, np.linalg.inv(r), float(residuals @ residuals))


def _solution(
    coefficients: Array,
    inverse: Array,
    ssr: float,
    points: int,
    centre: float,
    scale: float,
    first_power: int,
) -> Solution:
    dof = points - inverse.shape[1]
    return Solution(
        coefficients=tuple(float(number) for number in coefficients),
        factor=tuple(tuple(float(number) for number in row) for row in inverse),
        centre=centre,
        scale=scale,
        first_power=first_power,
        dof=dof,
        residual_sd=float(np.sqrt(ssr / dof)) if dof > 0 else None,
    )
