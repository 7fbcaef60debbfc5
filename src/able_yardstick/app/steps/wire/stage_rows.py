"""Which properties of each stage, and of the converter, a person may set."""

from ....core.stages import (
    Amplifier,
    Clamp,
    ColdJunction,
    CurrentSource,
    Divider,
    Excitation,
    Filter,
    GroundOffset,
    Leads,
    PullUp,
    PulsePullUp,
    Shunt,
    Stage,
)
from ....core.standards.thermocouples import LETTERS
from ...panel.record_form import Row

_TOLERANCE = Row("Tolerance ±", ("tolerance_percent",), "%")
_LETTERS = tuple((letter, f"type {letter}") for letter in LETTERS)

STAGE_ROWS: dict[type[Stage], tuple[Row, ...]] = {
    Shunt: (Row("Resistance", ("resistance_ohm",), "Ω"), _TOLERANCE, Row("Rated for", ("rating_w",), "W")),
    Divider: (Row("Upper, lower", ("top_ohm", "bottom_ohm"), "Ω", between="over"), _TOLERANCE),
    Excitation: (
        Row("Nominal", ("voltage_v",), "V"),
        Row("Measured", ("measured_v",), "V", optional=True, hint="not measured"),
        _TOLERANCE,
    ),
    CurrentSource: (Row("Current", ("current_ma",), "mA"), _TOLERANCE),
    Leads: (
        Row("Connection", ("wires",), kind="choice", choices=((2, "two wires"), (3, "three wires"), (4, "four wires"))),
        Row("Each wire", ("wire_ohm",), "Ω"),
        Row("Known to ±", ("wire_tolerance_percent",), "%", only_if=lambda leads: leads.wires == 2),
        Row("Mismatch ±", ("mismatch_ohm",), "Ω", only_if=lambda leads: leads.wires == 3),
    ),
    ColdJunction: (
        Row("Compensated as", ("letter",), kind="choice", choices=_LETTERS),
        Row("Terminals at", ("terminal_c", "tolerance_k"), "°C, K", between="±"),
        Row("its emf is added back", ("compensated",), kind="tick"),
    ),
    Amplifier: (
        Row("Gain", ("stated_gain",), "V/V", only_if=lambda part: not part.resistor.strip()),
        Row("Gain resistor", ("resistor",), "Ω", kind="text", optional=True, hint="100 + 4k7 | 220"),
        Row(
            "Law a + b / Rg", ("law_a", "law_b_ohm"), "Ω", between="+", only_if=lambda part: bool(part.resistor.strip())
        ),
        _TOLERANCE,
        Row("Zero", ("zero_v", "zero_tolerance_v"), "V", between="±"),
        Row("Output from", ("low_v", "high_v"), "V", between="to"),
    ),
    PullUp: (
        Row("Resistance", ("resistance_ohm",), "Ω"),
        _TOLERANCE,
        Row("To a supply", ("supply_v", "supply_tolerance_percent"), "V, %", between="±"),
    ),
    PulsePullUp: (
        Row("Resistance", ("resistance_ohm",), "Ω"),
        Row("To a supply", ("supply_v",), "V"),
        Row("Pulled down to", ("low_v",), "V"),
    ),
    Filter: (Row("Time constant", ("time_constant_s",), "s"), Row("Delay", ("delay_s",), "s")),
    Clamp: (
        Row("In series", ("series_ohm",), "Ω"),
        Row("Held between", ("low_v", "high_v"), "V"),
        Row("Leaks at most", ("leakage_ua",), "µA"),
    ),
    GroundOffset: (Row("Return stands at", ("offset_v", "tolerance_v"), "V", between="±"),),
}

_TOPS = (("full count", "is the full count"), ("one above", "is one above the full count"))
_ROUNDINGS = (("nearest", "to the nearest count"), ("floor", "down to the count below"))


def _in_volts(converter: object) -> bool:
    return getattr(converter, "unit", "") in ("V", "mV")


CONVERTER_ROWS: tuple[Row, ...] = (
    Row("Span", ("low", "high"), "{pin}", between="to"),
    Row("Bits, full count", ("bits", "full_count"), kind="whole", between="→"),
    Row("Top of span", ("top",), kind="choice", choices=_TOPS),
    Row("Rounds", ("rounding",), kind="choice", choices=_ROUNDINGS),
    Row("Input", ("input_ohm",), "Ω", optional=True, hint="takes no current"),
    Row("Survives", ("safe_low_v", "safe_high_v"), "V", optional=True, between="to", hint="?", only_if=_in_volts),
    Row("Reference", ("reference_v", "reference_tolerance_percent"), "V, %", between="±", only_if=_in_volts),
    Row("Measured", ("reference_measured_v",), "V", optional=True, hint="not measured", only_if=_in_volts),
    Row("the sensor lives from this reference", ("shares_supply",), kind="tick", only_if=_in_volts),
    Row("Counts over", ("window_s",), "s", optional=True, hint="no window", only_if=lambda part: part.unit == "Hz"),
)
