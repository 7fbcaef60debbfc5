"""Ratings that are bent: tables, standard curves of thermometers, the zirconia cell, a root, a formula."""

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field, ValidationError, model_validator

from ...curves import (
    FormulaCurve,
    Line,
    MonotoneCubic,
    OutputCurve,
    PlatinumCurve,
    RootCurve,
    Table,
    ThermistorCurve,
    ThermocoupleCurve,
    ZirconiaCurve,
)
from ...curves.standard import THERMISTOR_LIMITS_C
from ...formula import parse
from ...standards import platinum, thermistors, thermocouples
from ...units.conversion import affine
from ...units.electrical import SignalUnit, signal_gain
from ...words.errors import DegenerateReadings, OutOfRange
from ...words.numerals import fixed, significant
from ...words.record import Finite, InvalidRecord, first_complaint
from .base import Array, RatingBase, Sheet, over_range

_CELSIUS = "°C"


class RatedTable(RatingBase):
    """Rows of output signal and value, as printed, and what is taken for true between them."""

    title: ClassVar[str] = "a table of the data sheet"
    kind: Literal["table"] = "table"
    signals: tuple[Finite, ...] = Field(min_length=2)
    values: tuple[Finite, ...] = Field(min_length=2)
    between: Literal["straight lines", "a monotone cubic"] = "straight lines"

    @model_validator(mode="after")
    def _is_a_curve(self) -> Self:
        if len(self.signals) != len(self.values):
            raise ValueError(f"{len(self.signals)} signals cannot pair with {len(self.values)} values")
        Table.through(np.array(self.signals), np.array(self.values)).refuse_turns()
        return self

    def curve(self, sheet: Sheet) -> Table | MonotoneCubic:
        """The rows joined as stated; it holds from the first row to the last."""
        table = Table.through(np.array(self.signals), np.array(self.values))
        return table if self.between == "straight lines" else MonotoneCubic.through(table)

    def sentence(self, sheet: Sheet) -> str:
        """How many rows, from where to where."""
        low, high = min(self.signals), max(self.signals)
        return f"{len(self.signals)} rows, from {low:g} to {high:g} {sheet.output_unit}, joined by {self.between}."


class Thermometer(RatingBase):
    """A rating whose law gives °C; its tolerance in kelvin is turned into the sheet's unit."""

    measures: ClassVar[str] = _CELSIUS

    def half_width_k(self, celsius: Array) -> Array:
        """Its tolerance in K either way, shape kept; NaN where it does not hold."""
        return np.zeros(np.shape(celsius))

    def half_width(self, values: Array, sheet: Sheet) -> Array:
        """Its tolerance in the sheet's unit, shape kept."""
        gain, offset = affine(_CELSIUS, sheet.unit or _CELSIUS)
        return np.asarray(abs(gain) * self.half_width_k((np.asarray(values, dtype=float) - offset) / gain))


class Platinum(Thermometer):
    """A platinum element by IEC 60751."""

    title: ClassVar[str] = "platinum, IEC 60751"
    gives: ClassVar[SignalUnit | None] = "Ω"
    kind: Literal["platinum"] = "platinum"
    r0_ohm: Finite = Field(default=100.0, gt=0)
    tolerance_class: platinum.ToleranceClass = "B"
    element: platinum.Element = "wire-wound"

    def curve(self, sheet: Sheet) -> PlatinumCurve:
        """The standard's curve."""
        return over_range(PlatinumCurve(r0_ohm=self.r0_ohm, domain=(0, 1)), sheet, _CELSIUS)

    def half_width_k(self, celsius: Array) -> Array:
        """That of the class in K at temperatures in °C, shape kept; NaN where it is not stated."""
        return platinum.tolerance_k(self.tolerance_class, celsius, self.element)

    def sentence(self, sheet: Sheet) -> str:
        """Resistances at the range's ends, and the class."""
        low, high = self.curve(sheet).domain
        limits = platinum.CLASS_LIMITS[self.element][self.tolerance_class]
        return (
            f"{fixed(low, 3)} to {fixed(high, 3)} Ω over the range. Class {self.tolerance_class}, {self.element}: "
            f"±({limits.constant_k:g} + {limits.share:g} |t|) K from {significant(limits.from_c)} to "
            f"{significant(limits.to_c)} °C."
        )


