"""A curve of one view of flue-gas oxygen read in another: no straight line of it, so it is a curve of its own."""

from functools import cached_property
from typing import ClassVar, Literal

import numpy as np

from ..units.oxygen import AIR_O2_SHARE, RICHEST_TRUSTED_LAMBDA, Fuel, OxygenView, convert_oxygen, oxygen_percent
from .base import Array
from .composed import ComposedCurve, OutputCurve
from .defined import DefinedCurve, numeric_slope, solved

_NEAR_ZERO = 1e-9


class OxygenViewCurve(DefinedCurve):
    """value = the inner curve's value, converted from `source` to `target` where both views say something."""

    name: ClassVar[str] = "curve"
    kind: Literal["oxygen view"] = "oxygen view"
    curve: OutputCurve | ComposedCurve
    source: OxygenView
    target: OxygenView
    fuel: Fuel

    @cached_property
    def _limits(self) -> tuple[float, float]:
        """The signals between which both views say something.

        Percent oxygen does on the lean side only, and below where lambda diverges; the ratios, which are multiples of
        each other, do everywhere.
        """
        if "% O2" not in (self.source, self.target):
            return self.curve.domain
        leanest = float(oxygen_percent(np.array([RICHEST_TRUSTED_LAMBDA]), self.fuel)[0])
        percents = np.array([_NEAR_ZERO, min(leanest, 100 * AIR_O2_SHARE)]) * np.array([1, 1 - 1e-9])
        ends = convert_oxygen(percents, "% O2", self.source, self.fuel)
        inner = np.sort(self.curve.value(np.array(self.curve.domain)))
        held = np.clip(ends, inner[0], inner[1])
        low, high = np.sort(self.curve.signal(held))
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """The signals between which both views say something."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Values of the target view at signals, shape kept."""
        return convert_oxygen(np.asarray(self.curve.value(signal)), self.source, self.target, self.fuel)

    def law_slope(self, signal: Array) -> Array:
        """Change of value per unit of signal, shape kept, by central differences that stay inside the limits."""
        return numeric_slope(self, signal)

    def law_inverse(self, value: Array) -> Array:
        """Signals at values of the target view, shape kept."""
        return solved(self, value)
