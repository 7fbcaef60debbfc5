"""What every stage of a signal path can do."""

from abc import abstractmethod
from collections.abc import Mapping
from typing import ClassVar, NamedTuple

import numpy as np
from numpy.typing import NDArray

from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import SignalUnit
from ..words.numerals import significant
from ..words.record import Frozen

Array = NDArray[np.float64]
NO_LOAD = float("inf")
MILLI = 1000.0
_NO_PARTS: Mapping[str, Array | float] = {}


def parallel(first_ohm: Array | float, second_ohm: Array | float) -> Array:
    """Resistance in Ω of two resistors side by side, shapes broadcast; either may be infinite, or 0."""
    with np.errstate(divide="ignore"):
        return np.asarray(1 / (1 / np.asarray(first_ohm, dtype=float) + 1 / np.asarray(second_ohm, dtype=float)))


def ohms(resistance: float) -> str:
    """A resistance as it is written on a drawing: 250 Ω, 4.7 kΩ, 1 MΩ."""
    for size, unit in ((1e6, "MΩ"), (1e3, "kΩ")):
        if abs(resistance) >= size:
            return f"{significant(resistance / size, 6)} {unit}"
    return f"{significant(resistance, 6)} Ω"


class Part(NamedTuple):
    """A property of a stage that is only known to within ± half_width, in `unit`: `name` is the law's keyword for it.

    `unit` is that of a difference: K for a temperature in °C, nothing for a factor.
    """

    name: str
    says: str
    unit: str
    value: float
    half_width: float


class Stage(Frozen):
    """One part of a path. `load_ohm` is the resistance of what follows, given by the path.

    `law` is the arithmetic; `forward` and `inverse` are it at the stated values of all parts.
    """

    takes: ClassVar[SignalUnit]
    gives: ClassVar[SignalUnit]
    title: ClassVar[str]
    straight: ClassVar[bool] = True  # forward is a straight line

    @abstractmethod
    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """What the law depends on, each with its tolerance (rectangular limits; 0 if exact)."""

    @abstractmethod
    def law(self, value: Array | float, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array:
        """What leaves when `value` enters and the parts have these values; shapes broadcast."""

    def forward(
        self,
        value: Array | float,
        conditions: Conditions = NOMINAL,
        load_ohm: float = NO_LOAD,
        varied: Mapping[str, Array | float] = _NO_PARTS,
    ) -> Array:
        """What leaves the stage, in `gives`, when `value`, in `takes`, enters, shape kept; `varied` parts are off."""
        stated = {part.name: part.value for part in self.parts(conditions)}
        return self.law(np.asarray(value, dtype=float), conditions, load_ohm, **{**stated, **varied})

    @abstractmethod
    def inverse(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """What entered when `value` leaves, shape kept."""

    @abstractmethod
    def slope(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """Change leaving (in `gives`) per change entering (in `takes`), shape kept."""

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """What the stage before is loaded with; infinite if it takes no current."""
        return NO_LOAD

    @property
    def output_limits(self) -> tuple[float, float]:
        """The least and greatest that can leave the stage, in `gives`; infinite if nothing stops it."""
        return (-NO_LOAD, NO_LOAD)

    @property
    @abstractmethod
    def caption(self) -> str:
        """The stage's numbers in a few words, for the drawing."""

    @abstractmethod
    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""


class StraightStage(Stage):
    """A stage that multiplies by a gain and adds an offset."""

    @abstractmethod
    def gain(self, load_ohm: float, **parts: Array | float) -> Array | float:
        """What leaves (in `gives`) per what enters (in `takes`), shape of the part that is varied."""

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array | float:
        """What leaves, in `gives`, when 0 enters; shape of the part that is varied."""
        return 0.0

    def law(self, value: Array | float, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array:
        """Gain times the value plus offset, in `gives`, shape kept."""
        return np.asarray(self.gain(load_ohm, **parts) * value + self.offset(conditions, load_ohm, **parts))

    def factor(self, load_ohm: float = NO_LOAD, conditions: Conditions = NOMINAL) -> float:
        """The gain at the stated values."""
        return float(self.gain(load_ohm, **{part.name: part.value for part in self.parts(conditions)}))

    def shift(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> float:
        """The offset at the stated values."""
        return float(self.offset(conditions, load_ohm, **{part.name: part.value for part in self.parts(conditions)}))

    def inverse(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """The value less the offset, divided by the gain, shape kept."""
        start = self.shift(conditions, load_ohm)
        return np.asarray((np.asarray(value, dtype=float) - start) / self.factor(load_ohm, conditions))

    def slope(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """The gain, in the shape of `value`."""
        return np.full(np.shape(value), self.factor(load_ohm, conditions))


def half_percent(value: float, percent: float) -> float:
    """Half-width of ± percent of a value."""
    return abs(value) * percent / 100
