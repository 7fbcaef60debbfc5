"""The parts of a signal path between a transducer and the pin: each turns one electrical value into another."""

from abc import abstractmethod
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from .conditions import NOMINAL, Conditions
from .electrical import SignalUnit
from .model import Finite, Frozen

Array = NDArray[np.float64]
NO_LOAD = float("inf")
MILLIAMPS_PER_AMP = 1000.0


def parallel(first_ohm: float, second_ohm: float) -> float:
    """Resistance of two resistors side by side; either may be infinite."""
    if np.isinf(first_ohm):
        return second_ohm
    if np.isinf(second_ohm):
        return first_ohm
    return first_ohm * second_ohm / (first_ohm + second_ohm)


class Stage(Frozen):
    """One part of a path. `load_ohm` is the resistance of what follows, given by the path."""

    takes: ClassVar[SignalUnit]
    gives: ClassVar[SignalUnit]
    title: ClassVar[str]
    straight: ClassVar[bool] = True  # forward is a straight line

    @abstractmethod
    def forward(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """What leaves the stage (unit `gives`) when `value` (unit `takes`) enters, shape kept."""

    @abstractmethod
    def inverse(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """What entered when `value` leaves, shape kept."""

    @abstractmethod
    def slope(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """Change leaving per change entering, shape kept."""

    @property
    @abstractmethod
    def input_ohm(self) -> float:
        """What the stage before is loaded with; infinite if it takes no current."""

    @abstractmethod
    def sentence(self, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""


class _Proportional(Stage):
    """A stage that multiplies by one factor."""

    tolerance_percent: Finite = Field(default=0.0, ge=0)

    @abstractmethod
    def factor(self, load_ohm: float = NO_LOAD) -> float:
        """What leaves per what enters."""

    def forward(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """`value` times the factor, shape kept."""
        return np.asarray(np.asarray(value, dtype=float) * self.factor(load_ohm))

    def inverse(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """`value` divided by the factor, shape kept."""
        return np.asarray(np.asarray(value, dtype=float) / self.factor(load_ohm))

    def slope(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """The factor, in the shape of `value`."""
        return np.full(np.shape(value), self.factor(load_ohm))


class Shunt(_Proportional):
    """A resistor that turns a loop's current (mA) into a voltage (V): Ohm's law."""

    takes: ClassVar[SignalUnit] = "mA"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Shunt"
    kind: Literal["shunt"] = "shunt"
    resistance_ohm: Finite = Field(default=250.0, gt=0)

    def factor(self, load_ohm: float = NO_LOAD) -> float:
        """Volts per milliamp, with what follows in parallel."""
        return parallel(self.resistance_ohm, load_ohm) / MILLIAMPS_PER_AMP

    @property
    def input_ohm(self) -> float:
        """The shunt's own resistance."""
        return self.resistance_ohm

    def sentence(self, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        factor = self.factor(load_ohm)
        return f"V = mA × {factor:.6g}: {self.resistance_ohm:g} Ω, {1000 * factor:g} mV a milliamp"


class Divider(_Proportional):
    """Two resistors: the signal enters above `top_ohm` and leaves across `bottom_ohm`."""

    takes: ClassVar[SignalUnit] = "V"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Divider"
    kind: Literal["divider"] = "divider"
    top_ohm: Finite = Field(default=10_000.0, gt=0)
    bottom_ohm: Finite = Field(default=10_000.0, gt=0)

    def factor(self, load_ohm: float = NO_LOAD) -> float:
        """Share of the voltage that leaves, with what follows in parallel to the lower resistor."""
        bottom = parallel(self.bottom_ohm, load_ohm)
        return bottom / (self.top_ohm + bottom)

    @property
    def input_ohm(self) -> float:
        """Both resistors in series."""
        return self.top_ohm + self.bottom_ohm

    def sentence(self, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        return (
            f"V out = V in × {self.factor(load_ohm):.6g}: {self.bottom_ohm:g} Ω of "
            f"{self.top_ohm:g} Ω + {self.bottom_ohm:g} Ω"
        )


AnyStage = Annotated[Shunt | Divider, Field(discriminator="kind")]
