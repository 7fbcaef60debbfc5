"""Stages made of resistors: shunt, divider, leads, the pull-up of a resistive sensor.

Ohm's law and the loaded divider (P. Horowitz, W. Hill, The Art of Electronics, 3rd ed., 2015, 1.2).
"""

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..units.conditions import NOMINAL, Conditions
from ..units.electrical import SignalUnit
from ..words.numerals import significant
from ..words.record import Finite, added_later
from .base import MILLI, NO_LOAD, Array, Part, Stage, StraightStage, half_percent, ohms, parallel


class Shunt(StraightStage):
    """A resistor that turns a current (mA) into a voltage (V): Ohm's law. A burden is the same."""

    takes: ClassVar[SignalUnit] = "mA"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Shunt"
    kind: Literal["shunt"] = "shunt"
    resistance_ohm: Finite = Field(default=250.0, gt=0)
    tolerance_percent: Finite = Field(default=0.1, ge=0, le=50)
    rating_w: Finite = Field(default=0.25, gt=0)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The resistance."""
        width = half_percent(self.resistance_ohm, self.tolerance_percent)
        return (Part("resistance_ohm", "shunt", "Ω", self.resistance_ohm, width),)

    def gain(self, load_ohm: float, **parts: Array | float) -> Array:
        """Output in V per mA, with what follows in parallel; shape of the part that is varied."""
        return parallel(parts["resistance_ohm"], load_ohm) / MILLI

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """The shunt with what follows in parallel."""
        return float(parallel(self.resistance_ohm, load_ohm))

    @property
    def caption(self) -> str:
        """Its resistance and tolerance."""
        return f"{ohms(self.resistance_ohm)}, {self.tolerance_percent:g} %"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        factor = self.factor(load_ohm)
        loaded = "" if np.isinf(load_ohm) else f", with {ohms(load_ohm)} of what follows beside it"
        return f"V = mA × {significant(factor)}: {ohms(self.resistance_ohm)}{loaded}"

    def watts(self, milliamps: float) -> float:
        """Power in the resistor at a current."""
        return (milliamps / MILLI) ** 2 * self.resistance_ohm


class Divider(StraightStage):
    """Two resistors: the signal enters above `top_ohm` and leaves across `bottom_ohm`.

    `measured_factor` is what leaves per what enters, as it was measured with all that follows in place; the resistors
    stay as they are stated. `measured_within` is how far it may be off.
    """

    takes: ClassVar[SignalUnit] = "V"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Divider"
    kind: Literal["divider"] = "divider"
    top_ohm: Finite = Field(default=10_000.0, gt=0)
    bottom_ohm: Finite = Field(default=10_000.0, gt=0)
    tolerance_percent: Finite = Field(default=1.0, ge=0, le=50)
    measured_factor: Finite | None = added_later(None, gt=0, lt=1)
    measured_within: Finite = added_later(0.0, ge=0, lt=1)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """Both resistors, or the factor that was measured."""
        if self.measured_factor is not None:
            return (Part("measured_factor", "measured factor", "", self.measured_factor, self.measured_within),)
        return (
            Part("top_ohm", "upper resistor", "Ω", self.top_ohm, half_percent(self.top_ohm, self.tolerance_percent)),
            Part(
                "bottom_ohm",
                "lower resistor",
                "Ω",
                self.bottom_ohm,
                half_percent(self.bottom_ohm, self.tolerance_percent),
            ),
        )

    def gain(self, load_ohm: float, **parts: Array | float) -> Array:
        """Output in V per V, with what follows in parallel; shape of the part that is varied."""
        if "measured_factor" in parts:
            return np.asarray(parts["measured_factor"])
        bottom = parallel(parts["bottom_ohm"], load_ohm)
        return np.asarray(bottom / (parts["top_ohm"] + bottom))

    def entry_ohm(self, load_ohm: float = NO_LOAD) -> float:
        """The upper resistor in series with the lower one and its load."""
        return self.top_ohm + float(parallel(self.bottom_ohm, load_ohm))

    @property
    def caption(self) -> str:
        """Both resistors."""
        measured = "" if self.measured_factor is None else f", × {significant(self.measured_factor, 5)} measured"
        return f"{ohms(self.top_ohm)} over {ohms(self.bottom_ohm)}{measured}"

    def stated_factor(self, load_ohm: float = NO_LOAD) -> float:
        """What the resistors as stated would make of 1 V, with what follows."""
        bottom = float(parallel(self.bottom_ohm, load_ohm))
        return bottom / (self.top_ohm + bottom)

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        loaded = "" if np.isinf(load_ohm) else f" with {ohms(load_ohm)} beside it"
        if self.measured_factor is not None:
            stated = significant(self.stated_factor(load_ohm))
            return (
                f"V out = V in × {significant(self.measured_factor, 7)}, as measured; its resistors would make {stated}"
            )
        return (
            f"V out = V in × {significant(self.factor(load_ohm))}: {ohms(self.bottom_ohm)}{loaded} of "
            f"{ohms(self.top_ohm)} + {ohms(self.bottom_ohm)}"
        )


class Leads(StraightStage):
    """The wires between a resistive sensor and its input."""

    takes: ClassVar[SignalUnit] = "Ω"
    gives: ClassVar[SignalUnit] = "Ω"
    title: ClassVar[str] = "Leads"
    kind: Literal["leads"] = "leads"
    wires: Literal[2, 3, 4] = 3
    wire_ohm: Finite = Field(default=0.5, ge=0)
    wire_tolerance_percent: Finite = Field(default=10.0, ge=0, le=100)
    mismatch_ohm: Finite = Field(default=0.02, ge=0)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """What of the leads enters the reading: both of two, the mismatch of three, nothing of four."""
        if self.wires == 2:
            width = half_percent(2 * self.wire_ohm, self.wire_tolerance_percent)
            return (Part("added_ohm", "leads, both", "Ω", 2 * self.wire_ohm, width),)
        if self.wires == 3:
            return (Part("added_ohm", "leads' mismatch", "Ω", 0.0, self.mismatch_ohm),)
        return (Part("added_ohm", "leads", "Ω", 0.0, 0.0),)

    def gain(self, load_ohm: float, **parts: Array | float) -> float:
        """1: leads add, they do not multiply."""
        return 1.0

    def offset(self, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array | float:
        """What is added in Ω, shape of the part that is varied."""
        return parts["added_ohm"]

    @property
    def caption(self) -> str:
        """How many, and their resistance."""
        return f"{self.wires} wires, {ohms(self.wire_ohm)} each"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        if self.wires == 2:
            return f"Ω read = Ω + {significant(2 * self.wire_ohm)}: two wires of {ohms(self.wire_ohm)} are read too"
        if self.wires == 3:
            return f"Ω read = Ω: the third wire takes the leads out, all but ±{ohms(self.mismatch_ohm)} of mismatch"
        return "Ω read = Ω: four wires, the leads carry no part of the voltage that is measured"


class PullUp(Stage):
    """A resistor to a supply above a resistive sensor: together they divide the supply."""

    takes: ClassVar[SignalUnit] = "Ω"
    gives: ClassVar[SignalUnit] = "V"
    title: ClassVar[str] = "Pull-up"
    straight: ClassVar[bool] = False
    kind: Literal["pull-up"] = "pull-up"
    resistance_ohm: Finite = Field(default=10_000.0, gt=0)
    tolerance_percent: Finite = Field(default=1.0, ge=0, le=50)
    supply_v: Finite = Field(default=5.0, gt=0)
    supply_tolerance_percent: Finite = Field(default=0.0, ge=0, le=50)

    def parts(self, conditions: Conditions = NOMINAL) -> tuple[Part, ...]:
        """The resistor and its supply."""
        return (
            Part(
                "resistance_ohm",
                "pull-up",
                "Ω",
                self.resistance_ohm,
                half_percent(self.resistance_ohm, self.tolerance_percent),
            ),
            Part(
                "supply_v", "its supply", "V", self.supply_v, half_percent(self.supply_v, self.supply_tolerance_percent)
            ),
        )

    def law(self, value: Array | float, conditions: Conditions, load_ohm: float, **parts: Array | float) -> Array:
        """Volts at resistances in Ω, shape kept: supply r / (pull-up + r), r being the sensor with what follows."""
        r = value if np.isinf(load_ohm) else parallel(value, load_ohm)
        return np.asarray(r / (parts["resistance_ohm"] + r) * parts["supply_v"])

    def inverse(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """The sensor's resistance in Ω at a voltage, shape kept; infinite or below 0 where none gives it."""
        volts = np.asarray(value, dtype=float)
        with np.errstate(divide="ignore"):
            both = self.resistance_ohm * volts / (self.supply_v - volts)
            none = (volts >= self.supply_v) | (both >= load_ohm)
            return np.where(none, np.inf, 1 / (1 / both - 1 / load_ohm))

    def slope(self, value: Array | float, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> Array:
        """Slope in V per Ω, shape kept."""
        resistance = np.asarray(value, dtype=float)
        r = parallel(resistance, load_ohm)
        share = 1.0 if np.isinf(load_ohm) else (load_ohm / (load_ohm + resistance)) ** 2
        return np.asarray(self.supply_v * self.resistance_ohm / (self.resistance_ohm + r) ** 2 * share)

    @property
    def output_limits(self) -> tuple[float, float]:
        """From 0 to the supply."""
        return 0.0, self.supply_v

    @property
    def caption(self) -> str:
        """Its resistance and supply."""
        return f"{ohms(self.resistance_ohm)} to {self.supply_v:g} V"

    def sentence(self, conditions: Conditions = NOMINAL, load_ohm: float = NO_LOAD) -> str:
        """The stage's arithmetic with its numbers in it."""
        loaded = "" if np.isinf(load_ohm) else f", r with {ohms(load_ohm)} beside it"
        return (
            f"V = {self.supply_v:g} V × r / (r + {ohms(self.resistance_ohm)}){loaded}; "
            "without the pull-up nothing drives a current and the pin sees 0 V"
        )

    def sensor_watts(self, sensor_ohm: float) -> float:
        """Power in the sensor, which warms it."""
        return (self.supply_v / (self.resistance_ohm + sensor_ohm)) ** 2 * sensor_ohm
