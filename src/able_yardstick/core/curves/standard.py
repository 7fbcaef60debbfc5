"""Curves of published laws: platinum, thermocouples, thermistors, the zirconia cell, the root of a pressure."""

from functools import cached_property
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..standards import platinum, thermistors, thermocouples, zirconia
from ..words.record import Reckoned
from .base import Array
from .defined import DefinedCurve

THERMISTOR_LIMITS_C = (-60.0, 200.0)
_OXYGEN_LIMITS = (0.001, 25.0)  # percent O2: below it a cell is governed by combustibles, above it there is no gas


class PlatinumCurve(DefinedCurve):
    """Ohms to °C by IEC 60751, with the standard's A and B or those found for one element."""

    name: ClassVar[str] = "platinum curve"
    kind: Literal["platinum"] = "platinum"
    r0_ohm: Reckoned = Field(default=100.0, gt=0)
    a: Reckoned = Field(default=platinum.A, gt=0)
    b: Reckoned = platinum.B

    @property
    def _terms(self) -> platinum.Terms:
        return platinum.Terms(self.a, self.b)

    @cached_property
    def _limits(self) -> tuple[float, float]:
        low, high = platinum.resistance_ohm(np.array([platinum.LOWEST_C, platinum.HIGHEST_C]), self.r0_ohm, self._terms)
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """Resistances at −200 and 850 °C."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Temperatures in °C at resistances in Ω, shape kept."""
        return platinum.temperature_c(signal, self.r0_ohm, self._terms)

    def law_slope(self, signal: Array) -> Array:
        """Slope in K per Ω, shape kept."""
        return np.asarray(1 / platinum.slope_ohm_k(self.law(signal), self.r0_ohm, self._terms))

    def law_inverse(self, value: Array) -> Array:
        """Resistances in Ω at temperatures in °C, shape kept."""
        return platinum.resistance_ohm(value, self.r0_ohm, self._terms)


class ThermocoupleCurve(DefinedCurve):
    """Millivolts, reference junction at 0 °C, to °C by IEC 60584-1."""

    name: ClassVar[str] = "thermocouple curve"
    kind: Literal["thermocouple"] = "thermocouple"
    letter: thermocouples.Letter = "K"

    @cached_property
    def _limits(self) -> tuple[float, float]:
        low, high = thermocouples.emf_mv(self.letter, np.array(thermocouples.one_to_one_c(self.letter)))
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """Emfs over which each belongs to one temperature."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Temperatures in °C at emf in mV, shape kept."""
        return thermocouples.temperature_c(self.letter, signal)

    def law_slope(self, signal: Array) -> Array:
        """Slope in K per mV, shape kept."""
        return np.asarray(1 / thermocouples.sensitivity_mv_k(self.letter, self.law(signal)))

    def law_inverse(self, value: Array) -> Array:
        """The emf in mV at temperatures in °C, shape kept."""
        return thermocouples.emf_mv(self.letter, np.clip(value, *thermocouples.one_to_one_c(self.letter)))


class ThermistorCurve(DefinedCurve):
    """Ohms to °C by Steinhart and Hart; the beta law has c = 0. It is trusted from `low_c` to `high_c`."""

    name: ClassVar[str] = "thermistor curve"
    kind: Literal["thermistor"] = "thermistor"
    a: Reckoned
    b: Reckoned = Field(gt=0)
    c: Reckoned = Field(default=0.0, ge=0)
    low_c: Reckoned = THERMISTOR_LIMITS_C[0]
    high_c: Reckoned = THERMISTOR_LIMITS_C[1]

    @property
    def _terms(self) -> thermistors.SteinhartHart:
        return thermistors.SteinhartHart(self.a, self.b, self.c)

    @cached_property
    def _limits(self) -> tuple[float, float]:
        high, low = thermistors.resistance_ohm(self._terms, np.array([self.low_c, self.high_c]))
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """Resistances at the two trusted ends."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Temperatures in °C at resistances in Ω, shape kept."""
        return thermistors.temperature_c(self._terms, signal)

    def law_slope(self, signal: Array) -> Array:
        """Slope in K per Ω, shape kept."""
        return thermistors.slope_k_ohm(self._terms, signal)

    def law_inverse(self, value: Array) -> Array:
        """Resistances in Ω at temperatures in °C, shape kept."""
        return thermistors.resistance_ohm(self._terms, value)


