"""Stages that supply, amplify, compensate or shift: excitation, amplifier, cold junction, ground offset.

A bridge's output is its supply times its mV/V (K. Hoffmann, An Introduction to Measurements using Strain Gages,
1989); emfs add up along a circuit, so that the terminals' own is added back (IEC 60584-1:2013).
"""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, model_validator

from ..standards import thermocouples
from ..standards.resistors import parse_network
from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import SignalUnit
from ..words.errors import BadTable
from ..words.numerals import fixed, significant
from ..words.record import Finite
from .base import MILLI, NO_LOAD, Array, Part, StraightStage, half_percent, ohms


class Excitation(StraightStage):
    """The supply of a bridge: mV/V times volts gives mV. `measured_v` is used where it is known."""

    takes: ClassVar[SignalUnit] = "mV/V"
    gives: ClassVar[SignalUnit] = "mV"
    title: ClassVar[str] = "Excitation"
    kind: Literal["excitation"] = "excitation"
    voltage_v: Finite = Field(default=5.0, gt=0)
    measured_v: Finite | None = Field(default=None, gt=0)
    tolerance_percent: Finite = Field(default=0.1, ge=0, le=50)
    bridge_ohm: Finite = Field(default=350.0, gt=0)

    @property
    def volts(self) -> float:
        """The voltage reckoned with."""
        return self.voltage_v if self.measured_v is None else self.measured_v

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The voltage."""
        return (Part("voltage_v", "excitation", "V", self.volts, half_percent(self.volts, self.tolerance_percent)),)

    def gain(self, load_ohm: float, **parts: Array | float) -> Array | float:
        """Output in mV per mV/V, which is the volts; shape of the part that is varied."""
        return parts["voltage_v"]

    @property
    def caption(self) -> str:
        """Its voltage."""
        return f"{self.volts:g} V" + (" measured" if self.measured_v is not None else "")

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        how = f"measured, {self.voltage_v:g} V nominal" if self.measured_v is not None else "nominal"
        return f"mV = mV/V × {significant(self.volts)} V of excitation ({how})"


class CurrentSource(StraightStage):
    """A steady current through a resistive sensor: mA times ohms gives mV."""

    takes: ClassVar[SignalUnit] = "Ω"
    gives: ClassVar[SignalUnit] = "mV"
    title: ClassVar[str] = "Current source"
    kind: Literal["current source"] = "current source"
    current_ma: Finite = Field(default=1.0, gt=0)
    tolerance_percent: Finite = Field(default=0.05, ge=0, le=50)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The current."""
        width = half_percent(self.current_ma, self.tolerance_percent)
        return (Part("current_ma", "source current", "mA", self.current_ma, width),)

    def gain(self, load_ohm: float, **parts: Array | float) -> Array | float:
        """Output in mV per Ω, which is the milliamps; shape of the part that is varied."""
        return parts["current_ma"]

    @property
    def caption(self) -> str:
        """Its current."""
        return f"{self.current_ma:g} mA"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        return f"mV = Ω × {significant(self.current_ma)} mA"

    def sensor_watts(self, sensor_ohm: float) -> float:
        """Power in the sensor, which warms it."""
        return (self.current_ma / MILLI) ** 2 * sensor_ohm


