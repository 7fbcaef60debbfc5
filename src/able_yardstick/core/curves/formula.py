"""A curve given by a formula that a person typed."""

from functools import cached_property
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from ..formula import Expression, FormulaError, names_in, parse
from ..formula.tree import Names
from ..words.record import Reckoned
from .base import Array
from .defined import DefinedCurve, numeric_slope, solved

_CHECKED_AT = 257


class FormulaCurve(DefinedCurve):
    """value = the formula of the signal, whose name in it is `name_of_signal`; it holds from `low` to `high`."""

    name: ClassVar[str] = "formula"
    kind: Literal["formula"] = "formula"
    text: str
    name_of_signal: str = "x"
    signal_gain: Reckoned = 1.0  # the formula takes signal_gain times the signal: mV instead of V, say
    low: Reckoned
    high: Reckoned

    @model_validator(mode="after")
    def _usable(self) -> Self:
        if not self.low < self.high:
            raise ValueError(f"the formula's signal must run upwards: {self.low:g} to {self.high:g}. Swap the two")
        others = set(names_in(self._tree)) - {self.name_of_signal}
        if others:
            raise ValueError(
                f"the formula asks for {', '.join(sorted(others))}, but only {self.name_of_signal} is given, the signal"
            )
        signals = np.linspace(self.low, self.high, _CHECKED_AT)
        values = self.law(signals)
        bad = ~np.isfinite(values)
        if np.any(bad):
            raise ValueError(
                f"the formula has no value at a signal of {signals[bad][0]:.6g}. Limit the signal, or correct it"
            )
        steps = np.sign(np.diff(values))
        if np.any(steps != steps[0]) or steps[0] == 0:
            row = int(np.argmax(steps != steps[0])) if steps[0] else 0
            raise ValueError(
                f"the formula turns or is flat at a signal of {signals[row]:.6g}, so one value belongs to several "
                "signals. Limit the signal to one side"
            )
        return self

    @cached_property
    def _tree(self) -> Expression:
        return parse(self.text)

    @property
    def law_limits(self) -> tuple[float, float]:
        """The signals it was given for."""
        return self.low, self.high

    def law(self, signal: Array) -> Array:
        """Values at signals, shape kept."""
        names: Names = {self.name_of_signal: self.signal_gain * np.asarray(signal, dtype=float)}
        try:
            found = np.asarray(self._tree.evaluate(names), dtype=float)
        except FormulaError as error:
            raise FormulaError(error.reason, text=self.text, at=error.at) from error
        return np.broadcast_to(found, np.shape(signal))

    def law_slope(self, signal: Array) -> Array:
        """Change of value per unit of signal, shape kept, by central differences that stay inside the limits."""
        return numeric_slope(self, signal)

    def law_inverse(self, value: Array) -> Array:
        """Signals at values, shape kept."""
        return solved(self, value)