class Thermocouple(Thermometer):
    """A thermocouple of a letter, by IEC 60584-1."""

    title: ClassVar[str] = "thermocouple, IEC 60584-1"
    gives: ClassVar[SignalUnit | None] = "mV"
    kind: Literal["thermocouple"] = "thermocouple"
    letter: thermocouples.Letter = "K"
    tolerance_class: thermocouples.ToleranceClass = "2"

    def curve(self, sheet: Sheet) -> ThermocoupleCurve:
        """The reference function, terminals at 0 °C. Raises: OutOfRange where an emf belongs to two temperatures."""
        gain, offset = affine(_CELSIUS, sheet.unit or _CELSIUS)
        from_c, to_c = thermocouples.one_to_one_c(self.letter)
        ends = [(end - offset) / gain for end in (sheet.low, sheet.high)]
        if min(ends) < from_c - 1e-9 or max(ends) > to_c + 1e-9:
            raise OutOfRange(
                f"A range of {significant(ends[0])} to {significant(ends[1])} °C goes beyond what type {self.letter} "
                f"can tell: {significant(from_c, 4)} to {significant(to_c)} °C. Narrow it, or take another type.",
                found=ends[0],
            )
        return over_range(ThermocoupleCurve(letter=self.letter, domain=(0, 1)), sheet, _CELSIUS)

    def half_width_k(self, celsius: Array) -> Array:
        """That of the class in K at temperatures in °C, shape kept; NaN where none is stated for the type."""
        return thermocouples.tolerance_k(self.letter, self.tolerance_class, celsius)

    def sentence(self, sheet: Sheet) -> str:
        """Emfs at the range's ends, and the class."""
        low, high = self.curve(sheet).domain
        return f"{fixed(low, 3)} to {fixed(high, 3)} mV over the range, with the terminals at 0 °C. {self._class_words}"

    @property
    def _class_words(self) -> str:
        limits = thermocouples.CLASS_LIMITS[self.tolerance_class].get(self.letter)
        if limits is None:
            fitting = " or ".join(thermocouples.classes_of(self.letter))
            return f"The standard has no class {self.tolerance_class} for type {self.letter}: it has {fitting}."
        return f"Class {self.tolerance_class}: from {significant(limits.from_c)} to {significant(limits.to_c)} °C."


class Thermistor(Thermometer):
    """A thermistor that falls as it warms: by beta, by three coefficients, or through three pairs."""

    title: ClassVar[str] = "thermistor"
    gives: ClassVar[SignalUnit | None] = "Ω"
    kind: Literal["thermistor"] = "thermistor"
    given_by: Literal["beta", "coefficients", "three pairs"] = "beta"
    r25_ohm: Finite = Field(default=10_000.0, gt=0)
    at_c: Finite = 25.0
    beta_k: Finite = Field(default=3950.0, gt=0)
    a: Finite = 1.1253e-3
    b: Finite = 2.3471e-4
    c: Finite = 8.563e-8
    pair_ohm: tuple[Finite, Finite, Finite] = (32_650.0, 10_000.0, 3_603.0)
    pair_c: tuple[Finite, Finite, Finite] = (0.0, 25.0, 50.0)
    tolerance_k: Finite = Field(default=0.5, ge=0)

    @model_validator(mode="after")
    def _is_a_thermistor(self) -> Self:
        if self.given_by == "three pairs":
            try:
                thermistors.SteinhartHart.through(self.pair_ohm, self.pair_c)
            except DegenerateReadings as error:
                raise ValueError(str(error)) from error
        if self.given_by == "coefficients" and (self.b <= 0 or self.c < 0):
            raise ValueError("b must be above 0 and c not below it: else the resistance rises as it warms")
        return self

    @property
    def terms(self) -> thermistors.SteinhartHart:
        """The three coefficients, however they were given."""
        if self.given_by == "beta":
            return thermistors.SteinhartHart.from_beta(self.r25_ohm, self.at_c, self.beta_k)
        if self.given_by == "coefficients":
            return thermistors.SteinhartHart(self.a, self.b, self.c)
        return thermistors.SteinhartHart.through(self.pair_ohm, self.pair_c)

    def curve(self, sheet: Sheet) -> ThermistorCurve:
        """The law, trusted a little further than the range."""
        gain, offset = affine(_CELSIUS, sheet.unit or _CELSIUS)
        ends = [(end - offset) / gain for end in (sheet.low, sheet.high)]
        low, high = min(THERMISTOR_LIMITS_C[0], *ends), max(THERMISTOR_LIMITS_C[1], *ends)
        a, b, c = self.terms
        curve = ThermistorCurve(a=a, b=b, c=max(c, 0.0), low_c=low, high_c=high, domain=(0, 1))
        return over_range(curve, sheet, _CELSIUS)

    def half_width_k(self, celsius: Array) -> Array:
        """As stated, in K, shape kept."""
        return np.full(np.shape(celsius), self.tolerance_k)

    def sentence(self, sheet: Sheet) -> str:
        """Resistances at the range's ends, and the coefficients."""
        low, high = self.curve(sheet).domain
        a, b, c = self.terms
        return (
            f"{significant(high, 5)} to {significant(low, 5)} Ω over the range. 1/T = {significant(a, 6)} + "
            f"{significant(b, 6)} ln R + {significant(c, 5)} (ln R)³"
        )


