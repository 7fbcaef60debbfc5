"""Which figures of each way of rating a transducer a person may type."""

from ....core.sensor.rating import (
    Formula,
    Platinum,
    Pulses,
    RatedTable,
    RatingBase,
    Root,
    Sensitivity,
    SlopeOffset,
    Thermistor,
    Thermocouple,
    Turns,
    Zirconia,
)
from ....core.standards.platinum import CLASSES, ELEMENTS
from ....core.standards.thermocouples import LETTERS
from ....core.standards.thermocouples import TOLERANCE_CLASSES as TC_CLASSES
from ...panel.record_form import Row

_THREE = (("beta", "beta"), ("coefficients", "three coefficients"), ("three pairs", "three pairs"))
_BETWEEN = tuple((words, words) for words in ("straight lines", "a monotone cubic"))
_TAKEN = tuple((words, words) for words in ("in the transmitter", "in the controller", "not yet"))

RATING_ROWS: dict[type[RatingBase], tuple[Row, ...]] = {
    SlopeOffset: (Row("Slope, offset", ("slope", "offset"), "{unit}/{out}, {unit}"),),
    Sensitivity: (
        Row("Sensitivity", ("mv_per_v", "tolerance_percent"), "mV/V, %", between="±"),
        Row("at capacity", ("capacity",), "{unit}"),
        Row("Zero balance", ("zero_mv_per_v", "zero_tolerance_mv_per_v"), "mV/V", between="±"),
    ),
    Turns: (Row("Ratio", ("primary_a", "secondary_ma"), "A, mA", between=":"),),
    Pulses: (
        Row("Pulses or Hz", ("pulses",), ""),
        Row("for each", ("per",), kind="text", optional=True, hint="unit of the data sheet: Hz for each"),
    ),
    RatedTable: (Row("Between rows", ("between",), kind="choice", choices=_BETWEEN),),
    Platinum: (
        Row("At 0 °C", ("r0_ohm",), "Ω"),
        Row("Class", ("tolerance_class",), kind="choice", choices=tuple((one, f"class {one}") for one in CLASSES)),
        Row("Element", ("element",), kind="choice", choices=tuple((one, one) for one in ELEMENTS)),
    ),
    Thermocouple: (
        Row("Type", ("letter",), kind="choice", choices=tuple((one, f"type {one}") for one in LETTERS)),
        Row("Class", ("tolerance_class",), kind="choice", choices=tuple((one, f"class {one}") for one in TC_CLASSES)),
    ),
    Thermistor: (
        Row("Given by", ("given_by",), kind="choice", choices=_THREE),
        Row("Resistance", ("r25_ohm", "at_c"), "Ω, °C", between="at", only_if=lambda one: one.given_by == "beta"),
        Row("Beta", ("beta_k",), "K", only_if=lambda one: one.given_by == "beta"),
        Row("a", ("a",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        Row("b", ("b",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        Row("c", ("c",), "1/K", only_if=lambda one: one.given_by == "coefficients"),
        Row("Known to ±", ("tolerance_k",), "K"),
    ),
    Zirconia: (Row("Cell at", ("cell_c",), "°C"), Row("Offset", ("offset_mv",), "mV")),
    Root: (
        Row("Root taken", ("taken",), kind="choice", choices=_TAKEN),
        Row("Signal", ("zero_signal", "top_signal"), "{out}", between="to"),
        Row("Full flow", ("full",), "{unit}"),
        Row("Cutoff", ("cutoff_percent",), "% of full flow"),
    ),
    Formula: (
        Row("Formula", ("text",), kind="text", hint="62.5 * (x - 0.5)"),
        Row("its signal is", ("name_of_signal", "signal_unit"), kind="text", between="in", optional=True, hint="{out}"),
        Row("it gives", ("value_unit",), kind="text", optional=True, hint="the data sheet's unit"),
        Row("holds from", ("signal_low", "signal_high"), "of its signal", between="to"),
    ),
}