class Amplifier(StraightStage):
    """An amplifier of small voltages: V = gain x mV / 1000 + zero.

    Its gain is stated, or follows from a resistor (parts in series and parallel) by its own law a + b / Rg.
    """

    takes: ClassVar[SignalUnit] = "mV"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Amplifier"
    kind: Literal["amplifier"] = "amplifier"
    stated_gain: Finite = Field(default=100.0, gt=0)
    resistor: str = ""
    law_a: Finite = 1.0
    law_b_ohm: Finite = Field(default=50_000.0, gt=0)
    tolerance_percent: Finite = Field(default=0.1, ge=0, le=50)
    zero_v: Finite = 0.0
    zero_tolerance_v: Finite = Field(default=0.0, ge=0)
    low_v: Finite = 0.0
    high_v: Finite = 5.0

    @model_validator(mode="after")
    def _possible(self) -> Self:
        if not self.low_v < self.high_v:
            raise ValueError(
                f"the amplifier's output must have room: found {self.low_v:g} to {self.high_v:g} V. Swap the two"
            )
        if self.resistor.strip():
            try:
                parse_network(self.resistor)
            except BadTable as error:
                raise ValueError(str(error)) from error
        return self

    @property
    def resistor_ohm(self) -> float | None:
        """The gain resistor its parts come to; None where the gain is stated."""
        return parse_network(self.resistor) if self.resistor.strip() else None

    @property
    def volts_per_volt(self) -> float:
        """The gain."""
        resistor = self.resistor_ohm
        return self.stated_gain if resistor is None else self.law_a + self.law_b_ohm / resistor

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """Gain and zero."""
        gain = self.volts_per_volt
        return (
            Part("times", "amplifier gain", "", gain, half_percent(gain, self.tolerance_percent)),
            Part("zero_v", "amplifier zero", "V", self.zero_v, self.zero_tolerance_v),
        )

    def gain(self, load_ohm: float, **parts: Array | float) -> Array:
        """Output in V per mV, shape of the part that is varied."""
        return np.asarray(parts["times"]) / MILLI

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array | float:
        """The output in V at 0 mV, shape of the part that is varied."""
        return parts["zero_v"]

    @property
    def output_limits(self) -> tuple[float, float]:
        """The ends of its output."""
        return self.low_v, self.high_v

    @property
    def caption(self) -> str:
        """Its gain."""
        return f"× {significant(self.volts_per_volt, 5)}"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        resistor = self.resistor_ohm
        why = ""
        if resistor is not None:
            why = (
                f"; gain = {significant(self.law_a)} + {ohms(self.law_b_ohm)} / {ohms(resistor)} = "
                f"{significant(self.volts_per_volt)}"
            )
        return f"V = mV × {significant(self.volts_per_volt)} / 1000 + {fixed(self.zero_v, 3)} V{why}"


class ColdJunction(StraightStage):
    """Where a thermocouple's wires end: their emf there is missing, until it is added back.

    The sum is done in emf: E(hot) - E(terminals), and + E(terminals) where the amplifier compensates.
    """

    takes: ClassVar[SignalUnit] = "mV"
    gives: ClassVar[SignalUnit] = "mV"
    title: ClassVar[str] = "Cold junction"
    kind: Literal["cold junction"] = "cold junction"
    letter: thermocouples.Letter = "K"
    terminal_c: Finite = Field(default=25.0, ge=-40, le=120)
    tolerance_k: Finite = Field(default=1.0, ge=0, le=50)
    compensated: bool = True

    def _terminal_c(self, conditions: Conditions) -> float:
        return self.terminal_c if conditions.cold_junction_c is None else conditions.cold_junction_c

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The temperature of the terminals, as far as it is known."""
        return (Part("terminal_c", "cold junction", "K", self._terminal_c(conditions), self.tolerance_k),)

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """1: it adds."""
        return 1.0

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array:
        """The emf in mV missing at the terminals' true temperature, less what is added back at the one believed.

        Shape of the part that is varied.
        """
        missing = -thermocouples.emf_mv(self.letter, parts["terminal_c"])
        added = thermocouples.emf_mv(self.letter, self._terminal_c(conditions)) if self.compensated else 0.0
        return np.asarray(missing + added)

    @property
    def caption(self) -> str:
        """Where the emf is added back."""
        return f"{self.terminal_c:g} °C, " + ("added back" if self.compensated else "not added")

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        at = self._terminal_c(conditions)
        emf = significant(float(thermocouples.emf_mv(self.letter, at)), 5)
        if self.compensated:
            return f"mV = E(hot) − {emf} mV of the terminals at {at:g} °C + {emf} mV added back: in emf, not in degrees"
        return f"mV = E(hot) − {emf} mV: type {self.letter} with its terminals at {at:g} °C; nothing is added back"


class GroundOffset(StraightStage):
    """A return that does not stand at the input's zero: its voltage rides on the signal."""

    takes: ClassVar[SignalUnit] = "V"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Ground offset"
    kind: Literal["ground offset"] = "ground offset"
    offset_v: Finite = 0.02
    tolerance_v: Finite = Field(default=0.0, ge=0)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The offset."""
        return (Part("offset_v", "ground offset", "V", self.offset_v, self.tolerance_v),)

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """1: it adds."""
        return 1.0

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array | float:
        """What is added in V, shape of the part that is varied."""
        return parts["offset_v"]

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """What follows."""
        return load_ohm

    @property
    def caption(self) -> str:
        """Its size."""
        return f"{significant(MILLI * self.offset_v, 4)} mV"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        return f"V out = V in + {significant(self.offset_v)} V: the return stands that far from the input's zero"
