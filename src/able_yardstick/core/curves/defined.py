"""What curves given by a law share: the law holds between two limits, and goes on straight beyond them."""

from abc import abstractmethod
from typing import Self

import numpy as np
from pydantic import Field

from ..units.conditions import NOMINAL, Conditions
from ..words.record import Reckoned
from .base import Array, Curve


class DefinedCurve(Curve):
    """value = gain x law(signal / signal_factor) + offset, where the law runs one way between its `law_limits`.

    Beyond the limits nothing is defined: the curve goes on along its end slopes, so that a plot or a controller that
    goes there meets a finite number, and `usable_stretch` cuts every scale off at the limits.
    """

    gain: Reckoned = 1.0
    offset: Reckoned = 0.0
    signal_factor: Reckoned = Field(default=1.0, gt=0)

    @property
    @abstractmethod
    def law_limits(self) -> tuple[float, float]:
        """The signals, as the law takes them, between which it holds."""

    @property
    def limits(self) -> tuple[float, float]:
        """The signals between which the law holds."""
        low, high = self.law_limits
        return self.signal_factor * low, self.signal_factor * high

    @abstractmethod
    def law(self, signal: Array) -> Array:
        """The law at signals within its limits, shape kept."""

    @abstractmethod
    def law_slope(self, signal: Array) -> Array:
        """Its derivative, change of value per unit of signal, shape kept."""

    @abstractmethod
    def law_inverse(self, value: Array) -> Array:
        """The signals within the limits that give values the law reaches, shape kept."""

    def value(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Values at signals, shape kept."""
        asked = np.asarray(signal, dtype=float) / self.signal_factor
        low, high = self.law_limits
        inside = np.clip(asked, low, high)
        found = self.law(inside)
        beyond = inside != asked
        if np.any(beyond):
            with np.errstate(invalid="ignore", over="ignore"):
                found = np.where(beyond, found + self.law_slope(inside) * (asked - inside), found)
        return np.asarray(self.gain * found + self.offset)

    def slope(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Change of value per unit of signal, shape kept."""
        inside = np.clip(np.asarray(signal, dtype=float) / self.signal_factor, *self.law_limits)
        return np.asarray(self.gain / self.signal_factor * self.law_slope(inside))

    def turning_points(self) -> tuple[float, ...]:
        """None: the limits are such that the law runs one way."""
        return ()

    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """The one signal that gives the value; empty where the end slopes vanish before it."""
        found = float(self.signal(np.array([value]), conditions)[0])
        return (found,) if np.isfinite(found) else ()

    def signal(self, value: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signals that give the values, shape kept; on the straight extensions beyond what the law reaches."""
        wanted = (np.asarray(value, dtype=float) - self.offset) / self.gain
        ends = np.array(self.law_limits)
        at_ends, slopes = self.law(ends), self.law_slope(ends)
        inside = np.clip(wanted, at_ends.min(), at_ends.max())
        found = self.law_inverse(inside)
        end = np.where((wanted < inside) == (at_ends[0] < at_ends[1]), 0, 1)
        beyond = wanted != inside
        with np.errstate(divide="ignore", invalid="ignore"):
            extended = ends[end] + (wanted - at_ends[end]) / slopes[end]
        return np.asarray(self.signal_factor * np.where(beyond, extended, found))

    def converted(self, gain: float, offset: float) -> Self:
        """The same curve in another unit of value."""
        return self.with_(gain=gain * self.gain, offset=gain * self.offset + offset)

    def stretched(self, factor: float) -> Self:
        """The same curve of a signal `factor` times as large."""
        low, high = (factor * end for end in self.domain)
        return self.with_(signal_factor=factor * self.signal_factor, domain=(low, high))


_BISECTIONS = 60
_SAMPLES = 257


def numeric_slope(curve: DefinedCurve, signal: Array) -> Array:
    """Change of value per unit of signal, shape kept, of a law that has no derivative in closed form.

    By central differences inside its limits.
    """
    low, high = curve.law_limits
    step = 1e-6 * (high - low)
    below, above = np.clip(signal - step, low, high), np.clip(signal + step, low, high)
    return np.asarray((curve.law(above) - curve.law(below)) / (above - below))


def solved(curve: DefinedCurve, value: Array) -> Array:
    """Signals at values, shape kept, of a law without an inverse in closed form.

    Bracketed by samples, then bisected.
    """
    low, high = curve.law_limits
    signals = np.linspace(low, high, _SAMPLES)
    values = curve.law(signals)
    if values[0] > values[-1]:
        signals, values = signals[::-1], values[::-1]
    at = np.clip(np.searchsorted(values, value) - 1, 0, _SAMPLES - 2)
    below, above = signals[at], signals[at + 1]
    for _ in range(_BISECTIONS):
        middle = (below + above) / 2
        too_low = curve.law(middle) < value
        below, above = np.where(too_low, middle, below), np.where(too_low, above, middle)
    return np.asarray((below + above) / 2)
