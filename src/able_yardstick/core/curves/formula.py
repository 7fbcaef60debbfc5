"""A curve given by a formula that a person typed."""

from functools import cached_property
from itertools import pairwise
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import model_validator

from ..formula import Expression, FormulaError, names_in, parse
from ..formula.tree import Names
from ..units.conditions import NOMINAL, Conditions
from ..words.record import Reckoned
from .base import Array
from .defined import DefinedCurve, numeric_slope, solved

_CHECKED_AT = 257
_HALVINGS = 60


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
        return self

    @property
    def is_plain(self) -> bool:
        """Whether its text alone gives its values, in the units they stand in."""
        return (self.signal_gain, self.gain, self.offset, self.signal_factor) == (1.0, 1.0, 0.0, 1.0)

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

    @cached_property
    def _turns(self) -> tuple[float, ...]:
        signals = np.linspace(self.low, self.high, _CHECKED_AT)
        steps = np.sign(np.diff(self.law(signals)))
        at = np.flatnonzero((steps[1:] != steps[:-1]) | (steps[1:] == 0))
        turns = [float(signal) for signal in signals[at + 1]]
        return tuple(turns) if turns or steps[0] else (self.low,)

    def turning_points(self) -> tuple[float, ...]:
        """Signals at which the formula stops rising or falling, to a 256th of its range; every place of a flat one."""
        return tuple(self.signal_factor * turn for turn in self._turns)

    def signal(self, value: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signals that give the values, shape kept. Raises: NotMonotonic if it turns."""
        self.refuse_if_it_turns()
        return super().signal(value, conditions)

    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """Every signal that gives the value: one on each side of a turn."""
        if not self._turns:
            return super().branches(value, conditions)
        edges = [self.low, *self._turns, self.high]
        wanted = (value - self.offset) / self.gain
        found = [root for a, b in pairwise(edges) if (root := self._root(wanted, a, b)) is not None]
        return tuple(dict.fromkeys(self.signal_factor * root for root in found))

    def _root(self, wanted: float, low: float, high: float) -> float | None:
        """The signal between two at which the law is a value, by bisection; None where it is not."""
        at_low, at_high = (float(self.law(np.array(end))) - wanted for end in (low, high))
        if at_low * at_high > 0 or low == high:
            return None
        rises = at_high > at_low
        for _ in range(_HALVINGS):
            middle = (low + high) / 2
            is_above = float(self.law(np.array(middle))) > wanted
            low, high = (low, middle) if is_above == rises else (middle, high)
        return (low + high) / 2