class Zirconia(RatingBase):
    """A zirconia cell by Nernst's equation, percent O2 on a wet basis."""

    title: ClassVar[str] = "zirconia cell, Nernst"
    gives: ClassVar[SignalUnit | None] = "mV"
    measures: ClassVar[str] = "% O2"
    kind: Literal["zirconia"] = "zirconia"
    cell_c: Finite = Field(default=700.0, ge=300, le=1200)
    offset_mv: Finite = 0.0

    def curve(self, sheet: Sheet) -> ZirconiaCurve:
        """Nernst's equation. Raises: OutOfRange for a range that reaches 0 %, where the emf has no end."""
        if sheet.low <= 0:
            raise OutOfRange(
                "At 0 % O2 the emf of a zirconia cell grows without end: start the range above it, at 0.1 % say.",
                found=sheet.low,
            )
        curve = ZirconiaCurve(cell_c=self.cell_c, offset_mv=self.offset_mv, domain=(0, 1))
        return over_range(curve, sheet, "% O2")

    def sentence(self, sheet: Sheet) -> str:
        """Emfs at the range's ends."""
        low, high = self.curve(sheet).domain
        return f"{fixed(high, 2)} to {fixed(low, 2)} mV over the range, against air at {self.cell_c:g} °C; wet basis."


class Root(RatingBase):
    """Flow from a differential pressure: where the square root is taken, and below which flow it is held at 0."""

    title: ClassVar[str] = "flow by differential pressure"
    kind: Literal["root"] = "root"
    taken: Literal["in the transmitter", "in the controller", "not yet"] = "in the controller"
    zero_signal: Finite = 4.0
    top_signal: Finite = 20.0
    full: Finite = Field(default=100.0, gt=0)
    cutoff_percent: Finite = Field(default=5.0, ge=0, le=50)

    @model_validator(mode="after")
    def _rises(self) -> Self:
        if not self.zero_signal < self.top_signal:
            raise ValueError("the signal at full flow must lie above that at zero. Swap the two")
        return self

    def curve(self, sheet: Sheet) -> OutputCurve:
        """A line where the transmitter took the root, else the root."""
        if self.taken == "in the transmitter":
            ends = (self.zero_signal, self.top_signal)
            return Line.through((self.zero_signal, 0.0), (self.top_signal, self.full), ends)
        return RootCurve(
            zero_signal=self.zero_signal,
            top_signal=self.top_signal,
            full=self.full,
            cutoff=self.cutoff_percent / 100,
            domain=(self.zero_signal, self.top_signal),
        )

    def sentence(self, sheet: Sheet) -> str:
        """What the signal follows, and where the flow is held at 0."""
        unit, cutoff = sheet.unit, significant(self.full * self.cutoff_percent / 100, 4)
        middle = (self.zero_signal + self.top_signal) / 2
        if self.taken == "in the transmitter":
            return f"The signal follows the flow: {middle:g} {sheet.output_unit} is {self.full / 2:g} {unit}."
        half = significant(self.full * float(np.sqrt(0.5)), 4)
        where = "the controller has to take the root" if self.taken == "in the controller" else "nobody takes the root"
        return (
            f"The signal follows the pressure: {middle:g} {sheet.output_unit} is {half} {unit}; {where}. "
            f"Below {cutoff} {unit} the flow is held at 0."
        )


class Formula(RatingBase):
    """A formula typed by hand; the units at its two ends are checked."""

    title: ClassVar[str] = "a formula"
    kind: Literal["formula"] = "formula"
    text: str = "20 * x"
    name_of_signal: str = Field(default="x", pattern=r"^[^\W\d]\w*$")
    signal_unit: str = ""
    value_unit: str = ""
    signal_low: Finite = 0.0
    signal_high: Finite = 5.0

    def curve(self, sheet: Sheet) -> FormulaCurve:
        """The formula over its signals. Raises: UnitMismatch, FormulaError, InvalidRecord."""
        parse(self.text)  # points at what is wrong before anything else is asked
        gain, offset = affine(self.value_unit or sheet.unit, sheet.unit or self.value_unit)
        into = signal_gain(self.signal_unit or sheet.output_unit, sheet.output_unit)
        low, high = sorted((self.signal_low * into, self.signal_high * into))
        try:
            found = FormulaCurve(
                text=self.text, name_of_signal=self.name_of_signal, signal_gain=1 / into, low=low, high=high,
                gain=gain, offset=offset, domain=(low, high),
            )  # fmt: skip
        except ValidationError as error:
            raise InvalidRecord(first_complaint(error)) from error
        turns = found.turning_points()
        if turns:
            raise InvalidRecord(
                f"the formula turns or is flat at a signal of {turns[0]:.6g}, so one value belongs to several "
                "signals. Limit the signal to one side"
            )
        return found

    def sentence(self, sheet: Sheet) -> str:
        """Values at the signal's ends."""
        curve = self.curve(sheet)
        low, high = curve.value(np.array(curve.domain))
        return f"{significant(float(low))} to {significant(float(high))} {sheet.unit} over those signals."
