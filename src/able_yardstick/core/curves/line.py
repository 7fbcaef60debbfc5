"""A straight line."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import field_validator

from ..units.conditions import NOMINAL, Conditions
from ..words.record import Reckoned
from .base import Array, Curve


class Line(Curve):
    """value = height + gradient (signal - centre).

    The centre lies amid the signals, so that no digits are lost where a small span rides on a large zero.
    """

    name: ClassVar[str] = "line"
    kind: Literal["line"] = "line"
    height: Reckoned
    gradient: Reckoned
    centre: Reckoned = 0.0

    @field_validator("gradient")
    @classmethod
    def _leads_somewhere(cls, gradient: float) -> float:
        if gradient == 0:
            raise ValueError("gradient is 0: every signal would mean the same value. Check the two points")
        return gradient

    @classmethod
    def through(cls, first: tuple[float, float], second: tuple[float, float], domain: tuple[float, float]) -> Self:
        """The line through two (signal, value) points."""
        (x0, y0), (x1, y1) = first, second
        return cls(height=y0, gradient=(y1 - y0) / (x1 - x0), centre=x0, domain=domain)

    @property
    def powers(self) -> tuple[float, ...]:
        """Coefficients in ascending powers of the signal."""
        return (self.height - self.gradient * self.centre, self.gradient)

    def value(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Values at signals, shape kept."""
        return np.asarray(self.height + self.gradient * (np.asarray(signal, dtype=float) - self.centre))

    def slope(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """The gradient, in the signals' shape."""
        return np.full(np.shape(signal), self.gradient)

    def turning_points(self) -> tuple[float, ...]:
        """None: a line never turns."""
        return ()

    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """The one signal that gives the value."""
        return (self.centre + (value - self.height) / self.gradient,)

    def signal(self, value: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signals that give the values, shape kept."""
        return np.asarray(self.centre + (np.asarray(value, dtype=float) - self.height) / self.gradient)

    def converted(self, gain: float, offset: float) -> Self:
        """The same line in another unit of value."""
        return self.with_(height=gain * self.height + offset, gradient=gain * self.gradient)

    def stretched(self, factor: float) -> Self:
        """The same line of a signal `factor` times as large."""
        low, high = sorted(factor * end for end in self.domain)
        return self.with_(gradient=self.gradient / factor, centre=factor * self.centre, domain=(low, high))