class ZirconiaCurve(DefinedCurve):
    """Millivolts of a zirconia cell to percent O2 (wet basis) by Nernst's equation."""

    name: ClassVar[str] = "zirconia curve"
    kind: Literal["zirconia"] = "zirconia"
    cell_c: Reckoned = Field(default=700.0, ge=300, le=1200)
    offset_mv: Reckoned = 0.0

    @cached_property
    def _limits(self) -> tuple[float, float]:
        high, low = zirconia.emf_mv(np.array(_OXYGEN_LIMITS), self.cell_c, self.offset_mv)
        return float(low), float(high)

    @property
    def law_limits(self) -> tuple[float, float]:
        """Emfs at 25 and at 0.001 % O2."""
        return self._limits

    def law(self, signal: Array) -> Array:
        """Oxygen in % at emf in mV, shape kept."""
        return zirconia.oxygen_percent(signal, self.cell_c, self.offset_mv)

    def law_slope(self, signal: Array) -> Array:
        """Slope in % O2 per mV, shape kept."""
        return -self.law(signal) / zirconia.nernst_mv(self.cell_c)

    def law_inverse(self, value: Array) -> Array:
        """The emf in mV at oxygen in %, shape kept."""
        return zirconia.emf_mv(value, self.cell_c, self.offset_mv)


class RootCurve(DefinedCurve):
    """Flow as the root of a differential pressure that the signal follows in a straight line.

    flow = full x sqrt((signal - zero) / (top - zero)), which is 0 below the cutoff (a share of the full flow).
    """

    name: ClassVar[str] = "root curve"
    kind: Literal["root"] = "root"
    zero_signal: Reckoned
    top_signal: Reckoned
    full: Reckoned = Field(gt=0)
    cutoff: Annotated[float, Field(ge=0, le=0.5)] = 0.0

    @model_validator(mode="after")
    def _rises(self) -> "RootCurve":
        if not self.zero_signal < self.top_signal:
            raise ValueError("the signal at full flow must lie above that at zero. Swap the two")
        return self

    @property
    def law_limits(self) -> tuple[float, float]:
        """From well below zero, where there is no flow, to a pressure of one and a half times the full one."""
        span = self.top_signal - self.zero_signal
        return self.zero_signal - span, self.zero_signal + 1.5 * span

    def _share(self, signal: Array) -> Array:
        """Flow as a share of the full one; none below the cutoff."""
        pressure = (signal - self.zero_signal) / (self.top_signal - self.zero_signal)
        flow = np.sqrt(np.maximum(pressure, 0.0))
        return np.asarray(np.where(flow < self.cutoff, 0.0, flow))

    def law(self, signal: Array) -> Array:
        """Flows at signals, in the units of the rating, shape kept."""
        return self.full * self._share(signal)

    def law_slope(self, signal: Array) -> Array:
        """Change of flow per unit of signal, shape kept; 0 where the flow is held at 0."""
        share, span = self._share(signal), self.top_signal - self.zero_signal
        return np.divide(self.full, 2 * share * span, out=np.zeros_like(share), where=share > 0)

    def law_inverse(self, value: Array) -> Array:
        """Signals, in the pin's unit, at flows, shape kept; that of no flow below the cutoff."""
        share = np.where(value < self.cutoff * self.full, 0.0, value / self.full)
        return np.asarray(self.zero_signal + share**2 * (self.top_signal - self.zero_signal))
