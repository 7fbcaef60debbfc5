"""A polynomial that carries the centre and scale it was fitted with."""

from fractions import Fraction
from functools import cached_property
from math import comb
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from ..units.conditions import NOMINAL, Conditions
from ..words.record import Reckoned
from .base import Array, Curve

_SAME_ROOT = 1e-9


def raw_powers(scaled: tuple[float, ...], centre: float, scale: float) -> tuple[float, ...]:
    """Ascending coefficients in the signal itself from those in z = (signal - centre) / scale.

    The binomial sums are taken in exact rationals: with a small span on a large zero they cancel heavily.
    """
    exact_centre, exact_scale = Fraction(centre), Fraction(scale)
    raw = [Fraction(0)] * len(scaled)
    for power, coefficient in enumerate(scaled):
        share = Fraction(coefficient) / exact_scale**power
        for low in range(power + 1):
            raw[low] += share * comb(power, low) * (-exact_centre) ** (power - low)
    return tuple(float(number) for number in raw)


class Polynomial(Curve):
    """value = sum of coefficients[k] z^k with z = (signal - centre) / scale."""

    name: ClassVar[str] = "polynomial"
    kind: Literal["polynomial"] = "polynomial"
    coefficients: tuple[Reckoned, ...] = Field(min_length=2, max_length=6)
    centre: Reckoned = 0.0
    scale: Reckoned = Field(default=1.0, gt=0)

    @property
    def powers(self) -> tuple[float, ...]:
        """Coefficients in ascending powers of the signal."""
        return raw_powers(self.coefficients, self.centre, self.scale)

    def _z(self, signal: Array | float) -> Array:
        return np.asarray((np.asarray(signal, dtype=float) - self.centre) / self.scale)

    def value(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Values at signals, shape kept, by Horner's rule (N. J. Higham, Accuracy and Stability of Numerical
        Algorithms, 2nd ed., 2002, 5.1).
        """
        z = self._z(signal)
        total = np.full_like(z, self.coefficients[-1])
        for coefficient in reversed(self.coefficients[:-1]):
            total = total * z + coefficient
        return np.asarray(total)

    def slope(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Derivative at signals, shape kept."""
        derived = np.polynomial.polynomial.polyder(np.array(self.coefficients))
        return np.asarray(np.polynomial.polynomial.polyval(self._z(signal), derived) / self.scale)

    def turning_points(self) -> tuple[float, ...]:
        """Signals strictly inside the domain where the slope changes sign."""
        return self._turns

    @cached_property
    def _turns(self) -> tuple[float, ...]:
        derived = np.polynomial.polynomial.polyder(np.array(self.coefficients))
        low, high = self._z(np.array(self.domain))
        edge = _SAME_ROOT * (high - low)
        inside = [z for z in _real_roots(derived) if low + edge < z < high - edge and _changes_sign(derived, z, edge)]
        return tuple(self.centre + self.scale * z for z in inside)

    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """Every signal that gives the value, rising."""
        shifted = np.array(self.coefficients)
        shifted[0] -= value
        return tuple(self.centre + self.scale * z for z in _real_roots(shifted))

    def converted(self, gain: float, offset: float) -> Self:
        """The same polynomial in another unit of value."""
        scaled = [gain * coefficient for coefficient in self.coefficients]
        return self.with_(coefficients=(scaled[0] + offset, *scaled[1:]))

    def stretched(self, factor: float) -> Self:
        """The same polynomial of a signal `factor` (above 0) times as large."""
        low, high = (factor * end for end in self.domain)
        return self.with_(centre=factor * self.centre, scale=factor * self.scale, domain=(low, high))


def _real_roots(coefficients: Array) -> list[float]:
    """Real roots of an ascending polynomial, rising, each polished by two Newton steps."""
    trimmed = np.trim_zeros(coefficients, "b")
    if len(trimmed) < 2:
        return []
    roots = np.polynomial.polynomial.polyroots(trimmed)
    derived = np.polynomial.polynomial.polyder(trimmed)
    real = np.sort(roots[np.abs(roots.imag) < 1e-7 * (1 + np.abs(roots.real))].real)
    for _ in range(2):
        slope = np.polynomial.polynomial.polyval(real, derived)
        step = np.divide(
            np.polynomial.polynomial.polyval(real, trimmed),
            slope,
            out=np.zeros_like(real),
            where=np.abs(slope) > 1e-12,
        )
        real = real - step
    return [float(root) for root in real]


def _changes_sign(coefficients: Array, root: float, edge: float) -> bool:
    before, after = np.polynomial.polynomial.polyval(np.array([root - edge, root + edge]), coefficients)
    return bool(before * after < 0)
