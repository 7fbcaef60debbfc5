"""Stages that let a steady value through: filter, clamp, the pull-up of a pulse output."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import SignalUnit
from ..words.numerals import significant
from ..words.record import Finite
from .base import MILLI, NO_LOAD, Array, Part, StraightStage, ohms

_MICRO = 1e6
SETTLED = 5  # time constants after which less than 1 % of a step is missing


class Filter(StraightStage):
    """A first-order low-pass, and a pure delay: they hide what is fast and leave the steady value alone."""

    takes: ClassVar[SignalUnit] = "V"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Filter"
    kind: Literal["filter"] = "filter"
    time_constant_s: Finite = Field(default=0.1, gt=0)
    delay_s: Finite = Field(default=0.0, ge=0)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """None: a steady value passes as it is."""
        return ()

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """1 for a steady value."""
        return 1.0

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """What follows."""
        return load_ohm

    @property
    def corner_hz(self) -> float:
        """The frequency at which 71 % is left."""
        return 1 / (2 * np.pi * self.time_constant_s)

    @property
    def caption(self) -> str:
        """Its time constant."""
        return f"{self.time_constant_s:g} s" + (f" + {self.delay_s:g} s" if self.delay_s else "")

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        wait = significant(self.delay_s + SETTLED * self.time_constant_s, 3)
        return (
            f"V out = V in once steady: settled after {wait} s; swings above {significant(self.corner_hz, 3)} Hz "
            "are hidden"
        )


class Clamp(StraightStage):
    """A series resistor and a clamp that protect the pin: over-voltage stops at the clamp, leakage costs a little."""

    takes: ClassVar[SignalUnit] = "V"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Clamp"
    kind: Literal["clamp"] = "clamp"
    series_ohm: Finite = Field(default=1000.0, gt=0)
    high_v: Finite = 5.6
    low_v: Finite = -0.6
    leakage_ua: Finite = Field(default=1.0, ge=0)

    @model_validator(mode="after")
    def _possible(self) -> Self:
        if not self.low_v < self.high_v:
            raise ValueError(f"the clamp must leave room: found {self.low_v:g} to {self.high_v:g} V. Swap the two")
        return self

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The leakage, which may be anything up to the one stated."""
        half = self.leakage_ua / 2
        return (Part("leakage_ua", "clamp leakage", "µA", half, half),)

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """What the load leaves behind the series resistor."""
        return 1.0 if np.isinf(load_ohm) else load_ohm / (load_ohm + self.series_ohm)

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array:
        """The leakage through the series resistor lowers the voltage, in V; shape of the part that is varied."""
        return np.asarray(-np.asarray(parts["leakage_ua"]) / _MICRO * self.series_ohm)

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """Series resistor and load."""
        return self.series_ohm + load_ohm

    @property
    def output_limits(self) -> tuple[float, float]:
        """The clamp's two levels."""
        return self.low_v, self.high_v

    @property
    def caption(self) -> str:
        """Its resistor and level."""
        return f"{ohms(self.series_ohm)}, {self.high_v:g} V"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        cost = significant(self.leakage_ua / _MICRO * self.series_ohm * MILLI, 3)
        return (
            f"V out = V in × {significant(float(self.gain(load_ohm)))}, less at most {cost} mV of leakage; "
            f"never beyond {significant(self.low_v)} to {significant(self.high_v)} V"
        )


class PulsePullUp(StraightStage):
    """A resistor to a supply that gives an open collector or contact its upper level; the frequency passes."""

    takes: ClassVar[SignalUnit] = "Hz"
    gives: ClassVar[SignalUnit] = "Hz"
    title: ClassVar[str] = "Pull-up"
    kind: Literal["pulse pull-up"] = "pulse pull-up"
    resistance_ohm: Finite = Field(default=4700.0, gt=0)
    supply_v: Finite = Field(default=5.0, gt=0)
    low_v: Finite = Field(default=0.3, ge=0)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """None: the frequency does not depend on it."""
        return ()

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """1: frequency in, frequency out."""
        return 1.0

    @property
    def sink_ma(self) -> float:
        """What the collector has to sink."""
        return MILLI * (self.supply_v - self.low_v) / self.resistance_ohm

    @property
    def caption(self) -> str:
        """Its resistance and supply."""
        return f"{ohms(self.resistance_ohm)} to {self.supply_v:g} V"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        return (
            f"Hz out = Hz in, between {self.low_v:g} and {self.supply_v:g} V; the collector sinks "
            f"{significant(self.sink_ma, 3)} mA. Without it the line never rises and no pulse is counted"
        )
