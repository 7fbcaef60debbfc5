"""What every curve can do: value from signal, signal from value, slope, and say where it holds."""

from abc import abstractmethod
from typing import ClassVar, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import model_validator

from ..units.conditions import NOMINAL, Conditions
from ..words.errors import NotMonotonic, OutOfRange
from ..words.record import Frozen, Reckoned

Array = NDArray[np.float64]


class Curve(Frozen):
    """Maps a signal (at the pin, in the pin's unit) to a value (in the channel's unit).

    It may be evaluated beyond `domain`, where it is an extrapolation; `within` tells which.
    """

    name: ClassVar[str] = "curve"
    domain: tuple[Reckoned, Reckoned]

    @model_validator(mode="after")
    def _domain_runs_upwards(self) -> Self:
        low, high = self.domain
        if not low < high:
            raise ValueError(f"domain ({low:g} to {high:g}) must run from a lower to a higher signal")
        return self

    @abstractmethod
    def value(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Values at signals, shape kept."""

    @abstractmethod
    def slope(self, signal: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Change of value per unit of signal, shape kept."""

    @abstractmethod
    def turning_points(self) -> tuple[float, ...]:
        """Signals inside the domain at which the value stops rising or falling."""

    @abstractmethod
    def branches(self, value: float, conditions: Conditions = NOMINAL) -> tuple[float, ...]:
        """Every signal that gives `value`, rising, extrapolated ones too; empty if there is none."""

    @abstractmethod
    def converted(self, gain: float, offset: float) -> Self:
        """The curve whose values are `gain` times these plus `offset`: the same one in another unit."""

    @abstractmethod
    def stretched(self, factor: float) -> "Curve":
        """The curve of a signal that is `factor` times this one's."""

    @property
    def limits(self) -> tuple[float, float]:
        """The signals between which the curve is defined at all; infinite where it can be extrapolated for ever."""
        return (-np.inf, np.inf)

    @property
    def is_monotonic(self) -> bool:
        """Whether each value within the domain belongs to one signal."""
        return not self.turning_points()

    def within(self, signal: Array | float) -> NDArray[np.bool_]:
        """Where signals lie inside the domain (interpolation), shape kept."""
        low, high = self.domain
        return np.asarray((np.asarray(signal) >= low) & (np.asarray(signal) <= high))

    def signal(self, value: Array | float, conditions: Conditions = NOMINAL) -> Array:
        """Signals that give the values, shape kept; the branch inside the domain where there are several.

        Raises: NotMonotonic if the curve turns inside its domain, OutOfRange where nothing gives the value.
        """
        self.refuse_if_it_turns()
        numbers = np.asarray(value, dtype=float)
        found = [self._nearest_branch(float(number), conditions) for number in numbers.ravel()]
        return np.asarray(found).reshape(numbers.shape)

    def refuse_if_it_turns(self) -> None:
        """Nothing where each value belongs to one signal. Raises: NotMonotonic."""
        turns = self.turning_points()
        if turns:
            raise NotMonotonic(
                f"The {self.name} turns at a signal of {turns[0]:.6g}, so one value belongs to several signals. "
                "Ask for its branches, or limit the range to one side.",
                at=turns[0],
            )

    def _nearest_branch(self, value: float, conditions: Conditions) -> float:
        found = self.branches(value, conditions)
        if not found:
            raise OutOfRange(f"No signal gives {value:.6g}: the {self.name} does not reach it.", found=value)
        low, high = self.domain
        return min(found, key=lambda signal: max(low - signal, signal - high, 0.0))
