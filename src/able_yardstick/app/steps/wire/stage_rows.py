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
from ...panel.record_form import FieldRow

_TOLERANCE = FieldRow("Tolerance ±", ("tolerance_percent",), "%")
_LETTERS = tuple((letter, f"type {letter}") for letter in LETTERS)

STAGE_ROWS: dict[type[Stage], tuple[FieldRow, ...]] = {
    Shunt: (FieldRow("Resistance", ("resistance_ohm",), "Ω"), _TOLERANCE, FieldRow("Rated for", ("rating_w",), "W")),
    Divider: (
        FieldRow("Upper, lower", ("top_ohm", "bottom_ohm"), "Ω", between="over"),
        _TOLERANCE,
        FieldRow("Measured factor", ("measured_factor",), optional=True, hint="not measured"),
    ),
    Excitation: (
        FieldRow("Nominal", ("voltage_v",), "V"),
        FieldRow("Measured", ("measured_v",), "V", optional=True, hint="not measured"),
        _TOLERANCE,
    ),
    CurrentSource: (FieldRow("Current", ("current_ma",), "mA"), _TOLERANCE),
    Leads: (
        FieldRow(
            "Connection", ("wires",), kind="choice", choices=((2, "two wires"), (3, "three wires"), (4, "four wires"))
        ),
        FieldRow("Each wire", ("wire_ohm",), "Ω"),
        FieldRow("Known to ±", ("wire_tolerance_percent",), "%", only_if=lambda leads: leads.wires == 2),
        FieldRow("Mismatch ±", ("mismatch_ohm",), "Ω", only_if=lambda leads: leads.wires == 3),
    ),
    ColdJunction: (
        FieldRow("Compensated as", ("letter",), kind="choice", choices=_LETTERS),
        FieldRow("Terminals at", ("terminal_c", "tolerance_k"), "°C, K", between="±"),
        FieldRow("its emf is added back", ("compensated",), kind="tick"),
    ),
    Amplifier: (
        FieldRow("Gain", ("stated_gain",), "V/V", only_if=lambda part: not part.resistor.strip()),
        FieldRow("Gain resistor", ("resistor",), "Ω", kind="text", optional=True, hint="100 + 4k7 | 220"),
        FieldRow(
            "Law a + b / Rg", ("law_a", "law_b_ohm"), "Ω", between="+", only_if=lambda part: bool(part.resistor.strip())
        ),
        _TOLERANCE,
        FieldRow("Zero", ("zero_v", "zero_tolerance_v"), "V", between="±"),
        FieldRow("Output from", ("low_v", "high_v"), "V", between="to"),
    ),
    PullUp: (
        FieldRow("Resistance", ("resistance_ohm",), "Ω"),
        _TOLERANCE,
        FieldRow("To a supply", ("supply_v", "supply_tolerance_percent"), "V, %", between="±"),
    ),
    PulsePullUp: (
        FieldRow("Resistance", ("resistance_ohm",), "Ω"),
        FieldRow("To a supply", ("supply_v",), "V"),
        FieldRow("Pulled down to", ("low_v",), "V"),
    ),
    Filter: (FieldRow("Time constant", ("time_constant_s",), "s"), FieldRow("Delay", ("delay_s",), "s")),
    Clamp: (
        FieldRow("In series", ("series_ohm",), "Ω"),
        FieldRow("Held between", ("low_v", "high_v"), "V"),
        FieldRow("Leaks at most", ("leakage_ua",), "µA"),
    ),
    GroundOffset: (FieldRow("Return stands at", ("offset_v", "tolerance_v"), "V", between="±"),),
}

_TOPS = (("full count", "is the full count"), ("one above", "is one above the full count"))
_ROUNDINGS = (("nearest", "to the nearest count"), ("floor", "down to the count below"))


def _in_volts(converter: object) -> bool:
    return getattr(converter, "unit", "") in ("V", "mV")


CONVERTER_ROWS: tuple[FieldRow, ...] = (
    FieldRow("Span", ("low", "high"), "{pin}", between="to"),
    FieldRow("Bits, full count", ("bits", "full_count"), kind="whole", between="→"),
    FieldRow("Top of span", ("top",), kind="choice", choices=_TOPS),
    FieldRow("Rounds", ("rounding",), kind="choice", choices=_ROUNDINGS),
    FieldRow("Input", ("input_ohm",), "Ω", optional=True, hint="takes no current"),
    FieldRow("Survives", ("safe_low_v", "safe_high_v"), "V", optional=True, between="to", hint="?", only_if=_in_volts),
    FieldRow("Reference", ("reference_v", "reference_tolerance_percent"), "V, %", between="±", only_if=_in_volts),
    FieldRow("Measured", ("reference_measured_v",), "V", optional=True, hint="not measured", only_if=_in_volts),
    FieldRow("the sensor lives from this reference", ("shares_supply",), kind="tick", only_if=_in_volts),
    FieldRow(
        "Counts over", ("window_s",), "s", optional=True, hint="no window", only_if=lambda part: part.unit == "Hz"
    ),
)
