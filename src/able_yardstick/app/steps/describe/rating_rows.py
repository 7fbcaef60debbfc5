"""Which figures of each way of rating a transducer a person may type."""

from ....core.sensor.rating import (
    Formula,
    Platinum,
    Pulses,
    RatedSlope,
    RatedTable,
    RatingBase,
    Root,
    Sensitivity,
    Thermistor,
    Thermocouple,
    Turns,
    Zirconia,
)
from ....core.standards.platinum import CLASSES, ELEMENTS
from ....core.standards.thermocouples import LETTERS
from ....core.standards.thermocouples import TOLERANCE_CLASSES as TC_CLASSES
from ...panel.record_form import FieldRow

_THREE = (("beta", "beta"), ("coefficients", "three coefficients"), ("three pairs", "three pairs"))
_BETWEEN = tuple((words, words) for words in ("straight lines", "a monotone cubic"))
_TAKEN = tuple((words, words) for words in ("in the transmitter", "in the controller", "not yet"))

RATING_ROWS: dict[type[RatingBase], tuple[FieldRow, ...]] = {
    RatedSlope: (FieldRow("Slope, offset", ("slope", "offset"), "{unit}/{out}, {unit}"),),
    Sensitivity: (
        FieldRow("Sensitivity", ("mv_per_v", "tolerance_percent"), "mV/V, %", between="±"),
        FieldRow("at capacity", ("capacity",), "{unit}"),
        FieldRow("Zero balance", ("zero_mv_per_v", "zero_tolerance_mv_per_v"), "mV/V", between="±"),
    ),
    Turns: (FieldRow("Ratio", ("primary_a", "secondary_ma"), "A, mA", between=":"),),
    Pulses: (
        FieldRow("Pulses or Hz", ("pulses",), ""),
        FieldRow("for each", ("per",), kind="text", optional=True, hint="unit of the data sheet: Hz for each"),
    ),
    RatedTable: (FieldRow("Between rows", ("between",), kind="choice", choices=_BETWEEN),),
    Platinum: (
        FieldRow("At 0 °C", ("r0_ohm",), "Ω"),
        FieldRow("Class", ("tolerance_class",), kind="choice", choices=tuple((one, f"class {one}") for one in CLASSES)),
        FieldRow("Element", ("element",), kind="choice", choices=tuple((one, one) for one in ELEMENTS)),
    ),
    Thermocouple: (
        FieldRow("Type", ("letter",), kind="choice", choices=tuple((one, f"type {one}") for one in LETTERS)),
        FieldRow(
            "Class", ("tolerance_class",), kind="choice", choices=tuple((one, f"class {one}") for one in TC_CLASSES)
        ),
    ),
    Thermistor: (
        FieldRow("Given by", ("given_by",), kind="choice", choices=_THREE),
        FieldRow("Resistance", ("r25_ohm", "at_c"), "Ω, °C", between="at", only_if=lambda one: one.given_by == "beta"),
        FieldRow("Beta", ("beta_k",), "K", only_if=lambda one: one.given_by == "beta"),
        FieldRow("a", ("a",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        FieldRow("b", ("b",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        FieldRow("c", ("c",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        FieldRow("Known to ±", ("tolerance_k",), "K"),
    ),
    Zirconia: (FieldRow("Cell at", ("cell_c",), "°C"), FieldRow("Offset", ("offset_mv",), "mV")),
    Root: (
        FieldRow("Root taken", ("taken",), kind="choice", choices=_TAKEN),
        FieldRow("Signal", ("zero_signal", "top_signal"), "{out}", between="to"),
        FieldRow("Full flow", ("full",), "{unit}"),
        FieldRow("Cutoff", ("cutoff_percent",), "% of full flow"),
    ),
    Formula: (
        FieldRow("Formula", ("text",), kind="text", hint="62.5 * (x - 0.5)"),
        FieldRow(
            "its signal is", ("name_of_signal", "signal_unit"), kind="text", between="in", optional=True, hint="{out}"
        ),
        FieldRow("it gives", ("value_unit",), kind="text", optional=True, hint="the data sheet's unit"),
        FieldRow("holds from", ("signal_low", "signal_high"), "of its signal", between="to"),
    ),
}
